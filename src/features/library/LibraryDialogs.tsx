/** What the library asks: the menu of a note or folder, where to, which tags, how a folder looks, and before anything goes for good. */
import { useMemo, useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, Dialog, Portal, Text, TextInput } from 'react-native-paper';
import { canMoveInto, EMBLEMS, FOLDER_COLORS, foldersIn, type Folder } from '../../core/library/folder';
import { backUp } from '../../store/backup';
import { archiveNotes, binNotes, duplicateNotes, emptyBin, moveNotes, placeOf, putBack, putFolder, removeFolder, tagNotes } from '../../store/filing';
import { unlockNotes } from '../../store/lock';
import { askToLock } from '../../store/lockState';
import { deleteNotes } from '../../store/library';
import { store, useAppDispatch, useAppSelector } from '../../store/store';
import { Choice } from '../../ui/Choice';
import { FolderBadge } from '../../ui/FolderBadge';
import './folders.css';

export type Asked =
  | { readonly kind: 'note' | 'move' | 'tags' | 'delete'; readonly ids: readonly string[] }
  | { readonly kind: 'folder' | 'edit-folder' | 'move-folder'; readonly folder: string }
  | { readonly kind: 'new-folder'; readonly parent: string | null }
  | { readonly kind: 'empty-bin' };

export interface LibraryDialogsProps {
  asked: Asked | null;
  onAsk: (asked: Asked | null) => void;
  /** Something was done with the chosen notes. */
  onDone: () => void;
  onGo: (folder: string | null) => void;
}

export function LibraryDialogs(props: LibraryDialogsProps) {
  const { asked, onAsk } = props;
  return (
    <Portal>
      {asked && (
        // One that fades out would take the next one, opened meanwhile, with it.
        <Dialog key={JSON.stringify(asked)} visible onDismiss={() => onAsk(null)} style={styles.dialog}>
          <Content {...props} asked={asked} />
        </Dialog>
      )}
    </Portal>
  );
}

const titleOf = (ids: readonly string[]): string => (ids.length === 1 ? (store.getState().library.headers.find((h) => h.id === ids[0])?.title ?? 'Note') : `${ids.length} notes`);

