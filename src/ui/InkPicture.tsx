/** A small picture of what lies on a page, on paper. `around`: what lies there too, faint. `content`: where pictures come from, without which their places are shown. */
import { useEffect, useRef } from 'react';
import { growBox, type Box } from '../core/ink/stroke';
import { lettersIn, type Placed } from '../core/note/kinds/kinds';
import { bitmapsOf, type ReadContent } from '../platform/drawing/bitmaps';
import { LIGHT_PAGE } from '../platform/drawing/pageLook';
import { PlacedPainter } from '../platform/drawing/placedPainter';
import { facesOf } from '../platform/drawing/typedFaces';
import './controls.css';

/** So much shows of what lies around. */
const FAINT = 0.25;
const NOTHING: readonly Placed[] = [];

interface Props {
  readonly placed: readonly Placed[];
  readonly around?: readonly Placed[];
  readonly content?: ReadContent;
  /** mm. */
  readonly box: Box;
  /** px. */
  readonly width: number;
  readonly height: number;
}

export function InkPicture({ placed, around = NOTHING, content, box, width, height }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const el = canvas.current;
    if (!el) return;
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    const ctx = el.getContext('2d')!;
    let wanted = true;
    const [l, t, r, b] = growBox(box, 1.5);
    const k = Math.min(width / (r - l), height / (b - t), 4);
    const all = [...around, ...placed];
    const faint = new Set(around);
    let pictures: Awaited<ReturnType<typeof bitmapsOf>> = new Map();
    const paint = () => {
      if (!wanted) return;
      // Empties it too.
      [el.width, el.height] = [width * dpr, height * dpr];
      ctx.setTransform(k * dpr, 0, 0, k * dpr, -l * k * dpr, (-t * k + (height - (b - t) * k) / 2) * dpr);
      new PlacedPainter(() => LIGHT_PAGE, (it) => pictures.get(it) ?? null).paint(ctx, all, (it) => (faint.has(it) ? FAINT : 1));
    };
    paint();
    // Again where the faces of typed text, and pictures, come later.
    if (all.some((it) => lettersIn(it).length > 0)) void facesOf(all).then(paint);
    if (content && all.some((it) => it.kind === 'picture')) {
      void bitmapsOf(all, k * dpr, content).then((found) => {
        pictures = found;
        paint();
      });
    }
    return () => {
      wanted = false;
    };
  }, [placed, around, content, box, width, height]);
  return <canvas ref={canvas} className="ink-picture" style={{ width, height }} aria-hidden />;
}
