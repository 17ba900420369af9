/** A page that grows: written on to every side, moved over, seen as a whole, taken back, and handed on. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { atRest, blankNote, button, Pen, PHONE, press, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { headersOnDisk, strokesOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

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
  if (viewport === WIDE) await press(page, 'Add');
  await press(page, 'Board');
  await expect(page.locator('[data-testid="page-2"][data-board="true"]')).toBeVisible();
}

const sheet = () => page.getByTestId('page-2');
const board = async () => {
  await saved(page);
  const of = (await headersOnDisk(page))[0].pages.find((p) => p.board)!;
  return { l: of.board!.x, t: of.board!.y, r: of.board!.x + of.w, b: of.board!.y + of.h };
};
/** Where the ink of the page is on the screen, px: its darkest pixels. */
const inkAt = (): Promise<{ x: number; y: number } | null> =>
  sheet().evaluate((el) => {
    let [sx, sy, n] = [0, 0, 0];
    for (const canvas of el.querySelectorAll('canvas')) {
      const box = canvas.getBoundingClientRect();
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      const k = box.width / canvas.width;
      for (let i = 0; i < data.length; i += 4) {
        if (data[i + 3] < 60 || data[i] + data[i + 1] + data[i + 2] > 330) continue;
        [sx, sy, n] = [sx + box.left + ((i / 4) % canvas.width) * k, sy + box.top + Math.floor(i / 4 / canvas.width) * k, n + 1];
      }
    }
    return n ? { x: sx / n, y: sy / n } : null;
  });
/** Two fingers that move the page by so much, px. */
async function move(dx: number, dy: number): Promise<void> {
  const two = (part: number) => [0, 60].map((x) => ({ x: 160 + x + dx * part, y: 380 + dy * part }));
  await pen.fingers('touchStart', two(0));
  for (let i = 1; i <= 10; i++) await pen.fingers('touchMove', two(i / 10));
  await pen.fingers('touchEnd', []);
}

