/** A note in the library: opens, is ticked, is dragged with a mouse, and has a menu. */
import { memo } from 'react';
import type { Place } from '../../core/library/folder';
import type { NoteSummary } from '../../core/note/schema';
import { usePicture } from '../../store/pictures';
import { NoteCard, NoteRow } from '../../ui/NoteRow';
import { useHeld } from '../../ui/useHeld';
import { dragNotes } from './dragging';
import '../../ui/folders.css';

export interface LibraryNoteProps {
  header: NoteSummary;
  place?: Place;
  view: 'list' | 'pictures';
  below?: string;
  /** It is locked, and the lock is open. */
  locked: boolean;
  selecting: boolean;
  chosen: boolean;
  /** What is dragged along with it, when it is one of several. */
  dragged?: readonly string[];
  onOpen: (id: string) => void;
  onChoose: (id: string) => void;
  onMore: (id: string) => void;
}

export const LibraryNote = memo(function LibraryNote({ header, place, view, below, locked, selecting, chosen, dragged, onOpen, onChoose, onMore }: LibraryNoteProps) {
  const picture = usePicture(header);
  const held = useHeld(() => onMore(header.id));
  const Shown = view === 'list' ? NoteRow : NoteCard;
  return (
    <div className="drag-host" data-held draggable onDragStart={(e) => dragNotes(e, dragged ?? [header.id])} style={{ height: '100%' }} {...held}>
      <Shown
        header={header}
        picture={picture}
        tags={place?.tags}
        below={below}
        locked={locked}
        onOpen={() => (selecting ? onChoose(header.id) : onOpen(header.id))}
        start={
          selecting && (
            <label className="row-tick">
              <input type="checkbox" checked={chosen} onChange={() => onChoose(header.id)} aria-label={`Choose ${header.title}`} />
            </label>
          )
        }
        end={
          !selecting && (
            <button type="button" className="row-more" aria-label={`What to do with ${header.title}`} onClick={() => onMore(header.id)}>
              <span aria-hidden>⋯</span>
            </button>
          )
        }
      />
    </div>
  );
});
