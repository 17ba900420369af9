/** Typed lines: what the editor has becomes a change of the note, letter by letter, each with its moment. */
import { newId } from '../core/id';
import { joined, type Edit, type Note, type RowPut } from '../core/note/edit';
import { apply } from '../core/ink/transform';
import type { Stroke } from '../core/ink/stroke';
import { labelled } from '../core/note/labels';
import { affineOf, within } from '../core/note/kinds/drawn';
import { laidOn, slipAt, type Placed } from '../core/note/kinds/kinds';
import { makeSlip, SLIP_EDGE, type Slip } from '../core/note/kinds/slip';
import { linesOf, type Typed } from '../core/note/kinds/typed';
import { addPages } from '../core/note/pages';
import { linesToWriteOn } from '../core/note/paper';
import { newPage, type Page } from '../core/note/schema';
import { fitting, flowFrom, laidFrom, retyped, type Draft, type Place } from '../core/text/flow';
import { canChange } from './change';
import { stampOf, heardBeside } from './recording';
import { changeByPen } from './reviewing';
import type { Thunk } from './thunk';

/** Between the last line of a text and the lower edge of its page, mm. */
const FOOT_MM = 6;

/** The lines of a flow as they are now, page by page: those of its own page, and those that went on to the next ones. */
export interface Flowed {
  readonly here: readonly Typed[];
  readonly beyond: readonly Typed[];
}

/**
 * @param time of the key, ms (time base of performance.now()).
 * @param along rows that go with the lines, by their ids.
 * @returns null when the note takes no change, and then nothing of it is kept.
 */
export const typeInto =
  (place: Place, drafts: readonly Draft[], time: number, along: (lines: readonly string[]) => readonly RowPut[] = () => []): Thunk<Flowed | null> =>
  (dispatch, getState) => {
    const { note } = getState().note;
    if (!note || !canChange(getState()) || !note.header.pages.some((p) => p.id === place.page)) return null;
    const old = flowFrom(note.ink[place.page] ?? [], place);
    const heard = dispatch(heardBeside(time));
    const stamp = heard ?? dispatch(stampOf(time));
    // What is written along with sound that came from a file was not written before.
    const isAlong = note.header.takes.some((t) => t.id === stamp?.take && t.brought);
    const now = { stamp, wall: Math.round(performance.timeOrigin + time) };
    const isEmpty = drafts.every((d) => d.text === '' && !d.list);
    const list = note.ink[place.page] ?? [];
    const on = slipOf(list, old, place);
    const shape = list.find((it): it is Stroke => it.kind === 'stroke' && it.id === (old[0]?.on ?? place.on)) ?? null;
    const lines = isEmpty ? [] : retyped(old, drafts, place, now, newId, heard !== null && !isAlong).map((it) => (!shape ? laidOn(it, on) : it.on === shape.id ? it : labelled(it, shape)));
    const had = new Set(old);
    const left = new Set(lines.map((it) => it.id));
    // A label stays with its shape, and goes on to no other page.
    const { kept, beyond, edit } = shape ? { kept: lines, beyond: [], edit: {} } : on ? { kept: lines, beyond: [], edit: grown(on, lines) } : overflow(note, place, lines);
    const stays = new Set(kept.map((it) => it.id));
    const own: Edit = { put: kept.filter((it) => !had.has(it)), cut: old.filter((it) => !left.has(it.id) || !stays.has(it.id)).map(({ id, page }) => ({ id, page })) };
    dispatch(changeByPen(joined(joined(own, edit), { rows: along([...kept, ...beyond].map((it) => it.id)) })));
    return { here: kept, beyond };
  };

/** The sticky note that a text stands on. */
function slipOf(list: readonly Placed[], old: readonly Typed[], { m, pitch }: Place): Slip | null {
  if (old.length) return list.find((it): it is Slip => it.kind === 'slip' && it.id === old[0].on) ?? null;
  const slip = slipAt(list, ...apply(affineOf(m), 1, pitch / 2));
  return slip?.folded ? null : slip;
}

