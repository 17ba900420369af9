/** The folders down the side of a wide window; notes are dropped onto them. */
import { ScrollView, StyleSheet } from 'react-native';
import { Button, useTheme } from 'react-native-paper';
import { foldersIn } from '../../core/library/folder';
import { useAppSelector } from '../../store/store';
import { dropTarget } from './dragging';
import { FolderRow } from './FolderRow';
import type { Where } from './where';
import '../../ui/folders.css';

export interface FolderTreeProps {
  where: Where;
  counts: { readonly by: ReadonlyMap<string, number>; readonly archive: number; readonly bin: number };
  go: (where: Where) => void;
  onMore: (folder: string) => void;
  onNew: () => void;
  onNotes: (ids: readonly string[], folder: string | null) => void;
  onFolder: (id: string, parent: string | null) => void;
}

export function FolderTree({ where, counts, go, onMore, onNew, onNotes, onFolder }: FolderTreeProps) {
  const { colors } = useTheme();
  const folders = useAppSelector((s) => s.library.folders);
  const branch = (parent: string | null, depth: number): React.ReactNode =>
    foldersIn(folders, parent).map((f) => (
      <div key={f.id}>
        <FolderRow folder={f} small depth={depth} count={counts.by.get(f.id) ?? 0} current={where.kind === 'folder' && where.folder === f.id} onOpen={() => go({ kind: 'folder', folder: f.id })} onMore={() => onMore(f.id)} onNotes={(ids) => onNotes(ids, f.id)} onFolder={(id) => onFolder(id, f.id)} />
        {branch(f.id, depth + 1)}
      </div>
    ));
  const fixed = (kind: Where['kind'], name: string, count = 0) => (
    <button type="button" className="folder-row" aria-current={where.kind === kind && (where.kind !== 'folder' || where.folder === null)} onClick={() => go(kind === 'folder' ? { kind, folder: null } : { kind })} {...(kind === 'folder' ? dropTarget((ids) => onNotes(ids, null), (id) => onFolder(id, null)) : {})}>
      <span>{name}</span>
      <span className="count">{count || ''}</span>
    </button>
  );
  return (
    <ScrollView style={[styles.tree, { borderColor: colors.outlineVariant }]} contentContainerStyle={styles.inner} role="navigation" aria-label="Folders">
      {fixed('all', 'All notes')}
      {fixed('folder', 'Top of the library')}
      {branch(null, 0)}
      <Button icon="folder" onPress={onNew} style={styles.button}>
        New folder
      </Button>
      {fixed('archive', 'Archive', counts.archive)}
      {fixed('bin', 'Bin', counts.bin)}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  tree: { width: 250, flexGrow: 0, flexShrink: 0, borderRightWidth: 1 },
  inner: { padding: 12, paddingTop: 24, gap: 2 },
  button: { alignSelf: 'flex-start' },
});
