/** Ink of a file laid onto pages: in its own size where the file says one, else as large as the page shows well. */
import type { Pen } from '../../ink/pen';
import { copiedPlaced } from '../../note/copy';
import type { Edit, Note } from '../../note/edit';
import type { Placed } from '../../note/kinds/kinds';
import { addPages } from '../../note/pages';
import { LAST_MS } from '../../note/limits';
import { newPage, penSchema, type PageForm } from '../../note/schema';
import { InkmlError } from './traceText';
import { placedOfTrace, pointsOfTrace, readTraces, type InkTrace } from './read';

const { max, min } = Math;

export interface InkPage {
  /** mm; at least those of the paper. */
  readonly w: number;
  readonly h: number;
  /** As they are named in the file; on no page yet. */
  readonly placed: readonly Placed[];
}

export interface BroughtInk {
  readonly pages: readonly InkPage[];
  readonly strokes: number;
  /** The file says how large its ink is. */
  readonly trueSize: boolean;
}

/** What of the page ink of no known size may cover, and what stays free beside ink that is moved onto it, mm. */
const SHARE = 0.8;
const MARGIN = 10;
/** A page larger than this is none, mm. */
const LARGEST_MM = 3000;
/** Between two strokes where nothing tells when they were made, ms. */
const PAUSE_MS = 300;
const isMoment = (wall: number): boolean => wall >= 0 && wall <= LAST_MS;

type Range = readonly [number, number];
const rangeOf = (traces: readonly InkTrace[], of: 'x' | 'y'): Range => traces.reduce<Range>(([a, b], t) => t[of].reduce<Range>(([c, d], v) => [min(c, v), max(d, v)], [a, b]), [Infinity, -Infinity]);

/** Ink of a true size stays where it is, unless that is beside the page; a page grows for ink that reaches beyond it. mm along one side. */
function along([from, to]: Range, size: number): { move: number; size: number } {
  const move = from >= 0 ? 0 : MARGIN - from;
  return { move, size: to + move > size ? to + move + MARGIN : size };
}

function pageOf(traces: readonly InkTrace[], paper: { readonly w: number; readonly h: number }, at: { wall: number; readonly ids: Set<string>; readonly pen: Pen }): InkPage {
  const [xs, ys] = [rangeOf(traces, 'x'), rangeOf(traces, 'y')];
  if (![...xs, ...ys].every(Number.isFinite)) throw new InkmlError('The ink has places that are no numbers.');
  const isMm = traces.every((t) => t.isMm);
  const k = isMm ? 1 : min((SHARE * paper.w) / max(xs[1] - xs[0], 1e-9), (SHARE * paper.h) / max(ys[1] - ys[0], 1e-9), max(paper.w, paper.h));
  const [across, down] = isMm ? [along(xs, paper.w), along(ys, paper.h)] : [{ move: MARGIN - xs[0] * k, size: paper.w }, { move: MARGIN - ys[0] * k, size: paper.h }];
  if (across.size > LARGEST_MM || down.size > LARGEST_MM) throw new InkmlError(`The ink covers ${Math.round(across.size / 10)} by ${Math.round(down.size / 10)} cm, which no page does.`);
  const placed = traces.map((trace) => {
    const said = Number(trace.notes.wall ?? NaN);
    const wall = isMoment(said) ? said : trace.wall !== null && isMoment(trace.wall) ? trace.wall : at.wall;
    at.wall = wall + trace.t.at(-1)! + PAUSE_MS;
    const points = pointsOfTrace(trace, (v) => v * k + across.move, (v) => v * k + down.move);
    // A file may call several the same, or none anything.
    const own = trace.id.replace(/^s/, '');
    const id = own && !at.ids.has(own) ? own : `trace ${at.ids.size}`;
    at.ids.add(id);
    const moment = Number(trace.notes.at);
    const stamp = trace.notes.take && moment >= 0 ? { take: trace.notes.take, at: moment } : null;
    return placedOfTrace(points, { ...trace, brush: penSchema.safeParse({ ...at.pen, ...trace.brush }).success ? trace.brush : {} }, { id, page: '', stamp, wall }, at.pen);
  });
  return { w: across.size, h: down.size, placed };
}

/**
 * The ink of a file, page by page where it names pages.
 * @param paper mm of a page. `wall`: ms since the epoch for ink that says no moment.
 * @throws InkmlError
 */
export function inkPages(text: string, paper: { readonly w: number; readonly h: number }, pen: Pen, wall: number): BroughtInk {
  const traces = readTraces(text);
  if (!traces.length) throw new InkmlError('The file has no ink in it.');
  const byPage = new Map<string, InkTrace[]>();
  for (const trace of traces) {
    const page = trace.notes.page ?? '';
    const list = byPage.get(page);
    if (list) list.push(trace);
    else byPage.set(page, [trace]);
  }
  const at = { wall, ids: new Set<string>(), pen };
  return { pages: [...byPage.values()].map((list) => pageOf(list, paper, at)), strokes: traces.length, trueSize: traces.every((t) => t.isMm) };
}

/** Its pages after the first `at` of a note. Ink keeps its link to a take that the note has; to one that it has not, it has none. */
export function addInk(note: Note, at: number, { pages }: BroughtInk, form: PageForm, newId: () => string): Edit {
  const takes = new Set(note.header.takes.map((t) => t.id));
  const made = pages.map(({ w, h, placed }) => ({ page: newPage(newId(), { ...form, w, h }), placed }));
  const put = made.flatMap(({ page, placed }) =>
    copiedPlaced(placed, () => page.id, newId).copies.map((it): Placed => {
      if (!it.stamp || takes.has(it.stamp.take)) return it;
      const { second: _, ...rest } = it;
      return { ...rest, stamp: null } as Placed;
    }),
  );
  return { ...addPages(note, at, made.map((m) => m.page)), put };
}
