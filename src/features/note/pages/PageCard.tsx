/** One page in the overview: its picture, number, bookmark and tick; with a mouse it can be dragged to another place. */
import { useEffect, useRef, useState } from 'react';
import type { Page } from '../../../core/note/schema';
import { usePageBackdrop, usePlacedPictures } from '../../../store/backdrops';
import { bookmark } from '../../../store/pages';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { PaperPreview } from '../../../ui/paper/PaperPreview';
import './pages.css';

const NO_INK = [] as const;
const DRAGGED = 'application/x-page';

export interface PageOver {
  readonly index: number;
  readonly side: 'before' | 'after';
}

function placeOn(card: HTMLElement, clientX: number): PageOver {
  const { left, width } = card.getBoundingClientRect();
  return { index: Number(card.dataset.index), side: clientX < left + width / 2 ? 'before' : 'after' };
}
const after = ({ index, side }: PageOver): number => index + (side === 'after' ? 1 : 0);

/** A finger that stays on a page lifts it, and carries it to another place. */
function useLift(id: string, writes: boolean, onOver: PageCardProps['onOver'], onDropped: PageCardProps['onDropped']) {
  const host = useRef<HTMLDivElement>(null);
  const [isLifted, setLifted] = useState(false);
  const held = useRef<{ timer: ReturnType<typeof setTimeout>; lifted: boolean; at: PageOver | null } | null>(null);
  // Once lifted the finger carries the page, and does not scroll the others.
  useEffect(() => {
    const el = host.current;
    const stay = (e: TouchEvent) => {
      if (held.current?.lifted) e.preventDefault();
    };
    el?.addEventListener('touchmove', stay, { passive: false });
    return () => el?.removeEventListener('touchmove', stay);
  }, []);
  const end = (drop: boolean) => {
    const { timer, lifted, at } = held.current ?? {};
    clearTimeout(timer);
    setLifted(false);
    onOver(null);
    if (drop && lifted && at) onDropped(id, after(at));
    if (!lifted) held.current = null;
  };
  const handlers = {
    onPointerDown: (e: React.PointerEvent) => {
      held.current = null;
      if (e.pointerType !== 'touch' || !writes) return;
      const mine = { lifted: false, at: null as PageOver | null, timer: setTimeout(() => {
        mine.lifted = true;
        setLifted(true);
      }, LIFT_MS) };
      held.current = mine;
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (!held.current?.lifted) return;
      const card = document.elementsFromPoint(e.clientX, e.clientY).map((el) => el.closest<HTMLElement>('.page-card')).find((c) => c && c !== host.current);
      held.current.at = card ? placeOn(card, e.clientX) : null;
      onOver(held.current.at);
    },
    onPointerUp: () => end(true),
    onPointerCancel: () => end(false),
    // The finger that carried a page did not mean to open it.
    onClickCapture: (e: React.MouseEvent) => {
      if (!held.current?.lifted) return;
      held.current = null;
      e.preventDefault();
      e.stopPropagation();
    },
  };
  return { host, isLifted, handlers };
}

export interface PageCardProps {
  page: Page;
  index: number;
  width: number;
  writes: boolean;
  chosen: boolean;
  /** It is the page in sight. */
  current: boolean;
  /** Where what is dragged would land. */
  over: PageOver | null;
  onOver: (over: PageOver | null) => void;
  onOpen: () => void;
  onChoose: () => void;
  /** Page `id` was let go before the page at `to`. */
  onDropped: (id: string, to: number) => void;
}

/** A finger that stays so long lifts a page, ms. */
const LIFT_MS = 350;

export function PageCard({ page, index, width, writes, chosen, current, over, onOver, onOpen, onChoose, onDropped }: PageCardProps) {
  const dispatch = useAppDispatch();
  const ink = useAppSelector((s) => s.note.note!.ink[page.id] ?? NO_INK);
  const bookmarked = useAppSelector((s) => s.note.note!.header.bookmarks?.includes(page.id) === true);
  const { host, isLifted, handlers } = useLift(page.id, writes, onOver, onDropped);
  const name = `page ${index + 1}`;
  return (
    <div
      ref={host}
      className="page-card"
      data-over={over?.index === index ? over.side : undefined}
      data-chosen={chosen}
      data-current={current}
      data-lifted={isLifted}
      data-index={index}
      data-testid={`card-${index + 1}`}
      style={{ width }}
      draggable={writes}
      onDragStart={(e) => e.dataTransfer.setData(DRAGGED, page.id)}
      onDragOver={(e) => {
        if (!writes || !e.dataTransfer.types.includes(DRAGGED)) return;
        e.preventDefault();
        onOver(placeOn(e.currentTarget, e.clientX));
      }}
      onDragLeave={() => onOver(null)}
      onDrop={(e) => {
        e.preventDefault();
        onOver(null);
        onDropped(e.dataTransfer.getData(DRAGGED), after(placeOn(e.currentTarget, e.clientX)));
      }}
      {...handlers}
    >
      <button type="button" className="page-open" aria-label={`Go to ${name}`} onClick={onOpen}>
        <PaperPreview form={page} placed={ink} backdrop={usePageBackdrop(page, width)} pictures={usePlacedPictures(ink, width / page.w)} width={width - 8} height={(width - 8) * 1.3} label={`Picture of ${name}`} />
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
