/** One page in the overview: its picture, number, bookmark and tick; with a mouse it can be dragged to another place. */
import { useState } from 'react';
import type { Page } from '../../../core/note/schema';
import { usePageBackdrop } from '../../../store/backdrops';
import { bookmark } from '../../../store/pages';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { PaperPreview } from '../../../ui/paper/PaperPreview';
import './pages.css';

const NO_INK = [] as const;
const DRAGGED = 'application/x-page';

export interface PageCardProps {
  page: Page;
  index: number;
  width: number;
  writes: boolean;
  chosen: boolean;
  onOpen: () => void;
  onChoose: () => void;
  /** Page `id` was let go before the page at `to`. */
  onDropped: (id: string, to: number) => void;
}

export function PageCard({ page, index, width, writes, chosen, onOpen, onChoose, onDropped }: PageCardProps) {
  const dispatch = useAppDispatch();
  const ink = useAppSelector((s) => s.note.note!.ink[page.id] ?? NO_INK);
  const bookmarked = useAppSelector((s) => s.note.note!.header.bookmarks?.includes(page.id) === true);
  const [over, setOver] = useState<'before' | 'after' | null>(null);
  const name = `page ${index + 1}`;
  const side = (e: React.DragEvent<HTMLElement>): 'before' | 'after' => {
    const { left, width: w } = e.currentTarget.getBoundingClientRect();
    return e.clientX < left + w / 2 ? 'before' : 'after';
  };
  return (
    <div
      className="page-card"
      data-over={over ?? undefined}
      data-chosen={chosen}
      data-testid={`card-${index + 1}`}
      style={{ width }}
      draggable={writes}
      onDragStart={(e) => e.dataTransfer.setData(DRAGGED, page.id)}
      onDragOver={(e) => {
        if (!writes || !e.dataTransfer.types.includes(DRAGGED)) return;
        e.preventDefault();
        setOver(side(e));
      }}
      onDragLeave={() => setOver(null)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(null);
        onDropped(e.dataTransfer.getData(DRAGGED), index + (side(e) === 'after' ? 1 : 0));
      }}
    >
      <button type="button" className="page-open" aria-label={`Go to ${name}`} onClick={onOpen}>
        <PaperPreview form={page} placed={ink} backdrop={usePageBackdrop(page, width)} width={width - 8} height={(width - 8) * 1.3} label={`Picture of ${name}`} />
      </button>
      <div className="page-foot">
        {writes && (
          <label className="page-tick">
            <input type="checkbox" checked={chosen} onChange={onChoose} aria-label={`Choose ${name}`} />
          </label>
        )}
        <span className="page-count">{index + 1}</span>
        <button type="button" className="ribbon" aria-pressed={bookmarked} aria-label={`Bookmark ${name}`} disabled={!writes} onClick={() => dispatch(bookmark(page.id))}>
          <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden>
            <path d="M8 3h8v18l-4-4.500L8 21z" />
          </svg>
        </button>
      </div>
    </div>
  );
}
