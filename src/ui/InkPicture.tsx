/** A small picture of some ink, on paper; `around`: what lies there too, faint. */
import { useEffect, useRef } from 'react';
import { growBox, type Box } from '../core/ink/stroke';
import { lettersIn, type Placed } from '../core/note/kinds/kinds';
import { LIGHT_PAGE } from '../platform/drawing/pageLook';
import { PlacedPainter } from '../platform/drawing/placedPainter';
import { facesOf } from '../platform/drawing/typedFaces';
import './controls.css';

/** So much of what lies around is taken back. */
const FAINT = 0.75;
const NOTHING: readonly Placed[] = [];

export function InkPicture({ placed, around = NOTHING, box, width, height }: { placed: readonly Placed[]; around?: readonly Placed[]; box: Box; width: number; height: number }) {
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
      const painter = new PlacedPainter(() => LIGHT_PAGE);
      if (around.length) {
        painter.paint(ctx, around);
        ctx.save();
        ctx.globalCompositeOperation = 'destination-out';
        ctx.globalAlpha = FAINT;
        ctx.fillRect(l - width / k, t - height / k, (3 * width) / k, (3 * height) / k);
        ctx.restore();
      }
      painter.paint(ctx, placed);
    };
    paint();
    // Again where the faces of typed text come later.
    const all = [...placed, ...around];
    if (all.some((it) => lettersIn(it).length > 0)) void facesOf(all).then(paint);
    return () => {
      wanted = false;
    };
  }, [placed, around, box, width, height]);
  return <canvas ref={canvas} className="ink-picture" style={{ width, height }} aria-hidden />;
}
