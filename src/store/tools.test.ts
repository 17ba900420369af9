/** What the tools do to a note: any sequence of them is taken back and done again exactly, and no stamp or point time ever changes. */
import * as fc from 'fast-check';
import { drawnShape } from '../../tests/helpers/drawnShapes';
import { writeText, type Hand } from '../../tests/helpers/hershey';
import { BALL, strokesOf, strokeThrough, timesOf } from '../../tests/helpers/ink';
import { newId } from '../core/id';
import { rubStroke } from '../core/ink/erase';
import { isStroke, keepDraft, strokesOf as onlyStrokes, type Placed } from '../core/note/kinds/kinds';
import { cleanShape } from '../core/ink/shapes/recognise';
import { pointsAlong, type Shape } from '../core/ink/shapes/shape';
import { makeStroke, pointsOf, type Stroke } from '../core/ink/stroke';
import { around, move } from '../core/ink/transform';
import { groupWords } from '../core/ink/words/words';
import { noteOf as noteOfHeader, type Note } from '../core/note/edit';
import { newPage, type NoteHeader } from '../core/note/schema';
import { noteSlice } from './noteSlice';
import { change, redo, undo } from './change';
import { toolsSlice } from './slices';
import { makeStore } from './store';
import { copySelected, cutSelected, duplicateSelected, paste, pasteAsks } from './clipboard';
import { asInk, deleteSelected, fillAt, fillSelected, groupSelected, makeRoomAt, nudgeSelected, restyleSelected, select, selected, setHeads, setShape, tidySelected, transformSelected, ungroupSelected } from './tools';

const HAND: Hand = { font: 'futural', size: 4, slant: 0.1, jitter: 0.05, late: 0.3, tracking: 1, spacing: 1 };
const TEXT = 'red right returning green to port keep the leading lights in line'.split(' ');

function shaped(name: 'rectangle' | 'circle', seed: number, dx: number): Stroke {
  const points = drawnShape(name, seed);
  const shape = cleanShape(points, true)!;
  const moved: Shape = { ...shape, at: shape.at.map(([x, y]) => [x + dx, y + 40] as const) };
  return makeStroke(pointsAlong(moved, points), { id: `${name}-${seed}`, page: 'p', pen: BALL, stamp: { take: 't', at: 9000 + seed }, wall: 5_000_000 + seed, shape: moved });
}

const ink = (): Stroke[] => [
  ...strokesOf(writeText(TEXT, HAND, { x: 15, y: 24, width: 90, pitch: 8, wall: 1e6, seed: 5 }).words.flatMap((w) => w.strokes)),
  shaped('rectangle', 3, 0),
  shaped('circle', 4, 20),
  strokeThrough([[120, 100], [160, 100], [160, 140], [120, 140], [120, 100]], { id: 'loop' }),
];
const header = (id: string): NoteHeader => ({ v: 2, id, title: `Note ${id}`, made: 0, changed: 0, pages: [newPage('p'), newPage('q')], takes: [{ id: 't', name: 'Take 1', wall: 0, ms: 60_000, state: 'done', parts: [{ at: 0, wall: 0 }] }], timeline: [{ take: 't', from: 0, to: 60_000 }] });

function open(strokes = ink(), head = header('n')) {
  const store = makeStore();
  store.dispatch(noteSlice.actions.opening(head.id));
  store.dispatch(noteSlice.actions.opened({ note: noteOfHeader(head, { p: strokes }), following: false, mode: 'write' }));
  return store;
}
type Store = ReturnType<typeof open>;
const noteOf = (store: Store): Note => store.getState().note.note!;
/** All but the time of the last change. */
const plain = ({ header: { changed: _, state: _state, ...head }, ink: all }: Note) => ({ head, ink: Object.fromEntries(Object.entries(all).filter(([, l]) => l.length).map(([k, l]) => [k, l.map(({ s: _s, past: _past, ...it }) => ({ ...it, pts: [...it.pts] }))])) });
const all = (store: Store): Placed[] => Object.values(noteOf(store).ink).flat();

