/** What is asked about notes and folders, in the Library and in a note: their menus, another name, where to, which tags, how a folder looks, and before anything goes for good. */
import { compareNames } from '../../core/collation';
import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, TextInput, useTheme } from 'react-native-paper';
import { Dialog } from '../../ui/Dialog';
import { canMoveInto, EMBLEMS, FOLDER_COLORS, foldersIn, type Folder } from '../../core/library/folder';
import { backUp } from '../../store/backup';
import { emptyBin, moveNotes, notesWithin, putFolder, removeFolder, renameNote, tagNotes } from '../../store/filing';
import { deleteNotes } from '../../store/library';
import { proposals } from '../../store/librarySearch';
import { store, useAppDispatch, useAppSelector } from '../../store/store';
import { Choice } from '../../ui/Choice';
import { HandOnSheet } from '../handing/HandOnSheet';
import { titleOf, type Asked } from './asked';
import { KeptChoices } from './KeptChoices';
import { Item, Menu, NoteMenu, type MenuItem } from './NoteMenu';
import { FolderBadge } from '../../ui/FolderBadge';
import '../../ui/folders.css';

export interface NoteDialogsProps {
  asked: Asked | null;
  onAsk: (asked: Asked | null) => void;
  /** Something was done with the chosen notes. */
  onDone: () => void;
  onGo?: (folder: string | null) => void;
  /** What else the menu of a note offers where it is open. */
  extra?: readonly MenuItem[];
}

export function NoteDialogs(props: NoteDialogsProps) {
  const { asked, onAsk } = props;
  if (!asked) return null;
  if (asked.kind === 'hand') return <HandOnSheet ids={asked.ids} title={titleOf(asked.ids)} onClose={() => onAsk(null)} />;
  return (
    // Each question is a dialog of its own: the next one takes the focus anew.
    <Dialog key={JSON.stringify(asked)} onDismiss={() => onAsk(null)}>
      <Content {...props} asked={asked} />
    </Dialog>
  );
}

function Content({ asked, extra, onAsk, onDone, onGo }: NoteDialogsProps & { asked: Exclude<Asked, { kind: 'hand' }> }) {
  const dispatch = useAppDispatch();
  const close = () => onAsk(null);
  const folders = useAppSelector((s) => s.library.folders);
  const done = (work: () => void) => () => {
    work();
    close();
    onDone();
  };
  switch (asked.kind) {
    case 'note':
      return <NoteMenu ids={asked.ids} extra={extra} onAsk={onAsk} onClose={close} onDone={onDone} />;
    case 'rename':
      return <Rename id={asked.ids[0]} onClose={close} onSave={(title) => done(() => void dispatch(renameNote(asked.ids[0], title)))()} />;
    case 'folder': {
      const folder = folders.get(asked.folder);
      const inside = notesWithin(store.getState().library, asked.folder);
      return (
        <Menu title={folder?.name ?? 'Folder'} onClose={close}>
          <Item name="Name and look" onPress={() => onAsk({ kind: 'edit-folder', folder: asked.folder })} />
          <Item name="New folder in it" onPress={() => onAsk({ kind: 'new-folder', parent: asked.folder })} />
          {inside.length > 0 && <Item name="Hand on" onPress={() => onAsk({ kind: 'hand', ids: inside.map((h) => h.id) })} />}
          <Item name="Back up this folder" onPress={done(() => void dispatch(backUp(asked.folder)))} />
          <Item name="Move to a folder" onPress={() => onAsk({ kind: 'move-folder', folder: asked.folder })} />
          <Item
            name="Remove the folder, keep its notes"
            onPress={done(() => {
              void dispatch(removeFolder(asked.folder));
              onGo?.(folder?.parent ?? null);
            })}
          />
        </Menu>
      );
    }
    case 'move':
      return <WhereTo title={`Move ${asked.ids.length === 1 ? `“${titleOf(asked.ids)}”` : titleOf(asked.ids)} to`} note={asked.ids.length === 1 ? asked.ids[0] : null} allowed={() => true} onClose={close} onChoose={(folder) => done(() => void dispatch(moveNotes(asked.ids, folder)))()} />;
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
    case 'kept':
      return <KeptChoices id={asked.ids[0]} title={titleOf(asked.ids)} onClose={close} />;
    case 'delete':
      return <ForGood title={asked.ids.length === 1 ? 'Delete this note for good?' : `Delete ${asked.ids.length} notes for good?`} text={`${asked.ids.length === 1 ? `“${titleOf(asked.ids)}”, its` : 'They, their'} ink and sound are removed from this device. This cannot be taken back.`} onClose={close} onDelete={done(() => void dispatch(deleteNotes(asked.ids)))} />;
    case 'empty-bin':
      return <ForGood title="Empty the bin?" text="All notes in it, their ink and their sound are removed from this device. This cannot be taken back." onClose={close} onDelete={done(() => void dispatch(emptyBin(true)))} />;
  }
}

