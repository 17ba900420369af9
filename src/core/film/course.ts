/** The course of a film: which parts of the timeline it shows, how fast, and where on the page it looks. Times are ms. */
import type { Box } from '../ink/stroke';
import type { Stretch, Timeline } from '../time/timeline';

const { max, min } = Math;

export interface Span {
  readonly from: number;
  readonly to: number;
}

/** What is left of a timeline of this length when some of it is passed over. `skips`: in order, side by side. */
export function keptOf(length: number, skips: readonly Span[]): Span[] {
  const kept: Span[] = [];
  let at = 0;
  for (const { from, to } of [...skips, { from: length, to: length }]) {
    if (from > at) kept.push({ from: at, to: min(from, length) });
    at = max(at, to);
  }
  return kept;
}

/** The sound of those parts, as stretches of takes. */
export function stretchesIn(timeline: Timeline, kept: readonly Span[]): Stretch[] {
  const out: Stretch[] = [];
  let start = 0;
  for (const { take, from, to } of timeline) {
    for (const k of kept) {
      const [a, b] = [max(k.from, start), min(k.to, start + to - from)];
      if (b > a) out.push({ take, from: from + a - start, to: from + b - start });
    }
    start += to - from;
  }
  return out;
}

export class Course {
  /** Of the film. */
  readonly length: number;
  private readonly starts: readonly number[];

  /** `speed`: 2 shows two minutes of the timeline in one. */
  constructor(
    readonly kept: readonly Span[],
    readonly speed: number,
  ) {
    let sum = 0;
    this.starts = kept.map(({ from, to }) => {
      const start = sum;
      sum += (to - from) / speed;
      return start;
    });
    this.length = sum;
  }

  /** The place of the timeline that is seen and heard at a moment of the film. */
  at(film: number): number {
    const k = max(0, this.starts.findLastIndex((s) => s <= film));
    const part = this.kept.at(k);
    return part ? min(part.to, part.from + max(0, film - this.starts[k]) * this.speed) : 0;
  }
}

/** What is being written stands within these shares of the frame's height; beyond them the frame moves until it stands at the third. */
const [HIGHEST, LOWEST, AIM] = [0.15, 0.7, 0.4];
/** Of its way the frame goes so much each frame; nearer than this to its end it is there, px. */
const EASE = 0.27;
const THERE_PX = 0.5;

/** Looks at a page that is wider or higher than the frame, and follows what is written. All px. */
export class Camera {
  private x = 0;
  private y = 0;
  private aim: readonly [number, number] = [0, 0];

  constructor(
    private readonly frame: { readonly w: number; readonly h: number },
    private page: { readonly w: number; readonly h: number },
  ) {
    this.turnTo(page);
  }

  /** Where the upper left corner of the page lies in the frame. */
  get place(): readonly [number, number] {
    return [Math.round(this.x), Math.round(this.y)];
  }

  /** Another page, from its beginning. */
  turnTo(page: { readonly w: number; readonly h: number }): void {
    this.page = page;
    this.aim = this.within(0, 0);
    [this.x, this.y] = this.aim;
  }

  /** Something is being written there: `box` in px of the page. `at once`: without a way, where nothing was seen before. */
  follow([l, t, r, b]: Box, atOnce = false): void {
    const { w, h } = this.frame;
    const [ax, ay] = this.aim;
    const isSeen = (from: number, to: number, size: number): boolean => from >= HIGHEST * size && to <= LOWEST * size;
    const x = l + ax >= 0 && r + ax <= w ? ax : AIM * w - (l + r) / 2;
    const y = isSeen(t + ay, b + ay, h) ? ay : AIM * h - (t + b) / 2;
    this.aim = this.within(x, y);
    if (atOnce) [this.x, this.y] = this.aim;
  }

  /** A frame further on the way; true when the picture moved. */
  step(): boolean {
    const [x, y] = this.place;
    const [ax, ay] = this.aim;
    this.x = Math.abs(ax - this.x) < THERE_PX ? ax : this.x + (ax - this.x) * EASE;
    this.y = Math.abs(ay - this.y) < THERE_PX ? ay : this.y + (ay - this.y) * EASE;
    return this.place[0] !== x || this.place[1] !== y;
  }

  /** A page smaller than the frame stands in its middle; of a larger one no frame shows what is beside it. */
  private within(x: number, y: number): readonly [number, number] {
    const one = (v: number, frame: number, page: number): number => (page <= frame ? (frame - page) / 2 : min(0, max(frame - page, v)));
    return [one(x, this.frame.w, this.page.w), one(y, this.frame.h, this.page.h)];
  }
}
