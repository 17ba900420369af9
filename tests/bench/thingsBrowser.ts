/** Things on a note that is full already: a table that is typed into, a sticky note that is moved with what is on it. */
import { SILENT_20_MS } from '../../src/core/audio/opus';
import { boxAround } from '../../src/core/ink/stroke';
import { laidOn, type Placed } from '../../src/core/note/kinds/kinds';
import { makeSlip } from '../../src/core/note/kinds/slip';
import { makeTable, type Table } from '../../src/core/note/kinds/table';
import { withText } from '../../src/core/note/tableEdits';
import { button, Pen, PHONE, press, saved, startBrowser } from '../helpers/app';
import { atLeast, atMost, clearCosts, costsOf, everyFrame, firstTake, layDown, longNote, ms, percentile, row, size, timed, watchCosts } from './kit';
import { typeKeys } from './typingBrowser';

const [ROWS, COLS, STROKES, AIR] = [size(50, 10), size(20, 5), size(500, 40), 6];

/** What an edit of a table costs by itself, beside laying the whole table out anew. */
function alone(): void {
  const cell = (text: string) => ({ text, stamp: null, wall: 0 });
  const table = makeTable({ id: 't', page: 'p', stamp: null, wall: 0, m: [1, 0, 0, 1, 0, 0], cols: Array.from({ length: COLS }, () => 30), rows: Array.from({ length: ROWS }, () => 8), cells: Array.from({ length: ROWS }, (_, r) => Array.from({ length: COLS }, (__, c) => cell(`${r * c} m at buoy ${c}`))), look: { face: 'sans', size: 10, color: '#16324f' } });
  const riders: Placed[] = longNote('t', 1000, 300).strokes;
  let [n, now]: [number, Table] = [0, table];
  const edit = timed(() => (now = withText(now, riders, { r: n++ % ROWS, c: n % COLS }, `${n % 900} m at buoy`, { stamp: null, wall: 0 }).table));
  const whole = timed(() => makeTable({ ...table, look: { ...table.look, size: 10 + (n++ % 7) / 100 } }));
  row(`a cell of ${ROWS} x ${COLS} with 300 strokes on it`, ms(edit.ms), `laid out anew ${ms(whole.ms)}`);
}

export async function things(url: string): Promise<void> {
  console.log('-- things, 390x844, a note of two hours and 20,000 strokes');
  alone();
  const context = await startBrowser({ viewport: PHONE });
  await context.addInitScript(watchCosts);
  const page = context.pages()[0];
  let corner: readonly [number, number] = [0, 0];
  await firstTake(page, url);
  await layDown(page, 'long', 7_200_000, size(20_000, 500), Array.from({ length: 250 }, (_, i) => ({ t: 20 * i, data: SILENT_20_MS })), 0, (note) => {
    const [first, second] = note.header.pages;
    // As many strokes as there are on some pages, on a sticky note of one.
    const taken = Object.values(note.ink).flat().filter((it) => it.page !== first.id).slice(0, STROKES);
    const box = boxAround(taken)!;
    corner = [box[0], box[1]];
    const slip = makeSlip({ id: 'slip', page: second.id, stamp: null, wall: 1, m: [1, 0, 0, 1, box[0] - AIR, box[1] - AIR], w: box[2] - box[0] + 2 * AIR, h: box[3] - box[1] + 2 * AIR, tint: '#f6e3a8', shape: 'rounded', paper: 'ruled', lift: 1 });
    return { put: [slip, ...taken.map((it) => laidOn({ ...it, page: second.id }, slip))], cut: taken.filter((it) => it.page !== second.id).map(({ id, page: of }) => ({ id, page: of })) };
  });
  await page.goto(`${url}/note/long`);
  await page.getByTestId('page-1').waitFor();
  await page.keyboard.press('Shift+W');
  await press(page, 'Table');
  await page.getByRole('dialog').getByLabel(/^Rows/).fill(String(ROWS));
  await page.getByRole('dialog').getByLabel(/^Columns/).fill(String(COLS));
  await button(page, 'Put it there').click();
  const field = page.getByTestId('table-field');
  await field.waitFor();
  // Every cell has something in it, as from a spreadsheet.
  await field.evaluate((el, [rows, cols]) => {
    const data = new DataTransfer();
    data.setData('text/plain', Array.from({ length: rows }, (_, r) => Array.from({ length: cols }, (__, c) => `${r * c} m`).join('\t')).join('\r\n'));
    el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, [ROWS, COLS] as const);
  await saved(page);
  await clearCosts(page);
  const keys = await typeKeys(page, 'the ebb runs for six hours and a bit, then slack');
  const { frames } = await costsOf(page);
  row(`a key in a table of ${ROWS} x ${COLS} (median, p95)`, `${ms(percentile(keys, 0.5))}, ${ms(percentile(keys, 0.95))}`, `drawing it, p95 ${ms(percentile(frames, 0.95))}`, atMost(percentile(keys, 0.95), 16, 'under 16 ms'));
  await page.keyboard.press('Escape');

  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = (document.querySelector('[data-testid="page-2"]') as HTMLElement).offsetTop));
  await page.locator('.surface[data-drawn="true"]').waitFor();
  const second = (await page.getByTestId('page-2').boundingBox())!;
  const pen = await Pen.on(page);
  await press(page, 'Lasso');
  // By its edge, where nothing is written.
  await pen.stroke([{ x: second.x + ((corner[0] - AIR / 2) * second.width) / 210, y: second.y + ((corner[1] - AIR / 2) * second.width) / 210 }]);
  const frame = page.getByTestId('selection');
  await frame.waitFor();
  // All of it, by what it is selected with.
  const held = await frame.getAttribute('aria-label');
  await page.waitForTimeout(1500);
  const box = (await frame.boundingBox())!;
  await clearCosts(page);
  const [x, y] = [box.x + box.width / 2, Math.max(box.y, 60) + Math.min(100, box.height / 2)];
  await everyFrame(page, true);
  await pen.paced(Array.from({ length: 120 }, (_, i) => ({ x: x + (i % 40), y: y + (i % 60) })));
  const moved = await costsOf(page);
  await everyFrame(page, false);
  const gaps = moved.times.slice(3, -4).map((t, i, all) => (i ? t - all[i - 1] : 16)).slice(1);
  const rate = 1000 / (gaps.reduce((a, b) => a + b, 0) / gaps.length);
  row(`a sticky note while it is moved (${held?.replace(/\. Arrow.*/, '').replace('Selection of ', '')})`, `${rate.toFixed(0)} frames/s, script p95 ${ms(percentile(moved.frames.slice(2, -4), 0.95))}`, '', atLeast(Math.round(rate), 59, '60 frames/s'));
  await context.close();
}
