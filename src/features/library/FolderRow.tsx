import type { Folder } from '../../core/library/folder';
import { FolderBadge } from '../../ui/FolderBadge';
import { dragFolder, dropTarget } from './dragging';
import '../../ui/folders.css';

export interface FolderRowProps {
  folder: Folder;
  count: number;
  current?: boolean;
  /** How deep it lies, for a tree. */
  depth?: number;
  small?: boolean;
  onOpen: () => void;
  onMore: () => void;
  onNotes: (ids: readonly string[]) => void;
  onFolder: (id: string) => void;
}

export function FolderRow({ folder, count, current = false, depth = 0, small = false, onOpen, onMore, onNotes, onFolder }: FolderRowProps) {
  return (
    <div className="folder-line" style={{ paddingLeft: depth * 18 }} draggable onDragStart={(e) => dragFolder(e, folder.id)}>
      <button type="button" className="folder-row" aria-current={current} aria-label={`Folder ${folder.name}, ${count} ${count === 1 ? 'note' : 'notes'}`} onClick={onOpen} {...dropTarget(onNotes, onFolder)}>
        <FolderBadge color={folder.color} emblem={folder.emblem} size={small ? 28 : 40} />
        <span className="note-title">{folder.name}</span>
        <span className="count">{count ? ` ${count}` : ''}</span>
      </button>
      <button type="button" className="row-more" aria-label={`What to do with the folder ${folder.name}`} onClick={onMore}>
        <span aria-hidden>⋯</span>
      </button>
    </div>
  );
}
