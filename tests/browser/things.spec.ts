/** Things on a page: put down, written on, held, ordered, folded, and what becomes of what lies on them. */
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { parse } from 'csv-parse/sync';
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { atRest, blankNote, button, Pen, PHONE, press, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { cellAt, cellBox } from '../../src/core/note/kinds/table';
import { textsOf } from '../../src/core/note/tableEdits';
import { inkOnDisk } from '../helpers/disk';
import { inkSeen } from '../helpers/inkSeen';
import { pageErrors } from '../helpers/tap';

const AXE = readFileSync(createRequire(__filename).resolve('axe-core/axe.min.js'), 'utf8');
let server: Awaited<ReturnType<typeof startServer>>;
let context: BrowserContext;
let page: Page;
let pen: Pen;

test.beforeAll(async () => {
  server = await startServer();
});
test.afterAll(async () => {
  await server.close();
});
test.afterEach(async () => {
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

async function begin(viewport = PHONE): Promise<void> {
  context = await startBrowser({ viewport });
  page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  pen = await Pen.on(page);
}

const kept = async () => {
  await saved(page);
  return inkOnDisk(page);
};
const slips = async () => (await kept()).filter((it) => it.kind === 'slip');
/** Where a place of the first page (mm) is on the screen, px. */
async function at(x: number, y: number): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  return { x: box.x + x * k, y: box.y + y * k };
}
/** What is put into the middle of the view; gives its box, mm. */
async function add(name: string): Promise<readonly number[]> {
  const before = new Set((await kept()).map((it) => it.id));
  await press(page, name);
  await expect.poll(async () => (await kept()).filter((it) => !before.has(it.id)).length).toBe(1);
  return (await kept()).find((it) => !before.has(it.id))!.box;
}
const scribbleAt = async (x: number, y: number) => {
  const p = await at(x, y);
  await pen.scribble(p.x, p.y, 12, 4);
};

for (const [name, viewport] of [['phone', PHONE], ['wide', WIDE]] as const) {
  test(`a sticky note is put down, written on, typed on, moved, folded and taken back (${name})`, async () => {
    await begin(viewport);
    await scribbleAt(30, 60);
    if (viewport === WIDE) await press(page, 'Add');
    const [l, t] = await add('Sticky note');
    // The pen is in hand: what is written on it is its own.
    await scribbleAt(l + 8, t + 8);
    await expect.poll(async () => (await kept()).filter((it) => it.on).length).toBe(1);
    const [slip] = await slips();
    expect((await kept()).map((it) => it.on ?? null).sort()).toEqual([null, null, slip.id].sort());

    // Typed on, text keeps to its lines, and the paper grows with it.
    await page.keyboard.press('t');
    const text = await at(l + 8, t + 22);
    await page.mouse.click(text.x, text.y);
    await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
    await page.keyboard.insertText('The light at the mole was out from two until the tide turned. Ask the harbour office who saw it first, and write down the name of the ship that told us.');
    await page.keyboard.press('Escape');
    await expect.poll(async () => (await slips())[0].h).toBeGreaterThan(slip.h);
    const typed = (await kept()).find((it) => it.kind === 'typed')!;
    expect(typed.on).toBe(slip.id);
    expect(typed.box[2]).toBeLessThan(slip.box[2]);

    // Held by its paper all of it moves.
    await press(page, 'Lasso');
    const paper = await at(l + 55, t + 6);
    await pen.stroke([paper]);
    await page.getByTestId('selection').waitFor();
    expect(await page.getByTestId('selection').getAttribute('aria-label')).toContain('1 sticky note');
    const before = await kept();
    await page.keyboard.press('Shift+ArrowDown');
    await expect.poll(async () => (await slips())[0].box[1]).toBeCloseTo(t + 5, 1);
    const after = new Map((await kept()).map((it) => [it.id, it]));
    for (const it of before) expect(after.get(it.id)!.box[1] - it.box[1]).toBeCloseTo(it.on || it.kind === 'slip' ? 5 : 0, 1);

    // Folded it is a tab, and its ink is out of reach; the pen opens it by a touch.
    await button(page, 'Fold').click();
    await expect.poll(async () => (await slips())[0].folded ?? false).toBe(true);
    await button(page, 'Unfold').waitFor();
    await page.keyboard.press('p');
    const tab = await at(l + 5, t + 5 + 4);
    await pen.stroke([tab]);
    await expect.poll(async () => (await slips())[0].folded ?? false).toBe(false);
    expect((await kept()).filter((it) => it.on === slip.id)).toHaveLength(2);

    // One undo a step: opened, folded, moved.
    for (let i = 0; i < 3; i++) await press(page, 'Undo');
    await expect.poll(async () => (await slips())[0].box[1]).toBeCloseTo(t, 1);
    expect((await slips())[0].folded).toBeUndefined();
  });
}

test('what a sticky note hides is safe from pen and eraser; copied, deleted and brought back it is whole', async () => {
  await begin(WIDE);
  await press(page, 'Add');
  const [l, t, r, b] = await add('Sticky note');
  await scribbleAt(l + 10, t + 10);
  await press(page, 'Lasso');
  const paper = await at(r - 6, b - 6);
  await pen.stroke([paper]);
  await page.getByTestId('selection').waitFor();
  // Deleted with what is on it, and brought back with it.
  await button(page, 'Delete').click();
  await expect.poll(async () => (await kept()).length).toBe(0);
  await press(page, 'Undo');
  await expect.poll(async () => (await kept()).length).toBe(2);
  await pen.stroke([paper]);
  await button(page, 'Duplicate').click();
  await expect.poll(async () => (await slips()).length).toBe(2);
  const [first, second] = (await slips()).sort((x, y) => x.wall - y.wall || (x.lift ?? 0) - (y.lift ?? 0));
  expect((await kept()).filter((it) => it.on === first.id)).toHaveLength(1);
  expect((await kept()).filter((it) => it.on === second.id)).toHaveLength(1);
  // The copy lies over the original, 6 mm on: an eraser over the hidden ink takes nothing of it.
  await press(page, 'Eraser');
  const [from, to] = [await at(l + 9, t + 9), await at(l + 13, t + 13)];
  await pen.stroke([from, to]);
  await atRest(page);
  expect((await kept()).filter((it) => it.on === first.id)).toHaveLength(1);
  // The same eraser over what lies on top takes it.
  const seen = (await kept()).find((it) => it.on === second.id)!;
  await pen.stroke(await Promise.all([[seen.box[0] - 1, seen.box[1]], [(seen.box[0] + seen.box[2]) / 2, (seen.box[1] + seen.box[3]) / 2], [seen.box[2] + 1, seen.box[3]]].map(([x, y]) => at(x, y))));
  await expect.poll(async () => (await kept()).filter((it) => it.on === second.id).length).toBe(0);
  expect((await kept()).filter((it) => it.on === first.id)).toHaveLength(1);
});

test('of what is taken hold of a sticky note is made; things stand in order, in place, and share a look', async () => {
  await begin(WIDE);
  for (const [x, y] of [[30, 60], [60, 63], [110, 60]]) await scribbleAt(x, y);
  await press(page, 'Lasso');
  const loop = [[24, 52], [84, 52], [84, 74], [24, 74], [24, 52]];
  await pen.stroke(await Promise.all(loop.map(([x, y]) => at(x, y))));
  await page.getByTestId('selection').waitFor();
  await button(page, 'Onto a slip').click();
  await expect.poll(async () => (await slips()).length).toBe(1);
  expect((await kept()).filter((it) => it.on)).toHaveLength(2);
  // Beside all of it the touch lets go.
  await pen.stroke([await at(160, 30)]);

  // Flush at their upper edges.
  await button(page, 'Select all').click();
  await button(page, 'Arrange').click();
  await button(page, 'Align: top').click();
  const tops = async () => (await kept()).filter((it) => !it.on).map((it) => it.box[1].toFixed(2));
  await expect.poll(async () => new Set(await tops()).size).toBe(1);
  await button(page, 'Lock in place').click();
  await expect.poll(async () => (await kept()).filter((it) => it.locked).length).toBe(4);
  await pen.stroke([await at(112, 62)]);
  await expect(page.getByTestId('selection')).toHaveCount(0);
  await button(page, 'What to do with this note').click();
  await page.getByRole('button', { name: 'Let locked things go' }).click();
  await expect.poll(async () => (await kept()).filter((it) => it.locked).length).toBe(0);

  // Listed with what is on it, folded from there, and gone to.
  await press(page, 'Pages');
  await page.getByRole('button', { name: 'Things' }).click();
  const entry = page.getByRole('list', { name: 'Things on the pages' }).getByRole('listitem');
  await expect(entry).toHaveCount(1);
  await page.evaluate(AXE);
  expect(await page.evaluate('axe.run().then((r) => r.violations.map((v) => v.id + ": " + v.nodes[0].html))')).toEqual([]);
  await button(page, 'Fold Sticky note on page 1').click();
  await expect.poll(async () => (await slips())[0].folded ?? false).toBe(true);
  // Without a pointer: taken hold of from the list, and moved by keys with all that is on it.
  await button(page, 'Take hold of Sticky note on page 1').press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  const before = new Map((await kept()).map((it) => [it.id, it.box[0]]));
  await expect(page.getByTestId('selection')).toBeFocused();
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => (await kept()).filter((it) => it.box[0] - before.get(it.id)! > 4.9).length).toBe(3);
});

const field = () => page.getByTestId('table-field');
const table = async () => (await kept()).find((it) => it.kind === 'table')!;
/** None where there is no table yet: it is waited for. */
const texts = async () => {
  const it = (await kept()).find((k) => k.kind === 'table');
  return it ? textsOf(it) : [];
};

test('a table is typed into by keys, summed, sorted, changed, written on and taken back', async () => {
  await begin();
  await press(page, 'Table');
  await page.getByRole('dialog').getByLabel('Rows, 1 to 500').fill('3');
  await button(page, 'Put it there').click();
  await expect(field()).toBeFocused();
  for (const text of ['Ship', 'Draught', 'Pilot', 'Tern', '4.10', 'Ida', 'Alk', '5,25', 'Jon']) {
    await page.keyboard.type(text);
    await page.keyboard.press('Tab');
  }
  // Beyond its last cell a row is added; there the sum goes.
  await page.keyboard.type('All');
  await page.keyboard.press('Tab');
  await button(page, 'Sum above').click();
  // One types on where one was.
  await expect(field()).toBeFocused();
  await expect.poll(texts).toEqual([['Ship', 'Draught', 'Pilot'], ['Tern', '4.10', 'Ida'], ['Alk', '5,25', 'Jon'], ['All', '9.35', '']]);
  await page.keyboard.press('Escape');

  // Written into the first cell of the first ship's row: it stays there when rows change places.
  await page.keyboard.press('p');
  const it = await table();
  const cell = cellBox(it, 1, 2);
  await scribbleAt(it.m[4] + cell.x + cell.w - 8, it.m[5] + cell.y + 3);
  await expect.poll(async () => (await kept()).filter((p) => p.on === it.id).length).toBe(1);
  const ink = async () => (await kept()).find((p) => p.kind === 'stroke')!;
  const before = (await ink()).box;
  await page.keyboard.press('t');
  const name = await at(it.m[4] + 6, it.m[5] + cellBox(it, 1, 0).y + 4);
  await page.mouse.click(name.x, name.y);
  await expect(field()).toHaveValue('Tern');
  await button(page, 'Sort up').click();
  await expect.poll(async () => (await texts()).map((row) => row[0])).toEqual(['Ship', 'Alk', 'Tern', 'All']);
  expect((await ink()).box[1] - before[1]).toBeCloseTo(cellBox(await table(), 1, 0).h, 1);
  await button(page, 'Delete row').click();
  await expect.poll(async () => (await texts()).map((row) => row[0])).toEqual(['Ship', 'Tern', 'All']);
  // Two steps back, each with the ink where it was.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await texts()).map((row) => row[0])).toEqual(['Ship', 'Tern', 'Alk', 'All']);
  expect((await ink()).box).toEqual(before);

  // Cells held by keys become one; a column is made wider by its grip.
  const head = await at(it.m[4] + 6, it.m[5] + 4);
  await page.mouse.click(head.x, head.y);
  await expect(field()).toHaveValue('Ship');
  await page.keyboard.press('Shift+ArrowRight');
  await button(page, 'Make one cell').click();
  await expect.poll(async () => (await table()).spans).toEqual([[0, 0, 1, 2]]);
  await page.evaluate(AXE);
  expect(await page.evaluate('axe.run().then((r) => r.violations.map((v) => v.id + ": " + v.nodes[0].html))')).toEqual([]);
  const wide = (await table()).cols[0];
  await page.getByRole('button', { name: /^Width of column 1/ }).press('Shift+ArrowRight');
  await expect.poll(async () => (await table()).cols[0]).toBeCloseTo(wide + 5, 6);
});

test('a table comes from a CSV file and from a spreadsheet’s clipboard, and goes there', async () => {
  await begin(WIDE);
  const folder = tempFolder();
  const file = path.join(folder, 'tides.csv');
  writeFileSync(file, '\ufeffDay;"High; low"\r\n"Mon ""early""";4,8\r\nTue;\r\n');
  await press(page, 'Add');
  await press(page, 'Table');
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'From a CSV file').click()]);
  await chooser.setFiles(file);
  await expect.poll(texts).toEqual([['Day', 'High; low'], ['Mon "early"', '4,8'], ['Tue', '']]);
  // Cells of a spreadsheet, from the held cell on: the table grows as far as they need.
  await field().press('ArrowDown');
  await field().press('ArrowDown');
  await expect(field()).toHaveValue('Tue');
  await field().evaluate((el) => {
    const data = new DataTransfer();
    data.setData('text/plain', 'Wed\t5.1\tspring\r\nThu\t"two\nlines"\t\r\n');
    el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect.poll(texts).toEqual([['Day', 'High; low', ''], ['Mon "early"', '4,8', ''], ['Wed', '5.1', 'spring'], ['Thu', 'two\nlines', '']]);
  const [download] = await Promise.all([page.waitForEvent('download'), button(page, 'CSV file').click()]);
  // Read by an independent parser (csv-parse).
  expect(parse(readFileSync(await download.path()))).toEqual([['Day', 'High; low', ''], ['Mon "early"', '4,8', ''], ['Wed', '5.1', 'spring'], ['Thu', 'two\nlines', '']]);
  // What is none is said, and nothing changes.
  writeFileSync(file, '');
  await button(page, 'Leave').click();
  await press(page, 'Add');
  await press(page, 'Table');
  const [again] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'From a CSV file').click()]);
  await again.setFiles(file);
  await page.getByText('There are no rows in that file.').waitFor();
  expect((await kept()).filter((it) => it.kind === 'table')).toHaveLength(1);
});

