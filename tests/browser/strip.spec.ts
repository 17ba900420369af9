/** The writing strip: written large, landing small, the frame going on by itself from line to line and page to page. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import type { Stroke } from '../../src/core/ink/stroke';
import { button, Pen, PHONE, recordNew, saved, startBrowser, startServer, WIDE, press } from '../helpers/app';
import { strokesOnDisk } from '../helpers/disk';
import { along, drawWith } from '../helpers/hands';
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

async function begin(viewport = PHONE, touch = false): Promise<void> {
  context = await startBrowser({ viewport, touch });
  page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  pen = await Pen.on(page);
  await press(page, 'Writing strip');
  await page.getByTestId('writing-strip').waitFor();
}

const area = async () => (await page.locator('.strip-area').boundingBox())!;
const line = () => page.getByTestId('writing-strip').evaluate((e) => Number(e.dataset.line));
const frame = async () => {
  const [f, p] = [(await page.getByTestId('strip-frame').boundingBox())!, (await page.getByTestId('page-1').boundingBox())!];
  const k = p.width / 210;
  return { x: (f.x - p.x) / k, y: (f.y - p.y) / k, w: f.width / k, h: f.height / k };
};
async function strokes(n: number): Promise<readonly Stroke[]> {
  await expect.poll(async () => (await strokesOnDisk(page)).length, { timeout: 20_000 }).toBe(n);
  await saved(page);
  return [...(await strokesOnDisk(page))].sort((a, b) => a.wall - b.wall);
}

/** A wave across the strip, from share to share of its width, standing on its line. */
const wave = async (from: number, to: number, points = 12): Promise<void> => {
  const a = await area();
  const y = a.y + a.height * 0.68;
  await pen.stroke(Array.from({ length: points }, (_, i) => ({ x: a.x + a.width * (from + ((to - from) * i) / (points - 1)), y: y - a.height * 0.3 * Math.abs(Math.sin(i)) })));
};

for (const [name, viewport] of [['phone', PHONE], ['wide', WIDE]] as const) {
  test(`what is written large lands small in the frame, with its stamp; the frame goes on when the far part is reached (${name})`, async () => {
    await begin(viewport);
    const before = await frame();
    await wave(0.1, 0.4);
    const [s] = await strokes(1);
    expect(s.stamp).not.toBeNull();
    expect(Math.abs(s.box[0] - (before.x + 0.1 * before.w))).toBeLessThan(0.3);
    expect(Math.abs(s.box[2] - (before.x + 0.4 * before.w))).toBeLessThan(0.3);
    expect(s.box[1]).toBeGreaterThan(before.y);
    expect(s.box[3]).toBeLessThan(before.y + before.h);
    expect(Math.abs((await frame()).x - before.x)).toBeLessThan(0.2);
    await wave(0.5, 0.95);
    await expect.poll(async () => (await frame()).x).toBeGreaterThan(before.x + 0.5 * before.w);
    expect(Math.abs((await frame()).y - before.y)).toBeLessThan(0.2);
    // Pens, eraser and undo are at hand as ever.
    await page.keyboard.press('3');
    await wave(0.4, 0.6);
    expect((await strokes(3))[2].pen.kind).toBe('felt');
    await button(page, 'Eraser').click();
    await wave(0.4, 0.6);
    await strokes(2);
    await button(page, 'Undo').click();
    await strokes(3);
  });
}

test('a whole page is written without touching anything else', async () => {
  // A6, on which a new note begins under a finger: a page like any other, and short.
  await begin(PHONE, true);
  const started = await line();
  let n = 0;
  const lines = new Set<number>();
  // Each wave reaches the far end, so the frame goes on at once; after the last line it goes to the next page.
  for (let i = 0; i < 700; i++) {
    const at = await line();
    if (n && at < started) break;
    lines.add(at);
    await wave(n % 2 ? 0.3 : 0.25, 0.96, 5);
    n++;
    if ((await page.getByTestId('strip-frame').evaluate((e) => e.closest('.page')!.getAttribute('data-testid'))) !== 'page-1') break;
  }
  const all = await strokes(n);
  expect(all.every((s) => s.stamp !== null)).toBe(true);
  await expect(page.getByTestId('page-2').getByTestId('strip-frame')).toBeAttached();
  // A6, first line at 16 mm, one every 9 mm: every line from the first one on was used, and nothing lies outside the page.
  expect(lines.size).toBe(Math.max(...lines) - started + 1);
  expect(Math.max(...lines)).toBeGreaterThanOrEqual(Math.floor((148 - 16) / 9) - 2);
  expect(all.every((s) => s.box[0] >= 0 && s.box[2] <= 105)).toBe(true);
  console.log(`${n} strokes on ${lines.size} lines`);
});

test('the margins are dragged on the page, and right-to-left works mirrored', async () => {
  await begin(WIDE);
  const left = button(page, 'Left margin of the strip');
  const box = (await left.boundingBox())!;
  const sheet = (await page.getByTestId('page-1').boundingBox())!;
  const k = sheet.width / 210;
  await drawWith('mouse', page, pen, along([{ x: box.x + 22, y: box.y + box.height / 2 }, { x: box.x + 22 + 30 * k, y: box.y + box.height / 2 }]));
  await button(page, 'Next line').click();
  await expect.poll(async () => Math.abs((await frame()).x - 44)).toBeLessThan(1);
  await button(page, 'Change writing direction').click();
  const start = await frame();
  expect(Math.abs(start.x + start.w - 200)).toBeLessThan(1);
  const at = await line();
  await wave(0.9, 0.05);
  await expect.poll(async () => (await frame()).x).toBeLessThan(start.x - 0.4 * start.w);
  expect(await line()).toBe(at);
  for (let i = 0; i < 12 && (await line()) === at; i++) await wave(0.75, 0.04);
  await expect.poll(line).toBe(at + 1);
  const next = await frame();
  expect(Math.abs(next.x + next.w - 200)).toBeLessThan(1);
});
