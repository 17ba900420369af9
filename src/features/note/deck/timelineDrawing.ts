/** Draws the timeline: how loud it is, what was written over it, pauses, gaps, takes. The playhead and the marks lie on top as elements. */
import { LEVEL_MS, levelDbfs, type Span } from '../../../core/audio/speech';
import type { Heard } from '../../../core/audio/heard';
import { stretchesOnTimeline } from '../../../core/time/onTimeline';
import type { Timeline } from '../../../core/time/timeline';

export interface TimelineView {
  /** What is in view, ms of the timeline. */
  readonly from: number;
  readonly to: number;
  readonly width: number;
  readonly height: number;
  readonly dpr: number;
}

export interface TimelineContent {
  readonly timeline: Timeline;
  readonly heard: Readonly<Record<string, Heard>>;
  readonly writing: readonly Span[];
  readonly gaps: readonly Span[];
  readonly pauses: readonly Span[];
  readonly repeat: Span | null;
}

export interface TimelineColors {
  readonly wave: string;
  readonly writing: string;
  readonly gap: string;
  readonly pause: string;
  readonly repeat: string;
}

/** Quieter than this is no sound worth drawing, and this is as loud as it gets, dBFS. */
const [QUIET_DB, LOUD_DB] = [-58, -10];
/** Rows from the top: what was written (share of the height), the wave, and room for the bars of the takes (px). */
const WRITING_H = 0.2;
export const TAKE_PX = 6;

export function drawTimeline(ctx: CanvasRenderingContext2D, view: TimelineView, content: TimelineContent, colors: TimelineColors): void {
  const { from, to, width, height, dpr } = view;
  ctx.setTransform(dpr, 0, 0, dpr, 0, 0);
  ctx.clearRect(0, 0, width, height);
  const perMs = width / Math.max(1, to - from);
  const x = (ms: number) => (ms - from) * perMs;
  const wave = { top: height * WRITING_H + 3, bottom: height - TAKE_PX - 3 };
  const inView = (s: Span) => s.to > from && s.from < to;

  for (const p of content.pauses) {
    if (!inView(p)) continue;
    ctx.fillStyle = colors.pause;
    ctx.fillRect(x(p.from), wave.top, Math.max(1, x(p.to) - x(p.from)), wave.bottom - wave.top);
  }
  if (content.repeat) {
    ctx.fillStyle = colors.repeat;
    ctx.fillRect(x(content.repeat.from), 0, Math.max(3, x(content.repeat.to) - x(content.repeat.from)), height);
  }

  ctx.fillStyle = colors.wave;
  const middle = (wave.top + wave.bottom) / 2;
  const half = (wave.bottom - wave.top) / 2;
  for (const stretch of stretchesOnTimeline(content.timeline)) {
    if (!inView(stretch)) continue;
    const levels = content.heard[stretch.take]?.levels;
    const [left, right] = [Math.max(0, Math.floor(x(stretch.from))), Math.min(width, Math.ceil(x(stretch.to)))];
    if (levels) {
      for (let px = left; px < right; px++) {
        const a = Math.floor((from + px / perMs - stretch.shift) / LEVEL_MS);
        const b = Math.max(a + 1, Math.floor((from + (px + 1) / perMs - stretch.shift) / LEVEL_MS));
        let loud = 0;
        for (let i = Math.max(0, a); i < Math.min(levels.length, b); i++) if (levels[i] > loud) loud = levels[i];
        const h = half * Math.min(1, Math.max(0.03, (levelDbfs(loud) - QUIET_DB) / (LOUD_DB - QUIET_DB)));
        ctx.fillRect(px, middle - h, 1, 2 * h);
      }
    } else ctx.fillRect(left, middle - 0.5, right - left, 1);
  }

  // What was written: a tick for every stroke, so that dense writing makes a dense band. Ticks that touch are drawn as one.
  ctx.fillStyle = colors.writing;
  let [left, right] = [-1, -1];
  const tick = () => right > left && ctx.fillRect(left, 2, right - left, height * WRITING_H - 2);
  for (let i = firstIn(content.writing, from); i < content.writing.length && content.writing[i].from < to; i++) {
    const [a, b] = [x(content.writing[i].from), x(content.writing[i].to)];
    if (a > right) {
      tick();
      left = a;
    }
    right = Math.max(right, a + 1, b);
  }
  tick();

  for (const g of content.gaps) if (inView(g)) hatch(ctx, Math.max(0, x(g.from)), 1, Math.min(width, x(g.to)), height * WRITING_H, colors.gap);
}

/** Index of the first run that may reach into what is in view; strokes are short. */
function firstIn(spans: readonly Span[], from: number): number {
  let [lo, hi] = [0, spans.length];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (spans[mid].from < from - 10_000) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

function hatch(ctx: CanvasRenderingContext2D, left: number, top: number, right: number, bottom: number, color: string): void {
  ctx.save();
  ctx.beginPath();
  ctx.rect(left, top, Math.max(2, right - left), bottom - top);
  ctx.clip();
  ctx.strokeStyle = color;
  ctx.lineWidth = 1.5;
  ctx.beginPath();
  const h = bottom - top;
  for (let px = left - h; px < right + h; px += 5) {
    ctx.moveTo(px, bottom);
    ctx.lineTo(px + h, top);
  }
  ctx.stroke();
  ctx.strokeRect(left + 0.75, top + 0.75, Math.max(1, right - left - 1.5), h - 1.5);
  ctx.restore();
}