test('a board grows under the pen to every side and stays where it is in sight; two fingers go beyond its edge; it is seen as a whole, on a map, taken back, and there after a reload', async () => {
  await begin();
  const first = await board();
  expect(await page.getByRole('region', { name: 'Pages' }).evaluate((e) => e.clientHeight)).toBeGreaterThanOrEqual(640);
  // While the message of how it grows goes away below the page, nothing moves.
  await pen.scribble(200, 420, 24, 8);
  await expect.poll(inkAt).not.toBeNull();
  const steady = (await inkAt())!;
  const away = button(page, 'Put this message away');
  if (await away.isVisible()) await away.click();
  await expect(away).toBeHidden();
  expect(Math.abs((await inkAt())!.y - steady.y)).toBeLessThan(1.5);
  expect(Math.abs(steady.y - 424)).toBeLessThan(4);
  await page.keyboard.press('Control+z');
  await expect.poll(inkAt).toBeNull();
  // Near the left edge, which the fit leaves some air beside.
  const k = (await sheet().boundingBox())!;
  const edge = k.x + ((0 - (first.l - 60)) * k.width) / (first.r - first.l + 120);
  await pen.scribble(Math.max(60, edge + 4), 300, 24, 8);
  const before = await expect.poll(inkAt).not.toBeNull().then(inkAt);
  const grown = await board();
  expect(grown.l).toBeLessThan(first.l);
  expect([grown.t, grown.r, grown.b]).toEqual([first.t, first.r, first.b]);
  expect(Math.hypot(before!.x - Math.max(60, edge + 4) - 12, before!.y - 304)).toBeLessThan(4);
  // Further than what has been written: the way there is open, and nothing is larger until something is written there.
  for (let i = 0; i < 4; i++) await move(180, 120);
  await expect.poll(inkAt).toBeNull();
  expect(await board()).toEqual(grown);
  await pen.scribble(150, 300, 24, 8);
  await expect.poll(async () => (await board()).t).toBeLessThan(-100);
  const far = await board();
  const [one, two] = await strokesOnDisk(page);
  expect(two.box[0]).toBeLessThan(one.box[0] - 100);
  expect(two.box[1]).toBeLessThan(one.box[1] - 100);
  expect(two.box[0] > far.l && two.box[1] > far.t).toBe(true);
  // What is only moved over is shown and is no part of the board.
  for (let i = 0; i < 2; i++) await move(180, 120);
  expect(await board()).toEqual(far);
  // The map shows both, and a touch on it goes back to the first.
  const map = page.getByRole('application', { name: /^Map of the board, / });
  await expect(map).toBeVisible();
  // What the fingers set going comes to rest first: the map has the shape of all that is in sight.
  await atRest(page);
  const part = (await map.boundingBox())!;
  const shown = { l: Number(await sheet().evaluate((e) => parseFloat(e.style.left))), w: (await sheet().boundingBox())!.width };
  expect(shown.w).toBeGreaterThan(part.width);
  // Of the board (mm): where on it the middle of the view is, by where the sheet lies.
  const inMiddle = async () => {
    const [at, of, look] = [(await sheet().boundingBox())!, await board(), (await page.getByRole('region', { name: 'Pages' }).boundingBox())!];
    const k = at.width / (of.r - of.l);
    return { x: of.l + (look.x + look.width / 2 - at.x) / k, y: of.t + (look.y + look.height / 2 - at.y) / k, wide: look.width / k };
  };
  await page.mouse.click(part.x + part.width * 0.7, part.y + part.height * 0.6);
  await atRest(page);
  const [went, of] = [await inMiddle(), await board()];
  expect(Math.abs(went.x - (of.l + 0.7 * (of.r - of.l)))).toBeLessThan(0.06 * (of.r - of.l));
  expect(Math.abs(went.y - (of.t + 0.6 * (of.b - of.t)))).toBeLessThan(0.06 * (of.b - of.t));
  await map.focus();
  await page.keyboard.press('ArrowLeft');
  await atRest(page);
  expect((went.x - (await inMiddle()).x) / went.wide).toBeCloseTo(0.25, 1);
  await button(page, 'Fold the map').click();
  await expect(map).toBeHidden();
  await button(page, 'Show the map').click();
  await page.getByRole('button', { name: /^Zoom, / }).click();
  await button(page, 'Whole board').click();
  await page.keyboard.press('Escape');
  await expect(map).toBeHidden();
  const view = (await page.getByRole('region', { name: 'Pages' }).boundingBox())!;
  const whole = (await inkAt())!;
  expect(whole.x > view.x && whole.x < view.x + view.width && whole.y > view.y && whole.y < view.y + view.height).toBe(true);
  // Each stroke is one step, with what it made of the board.
  await button(page, 'Undo').click();
  await expect.poll(board).toEqual(grown);
  await button(page, 'Undo').click();
  await expect.poll(board).toEqual(first);
  await page.keyboard.press('Control+Shift+z');
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(board).toEqual(far);
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Next page').click();
  await expect(sheet()).toBeVisible();
  await expect.poll(inkAt).not.toBeNull();
});

test('a board is handed on in PDF as one large page, or in sheets of A4 that hold all of it, by poppler', async () => {
  await begin(WIDE);
  const first = await board();
  await pen.scribble(500, 300, 40, 12);
  for (let i = 0; i < 5; i++) await move(-160, -60);
  await pen.scribble(600, 320, 40, 12);
  await expect.poll(async () => (await board()).r).toBeGreaterThan(first.r + 60);
  const { l, t, r, b } = await board();
  const handed = async (boards: string) => {
    await button(page, 'What to do with this note').click();
    await button(page, 'Hand on').click();
    await page.getByRole('radio', { name: 'PDF', exact: true }).click();
    if (boards !== 'whole') await page.getByLabel('Boards').selectOption(boards);
    await expect(page.getByTestId('made-size')).toHaveText(/\.pdf, /);
    const [download] = await Promise.all([page.waitForEvent('download'), button(page, 'Save file').click()]);
    const file = path.join(tempFolder(), download.suggestedFilename());
    await download.saveAs(file);
    execFileSync('qpdf', ['--check', file]);
    await page.keyboard.press('Escape');
    return [...execFileSync('pdfinfo', ['-f', '1', '-l', '20', file]).toString().matchAll(/Page +\d+ size: +([\d.]+) x ([\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])]);
  };
  const mm = (v: number) => (v * 72) / 25.4;
  const [, whole, ...none] = await handed('whole');
  expect(none).toEqual([]);
  expect(whole[0]).toBeCloseTo(mm(r - l), 0);
  expect(whole[1]).toBeCloseTo(mm(b - t), 0);
  const [, ...sheets] = await handed('A4');
  expect(sheets.length).toBeGreaterThan(1);
  for (const [w, h] of sheets) expect([Math.round(w), Math.round(h)]).toEqual([595, 842]);
});