function Content({ asked, onAsk, onDone, onGo }: LibraryDialogsProps & { asked: Asked }) {
  const dispatch = useAppDispatch();
  const close = () => onAsk(null);
  const folders = useAppSelector((s) => s.library.folders);
  const done = (work: () => void) => () => {
    work();
    close();
    onDone();
  };
  switch (asked.kind) {
    case 'note': {
      const { ids } = asked;
      const place = placeOf(store.getState(), ids[0]);
      const locked = ids.every((id) => id in store.getState().library.covers);
      const { whole } = store.getState().lock;
      return (
        <Menu title={titleOf(ids)} onClose={close}>
          {place.binned ? (
            <>
              <Item name="Put back" onPress={done(() => void dispatch(putBack(ids)))} />
              <Item name="Delete for good" onPress={() => onAsk({ kind: 'delete', ids })} />
            </>
          ) : (
            <>
              <Item name="Move to a folder" onPress={() => onAsk({ kind: 'move', ids })} />
              <Item name="Duplicate" onPress={done(() => void dispatch(duplicateNotes(ids)))} />
              <Item name="Tags" onPress={() => onAsk({ kind: 'tags', ids })} />
              {!whole && (locked ? <Item name="Take the lock off" onPress={done(() => void dispatch(unlockNotes(ids)))} /> : <Item name="Lock" onPress={done(() => void dispatch(askToLock(ids)))} />)}
              <Item name={place.archived ? 'Take out of the archive' : 'Archive'} onPress={done(() => void dispatch(archiveNotes(ids, !place.archived)))} />
              <Item name="Delete" onPress={done(() => void dispatch(binNotes(ids)))} />
            </>
          )}
        </Menu>
      );
    }
    case 'folder': {
      const folder = folders.get(asked.folder);
      return (
        <Menu title={folder?.name ?? 'Folder'} onClose={close}>
          <Item name="Name and look" onPress={() => onAsk({ kind: 'edit-folder', folder: asked.folder })} />
          <Item name="New folder in it" onPress={() => onAsk({ kind: 'new-folder', parent: asked.folder })} />
          <Item name="Back up this folder" onPress={done(() => void dispatch(backUp(asked.folder)))} />
          <Item name="Move to a folder" onPress={() => onAsk({ kind: 'move-folder', folder: asked.folder })} />
          <Item
            name="Remove the folder, keep its notes"
            onPress={done(() => {
              void dispatch(removeFolder(asked.folder));
              onGo(folder?.parent ?? null);
            })}
          />
        </Menu>
      );
    }
    case 'move':
      return <WhereTo title={`Move ${asked.ids.length === 1 ? `“${titleOf(asked.ids)}”` : titleOf(asked.ids)} to`} allowed={() => true} onClose={close} onChoose={(folder) => done(() => void dispatch(moveNotes(asked.ids, folder)))()} />;
    case 'move-folder': {
      const folder = folders.get(asked.folder);
      return <WhereTo title={`Move the folder “${folder?.name ?? ''}” to`} allowed={(into) => canMoveInto(folders, asked.folder, into)} onClose={close} onChoose={(parent) => done(() => folder && void dispatch(putFolder({ ...folder, parent }, folder.id)))()} />;
    }
    case 'tags':
      return <Tags ids={asked.ids} onClose={close} onSave={(add, drop) => done(() => void dispatch(tagNotes(asked.ids, add, drop)))()} />;
    case 'new-folder':
      return <FolderLook title="New folder" onClose={close} onSave={(look) => done(() => void dispatch(putFolder({ ...look, parent: asked.parent })))()} />;
    case 'edit-folder': {
      const folder = folders.get(asked.folder);
      return <FolderLook title="Name and look" folder={folder} onClose={close} onSave={(look) => done(() => folder && void dispatch(putFolder({ ...look, parent: folder.parent }, folder.id)))()} />;
    }
    case 'delete':
      return <ForGood title={asked.ids.length === 1 ? 'Delete this note for good?' : `Delete ${asked.ids.length} notes for good?`} text={`${asked.ids.length === 1 ? `“${titleOf(asked.ids)}”, its` : 'They, their'} ink and sound are removed from this device. This cannot be taken back.`} onClose={close} onDelete={done(() => void dispatch(deleteNotes(asked.ids)))} />;
    case 'empty-bin':
      return <ForGood title="Empty the bin?" text="All notes in it, their ink and their sound are removed from this device. This cannot be taken back." onClose={close} onDelete={done(() => void dispatch(emptyBin(true)))} />;
  }
}

function Menu({ title, onClose, children }: { title: string; onClose: () => void; children: React.ReactNode }) {
  return (
    <>
      <Dialog.Title>{title}</Dialog.Title>
      <Dialog.Content style={styles.menu}>{children}</Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Cancel</Button>
      </Dialog.Actions>
    </>
  );
}

const Item = ({ name, onPress }: { name: string; onPress: () => void }) => (
  <Button onPress={onPress} contentStyle={styles.item} style={styles.itemAll}>
    {name}
  </Button>
);

function ForGood({ title, text, onClose, onDelete }: { title: string; text: string; onClose: () => void; onDelete: () => void }) {
  return (
    <>
      <Dialog.Title>{title}</Dialog.Title>
      <Dialog.Content>
        <Text>{text}</Text>
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Keep</Button>
        <Button onPress={onDelete}>Delete for good</Button>
      </Dialog.Actions>
    </>
  );
}

function WhereTo({ title, allowed, onChoose, onClose }: { title: string; allowed: (folder: string | null) => boolean; onChoose: (folder: string | null) => void; onClose: () => void }) {
  const folders = useAppSelector((s) => s.library.folders);
  const branch = (parent: string | null, depth: number): React.ReactNode =>
    foldersIn(folders, parent).map((f) => (
      <View key={f.id}>
        <button type="button" className="folder-row" style={{ paddingLeft: 10 + depth * 20 }} disabled={!allowed(f.id)} aria-label={`Into ${f.name}`} onClick={() => onChoose(f.id)}>
          <FolderBadge color={f.color} emblem={f.emblem} size={28} />
          <span>{f.name}</span>
        </button>
        {branch(f.id, depth + 1)}
      </View>
    ));
  return (
    <>
      <Dialog.Title>{title}</Dialog.Title>
      <Dialog.ScrollArea style={styles.scroll}>
        <ScrollView>
          <button type="button" className="folder-row" onClick={() => onChoose(null)}>
            Outside of any folder
          </button>
          {branch(null, 0)}
        </ScrollView>
      </Dialog.ScrollArea>
      <Dialog.Actions>
        <Button onPress={onClose}>Cancel</Button>
      </Dialog.Actions>
    </>
  );
}

