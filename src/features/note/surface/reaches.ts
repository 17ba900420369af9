/** How far the buttons of the time margin reach: no two over each other, each high enough for a finger where its lines allow it. */

/** A button reaches half-way to its neighbours, but no further than this from its line, px. */
const REACH_PX = 22;
/** Lines beside each other share the room; none has less than this on either side, px. */
const LEAST_PX = 6;
/** What a button is to be high at least (WCAG 2.2, 2.5.8), px: lines closer than that stand in two columns, every second line in each. */
export const TARGET_PX = 24;

export type Column = 'both' | 'left' | 'right';

/** A line's button: its column, and how far it reaches above and below the line, px. */
export interface Reach {
  readonly column: Column;
  readonly above: number;
  readonly below: number;
}

/** The buttons of lines whose middles lie at `ys`, px, in order. */
export function reaches(ys: readonly number[]): Reach[] {
  const gap = (i: number) => (i > 0 && i < ys.length ? Math.abs(ys[i] - ys[i - 1]) : Infinity);
  const columns: Column[] = [];
  ys.forEach((_, i) => columns.push(gap(i) >= TARGET_PX && gap(i + 1) >= TARGET_PX ? 'both' : columns[i - 1] === 'left' && gap(i) < TARGET_PX ? 'right' : 'left'));
  const all = columns.map((column, i) => {
    const half = (step: 1 | -1) => {
      let k = i + step;
      while (columns[k] !== undefined && columns[k] !== column && columns[k] !== 'both' && column !== 'both') k += step;
      return Math.min(REACH_PX, Math.max(LEAST_PX, k in ys ? Math.abs(ys[k] - ys[i]) / 2 : Infinity));
    };
    return { column, above: half(-1), below: half(1) };
  });
  // Written lines are not ruled ones: where two stand closer by chance, they take from what their neighbours have to spare, downwards and then upwards.
  for (const side of ['left', 'right'] as const) {
    const own = all.flatMap((r, i) => (r.column === side ? [i] : []));
    for (const [to, from, order] of [['below', 'above', own], ['above', 'below', [...own].reverse()]] as const) {
      order.forEach((i, n) => {
        const [it, next] = [all[i], order[n + 1] as number | undefined];
        const short = TARGET_PX - it.above - it.below;
        if (short <= 0 || next === undefined || it[to] >= REACH_PX) return;
        const [between, other] = [Math.abs(ys[next] - ys[i]), all[next]];
        it[to] = Math.min(it[to] + short, between - LEAST_PX);
        other[from] = Math.min(other[from], between - it[to]);
      });
    }
  }
  return all;
}
