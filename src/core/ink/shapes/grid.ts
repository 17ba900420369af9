/** A grid that was drawn by hand: which strokes are its lines, and where its rows and columns run. */
import { pointsOf, type Stroke } from '../stroke';
import { recognise } from './recognise';

export interface Grid {
  /** Left to right and down, mm: one more than there are columns and rows. */
  readonly xs: readonly number[];
  readonly ys: readonly number[];
  /** Ids of the strokes that drew it. */
  readonly lines: readonly string[];
}

/** A level or upright line: where it runs, and from where to where. */
interface Ruled {
  readonly at: number;
  readonly from: number;
  readonly to: number;
  readonly id: string;
}

/** Shorter lines are letters, mm. */
const SHORT_MM = 10;
/** How far a line may stray across its length. */
const STRAY = 0.14;
/** Lines as near as this are one that was drawn twice, in the distance of lines that is usual here, and mm at least. */
const [ONE, ONE_MM] = [0.3, 1.5];
/** A line belongs to a grid when it runs along so much of it. */
const SPAN = 0.55;
/** Lines that reach so far beyond the outermost one have their cells open there, mm. */
const OPEN_MM = 4;

const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1];

/** Null when what is drawn has no two cells at least. Strokes that are no lines of it are what is written in it. */
export function gridOf(strokes: readonly Stroke[]): Grid | null {
  const level: Ruled[] = [];
  const upright: Ruled[] = [];
  for (const it of strokes) {
    const [l, t, r, b] = it.box;
    const [w, h] = [r - l, b - t];
    if (w >= SHORT_MM && h <= STRAY * w) level.push({ at: middle(it, 1), from: l, to: r, id: it.id });
    else if (h >= SHORT_MM && w <= STRAY * h) upright.push({ at: middle(it, 0), from: t, to: b, id: it.id });
    else if (w >= SHORT_MM && h >= SHORT_MM / 2) {
      // A border in one go.
      const name = it.shape?.name ?? recognise(pointsOf(it))?.name;
      if (name !== 'rectangle' && name !== 'square') continue;
      level.push({ at: t, from: l, to: r, id: it.id }, { at: b, from: l, to: r, id: it.id });
      upright.push({ at: l, from: t, to: b, id: it.id }, { at: r, from: t, to: b, id: it.id });
    }
  }
  if (!level.length && !upright.length) return null;
  const all = [...level.flatMap((x) => [[x.from, x.at], [x.to, x.at]]), ...upright.flatMap((y) => [[y.at, y.from], [y.at, y.to]])];
  const [left, right] = [Math.min(...all.map((p) => p[0])), Math.max(...all.map((p) => p[0]))];
  const [top, bottom] = [Math.min(...all.map((p) => p[1])), Math.max(...all.map((p) => p[1]))];
  const rows = edges(level.filter((x) => x.to - x.from >= SPAN * (right - left)), upright, top, bottom);
  const cols = edges(upright.filter((y) => y.to - y.from >= SPAN * (bottom - top)), level, left, right);
  if (!rows || !cols || (rows.at.length - 1) * (cols.at.length - 1) < 2 || !rows.used.length || !cols.used.length) return null;
  return { xs: cols.at, ys: rows.at, lines: [...new Set([...rows.used, ...cols.used])] };
}

/** Where the line itself runs, not its box: a hook at its end moves the box. */
function middle(it: Stroke, axis: 0 | 1): number {
  const { n, xy } = pointsOf(it);
  return median(Array.from({ length: n }, (_, i) => xy[2 * i + axis] / 100));
}

/** Lines that run alike, and the outer edges where those across reach beyond them. */
function edges(lines: readonly Ruled[], across: readonly Ruled[], low: number, high: number): { at: number[]; used: string[] } | null {
  if (!lines.length) return null;
  const sorted = [...lines].sort((a, b) => a.at - b.at);
  const gaps = sorted.slice(1).map((l, i) => l.at - sorted[i].at).filter((g) => g > ONE_MM);
  const one = Math.max(ONE_MM, ONE * (gaps.length ? median(gaps) : 0));
  const groups: Ruled[][] = [];
  for (const line of sorted) {
    const last = groups.at(-1);
    if (last && line.at - last[last.length - 1].at < one) last.push(line);
    else groups.push([line]);
  }
  const at = groups.map((g) => median(g.map((l) => l.at)));
  const reach = (of: 'from' | 'to') => median(across.map((l) => l[of]));
  if (across.length && at[0] - reach('from') > OPEN_MM) at.unshift(Math.max(low, reach('from')));
  if (across.length && reach('to') - at[at.length - 1] > OPEN_MM) at.push(Math.min(high, reach('to')));
  return at.length > 1 ? { at, used: sorted.map((l) => l.id) } : null;
}