test('a grid that was drawn becomes a table, and what is written in it is written in its cells', async () => {
  await begin(WIDE);
  const line = async (x0: number, y0: number, x1: number, y1: number) => pen.stroke(await Promise.all(Array.from({ length: 9 }, (_, i) => at(x0 + ((x1 - x0) * i) / 8, y0 + ((y1 - y0) * i) / 8 + (i % 2) * 0.2))));
  for (const y of [50, 64, 78]) await line(30, y, 110, y);
  for (const x of [30, 70, 110]) await line(x, 50, x, 78);
  await scribbleAt(76, 70);
  await press(page, 'Lasso');
  await button(page, 'Select all').click();
  await button(page, 'Make a table').click();
  await expect.poll(async () => (await kept()).map((it) => it.kind).sort()).toEqual(['stroke', 'table']);
  const made = await table();
  expect([made.rows.length, made.cols.length]).toEqual([2, 2]);
  const ink = (await kept()).find((it) => it.kind === 'stroke')!;
  expect(ink.on).toBe(made.id);
  expect(cellAt(made, (ink.box[0] + ink.box[2]) / 2, (ink.box[1] + ink.box[3]) / 2)).toEqual({ r: 1, c: 1 });
  await press(page, 'Undo');
  await expect.poll(async () => (await kept()).filter((it) => it.kind === 'stroke').length).toBe(7);
});