/** What a tool can do, on what is picked by `pick` of the strokes that are there. */
const TOOLS: readonly ((store: Store, pick: (n: number) => number) => void)[] = [
  (s, pick) => s.dispatch(transformSelected(move(pick(40) - 20, pick(40) - 20))),
  (s, pick) => s.dispatch(transformSelected(around(80, 80, 0.5 + pick(10) / 8, 0.5 + pick(10) / 8, pick(60) / 10))),
  (s, pick) => s.dispatch(nudgeSelected(pick(9) - 4, pick(9) - 4)),
  (s) => s.dispatch(deleteSelected()),
  (s) => s.dispatch(duplicateSelected()),
  (s) => s.dispatch(groupSelected()),
  (s) => s.dispatch(ungroupSelected()),
  (s) => s.dispatch(restyleSelected({ color: '#b5382a', line: 'dashed' })),
  (s) => s.dispatch(fillSelected('#9ccbe8')),
  (s) => s.dispatch(tidySelected()),
  (s) => s.dispatch(cutSelected()),
  (s) => {
    s.dispatch(copySelected());
    s.dispatch(paste('q', 'bring'));
  },
  (s, pick) => {
    const words = Object.fromEntries(Object.entries(noteOf(s).ink).map(([id, list]) => [id, groupWords(onlyStrokes(list))]));
    for (const [id, grouping] of Object.entries(words)) s.dispatch(noteSlice.actions.wordsFound({ note: 'n', page: id, words: { grouping, of: noteOf(s).ink[id] } }));
    s.dispatch(makeRoomAt('p', 20 + pick(60), (pick(20) - 8) * 8));
  },
  (s, pick) => s.dispatch(fillAt('p', 100 + pick(60), 90 + pick(60), 0)),
  (s) => s.dispatch(asInk()),
  (s) => s.dispatch(setHeads('both')),
  (s, pick) => {
    const stroke = onlyStrokes(all(s)).find((x) => x.shape);
    if (stroke) s.dispatch(setShape(stroke, { ...stroke.shape!, at: stroke.shape!.at.map(([x, y]) => [x + pick(8), y + pick(8)] as const) }, true));
  },
  (s, pick) => {
    const y = 24 + pick(40);
    const rub = { x0: 10, y0: y, x1: 110, y1: y + pick(10), radius: 2 };
    const parts = onlyStrokes(all(s)).flatMap((stroke) => {
      const left = rubStroke(stroke, rub, newId);
      return left ? [{ stroke, left }] : [];
    });
    s.dispatch(change({ cut: parts.map(({ stroke: { id, page } }) => ({ id, page })), put: parts.flatMap((p) => p.left.map(keepDraft)) }));
  },
];

test('any sequence of tools is taken back to the identical note and done again to the identical result; stamps and times never change', () => {
  fc.assert(
    fc.property(fc.array(fc.record({ tool: fc.nat(TOOLS.length - 1), of: fc.nat(1000), count: fc.integer({ min: 1, max: 25 }), seed: fc.nat(1e6) }), { minLength: 1, maxLength: 8 }), (steps) => {
      const store = open();
      const known = new Map(all(store).map((s) => [s.id, s]));
      const before = plain(noteOf(store));
      for (const step of steps) {
        const page = store.getState().note.note!.ink.p ?? [];
        let seed = step.seed + 1;
        const pick = (n: number) => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) % n;
        if (page.length) {
          const from = step.of % page.length;
          store.dispatch(select('p', page.slice(from, from + step.count).map((s) => s.id)));
        }
        TOOLS[step.tool](store, pick);
      }
      const after = plain(noteOf(store));
      const stamps = new Set([...known.values()].map(({ stamp, wall }) => JSON.stringify([stamp, wall])));
      for (const s of all(store)) {
        const was = known.get(s.id);
        // What is left of a rubbed stroke has its id and fewer points.
        if (was && isStroke(s) && isStroke(was)) expect(steps.some((x) => x.tool === TOOLS.length - 1) || timesOf(s)).toEqual(steps.some((x) => x.tool === TOOLS.length - 1) || timesOf(was));
        // What is new is a copy or a part of what was there, or an area of colour, which was made now.
        else if (isStroke(s)) expect(stamps).toContain(JSON.stringify([s.stamp, s.wall]));
      }
      const done = store.getState().note.undo.length;
      for (let i = 0; i < done; i++) store.dispatch(undo());
      expect(plain(noteOf(store))).toEqual(before);
      for (let i = 0; i < done; i++) store.dispatch(redo());
      expect(plain(noteOf(store))).toEqual(after);
    }),
    { numRuns: 60 },
  );
});

