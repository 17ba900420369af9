/** A small picture of some ink: its lines as they run, on paper. */
import { useEffect, useRef } from 'react';
import { sampleStroke, tracePen } from '../core/ink/outline';
import { growBox, pointsOf, paintOrder, type Box, type Stroke } from '../core/ink/stroke';

export function InkPicture({ strokes, box, width, height }: { strokes: readonly Stroke[]; box: Box; width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const el = canvas.current;
    if (!el) return;
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    [el.width, el.height] = [width * dpr, height * dpr];
    const ctx = el.getContext('2d')!;
    const [l, t, r, b] = growBox(box, 1.5);
    const k = Math.min(width / (r - l), height / (b - t), 4);
    ctx.setTransform(k * dpr, 0, 0, k * dpr, -l * k * dpr, (-t * k + (height - (b - t) * k) / 2) * dpr);
    for (const stroke of [...strokes].sort(paintOrder)) {
      const { pen } = stroke;
      ctx.globalAlpha = pen.opacity ?? 1;
      ctx.fillStyle = pen.color;
      ctx.beginPath();
      tracePen(pen, sampleStroke(pointsOf(stroke), pen), ctx);
      ctx.fill('nonzero');
    }
  }, [strokes, box, width, height]);
  return <canvas ref={canvas} className="ink-picture" style={{ width, height }} aria-hidden />;
}
