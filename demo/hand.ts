/**
 * A hand for the demo notes: text and shapes as pen strokes with pace and pressure, the way somebody writes who listens at the
 * same time. Letters come from single-stroke fonts (package hersheytext: EMS fonts, SIL Open Font License); what makes them a
 * hand is done here: letters run together, no two alike, the line is never quite straight, dots and bars follow the word.
 */
import { createRequire } from 'node:module';
import { PointBuffer } from '../src/core/ink/points';
import type { Pen } from '../src/core/ink/pen';
import { makeStroke, type Stroke } from '../src/core/ink/stroke';

interface SvgGlyph {
  readonly width: number;
  readonly d?: string;
}
const fonts = createRequire(__filename)('hersheytext') as { getFontData(name: string): { chars: Record<string, SvgGlyph> } };

export type Rnd = () => number;

/** Mulberry32. */
export function seeded(seed: number): Rnd {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), a | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

type Line = [number, number][];

export interface Style {
  readonly font: string;
  /** mm of a font unit times 1000: about the height of a tall letter. */
  readonly em: number;
  /** Extra lean, dx per dy. */
  readonly lean: number;
  /** mm a second where the line is straight. */
  readonly pace: number;
  /** How uneven, 1 is usual. */
  readonly loose: number;
}

export class Hand {
  private phase: number[];
  constructor(
    private readonly style: Style,
    private readonly rnd: Rnd,
  ) {
    this.phase = Array.from({ length: 6 }, () => rnd() * 6.28);
  }

  private spread(s: number): number {
    return (this.rnd() + this.rnd() + this.rnd() - 1.5) * s * this.style.loose;
  }

  /** The slow swing of a line of writing. */
  private swing(x: number): number {
    return this.style.loose * (0.32 * Math.sin(x / 27 + this.phase[0]) + 0.16 * Math.sin(x / 9 + this.phase[1]));
  }

  width(text: string): number {
    const { chars } = fonts.getFontData(this.style.font);
    return [...text].reduce((s, c) => s + (chars[c]?.width ?? 400) * (this.style.em / 1000), 0);
  }

  /** Polylines of a word in the order they are written, and where the next letter would stand. */
  word(text: string, x: number, baseline: number): { lines: Line[]; end: number } {
    const { chars } = fonts.getFontData(this.style.font);
    const k = this.style.em / 1000;
    const main: Line[] = [];
    const late: Line[] = [];
    for (const c of text) {
      const g = chars[c];
      if (!g) throw new Error(`The font has no ${c}.`);
      const grow = 1 + this.spread(0.07);
      const turn = this.spread(0.05);
      const lift = this.spread(0.16);
      const lines: Line[] = [];
      for (const [, command, rest] of (g.d ?? '').matchAll(/([ML])\s*([^ML]*)/g)) {
        const n = (rest.match(/-?[\d.]+/g) ?? []).map(Number);
        for (let i = 0; i + 1 < n.length; i += 2) {
          if (command === 'M' && i === 0) lines.push([]);
          const [gx, gy] = [n[i] * k * grow, n[i + 1] * k * grow];
          const [rx, ry] = [gx + gy * turn, gy - gx * turn];
          lines[lines.length - 1].push([x + rx + ry * this.style.lean, baseline + this.swing(x + rx) + lift - ry]);
        }
      }
      lines.forEach((line, i) => {
        const ys = line.map((p) => p[1]);
        const size = Math.max(...ys) - Math.min(...ys);
        const dotOrBar = i > 0 && size < 0.25 * this.style.em && /[ijtf]/.test(c);
        if (dotOrBar) {
          const off: [number, number] = [this.spread(0.25) + 0.15, this.spread(0.2)];
          late.push(line.map(([px, py]) => [px + off[0], py + off[1]]));
          return;
        }
        const last = main.at(-1)?.at(-1);
        // Where one letter ends the next begins: the pen stays on the paper.
        const gap = last ? Math.hypot(last[0] - line[0][0], last[1] - line[0][1]) : Infinity;
        if (i === 0 && gap < 0.11 * this.style.em && /[a-z]/.test(c)) main[main.length - 1].push(...line);
        else main.push(line);
      });
      x += g.width * k * (1 + this.spread(0.05));
    }
    return { lines: [...main, ...late], end: x };
  }

