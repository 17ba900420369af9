/** A note in a list: its picture, title, when, pages and sound. */
import { memo } from 'react';
import type { NoteSummary } from '../core/note/schema';
import { clockText } from '../core/time/format';
import { timelineLength } from '../core/time/timeline';
import './noteRow.css';

export interface NoteRowProps {
  header: NoteSummary;
  picture: string | null;
  tags?: readonly string[];
  /** A line of its own below the facts, such as where the note lies. */
  below?: string;
  locked?: boolean;
  onOpen: () => void;
  end?: React.ReactNode;
  start?: React.ReactNode;
}

const NONE = [] as const;
const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

const pagesText = (header: NoteSummary): string => `${header.pages} ${header.pages === 1 ? 'page' : 'pages'}`;
/** Elements of the browser and not of the component library: a list of thousands has to scroll. */
export const NoteRow = memo(function NoteRow({ header, picture, tags = NONE, below, locked, onOpen, end, start }: NoteRowProps) {
  const ms = timelineLength(header.timeline);
  return (
    <div className="note-row">
      {start}
      <button type="button" className="note-open" onClick={onOpen}>
        <span className="unseen">Open </span>
        <span className="note-sheet" style={{ aspectRatio: `${header.first.w} / ${header.first.h}` }}>
          {picture && <img src={picture} alt="" draggable={false} />}
        </span>
        <span className="note-text">
          <span className="note-title">{header.title}</span>
          <span className="note-facts">
            {DAY.format(header.changed)} · {pagesText(header)}
            {ms > 0 && ` · ${clockText(ms)} of sound`}
          </span>
          {(header.demo || locked || tags.length > 0 || below) && (
            <span className="note-facts">
              {header.demo && <span className="note-chip">Demo</span>}
              {locked && <span className="note-chip">Locked</span>}
              {tags.map((t) => (
                <span key={t} className="note-chip">
                  {t}
                </span>
              ))}
              {below}
            </span>
          )}
        </span>
      </button>
      {end}
    </div>
  );
});

/** The same as a page picture with its title below. */
export const NoteCard = memo(function NoteCard({ header, picture, onOpen, end, start }: NoteRowProps) {
  const ms = timelineLength(header.timeline);
  return (
    <div className="note-card">
      <button type="button" className="note-card-open" onClick={onOpen}>
        <span className="unseen">Open </span>
        <span className="note-card-sheet">{picture && <img src={picture} alt="" draggable={false} />}</span>
        <span className="note-title">{header.title}</span>
        <span className="note-facts">
          {DAY.format(header.changed)}
          {ms > 0 && ` · ${clockText(ms)}`}
        </span>
      </button>
      <span className="note-card-ends">
        {start}
        {end}
      </span>
    </div>
  );
});