function Rename({ id, onSave, onClose }: { id: string; onSave: (title: string) => void; onClose: () => void }) {
  const [title, setTitle] = useState(titleOf([id]));
  const save = () => title.trim() && onSave(title.trim());
  return (
    <>
      <Dialog.Title>Rename</Dialog.Title>
      <Dialog.Content>
        <TextInput mode="outlined" label="Title" accessibilityLabel="Title of the note" value={title} onChangeText={setTitle} maxLength={200} autoFocus selectTextOnFocus onSubmitEditing={save} />
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Cancel</Button>
        <Button disabled={!title.trim()} onPress={save}>
          Save
        </Button>
      </Dialog.Actions>
    </>
  );
}

function ForGood({ title, text, onClose, onDelete }: { title: string; text: string; onClose: () => void; onDelete: () => void }) {
  const { colors } = useTheme();
  return (
    <>
      <Dialog.Title>{title}</Dialog.Title>
      <Dialog.Content>
        <Text>{text}</Text>
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Keep</Button>
        <Button icon="trash" textColor={colors.error} onPress={onDelete}>
          Delete for good
        </Button>
      </Dialog.Actions>
    </>
  );
}

/** `note`: whose text may propose a folder. */
function WhereTo({ title, note = null, allowed, onChoose, onClose }: { title: string; note?: string | null; allowed: (folder: string | null) => boolean; onChoose: (folder: string | null) => void; onClose: () => void }) {
  const folders = useAppSelector((s) => s.library.folders);
  const proposed = folders.get(useProposals(note).folder ?? '');
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
      <Dialog.Content>
          {proposed && (
            <button type="button" className="folder-row" onClick={() => onChoose(proposed.id)}>
              <FolderBadge color={proposed.color} emblem={proposed.emblem} size={28} />
              <span>{proposed.name}, by its words</span>
            </button>
          )}
          <button type="button" className="folder-row" onClick={() => onChoose(null)}>
            Outside of any folder
          </button>
          {branch(null, 0)}
        </Dialog.Content>
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

/** What the text of a note proposes, once it is known. */
function useProposals(id: string | null) {
  const dispatch = useAppDispatch();
  const [found, setFound] = useState<{ readonly tags: readonly string[]; readonly folder: string | null }>({ tags: [], folder: null });
  useEffect(() => {
    let still = true;
    if (id !== null) void dispatch(proposals(id)).then((p) => still && setFound(p));
    return () => void (still = false);
  }, [dispatch, id]);
  return found;
}

function Tags({ ids, onSave, onClose }: { ids: readonly string[]; onSave: (add: string[], drop: string[]) => void; onClose: () => void }) {
  const places = useAppSelector((s) => s.library.places);
  const before = useMemo(() => {
    const lists = ids.map((id) => places[id]?.tags ?? []);
    return (lists[0] ?? []).filter((t) => lists.every((l) => l.includes(t)));
  }, [ids, places]);
  const known = useMemo(() => [...new Set(Object.values(places).flatMap((p) => p.tags))].sort(compareNames), [places]);
  const [on, setOn] = useState<readonly string[]>(before);
  const [text, setText] = useState('');
  const proposed = useProposals(ids.length === 1 ? ids[0] : null).tags.filter((t) => !known.includes(t) && !on.includes(t));
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
        {proposed.length > 0 && (
          <>
            <Text variant="bodySmall">Words that set this note apart</Text>
            <View style={styles.row} role="group" aria-label="Words that set this note apart">
              {proposed.map((t) => (
                <Choice key={t} role="button" label={`Tag ${t}`} name={t} on={false} onPress={() => setOn([...on, t])} />
              ))}
            </View>
          </>
        )}
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
  look: { gap: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