  /** Times a polyline: smooth, slower in the bends, pressed harder going down. */
  stroke(line: Line, pen: Pen, rest: { id: string; page: string; wall: number; stamp: Stroke['stamp'] }): Stroke {
    const smooth = line.length > 2 ? spline(line) : line;
    const buffer = new PointBuffer();
    let t = 0;
    let due = 0;
    const total = lengthOf(smooth);
    let done = 0;
    let heading = 0;
    const [a, b] = [this.rnd() * 6.28, this.rnd() * 6.28];
    for (let i = 0; i < smooth.length; i++) {
      const [x, y] = smooth[i];
      if (i > 0) {
        const [px, py] = smooth[i - 1];
        const step = Math.hypot(x - px, y - py);
        const now = Math.atan2(y - py, x - px);
        let bend = Math.abs(now - heading);
        if (bend > Math.PI) bend = 2 * Math.PI - bend;
        heading = now;
        done += step;
        t += (step / this.style.pace) * 1000 * (1 + 0.9 * Math.min(1.2, bend / Math.max(0.15, step)));
      }
      if (i > 0 && i < smooth.length - 1 && t < due) continue;
      due = t + 8;
      const down = i > 0 ? (y - smooth[i - 1][1]) / (Math.hypot(x - smooth[i - 1][0], y - smooth[i - 1][1]) || 1) : 0;
      const ends = Math.min(1, (done + 0.25) / 0.9, (total - done + 0.2) / 1.1);
      const pressure = Math.min(1, Math.max(0.08, (0.46 + 0.17 * down + 0.05 * Math.sin(done * 1.7 + a)) * (0.45 + 0.55 * ends)));
      const shake = 0.025 * this.style.loose;
      buffer.add(x + shake * Math.sin(t / 31 + a), y + shake * Math.sin(t / 37 + b), pressure, t);
    }
    return makeStroke(buffer.points(), { ...rest, pen });
  }

  /** A line somebody draws without a ruler. */
  freehand(points: Line): Line {
    const [p, q] = [this.rnd() * 6.28, this.rnd() * 6.28];
    const dense = points.length > 2 ? spline(points) : Array.from({ length: 24 }, (_, i): [number, number] => [points[0][0] + ((points[1][0] - points[0][0]) * i) / 23, points[0][1] + ((points[1][1] - points[0][1]) * i) / 23]);
    const step = lengthOf(dense) / Math.max(1, dense.length - 1);
    return dense.map(([x, y], i) => [x + 0.3 * Math.sin((i * step) / 11 + p), y + 0.3 * Math.sin((i * step) / 14 + q)]);
  }
}

const lengthOf = (line: Line) => line.reduce((s, p, i) => (i ? s + Math.hypot(p[0] - line[i - 1][0], p[1] - line[i - 1][1]) : 0), 0);

/** Centripetal enough for letters: Catmull-Rom through the points, about a tenth of a mm apart. */
function spline(line: Line): Line {
  const out: Line = [];
  for (let i = 0; i + 1 < line.length; i++) {
    const [p0, p1, p2, p3] = [line[Math.max(0, i - 1)], line[i], line[i + 1], line[Math.min(line.length - 1, i + 2)]];
    const n = Math.max(1, Math.ceil(Math.hypot(p2[0] - p1[0], p2[1] - p1[1]) / 0.1));
    for (let k = 0; k < n; k++) {
      const u = k / n;
      const at = (j: 0 | 1) => 0.5 * (2 * p1[j] + (p2[j] - p0[j]) * u + (2 * p0[j] - 5 * p1[j] + 4 * p2[j] - p3[j]) * u * u + (3 * p1[j] - p0[j] - 3 * p2[j] + p3[j]) * u * u * u);
      out.push([at(0), at(1)]);
    }
  }
  out.push(line[line.length - 1]);
  return out;
}
