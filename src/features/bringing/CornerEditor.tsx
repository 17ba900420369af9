/** A photo with the four corners of the sheet on it, each to be pulled where it belongs, under a magnifier while it is pulled; by keys too. */
import { useEffect, useRef, useState } from 'react';
import type { Corners, Point } from '../../core/scan/homography';
import './bringing.css';

/** Side of the magnifier, px, and how much it magnifies what is on the screen. */
const [GLASS, TIMES] = [120, 3];
const NAMES = ['Upper left', 'Upper right', 'Lower right', 'Lower left'];
/** What an arrow key moves a corner by, as a share of the photo; with Shift the larger. */
const [NEAR, FAR] = [0.002, 0.02];

const within = (v: number): number => Math.min(1, Math.max(0, v));

export function CornerEditor({ url, corners, onChange }: { url: string; corners: Corners; onChange: (corners: Corners) => void }) {
  const host = useRef<HTMLDivElement>(null);
  const image = useRef<HTMLImageElement>(null);
  const glass = useRef<HTMLCanvasElement>(null);
  const [pulled, setPulled] = useState<number | null>(null);
  const set = (i: number, p: Point) => onChange(corners.map((c, k) => (k === i ? p : c)) as unknown as Corners);
  useEffect(() => {
    const [canvas, img] = [glass.current, image.current];
    if (pulled === null || !canvas || !img?.naturalWidth) return;
    const [x, y] = corners[pulled];
    const ctx = canvas.getContext('2d')!;
    const k = img.naturalWidth / img.clientWidth / TIMES;
    ctx.clearRect(0, 0, GLASS, GLASS);
    ctx.drawImage(img, x * img.naturalWidth - (GLASS / 2) * k, y * img.naturalHeight - (GLASS / 2) * k, GLASS * k, GLASS * k, 0, 0, GLASS, GLASS);
    const style = getComputedStyle(canvas);
    ctx.strokeStyle = style.color;
    ctx.lineWidth = 1.5;
    ctx.beginPath();
    ctx.moveTo(GLASS / 2, 0);
    ctx.lineTo(GLASS / 2, GLASS);
    ctx.moveTo(0, GLASS / 2);
    ctx.lineTo(GLASS, GLASS / 2);
    ctx.stroke();
  }, [pulled, corners]);
  const pull = (i: number) => (e: React.PointerEvent<HTMLButtonElement>) => {
    if (!e.currentTarget.hasPointerCapture(e.pointerId) || !host.current) return;
    const box = host.current.getBoundingClientRect();
    set(i, [within((e.clientX - box.left) / box.width), within((e.clientY - box.top) / box.height)]);
  };
  const keys = (i: number) => (e: React.KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (!by) return;
    e.preventDefault();
    const step = e.shiftKey ? FAR : NEAR;
    set(i, [within(corners[i][0] + by[0] * step), within(corners[i][1] + by[1] * step)]);
  };
  const [px, py] = pulled === null ? [0, 0] : corners[pulled];
  return (
    <div ref={host} className="corners">
      <img ref={image} src={url} alt="The photo of the sheet" draggable={false} />
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden>
        <polygon points={corners.map(([x, y]) => `${x},${y}`).join(' ')} vectorEffect="non-scaling-stroke" />
      </svg>
      {corners.map(([x, y], i) => (
        <button
          key={i}
          type="button"
          className="corner"
          aria-label={`${NAMES[i]} corner of the sheet. Arrow keys move it.`}
          style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
          onPointerDown={(e) => {
            e.preventDefault();
            e.currentTarget.focus();
            e.currentTarget.setPointerCapture(e.pointerId);
            setPulled(i);
          }}
          onPointerMove={pull(i)}
          onPointerUp={() => setPulled(null)}
          onPointerCancel={() => setPulled(null)}
          onKeyDown={keys(i)}
        />
      ))}
      {/* On the other side of the photo, where no hand lies over it. */}
      <canvas ref={glass} width={GLASS} height={GLASS} hidden={pulled === null} className="glass" style={{ left: px < 0.5 ? 'auto' : 6, right: px < 0.5 ? 6 : 'auto', top: py < 0.5 ? 'auto' : 6, bottom: py < 0.5 ? 6 : 'auto' }} aria-hidden />
    </div>
  );
}