test('a word leads to a page, to another note and back, to an address; what it led to and is gone is said; what links here is listed', async () => {
  context = await startBrowser();
  page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  await page.getByRole('button', { name: /^Rename / }).click();
  await page.getByRole('textbox', { name: 'Title of the note' }).fill('Light list');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.getByRole('button', { name: /^Back to / }).click();
  await blankNote(page);
  pen = await Pen.on(page);
  await scribbleAt(40, 60);
  await scribbleAt(40, 90);
  await press(page, 'Pages');
  await button(page, 'Add a page at the end').click();
  await button(page, 'Close Pages').click();
  const hold = async (y: number) => {
    if ((await button(page, 'Lasso').getAttribute('aria-pressed')) !== 'true') await press(page, 'Lasso');
    const p = await at(44, y + 2);
    await pen.stroke([p]);
    await page.getByTestId('selection').waitFor();
  };
  // To a page of this note, and back with one touch.
  await hold(60);
  await button(page, 'Link').click();
  await page.getByLabel('Page, 1 to 2').fill('2');
  await button(page, 'Lead there').click();
  await page.getByRole('button', { name: 'Link to page 2' }).click();
  await expect(page.getByTestId('page-place')).toHaveText('2 / 2');
  await button(page, 'Go back').click();
  await expect(page.getByTestId('page-place')).toHaveText('1 / 2');
  // To another note, and back.
  await pen.stroke([await at(150, 200)]);
  await hold(90);
  await button(page, 'Link').click();
  await page.getByRole('dialog').getByRole('radio', { name: 'Note' }).or(page.getByRole('dialog').getByRole('button', { name: 'Note', exact: true })).click();
  await button(page, 'Choose a note').click();
  await button(page, 'Lead to Light list').click();
  await button(page, 'Lead there').click();
  await saved(page);
  const here = page.url();
  await page.getByRole('button', { name: 'Link to “Light list”' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Rename Light list' })).toBeVisible();
  await page.getByText(/^A link of “.*” led here\./).waitFor();
  // What links here is known there.
  await press(page, 'Pages');
  await page.getByRole('button', { name: 'Things' }).click();
  await expect(page.getByRole('list', { name: 'What links here' }).getByRole('listitem')).toHaveCount(1);
  await page.evaluate(AXE);
  expect(await page.evaluate('axe.run().then((r) => r.violations.map((v) => v.id + ": " + v.nodes[0].html))')).toEqual([]);
  await button(page, 'Close Pages').click();
  await button(page, 'Go back').click();
  await expect(page).toHaveURL(here);
  await page.getByRole('button', { name: 'Link to “Light list”' }).waitFor();
  // The page it led to is deleted: the link says so, and comes back with it.
  await press(page, 'Pages');
  await page.getByRole('checkbox', { name: 'Choose Page 2' }).or(page.getByRole('checkbox').nth(1)).first().click();
  await button(page, 'Delete').click();
  await button(page, 'Close Pages').click();
  await page.getByRole('button', { name: /^Broken link/ }).click();
  await page.getByText('The page this link led to was deleted.').waitFor();
  await press(page, 'Undo');
  await page.getByRole('button', { name: 'Link to page 2' }).waitFor();
  // To an address, which is opened on wish alone.
  await hold(60);
  await button(page, 'Change the link').click();
  await page.getByRole('dialog').getByRole('radio', { name: 'Web' }).or(page.getByRole('dialog').getByRole('button', { name: 'Web', exact: true })).click();
  await page.getByLabel('Address on the web').fill('https://tides.example/today');
  await button(page, 'Lead there').click();
  await page.getByRole('button', { name: 'Link to https://tides.example/today' }).click();
  await page.getByRole('dialog').getByText('https://tides.example/today').waitFor();
  await button(page, 'Stay here').click();
  await saved(page);
});

test('stickers: one that ships is put down and moved; one of the writer’s own is kept under a name, put down again, and still there later', async () => {
  await begin();
  await press(page, 'Sticker');
  await button(page, 'Put the anchor onto the page').click();
  await page.getByTestId('selection').waitFor();
  const [anchor] = await kept();
  expect(anchor).toMatchObject({ kind: 'picture', name: 'anchor' });
  expect(anchor.box[2] - anchor.box[0]).toBeCloseTo(16, 6);
  await page.keyboard.press('p');
  await scribbleAt(60, 60);
  await scribbleAt(72, 60);
  await press(page, 'Lasso');
  await button(page, 'Select all').click();
  await button(page, 'Keep as sticker').click();
  await page.getByLabel('Name of the sticker').fill('Buoy');
  await button(page, 'Keep').click();
  await page.getByText('“Buoy” is among your stickers now.').waitFor();
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  const put0 = await page.evaluate(() => Date.now());
  await press(page, 'Sticker');
  await button(page, 'Put Buoy onto the page').click();
  await expect.poll(async () => (await kept()).length).toBe(6);
  const all = await kept();
  const sizes = (list: typeof all) => list.map((it) => `${it.kind} ${(it.box[2] - it.box[0]).toFixed(2)}`).sort();
  const old = all.filter((it) => it.id === anchor.id || it.wall < put0);
  expect(sizes(all.filter((it) => !old.includes(it)))).toEqual(sizes(old));
  await press(page, 'Undo');
  await expect.poll(async () => (await kept()).length).toBe(3);
  // Its picture comes along into a note that never had it.
  await page.getByRole('button', { name: /^Back to / }).click();
  await blankNote(page);
  await press(page, 'Sticker');
  await button(page, 'Put Buoy onto the page').click();
  await page.getByTestId('selection').waitFor();
  const there = (await kept()).find((it) => it.kind === 'picture' && it.page !== anchor.page)!;
  expect(there).toMatchObject({ name: 'anchor', content: (anchor as unknown as { content: string }).content });
  await page.keyboard.press('Escape');
  const [l, t, r, b] = there.box;
  const places = Array.from({ length: 81 }, (_, i): [number, number] => [l + ((i % 9) / 8) * (r - l), t + (Math.floor(i / 9) / 8) * (b - t)]);
  await expect.poll(async () => (await inkSeen(page, 1, places)).filter(Boolean).length).toBeGreaterThan(15);
  // It is no template of pages.
  await press(page, 'Pages');
  await button(page, 'Templates').click();
  await page.getByText(/^No templates yet/).waitFor();
  await button(page, 'Done').click();
  await button(page, 'Close Pages').click();
  await press(page, 'Sticker');
  await page.evaluate(AXE);
  expect(await page.evaluate('axe.run().then((r) => r.violations.map((v) => v.id + ": " + v.nodes[0].html))')).toEqual([]);
  await button(page, 'Remove the sticker Buoy').click();
  await expect(button(page, 'Put Buoy onto the page')).toHaveCount(0);
  await button(page, 'Close').click();
});

test('what is typed in a shape is its label: in its middle, moved and deleted with it; a line bends from shape to shape, and follows', async () => {
  await begin(WIDE);
  await press(page, 'Shapes');
  const draw = async (corners: readonly (readonly [number, number])[]) => {
    const path: { x: number; y: number }[] = [];
    for (let i = 1; i < corners.length; i++) for (let k = 0; k < 10; k++) path.push(await at(corners[i - 1][0] + ((corners[i][0] - corners[i - 1][0]) * k) / 10, corners[i - 1][1] + ((corners[i][1] - corners[i - 1][1]) * k) / 10));
    await pen.stroke([...path, await at(...corners[corners.length - 1])]);
  };
  const shapes = async () => (await kept()).flatMap((it) => (it.kind === 'stroke' && it.shape ? [it.shape] : []));
  await draw([[40, 50], [90, 50], [90, 80], [40, 80], [40, 50]]);
  await expect.poll(async () => (await shapes()).length).toBe(1);
  await draw([[120, 100], [170, 100], [170, 130], [120, 130], [120, 100]]);
  await draw([[91, 60], [119, 118]]);
  await expect.poll(async () => (await shapes()).length).toBe(3);
  const touched = await at(105, 89);
  await pen.stroke([touched, touched]);
  await button(page, 'Bent, round what stands between').click();
  const bent = async () => (await shapes()).find((s) => s.name === 'elbow');
  await expect.poll(bent).toBeDefined();
  const run = (await bent())!.at;
  for (let i = 1; i < run.length; i++) expect(Math.min(Math.abs(run[i][0] - run[i - 1][0]), Math.abs(run[i][1] - run[i - 1][1]))).toBeLessThan(0.05);
  await page.keyboard.press('Escape');
  await page.keyboard.press('t');
  const inside = await at(50, 70);
  await page.mouse.click(inside.x, inside.y);
  await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
  await page.keyboard.type('Pilot');
  await page.keyboard.press('Escape');
  const parts = async () => {
    const all = await kept();
    return { shape: all.find((it) => it.kind === 'stroke' && it.box[0] < 45), label: all.find((it) => it.kind === 'typed') };
  };
  const { shape, label } = await parts();
  expect(label!.on).toBe(shape!.id);
  expect((label!.box[0] + label!.box[2]) / 2).toBeCloseTo(65, 0);
  expect(Math.abs((label!.box[1] + label!.box[3]) / 2 - 65)).toBeLessThan(2);
  await press(page, 'Shapes');
  await pen.stroke([await at(40, 60), await at(40, 60)]);
  await page.getByTestId('selection').waitFor();
  await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => (await parts()).label!.box[1] - label!.box[1]).toBeCloseTo(5, 1);
  expect((await parts()).shape!.box[1] - shape!.box[1]).toBeCloseTo(5, 1);
  await expect.poll(async () => (await bent())!.at[0][1] - run[0][1]).toBeCloseTo(5, 1);
  await button(page, 'Delete').click();
  await expect.poll(async () => (await kept()).length).toBe(2);
});

test('a shape that is held on becomes its solids; a curve drawn on axes is read off in their units', async () => {
  await begin(WIDE);
  const along = async (places: readonly (readonly [number, number])[]) => Promise.all(places.map(([x, y]) => at(x, y)));
  const round = await along(Array.from({ length: 40 }, (_, i) => [60 + 14 * Math.cos((i * Math.PI) / 19), 52 + 14 * Math.sin((i * Math.PI) / 19)] as const));
  await pen.strokeHeld(round, async () => {
    await page.getByText(/^⌀ /).waitFor();
    await page.getByText(/^Ball, ⌀ /).waitFor();
  });
  const solid = async () => (await kept()).find((it) => it.kind === 'solid');
  await expect.poll(async () => (await solid())?.solid).toBe('ball');
  expect((await solid())!.box[2] - (await solid())!.box[0]).toBeCloseTo(28, 0);
  await press(page, 'Shapes');
  await pen.stroke([await at(60, 52), await at(60, 52)]);
  await button(page, 'As a cylinder').click();
  await expect.poll(async () => (await solid())?.solid).toBe('cylinder');
  await button(page, 'Delete').click();
  await expect.poll(solid).toBeUndefined();
  await press(page, 'Add');
  await press(page, 'Axes');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('x, to the right: to').fill('6');
  await dialog.getByLabel('y, upwards: from').fill('5');
  await expect(dialog.getByText(/^Numbers like/)).toBeVisible();
  await dialog.getByLabel('y, upwards: from').fill('0');
  await button(page, 'Put them there').click();
  const axes = async () => (await kept()).find((it) => it.kind === 'axes');
  await expect.poll(async () => (await axes())?.x.to).toBe('6');
  // A parabola in the units of the axes: y = x²/8, drawn where ruler and eye say that they are: six units across and five up from their lower left corner.
  await page.keyboard.press('Escape');
  await page.keyboard.press('p');
  const on = (await axes())!;
  const unit = (x: number, y: number): [number, number] => [on.m[4] + (x / 6) * on.w, on.m[5] + on.h - (y / 5) * on.h];
  await pen.stroke(await along(Array.from({ length: 40 }, (_, i) => unit((6.1 * i) / 39, ((6.1 * i) / 39) ** 2 / 8))));
  await press(page, 'Lasso');
  await pen.stroke([await at(...unit(4, 2)), await at(...unit(4, 2))]);
  await page.getByTestId('selection').waitFor();
  await button(page, 'Read off').click();
  const table = async () => (await kept()).find((it) => it.kind === 'table');
  await expect.poll(table).toBeDefined();
  const rows = textsOf((await table())!).slice(1).map((row) => row.map(Number));
  expect(rows.map(([x]) => x)).toEqual([0, 1, 2, 3, 4, 5, 6]);
  for (const [x, y] of rows) expect(Math.abs(y - x ** 2 / 8)).toBeLessThan(0.1);
  await page.keyboard.press('Control+z');
  await expect.poll(table).toBeUndefined();
});
