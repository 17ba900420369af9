/** What the ink tools cost in the core, and how often a drawn shape is taken for what was meant. */
import { newId } from '../../src/core/id';
import { rubStroke } from '../../src/core/ink/erase';
import { InkIndex } from '../../src/core/ink/inkIndex';
import type { Stroke } from '../../src/core/ink/stroke';
import { cleanShape } from '../../src/core/ink/shapes/recognise';
import type { ShapeName } from '../../src/core/ink/shapes/shape';
import { groupWords } from '../../src/core/ink/words/words';
import { tidy } from '../../src/core/ink/tidy';
import { applyEdit, put } from '../../src/core/note/edit';
import { strokesOf } from '../../src/core/note/kinds/kinds';
import { DRAWN, drawnShape } from '../helpers/drawnShapes';
import { atLeast, atMost, longNote, ms, percentile, row, size, timed } from './kit';

const PER_SHAPE = size(250, 10);

export function shapeTable(): void {
  const table = new Map<ShapeName, Map<string, number>>();
  let [right, all] = [0, 0];
  const times: number[] = [];
  for (const name of DRAWN) {
    const found = new Map<string, number>();
    table.set(name, found);
    for (let i = 0; i < PER_SHAPE; i++) {
      const points = drawnShape(name, 1000 * DRAWN.indexOf(name) + i + 1);
      const start = performance.now();
      const got = cleanShape(points, false)?.name ?? 'none';
      times.push(performance.now() - start);
      found.set(got, (found.get(got) ?? 0) + 1);
      all++;
      if (got === name) right++;
    }
  }
  row(`shapes told right, of ${all} drawn`, `${((100 * right) / all).toFixed(2)} %, ${ms(percentile(times, 0.5))} each`, '', atLeast(right / all, 0.98, 'at least 98 %'));
  const names = [...DRAWN, 'none'];
  console.log(`   ${'drawn as'.padEnd(11)}${names.map((n) => n.slice(0, 9).padStart(10)).join('')}`);
  for (const [name, found] of table) console.log(`   ${name.padEnd(11)}${names.map((n) => String(found.get(n) ?? '·').padStart(10)).join('')}`);
}

/** A page of 1,000 strokes, closely written. */
export function densePage(count: number): Stroke[] {
  const { strokes } = longNote('dense', 600_000, count);
  return strokes.map((s) => ({ ...s, page: 'dense' }));
}

export function coreTools(): void {
  const page = densePage(1000);
  const index = new InkIndex(page);
  const moves: number[] = [];
  let rubbed = 0;
  // To and fro over the whole page, in moves of 4 mm: every stroke is met.
  for (let y = 10; y < 290; y += 9) {
    for (let x = 10; x < 200; x += 4) {
      const rub = { x0: x, y0: y, x1: x + 4, y1: y, radius: 6 };
      const start = performance.now();
      for (const s of strokesOf(index.along(rub.x0, rub.y0, rub.x1, rub.y1, rub.radius))) {
        const parts = rubStroke(s, rub, newId);
        if (parts) {
          rubbed++;
          index.replace(s.id, parts);
        }
      }
      moves.push(performance.now() - start);
    }
  }
  const scan = timed(() => page.filter((s) => rubStroke(s, { x0: 60, y0: 60, x1: 64, y1: 60, radius: 6 }, newId)).length);
  row(`area erase through 1,000 strokes, a move (p95, worst; ${rubbed} cuts)`, `${ms(percentile(moves, 0.95))}, ${ms(Math.max(...moves))}`, `every stroke tried ${ms(scan.ms)}`, atMost(percentile(moves, 0.95), 16, 'p95 under 16 ms'));

  const { note, strokes } = longNote('undo', 7_200_000, 20_000);
  const cut = strokes.slice(0, 2000).map(({ id, page: p }) => ({ id, page: p }));
  const gone = applyEdit(note, { cut });
  const back = timed(() => applyEdit(gone.note, gone.inverse));
  const copy = timed(() => structuredClone(note.ink), 100);
  row('undo of a deletion of 2,000 among 20,000 strokes', ms(back.ms), `a copy of all ink ${ms(copy.ms)}`, atMost(back.ms, 50, 'under 50 ms'));

  const rowed = longNote('rows', 7_200_000, 20_000, 2000).note;
  const mark = rowed.header.marks![500];
  const { id: _, ...moved } = { ...mark, at: mark.at + 1000 };
  const oneRow = timed(() => applyEdit(rowed, { rows: [put('marks', mark.id, moved)] }, { device: 'a-device', now: rowed.header.changed + 1 }));
  row('edit of one row among 2,000, with 20,000 strokes', ms(oneRow.ms), `a copy of the rows ${ms(timed(() => structuredClone(rowed.rows)).ms)}`, atMost(oneRow.ms, 1, 'under 1 ms'));

  const lines = page.slice(0, 200);
  row('tidying 200 strokes', ms(timed(() => tidy(lines, { top: 24, spacing: 8 })).ms), `finding their words alone ${ms(timed(() => groupWords(lines)).ms)}`);
}
