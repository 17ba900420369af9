/** Lines of one flow as they are edited together: what was typed, when each letter was, and where lines go when one above grows. */
import { makeTyped, momentOf, linesOf, type Burst, type Moment, type Typed } from '../note/kinds/typed';
import { isSameLook } from './faces';
import type { Run } from './layout';

/** A line as the editor has it. */
export interface Draft {
  /** Of the line it was; null for a new one. */
  readonly id: string | null;
  readonly text: string;
  readonly looks: readonly Run[];
  readonly list?: Typed['list'];
  readonly align?: Typed['align'];
}

/** Letters typed on end may be so far apart, ms: after that a new burst begins. */
const APART_MS = 60_000;
/** Take time and wall clock of one burst go together to this, ms. */
const TOGETHER_MS = 2;

function burstsOf(moments: readonly Moment[]): Burst[] {
  const out: { stamp: Moment['stamp']; wall: number; t: number[] }[] = [];
  for (const { stamp, wall } of moments) {
    const last = out.at(-1);
    const since = last ? wall - last.wall : 0;
    const follows =
      last !== undefined && since >= last.t[last.t.length - 1] && since - last.t[last.t.length - 1] < APART_MS && (last.stamp?.take ?? null) === (stamp?.take ?? null) && (!stamp || Math.abs(stamp.at - last.stamp!.at - since) <= TOGETHER_MS);
    if (follows) last.t.push(Math.round(since));
    else out.push({ stamp, wall, t: [0] });
  }
  return out;
}

/** Runs of one look together; an empty line keeps the look it will have. */
export function tidied(looks: readonly Run[]): Run[] {
  const out: [number, Run[1]][] = [];
  for (const [n, look] of looks) {
    const last = out.at(-1);
    if (last && (isSameLook(last[1], look) || last[0] === 0)) out[out.length - 1] = [last[0] + n, last[0] === 0 ? look : last[1]];
    else if (n > 0 || !out.length) out.push([n, look]);
  }
  return out;
}

const momentsOf = (it: Typed): Moment[] => Array.from({ length: it.text.length }, (_, i) => momentOf(it, i));

export interface Place {
  readonly flow: string;
  readonly page: string;
  readonly m: Typed['m'];
  readonly width: number;
  readonly pitch: number;
  /** The shape that it is a label of, and how its first line stands. */
  readonly on?: string;
  readonly align?: Typed['align'];
}

/**
 * The lines of a flow after they were edited. What was there before and after the change keeps its moments; what is new has `now`.
 *
 * @param old its lines before, in order; @param id gives new ones. @returns all its lines in order, those that did not change as they were
 */
export function retyped(old: readonly Typed[], drafts: readonly Draft[], place: Place, now: Moment, id: () => string, second = false): Typed[] {
  const had = old.flatMap((it, i): (Moment | null)[] => [...(i ? [null] : []), ...momentsOf(it)]);
  const [before, after] = [old.map((it) => it.text).join('\n'), drafts.map((d) => d.text).join('\n')];
  let [start, end] = [0, 0];
  const least = Math.min(before.length, after.length);
  while (start < least && before[start] === after[start]) start++;
  while (end < least - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  const moments = [...had.slice(0, start), ...Array.from({ length: after.length - start - end }, () => now), ...had.slice(before.length - end)];
  const known = new Map(old.map((it) => [it.id, it]));
  const taken = new Set<string>();
  const out: Typed[] = [];
  let [at, y, number] = [0, 0, 0];
  drafts.forEach((draft, n) => {
    // Of two lines that one was split into the first goes on as it; the other is new.
    const was = draft.id !== null && !taken.has(draft.id) ? known.get(draft.id) : undefined;
    if (was) taken.add(was.id);
    const own = moments.slice(at, at + draft.text.length).map((m) => m ?? now);
    at += draft.text.length + 1;
    const [a, b, c, d, e, f] = place.m;
    const m: Typed['m'] = [a, b, c, d, e + c * y, f + d * y];
    const first = own[0] ?? (was ? { stamp: was.stamp, wall: was.wall } : now);
    const { list, align } = draft;
    const looks = tidied(draft.looks);
    number = list === 'number' ? number + 1 : 0;
    const next = makeTyped({
      ...(was ? { ...was } : { id: id(), ...(second ? { second: true as const } : {}) }),
      page: place.page, flow: place.flow, n, m, width: place.width, pitch: place.pitch, text: draft.text, looks, list, align, nth: number || undefined,
      stamp: first.stamp, wall: first.wall, times: burstsOf(own),
    });
    const kept = was && isSame(was, next) ? was : next;
    out.push(kept);
    y += linesOf(kept).length * place.pitch;
  });
  return out;
}

function isSame(a: Typed, b: Typed): boolean {
  return a.text === b.text && a.n === b.n && a.page === b.page && a.list === b.list && a.nth === b.nth && a.align === b.align && a.width === b.width && a.pitch === b.pitch && a.m.every((v, i) => Math.abs(v - b.m[i]) < 1e-9) && a.looks.length === b.looks.length && a.looks.every(([n, look], i) => n === b.looks[i][0] && isSameLook(look, b.looks[i][1]));
}

/** Where the line after it begins, if nothing was moved. */
const after = (it: Typed): Typed['m'] => {
  const [a, b, c, d, e, f] = it.m;
  const y = linesOf(it).length * it.pitch;
  return [a, b, c, d, e + c * y, f + d * y];
};
const isAt = (m: Typed['m'], n: Typed['m']): boolean => m.every((v, i) => Math.abs(v - n[i]) < 0.02);

/**
 * The lines that follow each other from a place on, in order: what was taken out of its flow and put elsewhere is edited by itself.
 * @param from the place, or a line of which the first before it is looked for
 */
export function flowFrom(placed: readonly { readonly kind: string }[], from: Pick<Place, 'flow' | 'm'> | Typed): Typed[] {
  const all = (placed as readonly Typed[]).filter((it) => it.kind === 'typed' && it.flow === from.flow).sort((a, b) => a.n - b.n);
  let first = 'kind' in from ? from : all.find((it) => isAt(it.m, from.m));
  // Lines of no height would lead back to each other for ever.
  const seen = new Set<Typed>();
  for (let before = first; before; ) {
    const now: Typed = before;
    seen.add(now);
    before = 'kind' in from ? all.find((it) => !seen.has(it) && isAt(after(it), now.m)) : undefined;
    first = before ?? first;
  }
  const lines: Typed[] = [];
  for (let it = first; it && !lines.includes(it); ) {
    lines.push(it);
    const next = after(it);
    it = all.find((other) => !lines.includes(other) && isAt(other.m, next));
  }
  return lines;
}

/** Lines below each other from a place on, as they are otherwise: those that stand there already as they were. */
export function laidFrom(lines: readonly Typed[], place: Place): Typed[] {
  let y = 0;
  return lines.map((it, n) => {
    const [a, b, c, d, e, f] = place.m;
    const next = makeTyped({ ...it, page: place.page, n, m: [a, b, c, d, e + c * y, f + d * y], width: place.width, pitch: place.pitch });
    y += linesOf(next).length * place.pitch;
    return isSame(it, next) ? it : next;
  });
}

/** How many of the lines end above the foot of a page, `bottom` mm down; one at least, however long it is. */
export function fitting(lines: readonly Typed[], bottom: number): number {
  const over = lines.findIndex((it, i) => i > 0 && it.m[5] + it.m[3] * linesOf(it).length * it.pitch > bottom);
  return over < 0 ? lines.length : over;
}
