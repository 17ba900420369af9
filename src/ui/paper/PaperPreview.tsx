/** A sheet in small, with ink on it where there is some. */
import { useEffect, useRef } from 'react';
import { paintOrder, type Stroke } from '../../core/ink/stroke';
import type { PageForm } from '../../core/note/schema';
import { InkPainter } from '../../platform/drawing/inkPainter';
import { LIGHT_PAGE } from '../../platform/drawing/pageLook';
import { rulePaper } from '../../platform/drawing/paperPainter';

export interface PaperPreviewProps {
  form: PageForm;
  strokes: readonly Stroke[];
  /** Largest width and height, px. */
  width: number;
  height: number;
  label: string;
}

export function PaperPreview({ form, strokes, width, height, label }: PaperPreviewProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const k = Math.min(width / form.w, height / form.h);
  useEffect(() => {
    const el = canvas.current;
    if (!el) return;
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    [el.width, el.height] = [Math.round(form.w * k * dpr), Math.round(form.h * k * dpr)];
    const ctx = el.getContext('2d')!;
    ctx.setTransform(k * dpr, 0, 0, k * dpr, 0, 0);
    ctx.fillStyle = LIGHT_PAGE.sheet(form.paper);
    ctx.fillRect(0, 0, form.w, form.h);
    rulePaper(ctx, { id: 'preview', ...form }, [0, 0, form.w, form.h], k * dpr, LIGHT_PAGE);
    new InkPainter(() => LIGHT_PAGE).paint(ctx, [...strokes].sort(paintOrder));
  }, [form, strokes, k]);
  return <canvas ref={canvas} role="img" aria-label={label} className="paper-preview" style={{ width: form.w * k, height: form.h * k }} />;
}
