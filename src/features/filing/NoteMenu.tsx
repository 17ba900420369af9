/** What can be done with a note, or with several: its folder and tags a touch away, the rest by name. */
import { compareNames } from '../../core/collation';
import { createSelector } from '@reduxjs/toolkit';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { archiveNotes, binNotes, duplicateNotes, moveNotes, placeOf, putBack, selectInUse, tagNotes } from '../../store/filing';
import { handOnAtOnce, saveCopy } from '../../store/handOn';
import { lastMerge, undoMerge } from '../../store/kept';
import { unlockNotes } from '../../store/lock';
import { askToLock } from '../../store/lockState';
import type { RootState } from '../../store/state';
import { store, useAppDispatch, useAppSelector } from '../../store/store';
import { Choice } from '../../ui/Choice';
import { Dialog } from '../../ui/Dialog';
import { titleOf, type Asked } from './asked';

export interface MenuItem {
  readonly name: string;
  readonly press: () => void;
}

export interface NoteMenuProps {
  ids: readonly string[];
  extra?: readonly MenuItem[];
  onAsk: (asked: Asked | null) => void;
  onClose: () => void;
  onDone: () => void;
}

/** So many folders and tags stand in the menu itself: those used last. */
const AT_HAND = 4;
/** Formats that are a touch away: those used last. */
const FORMATS = 2;

/** Folders by when notes in them were worked on, and tags by how many notes have them. */
const selectAtHand = createSelector(
  selectInUse,
  (s: RootState) => s.library.places,
  (s: RootState) => s.library.folders,
  (headers, places, folders) => {
    const used = [...headers.flatMap((h) => places[h.id]?.folder ?? []), ...folders.keys()];
    const counts = new Map<string, number>();
    for (const h of headers) for (const t of places[h.id]?.tags ?? []) counts.set(t, (counts.get(t) ?? 0) + 1);
    return {
      folders: [...new Set(used)].flatMap((id) => folders.get(id) ?? []).slice(0, AT_HAND),
      tags: [...counts].sort((a, b) => b[1] - a[1] || compareNames(a[0], b[0])).slice(0, AT_HAND).map(([t]) => t),
    };
  },
);

