import * as fc from 'fast-check';
import { makeStroke } from '../ink/stroke';
import { areaOf, asBoard, boardsGrown, extentOf, MOST_BOARD, newBoard, sheetsOf, wholePage } from './board';
import { applyEdit, noteOf, type Note } from './edit';
import { ruleWithin, rulingOf, SIZES } from './paper';
import { addPages, changePaper } from './pages';
import { newPage, type Page, type Paper } from './schema';

const A4 = SIZES.get('A4')!;
const paper: Paper = { kind: 'ruled', spacing: 8, top: 24 };
const stroke = (id: string, page: string, x: number, y: number) =>
  makeStroke({ n: 2, xy: Int32Array.from([100 * x, 100 * y, 100 * x + 500, 100 * y + 300]), p: new Uint8Array(2).fill(128), t: Int32Array.from([0, 10]) }, { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.5 }, stamp: null, wall: 1 });
const board = newBoard('b', { ...A4, paper });
const noteWith = (page: Page): Note => noteOf({ v: 2, id: 'n', title: '', made: 1, changed: 1, pages: [page], takes: [], timeline: [] });
const write = (note: Note, x: number, y: number, id: string): Note => {
  const edit = { put: [stroke(id, 'b', x, y)] };
  return applyEdit(note, { ...edit, rows: boardsGrown(note, edit) }).note;
};

