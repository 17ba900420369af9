/** A sheet in small, with ink on it where there is some. */
import { useEffect, useRef } from 'react';
import { inSight, lettersIn, type Placed } from '../../core/note/kinds/kinds';
import { wholePage } from '../../core/note/board';
import type { Page, PageForm } from '../../core/note/schema';
import { backdropOf } from '../../platform/drawing/backdrops';
import type { PictureSource } from '../../platform/drawing/pictureOnPage';
import { paintPage } from '../../platform/drawing/pagePainter';
import { facesOf } from '../../platform/drawing/typedFaces';
import '../controls.css';

export interface PaperPreviewProps {
  form: PageForm & Pick<Page, 'board'>;
  placed: readonly Placed[];
  /** The picture behind it. */
  backdrop?: ImageBitmap | null;
  /** Pictures on it. */
  pictures?: PictureSource;
  /** Largest width and height, px. */
  width: number;
  height: number;
  label: string;
}

export function PaperPreview({ form, placed, backdrop = null, pictures, width, height, label }: PaperPreviewProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const k = Math.min(width / form.w, height / form.h);
  useEffect(() => {
    const el = canvas.current;
    if (!el) return;
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    [el.width, el.height] = [Math.round(form.w * k * dpr), Math.round(form.h * k * dpr)];
    const ctx = el.getContext('2d')!;
    ctx.setTransform(k * dpr, 0, 0, k * dpr, 0, 0);
    let wanted = true;
    const whole = wholePage({ id: 'preview', ...form }, inSight(placed));
    const paint = () => wanted && paintPage(ctx, { page: whole.page, placed: whole.placed, part: [0, 0, form.w, form.h], k: k * dpr, backdrop: backdrop && backdropOf(backdrop, form), pictures });
    paint();
    // Drawn at once, and again where the faces of typed text come later.
    if (placed.some((it) => lettersIn(it).length > 0)) void facesOf(placed).then(paint);
    return () => {
      wanted = false;
    };
  }, [form, placed, backdrop, pictures, k]);
  return <canvas ref={canvas} role="img" aria-label={label} className="paper-preview" style={{ width: form.w * k, height: form.h * k }} />;
}
