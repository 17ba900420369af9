/** Pen, mouse, fingers and palm on the page; Write and Listen keep to themselves. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { atRest, blankNote, button, Pen, PHONE, saved, startBrowser, startServer, WIDE, press } from '../helpers/app';
import type { Stroke } from '../../src/core/ink/stroke';
import { strokesOnDisk } from '../helpers/disk';
import { place, write } from '../helpers/spelled';
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

async function begin(viewport = PHONE): Promise<{ x: number; y: number; width: number; height: number }> {
  context = await startBrowser({ viewport });
  page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  pen = await Pen.on(page);
  return (await page.getByTestId('page-1').boundingBox())!;
}
test.afterEach(async () => {
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

const strokes = async (n: number): Promise<readonly Stroke[]> => {
  await saved(page);
  await expect.poll(async () => (await strokesOnDisk(page)).length).toBe(n);
  return strokesOnDisk(page);
};

for (const [name, viewport] of [
  ['phone', PHONE],
  ['wide', WIDE],
] as const) {
  test(`a pen stroke lies where it was drawn, in millimetres of the page (${name})`, async () => {
    const box = await begin(viewport);
    const [x, y] = [box.x + box.width * 0.25, box.y + 120];
    await pen.stroke([{ x, y }, { x: x + 30, y: y + 10 }, { x: x + 60, y }]);
    const [s] = await strokes(1);
    const mm = 210 / box.width;
    [(x - box.x) * mm, (y - box.y) * mm, (x + 60 - box.x) * mm, (y + 10 - box.y) * mm].forEach((want, i) => expect(Math.abs(s.box[i] - want)).toBeLessThan(1));
    expect(Math.abs(box.height / box.width - 297 / 210)).toBeLessThan(0.01);
  });
}

test('the mouse writes, and so does a finger until a pen has been seen', async () => {
  const box = await begin();
  await page.mouse.move(box.x + 40, box.y + 60);
  await page.mouse.down();
  await page.mouse.move(box.x + 80, box.y + 70, { steps: 4 });
  await page.mouse.up();
  await strokes(1);
  const finger = async (from: number, to: number) => {
    await pen.fingers('touchStart', [{ x: box.x + 60, y: box.y + from }]);
    for (let k = 1; k <= 6; k++) await pen.fingers('touchMove', [{ x: box.x + 60 + k, y: box.y + from + ((to - from) * k) / 6 }]);
    await pen.fingers('touchEnd', []);
  };
  await finger(100, 130);
  await strokes(2);
  await write(page, pen, 6, 7, 0);
  await strokes(3);
  // From now on fingers only move the page, of which less than all is in sight.
  await page.setViewportSize({ width: PHONE.width, height: 560 });
  await expect
    .poll(async () => {
      await finger(420, 330);
      return page.locator('.surface-scroller').evaluate((e) => e.scrollTop);
    })
    .toBeGreaterThan(30);
  await strokes(3);
});

test('a palm that rests while the pen writes leaves no mark and moves nothing', async () => {
  const box = await begin();
  await write(page, pen, 0, 1, 0);
  const top = await page.locator('.surface-scroller').evaluate((e) => e.scrollTop);
  await pen.fingers('touchStart', [{ x: box.x + 200, y: box.y + 300, radiusX: 40, radiusY: 30 }]);
  await write(page, pen, 1, 4, 0);
  await pen.fingers('touchMove', [{ x: box.x + 205, y: box.y + 360, radiusX: 40, radiusY: 30 }]);
  await write(page, pen, 4, 5, 0);
  await pen.fingers('touchEnd', []);
  await strokes(5);
  expect(await page.locator('.surface-scroller').evaluate((e) => e.scrollTop)).toBe(top);
});

test('two fingers zoom and leave no stroke behind', async () => {
  const box = await begin();
  const at = (d: number) => [
    { x: box.x + 150 - d, y: box.y + 200 },
    { x: box.x + 150 + d, y: box.y + 200 },
  ];
  await pen.fingers('touchStart', [at(40)[0]]);
  await pen.fingers('touchStart', at(40));
  for (let d = 45; d <= 80; d += 5) await pen.fingers('touchMove', at(d));
  await pen.fingers('touchEnd', []);
  await expect.poll(async () => (await page.getByTestId('page-1').boundingBox())!.width).toBeGreaterThan(box.width * 1.5);
  expect(await strokesOnDisk(page)).toHaveLength(0);
  // The figure is the share of true size, at 96 px to the inch (CSS Values and Units 4, section 5.2).
  const shown = async () => Number((await page.getByTestId('zoom-value').textContent())!.replace(/\D/g, ''));
  const width = (await page.getByTestId('page-1').boundingBox())!.width;
  expect(Math.abs((await shown()) - (100 * width) / ((210 * 96) / 25.4))).toBeLessThan(1);
  await press(page, 'Zoom');
  await button(page, 'Fit width').click();
  await expect.poll(async () => Math.round((await page.getByTestId('page-1').boundingBox())!.width)).toBe(Math.round(box.width));
});

test('a new page comes when the writing nears the end, and goes with the stroke that brought it', async () => {
  const box = await begin();
  await expect(page.getByTestId('page-2')).toHaveCount(0);
  await pen.scribble(box.x + 100, box.y + box.height - 40);
  await expect(page.getByTestId('page-2')).toHaveCount(1);
  const second = (await page.getByTestId('page-2').boundingBox())!;
  // The pages follow each other without a break: the end of the one is in sight above the other.
  expect(second.y - (box.y + box.height)).toBeLessThan(12);
  await button(page, 'Undo').click();
  await expect(page.getByTestId('page-2')).toHaveCount(0);
  await press(page, 'Redo');
  await expect(page.getByTestId('page-2')).toHaveCount(1);
  await strokes(1);
});

test('in Listen the page is safe, ink without sound says so, and in Write nothing plays', async () => {
  const box = await begin();
  await write(page, pen, 0, 3, 0);
  await strokes(3);
  await button(page, 'Listen').click();
  await write(page, pen, 5, 7, 0);
  await page.mouse.move(box.x + 40, box.y + 160);
  await page.mouse.down();
  await page.mouse.move(box.x + 80, box.y + 170);
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Line written without sound' })).toHaveCount(1);
  // In Listen the pen moves the page, which may have gone on a little.
  await atRest(page);
  const now = (await page.getByTestId('page-1').boundingBox())!;
  await pen.touch(now.x + place(1).x + 10, now.y + place(1).y + 4);
  await expect(page.getByText(/while nothing was being recorded, so there is no sound to it/)).toBeVisible();
  await button(page, 'Write').click();
  await strokes(3);
  await expect(page.getByRole('button', { name: 'Line written without sound' })).toBeDisabled();
});

test('in Write a touch on recorded ink plays nothing, which it does in Listen', async () => {
  const box = await begin();
  await button(page, 'Record').click();
  await page.getByTestId('recording-clock').waitFor();
  await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) > 1500);
  await write(page, pen, 0, 1, 0);
  await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) > 4000);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await strokes(1);
  const word = { x: place(0).x + 10, y: place(0).y + 4 };
  const plays = () => page.locator('audio').evaluateAll((all) => all.some((a) => !(a as HTMLAudioElement).paused || (a as HTMLAudioElement).currentTime > 0));
  await pen.touch(box.x + word.x, box.y + word.y);
  await atRest(page);
  expect([await plays(), await button(page, 'Pause').count()]).toEqual([false, 0]);
  await button(page, 'Listen').click();
  await page.getByRole('slider', { name: 'Playback position' }).waitFor();
  await atRest(page);
  const now = (await page.getByTestId('page-1').boundingBox())!;
  await pen.touch(now.x + word.x, now.y + word.y);
  await button(page, 'Pause').waitFor();
  await expect.poll(plays).toBe(true);
});

test('tools by keys: pens, eraser, undo, redo; a renamed note keeps its name', async () => {
  await begin();
  await page.keyboard.press('3');
  await expect(button(page, 'Pens, in hand: Red felt pen, 0.5 mm')).toHaveAttribute('aria-pressed', 'true');
  await write(page, pen, 0, 2, 0);
  const all = await strokes(2);
  expect(all.every(({ pen: { kind } }) => kind === 'felt')).toBe(true);
  await page.keyboard.press('e');
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('1');
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('Control+z');
  await strokes(1);
  await page.keyboard.press('Control+Shift+Z');
  await strokes(2);
  await page.getByRole('button', { name: /^Rename / }).click();
  await page.getByLabel('Title of the note').fill('Leading lights');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.reload();
  await page.getByRole('button', { name: 'Rename Leading lights' }).waitFor();
});