test('a part of a rubbed stroke keeps the point times of its place', () => {
  const stroke = strokeThrough(Array.from({ length: 30 }, (_, i) => [20 + i, 50] as const), { id: 'line' });
  const parts = rubStroke(stroke, { x0: 34.5, y0: 40, x1: 34.5, y1: 60, radius: 2 }, newId)!;
  expect(parts).toHaveLength(2);
  const whole = new Map([...pointsOf(stroke).t].map((t, i) => [t, pointsOf(stroke).xy[2 * i]]));
  let seen = 0;
  for (const part of parts.map(keepDraft)) {
    const { t, xy } = pointsOf(part as Stroke);
    t.forEach((at, i) => {
      if (!whole.has(at)) return;
      seen++;
      expect(Math.abs(xy[2 * i] - whole.get(at)!)).toBeLessThanOrEqual(1);
    });
  }
  // Most points of the stroke are points of its parts.
  expect(seen).toBeGreaterThan(15);
});

test('pasting into another note asks about the sound; brought along it is a take of that note, left there it is a link', () => {
  const store = open();
  store.dispatch(select('p', all(store).slice(0, 4).map((s) => s.id)));
  store.dispatch(copySelected());
  expect(pasteAsks(store.getState())).toBe(false);
  for (const sound of ['bring', 'reach'] as const) {
    const other: NoteHeader = { ...header('m'), pages: [newPage('m1')], takes: [], timeline: [] };
    store.dispatch(noteSlice.actions.opening('m'));
    store.dispatch(noteSlice.actions.opened({ note: noteOfHeader(other), following: false, mode: 'write' }));
    expect(pasteAsks(store.getState())).toBe(true);
    store.dispatch(paste('m1', sound));
    const { header: head, ink: made } = noteOf(store);
    expect(made.m1.map((s) => s.stamp)).toEqual(ink().slice(0, 4).map((s) => s.stamp));
    expect(made.m1.some((s) => ink().some((o) => o.id === s.id))).toBe(false);
    if (sound === 'bring') expect([head.takes.map((t) => t.id), head.timeline]).toEqual([['t'], [{ take: 't', from: 0, to: 60_000 }]]);
    else expect([head.takes, head.links]).toEqual([[], [{ take: 't', note: 'n' }]]);
    // Taking the ink back leaves the take: a recording made meanwhile must not go with it.
    store.dispatch(undo());
    expect(noteOf(store).ink.m1 ?? []).toEqual([]);
    expect(noteOf(store).header.takes.length).toBe(sound === 'bring' ? 1 : 0);
    // What was pasted is not asked about a second time where its sound is there now.
    expect(pasteAsks(store.getState())).toBe(sound === 'reach');
  }
});

test('taking up another tool lets go of what was selected, but for the shapes', () => {
  const store = open();
  store.dispatch(select('p', ['loop']));
  expect(selected(store.getState())).toHaveLength(1);
  store.dispatch(toolsSlice.actions.toolChosen('shapes'));
  expect(selected(store.getState())).toHaveLength(1);
  store.dispatch(toolsSlice.actions.toolChosen('pen'));
  expect(selected(store.getState())).toHaveLength(0);
});
