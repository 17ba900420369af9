/** Controls that no other test presses, each once, and what it does: looks of things and how they stand, tables, axes, lines, typed text, pens, papers, settings. */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import type { Placed } from '../../src/core/note/kinds/kinds';
import { textsOf } from '../../src/core/note/tableEdits';
import { atRest, blankNote, button, Pen, press, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { headersOnDisk, inkOnDisk, records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

let server: Awaited<ReturnType<typeof startServer>>;
let demo: typeof server;
let context: BrowserContext;
let page: Page;
let pen: Pen;
test.beforeAll(async () => {
  server = await startServer();
  demo = await startServer(true);
});
test.afterAll(async () => {
  await server.close();
  await demo.close();
});
test.beforeEach(async () => {
  context = await startBrowser({ viewport: WIDE });
  page = context.pages()[0];
  await page.goto(server.url);
});
test.afterEach(async () => {
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

async function begin(): Promise<void> {
  await blankNote(page);
  pen = await Pen.on(page);
}
const kept = async (): Promise<readonly Placed[]> => {
  await saved(page);
  return inkOnDisk(page);
};
/** What is on disk about the first thing of a kind. */
const of = async <K extends Placed['kind']>(kind: K) => (await kept()).find((it): it is Extract<Placed, { kind: K }> => it.kind === kind)!;
async function at(x: number, y: number): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  return { x: box.x + (x * box.width) / 210, y: box.y + (y * box.width) / 210 };
}
const line = async (...through: readonly (readonly [number, number])[]): Promise<void> => {
  const fine = through.slice(1).flatMap(([x, y], i) => Array.from({ length: 10 }, (_, k): [number, number] => [through[i][0] + ((x - through[i][0]) * k) / 10, through[i][1] + ((y - through[i][1]) * k) / 10]));
  await pen.stroke(await Promise.all([...fine, through.at(-1)!].map(([x, y]) => at(x, y))));
};
const touch = async (x: number, y: number): Promise<void> => pen.stroke([await at(x, y)]);
const click = (name: string): Promise<void> => button(page, name).first().click();
/** Any control by its name, whatever it is. */
const control = (name: string) => page.getByLabel(name, { exact: true });

test('a sticky note in another tint, shape and paper; things to the front and back, spread, given a look', async () => {
  await begin();
  await press(page, 'Add');
  await press(page, 'Sticky note');
  await press(page, 'Lasso');
  const slip = await of('slip');
  await touch(slip.box[2] - 4, slip.box[3] - 4);
  await page.getByTestId('selection').waitFor();
  await page.getByRole('group', { name: 'Tint of the sticky note' }).getByRole('button').nth(3).click();
  await control('Shape of the sticky note').selectOption('tag');
  await control('Paper of the sticky note').selectOption('squared');
  await expect.poll(async () => [(await of('slip')).shape, (await of('slip')).paper, (await of('slip')).tint === slip.tint]).toEqual(['tag', 'squared', false]);
  // Three pieces of ink, unevenly apart.
  await page.keyboard.press('Escape');
  await page.keyboard.press('p');
  for (const [x, y] of [[20, 30], [60, 36], [150, 60]]) {
    const p = await at(x, y);
    await pen.scribble(p.x, p.y, 12, 4);
  }
  await expect.poll(async () => (await kept()).filter((it) => it.kind === 'stroke').length).toBe(3);
  const boxes = async () => (await kept()).filter((it) => it.kind === 'stroke').sort((a, b) => a.wall - b.wall).map((it) => it.box);
  await press(page, 'Lasso');
  await line([12, 24], [175, 24], [175, 70], [12, 70], [12, 24]);
  await page.getByTestId('selection').waitFor();
  await click('Arrange');
  await click('Spread evenly across');
  const gaps = (list: readonly (readonly number[])[], from: number, to: number) => [list[1][from] - list[0][to], list[2][from] - list[1][to]];
  await expect.poll(async () => ((g) => Math.abs(g[0] - g[1]) < 0.1)(gaps(await boxes(), 0, 2))).toBe(true);
  await click('Spread evenly down');
  await expect.poll(async () => ((g) => Math.abs(g[0] - g[1]) < 0.1)(gaps(await boxes(), 1, 3))).toBe(true);
  await click('To the front');
  await expect.poll(async () => (await kept()).filter((it) => it.kind === 'stroke').every((it) => (it.lift ?? 0) > (slip.lift ?? 0))).toBe(true);
  await click('To the back');
  await expect.poll(async () => (await kept()).filter((it) => it.kind === 'stroke').every((it) => (it.lift ?? 0) < (slip.lift ?? 0))).toBe(true);
  await click('Forward');
  await click('Backward');
  await click('Copy look');
  await click('Done');
  await page.keyboard.press('Escape');
  // Another pen, that then looks as the first does.
  await page.keyboard.press('3');
  const p = await at(30, 100);
  await pen.scribble(p.x, p.y, 12, 4);
  await expect.poll(async () => new Set((await kept()).flatMap((it) => (it.kind === 'stroke' ? [it.pen.color] : []))).size).toBe(2);
  await press(page, 'Lasso');
  await line([24, 94], [48, 94], [48, 112], [24, 112], [24, 94]);
  await page.getByTestId('selection').waitFor();
  await click('Arrange');
  await click('Give look');
  await expect.poll(async () => new Set((await kept()).flatMap((it) => (it.kind === 'stroke' ? [it.pen.color] : []))).size).toBe(1);
});

test('a table without its header, with a sum to the left, other letters, cells copied and pasted; a number line, axes without a grid', async () => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await begin();
  await press(page, 'Add');
  await press(page, 'Table');
  await page.getByRole('dialog').getByLabel('Rows, 1 to 500').fill('2');
  await page.getByRole('dialog').getByLabel('Columns, 1 to 60').fill('3');
  await page.getByRole('switch', { name: 'The first row is a header' }).click();
  await click('Put it there');
  for (const text of ['1.5', '2.25', '']) {
    await page.keyboard.type(text);
    if (text) await page.keyboard.press('Tab');
  }
  await click('Sum left');
  const texts = async () => textsOf(await of('table'));
  await expect.poll(texts).toEqual([['1.5', '2.25', '3.75'], ['', '', '']]);
  expect((await of('table')).head).toBeUndefined();
  await click('Header row');
  await expect.poll(async () => (await of('table')).head).toBe(true);
  await control('Font of the table').selectOption('serif');
  await control('Size of the table’s letters, points').selectOption('14');
  await expect.poll(async () => [(await of('table')).look.face, (await of('table')).look.size]).toEqual(['serif', 14]);
  await click('Copy cells');
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).not.toBe('');
  await page.getByTestId('table-field').focus();
  await page.keyboard.press('Tab');
  await click('Paste cells');
  // All of the table was copied; it goes on below.
  await expect.poll(texts).toEqual([['1.5', '2.25', '3.75'], ['1.5', '2.25', '3.75'], ['', '', '']]);
  await page.getByTestId('table-field').fill('9');
  // No row goes over the header; where it is none again, rows change places.
  await click('Move row up');
  await page.getByText('It is at the edge already.').waitFor();
  await click('Header row');
  await click('Move row up');
  await expect.poll(async () => (await texts()).map((row) => row[0])).toEqual(['9', '1.5', '']);
  await click('Leave');
  await page.keyboard.press('Escape');
  // From the selection one types on in it.
  await press(page, 'Lasso');
  const [left, top] = (await of('table')).box;
  await touch(left + 3, top + 3);
  await page.getByTestId('selection').waitFor();
  await click('Type into it');
  await page.getByTestId('table-field').fill('7');
  await expect.poll(async () => (await texts())[0][0]).toBe('7');
  await click('Leave');
  await page.keyboard.press('Escape');

  await press(page, 'Add');
  await press(page, 'Axes');
  await page.getByRole('button', { name: 'Number line' }).or(page.getByRole('radio', { name: 'Number line' })).click();
  await page.getByLabel('Numbers: to').fill('100');
  await page.getByLabel('Numbers: in steps of').fill('20');
  await click('Put them there');
  await expect.poll(async () => { const it = await of('axes'); return it && [it.y, it.x.to, it.x.step]; }).toEqual([null, '100', '20']);
  await press(page, 'Undo');
  await expect.poll(async () => await of('axes')).toBeUndefined();
  await press(page, 'Add');
  await press(page, 'Axes');
  await page.getByRole('switch', { name: 'With a grid' }).click();
  await click('Put them there');
  await expect.poll(async () => (await of('axes'))?.grid ?? 'none').toBe('none');
  await click('Numbers of the axes');
  await page.getByLabel('x, to the right: to').fill('24');
  await page.getByLabel('x, to the right: in steps of').fill('6');
  await click('Change them');
  await expect.poll(async () => (await of('axes')).x).toEqual({ from: '0', to: '24', step: '6' });
});

test('lines between shapes by the nearest sides or as set, dotted, with heads; a shape filled, emptied, made ink; what is typed slants and is highlighted', async () => {
  await begin();
  await press(page, 'Shapes');
  const snap = await button(page, 'Snap 45°: level, upright and at 45 degrees').getAttribute('aria-pressed');
  await click('Snap 45°: level, upright and at 45 degrees');
  await expect(button(page, 'Snap 45°: level, upright and at 45 degrees')).toHaveAttribute('aria-pressed', snap === 'true' ? 'false' : 'true');
  await click('Hold for a shape: keep still at its end');
  await line([20, 30], [50, 30], [50, 50], [20, 50], [20, 30]);
  const shapes = async () => (await kept()).flatMap((it) => (it.kind === 'stroke' && it.shape ? [it] : []));
  await expect.poll(async () => (await shapes()).length).toBe(1);
  await touch(20, 40);
  await page.getByRole('button', { name: /^Fill (?!an )/ }).first().click();
  await expect.poll(async () => (await shapes())[0].fill !== undefined).toBe(true);
  await click('Look');
  await click('No filling');
  await page.keyboard.press('Escape');
  await expect.poll(async () => (await shapes())[0].fill).toBeUndefined();
  await line([110, 90], [140, 90], [140, 110], [110, 110], [110, 90]);
  await line([50, 40], [110, 100]);
  await expect.poll(async () => (await shapes()).length).toBe(3);
  const between = async () => (await shapes()).find((it) => it.shape!.name === 'line' || it.shape!.name === 'arrow')!;
  await expect.poll(async () => [(await between()).shape!.from !== undefined, (await between()).shape!.to !== undefined]).toEqual([true, true]);
  await touch(80, 70);
  await click('Straight, between the nearest sides');
  await expect.poll(async () => (await between()).shape!.sides).toBe(true);
  await click('Straight, from where it was set');
  await expect.poll(async () => (await between()).shape!.sides).toBeUndefined();
  await click('Dotted outline');
  await expect.poll(async () => (await between()).pen.line).toBe('dotted');
  await click('Arrow head at the start');
  await expect.poll(async () => (await between()).shape!.heads).toBe('start');
  await click('As ink');
  await expect.poll(async () => (await shapes()).length).toBe(2);
  // A third that nearly stands beside the first and above the second: then all three do.
  await page.keyboard.press('Escape');
  await page.keyboard.press('s');
  await line([112, 33], [141, 33], [141, 52], [112, 52], [112, 33]);
  await expect.poll(async () => (await shapes()).length).toBe(3);
  await press(page, 'Lasso');
  await line([12, 24], [150, 24], [150, 116], [12, 116], [12, 24]);
  await page.getByTestId('selection').waitFor();
  await click('Arrange');
  await click('Tidy the chart');
  const tidied = async () => {
    const [a, b, c] = (await shapes()).sort((p, q) => p.wall - q.wall).map(({ shape }) => shape!.at);
    const middle = (at: typeof a, axis: 0 | 1) => at.reduce((sum, p) => sum + p[axis], 0) / at.length;
    const size = (at: typeof a, axis: 0 | 1) => Math.max(...at.map((p) => p[axis])) - Math.min(...at.map((p) => p[axis]));
    return [middle(a, 1) - middle(c, 1), middle(b, 0) - middle(c, 0), ...([0, 1] as const).flatMap((axis) => [size(a, axis) - size(b, axis), size(a, axis) - size(c, axis)])].every((d) => Math.abs(d) < 0.05);
  };
  expect(await tidied()).toBe(true);
  await click('Undo');
  await expect.poll(tidied).toBe(false);

  await page.keyboard.press('Escape');
  await page.keyboard.press('t');
  const p = await at(30, 150);
  await page.mouse.click(p.x, p.y);
  await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
  await click('Slant');
  await click('Highlight');
  await page.keyboard.type('ebb');
  await expect.poll(async () => (await of('typed'))?.looks.map(([n, look]) => [n, look.slant === true, look.marked !== undefined])).toEqual([[3, true, true]]);
});

test('a pen writes dotted, see-through, at another angle and with another hand, as set in the cup', async () => {
  await begin();
  await press(page, 'Pen cup');
  await page.getByRole('button', { name: /^Change / }).first().click();
  await click('Calligraphy');
  await click('Dotted line');
  for (const name of ['Opacity', 'Angle of the edge', 'Steadiness']) await page.getByRole('slider', { name }).press('Home');
  if (await page.getByRole('slider', { name: 'Pressure' }).count()) await page.getByRole('slider', { name: 'Pressure' }).press('End');
  await click('Close Pen');
  const p = await at(30, 60);
  await pen.scribble(p.x, p.y, 40, 10);
  await expect.poll(async () => ((it) => it && [it.pen.kind, it.pen.line, it.pen.opacity, it.pen.angle])(await of('stroke'))).toEqual(['chisel', 'dotted', 0.1, 0]);
  await press(page, 'Pen cup');
  await page.getByRole('button', { name: /^Change / }).first().click();
  await click('Whole line');
  await page.getByRole('slider', { name: 'Opacity' }).press('End');
  await click('Close Pen');
  const q = await at(30, 90);
  await pen.scribble(q.x, q.y, 40, 10);
  await expect.poll(async () => (await kept()).filter((it) => it.kind === 'stroke' && it.pen.line === undefined && it.pen.opacity === undefined).length).toBe(1);
  // The eraser takes a width out of a stroke, or all of it.
  const strokes = async () => (await kept()).filter((it) => it.kind === 'stroke');
  const count = (await strokes()).length;
  const across = () => line([35, 84], [35, 100]);
  await press(page, 'Eraser');
  await page.getByRole('button', { name: /^Area, / }).first().click();
  await across();
  await expect.poll(async () => (await strokes()).length).toBeGreaterThan(count);
  await click('Undo');
  await expect.poll(async () => (await strokes()).length).toBe(count);
  await press(page, 'Eraser');
  await click('Whole strokes');
  await across();
  await expect.poll(async () => (await strokes()).length).toBe(1);
});

test('a paper of two columns, lying, wider by a tenth, with a margin and colours of its own', async () => {
  await begin();
  await press(page, 'Paper');
  await page.getByRole('radio', { name: 'Two columns' }).click();
  await page.getByRole('slider', { name: 'Spacing' }).fill('9');
  await click('Wider by 0.1 mm');
  await page.getByRole('slider', { name: 'Margin line' }).fill('25');
  await page.getByRole('radiogroup', { name: 'Colour of the sheet' }).getByRole('radio').nth(2).click();
  await page.getByRole('radiogroup', { name: 'Colour of the lines' }).getByRole('radio').nth(2).click();
  await page.getByText('Lying', { exact: true }).click();
  await click('Use this paper');
  const form = async () => (await headersOnDisk(page))[0].pages[0];
  await expect.poll(async () => (await form()).paper.kind).toBe('columns');
  const { w, h, paper } = await form();
  expect([w > h, paper.spacing, paper.margin, paper.sheet !== undefined, paper.line !== undefined]).toEqual([true, 9.1, 25, true, true]);
  await press(page, 'Paper');
  await page.getByText('Upright', { exact: true }).click();
  await click('Use this paper');
  await expect.poll(async () => ((f) => f.h > f.w)(await form())).toBe(true);
});

test('a picture is cropped by a loop, laid over and under the ink, and what is selected becomes a picture of its own', async () => {
  const file = path.join(tempFolder(), 'chart.webp');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=size=400x300:rate=1:duration=1', '-frames:v', '1', '-update', '1', file]);
  await begin();
  // Dropped onto the page, as from a folder of the computer.
  const data = await page.evaluateHandle((bytes) => {
    const dropped = new DataTransfer();
    dropped.items.add(new File([Uint8Array.from(atob(bytes), (c) => c.charCodeAt(0))], 'chart.webp', { type: 'image/webp' }));
    return dropped;
  }, readFileSync(file).toString('base64'));
  for (const type of ['dragenter', 'dragover', 'drop']) await page.getByTestId('page-1').dispatchEvent(type, { dataTransfer: data });
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByTestId('selection').waitFor();
  const it = await of('picture');
  // RIFF: what came in is a WebP, and what is kept may be drawn anew.
  expect(readFileSync(file).subarray(8, 12).toString()).toBe('WEBP');
  await click('Over the ink');
  await expect.poll(async () => (await of('picture')).over).toBe(true);
  await click('Under the ink');
  await expect.poll(async () => (await of('picture')).over ?? false).toBe(false);
  await click('Crop by a loop');
  const [l, t, r, b] = it.box;
  await line([(l + r) / 2, t + 3], [r - 3, b - 3], [l + 3, b - 3], [(l + r) / 2, t + 3]);
  await expect.poll(async () => (await of('picture')).crop?.length ?? 0).toBeGreaterThan(10);
  // A triangle of a rectangle: half of it is left.
  const { crop } = await of('picture');
  const area = Math.abs(crop!.reduce((sum, v, i) => (i % 2 ? sum : sum + v * crop![(i + 3) % crop!.length] - crop![(i + 2) % crop!.length] * crop![i + 1]), 0)) / 2;
  expect(area).toBeGreaterThan(0.3);
  expect(area).toBeLessThan(0.6);
  await click('Picture');
  await click('Copy without the paper');
  if (!(await button(page, 'Save with the paper').count())) await click('Picture');
  const download = page.waitForEvent('download');
  await click('Save with the paper');
  const png = await (await download).path();
  expect(execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=codec_name', '-of', 'csv=p=0', png]).toString().trim()).toBe('png');
  // As a drawing, alone: as wide as it is and not as the page.
  if (!(await page.getByTestId('selection').count())) await page.keyboard.press('Control+a');
  await click('What to do with this note');
  await click('Hand on');
  await page.getByRole('radio', { name: 'SVG', exact: true }).click();
  // Who has something selected means it.
  await expect(page.getByRole('switch', { name: 'Only what is selected' })).toBeChecked();
  const [drawing] = await Promise.all([page.waitForEvent('download'), click('Save file')]);
  const [, width] = /<svg[^>]* width="([\d.]+)mm"/.exec(readFileSync(await drawing.path(), 'utf8'))!;
  expect(Number(width)).toBeLessThan(r - l + 12);
});

test('in Listen a moment is marked as a key one, ink ahead is faint, and the timeline shows sound, gaps and writing', async () => {
  await context.close();
  context = await startBrowser({ viewport: WIDE });
  await bringDemo(context, demo);
  [page] = context.pages();
  await page.goto(demo.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  const slider = page.getByRole('slider', { name: 'Playback position' });
  await slider.waitFor();
  // Blue for sound, dark for writing, red for gaps, each in more than a few places.
  const drawn = () => page.locator('canvas[aria-hidden]').evaluateAll((all) => {
    const count = { sound: 0, writing: 0, gaps: 0 };
    for (const canvas of all as HTMLCanvasElement[]) {
      if (!canvas.width || !canvas.height || canvas.getBoundingClientRect().height > 200) continue;
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      for (let k = 0; k < data.length; k += 4) {
        const [r, g, b, a] = data.subarray(k, k + 4);
        if (a < 100) continue;
        if (r - g > 60 && r - b > 60) count.gaps++;
        else if (r + g + b < 190) count.writing++;
        else if (b - r > 30) count.sound++;
      }
    }
    return count;
  });
  // A line without any height would be some 1,100 px of it.
  await expect.poll(async () => ((n) => ({ sound: n.sound > 4000, writing: n.writing > 500, gaps: n.gaps > 100 }))(await drawn())).toEqual({ sound: true, writing: true, gaps: true });
  const marks = async () => (await headersOnDisk(page)).flatMap((h) => (h.title.startsWith('Tides') ? (h.marks ?? []) : [])).filter((m) => m.kind === 'key').length;
  const before = await marks();
  await slider.fill('20000');
  await button(page, 'Mark key').click();
  await expect.poll(marks).toBe(before + 1);
  // The first word was written before, the last comes after: faint, it is there all the same and lighter than in full.
  await slider.fill('30000');
  const dark = () => page.locator('[data-testid="page-1"] canvas').evaluateAll((all) => {
    let sum = 0;
    for (const canvas of all as HTMLCanvasElement[]) {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      for (let i = 3; i < data.length; i += 4) sum += data[i];
    }
    return sum;
  });
  const shown: number[] = [];
  for (let i = 0; i < 3; i++) {
    await page.locator('.surface[data-drawn="true"]').waitFor();
    shown.push(await dark());
    await page.keyboard.press('i');
    await atRest(page);
  }
  shown.sort((a, b) => a - b);
  expect(shown[1]).toBeGreaterThan(shown[0]);
  expect(shown[2]).toBeGreaterThan(shown[1]);
});

test('every switch and choice of Settings is kept, and is there after a reload', async () => {
  await page.getByRole('tab', { name: 'Settings' }).click();
  const settings = async () => JSON.parse((await records(page, 'scrivo')).settings ?? '{}') as Record<string, unknown>;
  const switches = page.getByRole('switch');
  await expect.poll(() => switches.count()).toBeGreaterThan(8);
  const names = (await switches.evaluateAll((all) => all.map((e) => e.getAttribute('aria-label') ?? ''))).filter((name) => !/^(Lock everything|Once a day|By itself)/.test(name));
  const before = await switches.evaluateAll((all) => Object.fromEntries(all.map((e) => [e.getAttribute('aria-label'), (e as HTMLInputElement).checked])));
  for (const name of names) await page.getByRole('switch', { name, exact: true }).click();
  for (const [text, key, value] of [['Dark page', 'pageTheme', 'dark'], ['As above', 'pageTheme', 'interface'], ['Light page', 'pageTheme', 'light'], ['Only the pen', 'writes', 'pen'], ['Fingers too', 'writes', 'any'], ['By itself', 'writes', 'auto']] as const) {
    await page.getByText(text, { exact: true }).first().click();
    await expect.poll(async () => (await settings())[key] ?? (value === 'auto' ? 'auto' : undefined)).toBe(value);
  }
  await control('Numbers and dates as in').selectOption('DE');
  await expect.poll(async () => (await settings()).country).toBe('DE');
  await page.reload();
  await page.getByRole('tab', { name: 'Settings' }).click();
  await expect(control('Numbers and dates as in')).toHaveValue('DE');
  const after = await switches.evaluateAll((all) => Object.fromEntries(all.map((e) => [e.getAttribute('aria-label'), (e as HTMLInputElement).checked])));
  for (const name of names) expect([name, after[name]]).toEqual([name, !before[name]]);
});
