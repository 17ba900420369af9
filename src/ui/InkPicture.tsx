/** A small picture of some ink, on paper. */
import { useEffect, useRef } from 'react';
import { growBox, type Box } from '../core/ink/stroke';
import { lettersIn, type Placed } from '../core/note/kinds/kinds';
import { LIGHT_PAGE } from '../platform/drawing/pageLook';
import { PlacedPainter } from '../platform/drawing/placedPainter';
import { facesOf } from '../platform/drawing/typedFaces';
import './controls.css';

export function InkPicture({ placed, box, width, height }: { placed: readonly Placed[]; box: Box; width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const el = canvas.current;
    if (!el) return;
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    const ctx = el.getContext('2d')!;
    let wanted = true;
    const [l, t, r, b] = growBox(box, 1.5);
    const k = Math.min(width / (r - l), height / (b - t), 4);
    const paint = () => {
      if (!wanted) return;
      // Empties it too.
      [el.width, el.height] = [width * dpr, height * dpr];
      ctx.setTransform(k * dpr, 0, 0, k * dpr, -l * k * dpr, (-t * k + (height - (b - t) * k) / 2) * dpr);
      new PlacedPainter(() => LIGHT_PAGE).paint(ctx, placed);
    };
    paint();
    // Again where the faces of typed text come later.
    if (placed.some((it) => lettersIn(it).length > 0)) void facesOf(placed).then(paint);
    return () => {
      wanted = false;
    };
  }, [placed, box, width, height]);
  return <canvas ref={canvas} className="ink-picture" style={{ width, height }} aria-hidden />;
}