describe('a board', () => {
  it('grows to the side that is written near, and to no other', () => {
    const side = (x: number, y: number) => extentOf(write(noteWith(board), x, y, 's').header.pages[0]).map((v, i) => v - extentOf(board)[i]);
    expect(side(100, 150)).toEqual([0, 0, 0, 0]);
    const [l, t, r, b] = [side(3, 150), side(100, 3), side(200, 150), side(100, 290)];
    expect(l[0]).toBeLessThan(-40);
    expect(l.slice(1)).toEqual([0, 0, 0]);
    expect(t[1]).toBeLessThan(-40);
    expect([t[0], t[2], t[3]]).toEqual([0, 0, 0]);
    expect(r[2]).toBeGreaterThan(40);
    expect(b[3]).toBeGreaterThan(40);
  });

  it('has room for whatever is written, never beyond a page that PDF can hold (14,400 units of 1/72 in, ISO 32000-1, Annex C)', () => {
    expect((MOST_BOARD / 25.4) * 72).toBeLessThanOrEqual(14_400);
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), { minLength: 1, maxLength: 40 }), (places) => {
        let note = noteWith(board);
        places.forEach(([u, v], i) => {
          const [l, t, r, b] = areaOf(note.header.pages[0]);
          note = write(note, l + u * (r - l - 5), t + v * (b - t - 3), `s${i}`);
        });
        const [l, t, r, b] = extentOf(note.header.pages[0]);
        expect(r - l).toBeLessThanOrEqual(MOST_BOARD);
        expect(b - t).toBeLessThanOrEqual(MOST_BOARD);
        for (const s of note.ink.b) expect([s.box[0] >= l, s.box[1] >= t, s.box[2] <= r + 0.01, s.box[3] <= b + 0.01]).toEqual([true, true, true, true]);
      }),
      { numRuns: 60 },
    );
  });

  it('comes back to its size when what made it grow is taken back', () => {
    const note = noteWith(board);
    const edit = { put: [stroke('s', 'b', 205, 290)] };
    const { note: after, inverse } = applyEdit(note, { ...edit, rows: boardsGrown(note, edit) });
    expect(extentOf(after.header.pages[0])).not.toEqual(extentOf(board));
    expect(extentOf(applyEdit(after, inverse).note.header.pages[0])).toEqual(extentOf(board));
  });

  it('keeps its size with another paper, and takes none that ends; pages after it are sheets', () => {
    const note = write(noteWith(board), -1500, 2000, 's');
    const size = extentOf(note.header.pages[0]);
    expect(extentOf(applyEdit(note, changePaper(note, 'b', { ...A4, paper: { ...paper, kind: 'dotted' } })).note.header.pages[0])).toEqual(size);
    expect(changePaper(note, null, { ...A4, paper: { ...paper, kind: 'cornell' } })).toEqual({ rows: [] });
    // The paper of a board for all pages leaves sheets as large as they are.
    const both = applyEdit(note, addPages(note, 1, [newPage('q', { ...A4, paper })])).note;
    const after = applyEdit(both, changePaper(both, null, { paper: { ...paper, kind: 'dotted' } })).note.header.pages;
    expect(after.map((p) => [p.paper.kind, p.w])).toEqual([['dotted', size[2] - size[0]], ['dotted', A4.w]]);
    expect(applyEdit(note, addPages(note, 1, [newPage('p', note.header.pages[0])])).note.header.pages[1]).toMatchObject({ w: A4.w, h: A4.h });
    expect(asBoard(newPage('c', { ...A4, paper: { kind: 'week', spacing: 8, top: 18, margin: 20 } })).paper).toEqual({ kind: 'squared', spacing: 5, top: 0 });
  });

  it('is handed on as one page with all of it, every thing as far from every other as before', () => {
    let note = noteWith(board);
    [[10, 10], [-700, 40], [300, -900]].forEach(([x, y], i) => (note = write(note, x, y, `s${i}`)));
    const { page, placed, part } = wholePage(note.header.pages[0], note.ink.b);
    expect([page.w, page.h, page.board]).toEqual([part[2] - part[0], part[3] - part[1], undefined]);
    placed.forEach((it, i) => {
      const was = note.ink.b[i].box;
      it.box.forEach((v, k) => expect(v).toBeCloseTo(was[k] - part[k % 2], 1));
      expect(it.box[0]).toBeGreaterThanOrEqual(0);
      expect(it.box[3]).toBeLessThanOrEqual(page.h);
    });
  });

  it('is handed on in sheets that hold all of it between them', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: -1500, max: 1500 }), fc.integer({ min: -1500, max: 1500 })), { minLength: 1, maxLength: 25 }), (places) => {
        let note = noteWith(board);
        places.forEach(([x, y], i) => (note = write(note, x, y, `s${i}`)));
        const sheets = sheetsOf(note.header.pages[0], note.ink.b, A4);
        for (const { page, placed } of sheets) {
          expect([page.w, page.h]).toEqual([A4.w, A4.h]);
          expect(placed.length).toBeGreaterThan(0);
        }
        for (const s of note.ink.b) {
          const [mx, my] = [(s.box[0] + s.box[2]) / 2, (s.box[1] + s.box[3]) / 2];
          const on = sheets.filter(({ part: [l, t, r, b], placed }) => mx >= l && mx < r && my >= t && my < b && placed.some((it) => it.id === s.id));
          expect(on).toHaveLength(1);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('ruling of a board', () => {
  const kinds = ['ruled', 'squared', 'dotted', 'isometric'] as const;

  it('is that of a sheet where there is one, and goes on beyond', () => {
    // The sheet's own ruling was held against the standards of its paper before (`paper.test.ts`).
    for (const kind of ['squared', 'dotted'] as const) {
      const of = { kind, spacing: 5, top: 5 };
      const sheet = rulingOf(newPage('p', { w: 60, h: 80, paper: of }));
      const within = ruleWithin({ paper: of }, [0, 5, 60, 80]);
      const ys = (list: readonly { y1?: number; y?: number }[]) => [...new Set(list.map((l) => l.y1 ?? l.y!))].filter((y) => y >= 5 && y <= 75).sort((a, b) => a - b);
      expect(ys(kind === 'dotted' ? within.dots : within.lines.filter((l) => l.y1 === l.y2))).toEqual(ys(kind === 'dotted' ? sheet.dots : sheet.lines.filter((l) => l.y1 === l.y2)));
    }
  });

  it('of neighbouring parts is that of both together', () => {
    for (const kind of kinds) {
      const of = { paper: { kind, spacing: 7, top: 3 } };
      const count = (part: readonly [number, number, number, number]) => {
        const { lines, dots } = ruleWithin(of, part);
        return lines.reduce((sum, l) => sum + Math.hypot(l.x2 - l.x1, l.y2 - l.y1), 0) + dots.length;
      };
      const whole = count([-120.5, -80.25, 90.5, 60.75]);
      const parts = count([-120.5, -80.25, -11.3, 60.75]) + count([-11.3, -80.25, 90.5, 60.75]);
      expect(parts).toBeCloseTo(whole, 6);
      expect(whole).toBeGreaterThan(10);
    }
  });

  it('of isometric paper makes triangles with equal sides', () => {
    const { lines } = ruleWithin({ paper: { kind: 'isometric', spacing: 7, top: 0 } }, [-50, -40, 60, 70]);
    const slants = lines.map((l) => (l.x1 === l.x2 ? 90 : Math.round((Math.atan2(l.y2 - l.y1, l.x2 - l.x1) * 180) / Math.PI)));
    // Axes at 30 degrees to the level (ISO 5456-3, isometric representation; from memory).
    expect([...new Set(slants)].sort((a, b) => a - b)).toEqual([-30, 30, 90]);
    for (const l of lines) for (const [x, y] of [[l.x1, l.y1], [l.x2, l.y2]]) expect(x >= -50.001 && x <= 60.001 && y >= -40.001 && y <= 70.001).toBe(true);
  });

  it('of a sheet cut from it goes on where it was', () => {
    const page = asBoard(newPage('b', { ...A4, paper: { kind: 'squared', spacing: 5, top: 0 } }));
    const [cut] = sheetsOf(page, [stroke('s', 'b', 33.3, 47.7)], { w: 50, h: 50 });
    const x = cut.placed[0].box[0];
    const lines = rulingOf(cut.page).lines.filter((l) => l.x1 === l.x2).map((l) => l.x1);
    const near = Math.max(...lines.filter((v) => v <= x + 0.5));
    // On the board the stroke begins 3.3 mm after a line.
    expect(x - near).toBeCloseTo(3.3, 1);
  });
});