/** A sticky note is as long as what is typed on it. */
function grown(slip: Slip, lines: readonly Typed[]): Edit {
  const foot = Math.max(0, ...lines.map((it) => within(slip.m, ...apply(affineOf(it.m), 0, linesOf(it).length * it.pitch))[1])) + SLIP_EDGE;
  return foot > slip.h + 0.01 ? { put: [makeSlip({ ...slip, h: foot })] } : {};
}

/**
 * Lines that find no room on their page go on at the top of the next one, before what of their flow stands there, a page being added where there is none; and what went
 * on comes back where there is room again.
 */
function overflow(note: Note, place: Place, lines: readonly Typed[]): { kept: readonly Typed[]; beyond: readonly Typed[]; edit: Edit } {
  const pages: Page[] = [...note.header.pages];
  const first = pages.findIndex((p) => p.id === place.page);
  const bottomOf = (page: Page) => page.h - FOOT_MM;
  // What is turned, or stands beyond the page, is laid by hand; a board has no foot.
  const isSet = (at: Place, page: Page) => !page.board && at.m[1] === 0 && at.m[2] === 0 && at.m[3] > 0 && at.m[5] + at.pitch < bottomOf(page);
  if (!isSet(place, pages[first])) return { kept: lines, beyond: [], edit: {} };
  const topOf = (page: Page, before: Place): Place => {
    const top = linesToWriteOn(page, before.m[4])?.top ?? 2 * before.pitch;
    const [a, b, c, d, e] = before.m;
    return { ...before, page: page.id, m: [a, b, c, d, e, top - d * before.pitch] };
  };
  // What of the flow stands at the top of a page; looked at only as far as something changes, since a key must not lay a book anew.
  const stoodOn = (page: Page | undefined): readonly Typed[] => (page && !page.board && !fresh.includes(page) ? flowFrom(note.ink[page.id] ?? [], topOf(page, place)) : []);
  const highOf = (it: Typed) => it.m[3] * linesOf(it).length * it.pitch;
  const fresh: Page[] = [];
  let freshAt = pages.length;
  const was = new Set<Typed>();
  const laid: Typed[] = [];
  let kept: readonly Typed[] = [];
  let [at, coming, current, taken] = [first, lines, place, 0];
  for (;;) {
    const page = pages[at];
    const here = at === first ? [] : stoodOn(page);
    for (const it of here) was.add(it);
    const all = at === first ? coming : laidFrom([...coming, ...here.slice(taken)], current);
    const n = isSet(current, page) ? fitting(all, bottomOf(page)) : all.length;
    let now = all.slice(0, n);
    [coming, taken] = [all.slice(n), 0];
    if (!coming.length && isSet(current, page)) {
      const next = stoodOn(pages[at + 1]);
      let end = now.length ? now[now.length - 1].m[5] + highOf(now[now.length - 1]) : current.m[5];
      for (; taken < next.length && end + highOf(next[taken]) <= bottomOf(page); taken++) end += highOf(next[taken]);
      if (taken) now = laidFrom([...now, ...next.slice(0, taken)], current);
    }
    if (at === first) kept = now;
    else laid.push(...now);
    if (!coming.length && !taken) break;
    at++;
    // A board has no top at which a text goes on.
    if (!pages[at] || pages[at].board) {
      if (!fresh.length) freshAt = at;
      fresh.push(newPage(newId(), page));
      pages.splice(at, 0, fresh[fresh.length - 1]);
    }
    current = topOf(pages[at], current);
  }
  const now = new Map([...kept, ...laid].map((it) => [it.id, it.page]));
  const edit: Edit = { put: laid.filter((it) => !was.has(it)), cut: [...was].filter((it) => now.get(it.id) !== it.page).map(({ id, page }) => ({ id, page })) };
  return { kept, beyond: laid, edit: fresh.length ? joined(edit, addPages(note, freshAt, fresh)) : edit };
}

/** Words put in where the caret stands, with a blank before them where one is needed; false when there is no caret. */
export const typeWords =
  (words: string): Thunk<boolean> =>
  (_, __, alive) =>
    alive.view?.type(words) ?? false;