function FolderLook({ title, folder, onSave, onClose }: { title: string; folder?: Folder; onSave: (look: Pick<Folder, 'name' | 'color' | 'emblem'>) => void; onClose: () => void }) {
  const [name, setName] = useState(folder?.name ?? '');
  const [color, setColor] = useState(folder?.color ?? 'navy');
  const [emblem, setEmblem] = useState(folder?.emblem ?? 'wave');
  const save = () => name.trim() && onSave({ name: name.trim(), color, emblem });
  return (
    <>
      <Dialog.Title>{title}</Dialog.Title>
      <Dialog.Content style={styles.look}>
        <TextInput mode="outlined" label="Name" accessibilityLabel="Name of the folder" value={name} onChangeText={setName} maxLength={80} autoFocus onSubmitEditing={save} />
        <View role="radiogroup" aria-label="Colour" style={styles.row}>
          {FOLDER_COLORS.map((c) => (
            <button key={c} type="button" role="radio" aria-checked={c === color} aria-label={c} className="look-choice" onClick={() => setColor(c)}>
              <FolderBadge color={c} emblem={emblem} size={36} />
            </button>
          ))}
        </View>
        <View role="radiogroup" aria-label="Emblem" style={styles.row}>
          {EMBLEMS.map((e) => (
            <button key={e} type="button" role="radio" aria-checked={e === emblem} aria-label={e} className="look-choice" onClick={() => setEmblem(e)}>
              <FolderBadge color={color} emblem={e} size={36} />
            </button>
          ))}
        </View>
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Cancel</Button>
        <Button disabled={!name.trim()} onPress={save}>
          Save
        </Button>
      </Dialog.Actions>
    </>
  );
}

function Tags({ ids, onSave, onClose }: { ids: readonly string[]; onSave: (add: string[], drop: string[]) => void; onClose: () => void }) {
  const places = useAppSelector((s) => s.library.places);
  const before = useMemo(() => {
    const lists = ids.map((id) => places[id]?.tags ?? []);
    return (lists[0] ?? []).filter((t) => lists.every((l) => l.includes(t)));
  }, [ids, places]);
  const known = useMemo(() => [...new Set(Object.values(places).flatMap((p) => p.tags))].sort((a, b) => a.localeCompare(b)), [places]);
  const [on, setOn] = useState<readonly string[]>(before);
  const [text, setText] = useState('');
  const add = () => {
    const tag = text.trim().slice(0, 40);
    if (tag && !on.includes(tag)) setOn([...on, tag]);
    setText('');
  };
  return (
    <>
      <Dialog.Title>Tags</Dialog.Title>
      <Dialog.Content style={styles.look}>
        <View style={styles.row} role="group" aria-label="Tags">
          {[...new Set([...known, ...on])].map((t) => (
            <Choice key={t} role="button" name={t} on={on.includes(t)} onPress={() => setOn(on.includes(t) ? on.filter((x) => x !== t) : [...on, t])} />
          ))}
        </View>
        <TextInput mode="outlined" dense label="New tag" accessibilityLabel="New tag" value={text} onChangeText={setText} maxLength={40} onSubmitEditing={add} right={<TextInput.Icon icon="plus" aria-label="Add the tag" onPress={add} />} />
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Cancel</Button>
        <Button
          onPress={() => {
            const now = text.trim() ? [...on, text.trim().slice(0, 40)] : [...on];
            onSave(now.filter((t) => !before.includes(t)), before.filter((t) => !now.includes(t)));
          }}
        >
          Save
        </Button>
      </Dialog.Actions>
    </>
  );
}

const styles = StyleSheet.create({
  dialog: { maxWidth: 460, width: '92%', alignSelf: 'center', maxHeight: '90%' },
  menu: { gap: 2 },
  item: { justifyContent: 'flex-start', minHeight: 44 },
  itemAll: { alignSelf: 'stretch' },
  scroll: { maxHeight: 380, paddingHorizontal: 12 },
  look: { gap: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