export function NoteMenu({ ids, extra, onAsk, onClose, onDone }: NoteMenuProps) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const place = useAppSelector((s) => placeOf(s, ids[0]));
  const { folders, tags } = useAppSelector(selectAtHand);
  const lately = useAppSelector((s) => s.settings.handing.last);
  const formats = [...new Set([...lately, 'PDF'])].slice(0, FORMATS);
  const { covers } = store.getState().library;
  const { whole } = store.getState().lock;
  // Asked in the note itself, where it cannot go from under the writer's hands.
  const isOpen = extra !== undefined;
  const locked = ids.every((id) => id in covers);
  const one = ids.length === 1;
  const kept = useAppSelector((s) => (one ? ((s.note.id === ids[0] ? s.note.note?.header : s.library.headers.find((h) => h.id === ids[0]))?.kept ?? 0) : 0));
  const [merged, setMerged] = useState<number | null>(null);
  useEffect(() => {
    let still = true;
    if (one) void dispatch(lastMerge(ids[0])).then((at) => still && setMerged(at));
    return () => void (still = false);
  }, [dispatch, one, ids]);
  const done = (work: () => void) => () => {
    work();
    onClose();
    onDone();
  };
  if (place.binned) {
    return (
      <Menu title={titleOf(ids)} onClose={onClose}>
        <Item name="Put back" onPress={done(() => void dispatch(putBack(ids)))} />
        <Item name="Delete for good" danger onPress={() => onAsk({ kind: 'delete', ids })} />
      </Menu>
    );
  }
  return (
    <Menu title={titleOf(ids)} onClose={onClose}>
      {(extra ?? []).map(({ name, press }) => (
        <Item
          key={name}
          name={name}
          onPress={() => {
            onClose();
            press();
          }}
        />
      ))}
      {one && <Item name="Rename" onPress={() => onAsk({ kind: 'rename', ids })} />}
      <View style={styles.part}>
        <Text variant="labelLarge" style={{ color: colors.onSurfaceVariant }}>
          Folder
        </Text>
        <View role="group" aria-label="Folder" style={styles.row}>
          {folders.map((f) => (
            <Choice key={f.id} role="button" name={f.name} on={place.folder === f.id} onPress={done(() => place.folder !== f.id && void dispatch(moveNotes(ids, f.id)))} />
          ))}
          <Choice role="button" label="Move to a folder" name="Move to …" on={false} onPress={() => onAsk({ kind: 'move', ids })} />
        </View>
      </View>
      <View style={styles.part}>
        <Text variant="labelLarge" style={{ color: colors.onSurfaceVariant }}>
          Tags
        </Text>
        <View role="group" aria-label="Tags at hand" style={styles.row}>
          {tags.map((t) => (
            <Choice key={t} role="button" name={t} on={place.tags.includes(t)} onPress={() => void dispatch(place.tags.includes(t) ? tagNotes(ids, [], [t]) : tagNotes(ids, [t], []))} />
          ))}
          <Choice role="button" label="Other tags" name="Other …" on={false} onPress={() => onAsk({ kind: 'tags', ids })} />
        </View>
      </View>
      <View style={styles.part}>
        <Text variant="labelLarge" style={{ color: colors.onSurfaceVariant }}>
          Hand on
        </Text>
        <View role="group" aria-label="Hand on at once" style={styles.row}>
          {formats.map((f) => (
            <Choice key={f} role="button" label={`Save as ${f}, as last time`} name={f} on={false} onPress={done(() => void dispatch(handOnAtOnce(ids, f)))} />
          ))}
          <Choice role="button" label="Hand on" name="Hand on …" on={false} onPress={() => onAsk({ kind: 'hand', ids })} />
        </View>
      </View>
      {one && <Item name="Save as a file" onPress={done(() => void dispatch(saveCopy(ids[0])))} />}
      {one && kept > 0 && <Item name={`Compare versions (${kept})`} onPress={() => onAsk({ kind: 'kept', ids })} />}
      {one && merged !== null && <Item name="Undo last merge" onPress={done(() => void dispatch(undoMerge(ids[0])))} />}
      <Item name="Duplicate" onPress={done(() => void dispatch(duplicateNotes(ids)))} />
      {!whole && !isOpen && (locked ? <Item name="Take the lock off" onPress={done(() => void dispatch(unlockNotes(ids)))} /> : <Item name="Lock" onPress={done(() => void dispatch(askToLock(ids)))} />)}
      <Item name={place.archived ? 'Take out of the archive' : 'Archive'} onPress={done(() => void dispatch(archiveNotes(ids, !place.archived)))} />
      {!isOpen && <Item name="Delete" danger onPress={done(() => void dispatch(binNotes(ids)))} />}
    </Menu>
  );
}

export function Menu({ title, onClose, children }: { title: string; onClose: () => void; children: React.ReactNode }) {
  return (
    <>
      <Dialog.Title>{title}</Dialog.Title>
      <Dialog.Content style={styles.menu}>{children}</Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Close</Button>
      </Dialog.Actions>
    </>
  );
}

export function Item({ name, danger = false, onPress }: { name: string; danger?: boolean; onPress: () => void }) {
  const { colors } = useTheme();
  return (
    <Button icon={danger ? 'trash' : undefined} textColor={danger ? colors.error : undefined} onPress={onPress} contentStyle={styles.item} style={styles.itemAll}>
      {name}
    </Button>
  );
}

const styles = StyleSheet.create({
  menu: { gap: 2 },
  item: { justifyContent: 'flex-start', minHeight: 44 },
  itemAll: { alignSelf: 'stretch' },
  part: { gap: 4, paddingHorizontal: 12, paddingVertical: 4 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
});
