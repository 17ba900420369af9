/** The border between the source and the page: pulled by mouse, pen and finger, moved by arrow keys. */
import { useRef } from 'react';
import { moveBorder } from '../../../store/beside';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import './border.css';

/** An arrow key moves it by so much of the room. */
const STEP = 0.05;

export function Border({ upright }: { upright: boolean }) {
  const dispatch = useAppDispatch();
  const share = useAppSelector((s) => s.beside.share);
  const el = useRef<HTMLDivElement>(null);
  const to = (e: React.PointerEvent) => {
    const room = el.current?.parentElement?.getBoundingClientRect();
    if (!room || !el.current!.hasPointerCapture(e.pointerId)) return;
    dispatch(moveBorder(upright ? (e.clientX - room.left) / room.width : (e.clientY - room.top) / room.height));
  };
  return (
    <div
      ref={el}
      role="separator"
      tabIndex={0}
      aria-label="Border between the source and the page"
      aria-orientation={upright ? 'vertical' : 'horizontal'}
      aria-valuenow={Math.round(100 * share)}
      aria-valuemin={25}
      aria-valuemax={75}
      className={`border-between ${upright ? 'border-upright' : 'border-lying'}`}
      onPointerDown={(e) => {
        e.preventDefault();
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={to}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -STEP, ArrowUp: -STEP, ArrowRight: STEP, ArrowDown: STEP }[e.key];
        if (by === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        dispatch(moveBorder(share + by));
      }}
    />
  );
}
