/** Gestures and hands: fingers that undo, what a resting hand may touch, left-handed, moving and zooming the page, history over a reload. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { blankNote, button, Pen, PHONE, saved, startBrowser, startServer, WIDE, inMore, press } from '../helpers/app';
import { records, inkOnDisk } from '../helpers/disk';
import { along, drawWith, type Spot } from '../helpers/hands';
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

/** Opens a blank note, with settings made before by name of their switch or button. */
async function begin(viewport = PHONE, settings: readonly string[] = []): Promise<void> {
  context = await startBrowser({ viewport });
  page = context.pages()[0];
  await page.goto(server.url);
  if (settings.length) {
    await page.getByText('Settings').click();
    for (const name of settings) await page.getByRole('switch', { name }).or(page.getByRole('radio', { name })).or(button(page, name)).first().click();
    await page.getByText('Today').first().click();
  }
  await blankNote(page);
  pen = await Pen.on(page);
}

const sheet = async () => (await page.getByTestId('page-1').boundingBox())!;
const ids = async (n: number): Promise<readonly string[]> => {
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(n);
  await saved(page);
  return (await inkOnDisk(page)).map((s) => s.id).sort();
};
const lines = async (n: number): Promise<void> => {
  const { x, y } = await sheet();
  for (let i = 0; i < n; i++) await drawWith('finger', page, pen, along([{ x: x + 40, y: y + 60 + 30 * i }, { x: x + 120, y: y + 64 + 30 * i }]));
};
const tapWith = async (count: number): Promise<void> => {
  const { x, y } = await sheet();
  const points = Array.from({ length: count }, (_, i) => ({ x: x + 100 + 50 * i, y: y + 300 }));
  for (let i = 1; i <= count; i++) await pen.fingers('touchStart', points.slice(0, i));
  await pen.fingers('touchEnd', []);
};

test('two fingers undo, three redo, and leave no ink; switched off they do nothing', async () => {
  await begin();
  await lines(3);
  const three = await ids(3);
  await tapWith(2);
  const two = await ids(2);
  expect(three).toEqual(expect.arrayContaining([...two]));
  await tapWith(2);
  await ids(1);
  await tapWith(3);
  expect(await ids(2)).toEqual(two);
  await tapWith(3);
  expect(await ids(3)).toEqual(three);
  await button(page, 'Back to Today').click();
  await page.getByText('Settings').click();
  await page.getByRole('switch', { name: 'Two fingers undo, three fingers redo' }).click();
  await page.getByText('Today').first().click();
  await page.getByRole('button', { name: /^Open / }).first().click();
  await page.getByTestId('page-1').waitFor();
  await lines(1);
  await ids(4);
  await tapWith(2);
  // The stroke after it shows that the touch has been dealt with.
  await lines(1);
  await ids(5);
});

test('undo and redo are there after a reload, and give the same strokes', async () => {
  await begin();
  await lines(4);
  const four = await ids(4);
  await button(page, 'Undo').click();
  const three = await ids(3);
  // The history is written a moment after the ink.
  await expect
    .poll(async () => {
      const order = Object.entries(await records(page, 'scrivo')).find(([key]) => key.startsWith('history/') && key.endsWith('/order'));
      return order ? (JSON.parse(order[1]) as { redo: string[] }).redo.length : 0;
    })
    .toBe(1);
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  await inMore(page, () => expect(button(page, 'Redo')).toBeEnabled());
  await press(page, 'Redo');
  expect(await ids(4)).toEqual(four);
  await button(page, 'Undo').click();
  expect(await ids(3)).toEqual(three);
  for (let i = 0; i < 3; i++) await button(page, 'Undo').click();
  await ids(0);
  await expect(button(page, 'Undo')).toBeDisabled();
});

test('where only the pen writes, a finger never leaves ink, even before a pen was seen', async () => {
  await begin(PHONE, ['Only the pen']);
  await lines(2);
  const { x, y } = await sheet();
  await pen.scribble(x + 60, y + 200);
  await ids(1);
});

test('the hand rest takes every touch to itself, and its height can be pulled', async () => {
  await begin(PHONE, ['Hand rest: an edge at the bottom that ignores every touch']);
  const rest = page.getByTestId('hand-rest');
  const box = (await rest.boundingBox())!;
  await drawWith('finger', page, pen, along([{ x: 100, y: box.y + 60 }, { x: 200, y: box.y + 70 }]));
  await pen.stroke(along([{ x: 100, y: box.y + 60 }, { x: 200, y: box.y + 70 }]));
  await pen.fingers('touchStart', [{ x: 150, y: box.y + 70 }]);
  // With the hand lying there, the other one writes.
  await pen.scribble(100, 200);
  await pen.fingers('touchEnd', []);
  await ids(1);
  const grip = (await button(page, 'Height of the hand rest').boundingBox())!;
  const middle = { x: grip.x + grip.width / 2, y: grip.y + grip.height / 2 };
  await drawWith('finger', page, pen, along([middle, { x: middle.x, y: middle.y - 60 }]));
  await expect.poll(async () => Math.round((await rest.boundingBox())!.height)).toBeGreaterThan(box.height + 40);
});

for (const [name, viewport] of [['phone', PHONE], ['wide', WIDE]] as const) {
  test(`left-handed, the time margin stands on the right and ink lies where the pen is (${name})`, async () => {
    await begin(viewport, ['Left-handed: the time margin stands on the right']);
    const box = await sheet();
    const margin = (await page.getByRole('group', { name: 'Time margin' }).boundingBox())!;
    expect(margin.x).toBeGreaterThan(box.x + box.width - 2);
    const mm = 210 / box.width;
    await pen.stroke(along([{ x: box.x + 50, y: box.y + 90 }, { x: box.x + 150, y: box.y + 90 }]));
    await ids(1);
    const [s] = await inkOnDisk(page);
    expect(Math.abs(s.box[0] - 50 * mm)).toBeLessThan(0.6);
    expect(Math.abs(s.box[3] - 90 * mm)).toBeLessThan(0.6);
  });
}

test('“Move the page” lets one finger move it; the pen comes back by a touch', async () => {
  await begin();
  // Less than a page fits in, so that there is something to move.
  await page.setViewportSize({ width: PHONE.width, height: 560 });
  await press(page, 'Move the page');
  const top = () => page.locator('.surface-scroller').evaluate((e) => e.scrollTop);
  const { x, y } = await sheet();
  await drawWith('finger', page, pen, along([{ x: x + 100, y: y + 320 }, { x: x + 100, y: y + 170 }]));
  await expect.poll(top).toBeGreaterThan(60);
  await ids(0);
  await press(page, 'Move the page');
  await drawWith('finger', page, pen, along([{ x: 140, y: 300 }, { x: 220, y: 304 }]));
  await ids(1);
});

const figure = async () => Number((await page.getByTestId('zoom-value').textContent())!.replace(/\D/g, ''));

for (const [name, viewport] of [['phone', PHONE], ['wide', WIDE]] as const) {
  test(`zoom from 25 to 1000 percent with the figure shown; ink is as fine as the screen at each; locked it stays (${name})`, async () => {
    await begin(viewport);
    const first = await sheet();
    await pen.stroke(along([{ x: first.x + 40, y: first.y + 60 }, { x: first.x + 140, y: first.y + 120 }]));
    await ids(1);
    const fit = await figure();
    await press(page, 'Zoom');
    const slider = page.getByRole('slider', { name: 'Zoom of the page' });
    /** Pixels of the canvases in sight for each pixel of the screen. */
    const fineness = () =>
      page.evaluate(() => {
        const view = document.querySelector('.surface-scroller')!.getBoundingClientRect();
        const shares: number[] = [];
        for (const c of document.querySelectorAll<HTMLCanvasElement>('.page canvas')) {
          const b = c.getBoundingClientRect();
          if (b.width && b.right > view.left && b.left < view.right && b.bottom > view.top && b.top < view.bottom && getComputedStyle(c).display !== 'none') shares.push(c.width / b.width);
        }
        return shares.length ? Math.min(...shares) : 0;
      });
    for (const [key, percent] of [['Home', 25], ['End', 1000]] as const) {
      await slider.press(key);
      await expect(page.getByTestId('zoom-value')).toHaveText(`${percent} %`);
      expect(Math.abs((await sheet()).width - ((percent / 100) * 210 * 96) / 25.4)).toBeLessThan(2);
      await expect.poll(fineness).toBeGreaterThan(0.99);
    }
    await button(page, 'Fit width').click();
    await expect(page.getByTestId('zoom-value')).toHaveText(`${fit} %`);
    await page.getByRole('switch', { name: 'Lock zoom' }).click();
    await button(page, 'Close Zoom').click();
    const pinch = async () => {
      const at = (d: number): Spot[] => [{ x: first.x + 150 - d, y: first.y + 200 }, { x: first.x + 150 + d, y: first.y + 200 }];
      await pen.fingers('touchStart', at(40));
      for (let d = 45; d <= 90; d += 5) await pen.fingers('touchMove', at(d));
      await pen.fingers('touchEnd', []);
    };
    await pinch();
    await page.mouse.move(first.x + 100, first.y + 200);
    await page.keyboard.down('Control');
    await page.mouse.wheel(0, -300);
    await page.keyboard.up('Control');
    expect(await figure()).toBe(fit);
    await press(page, 'Zoom');
    await page.getByRole('switch', { name: 'Lock zoom' }).click();
    await button(page, 'Close Zoom').click();
    await pinch();
    await expect.poll(figure).toBeGreaterThan(fit * 1.5);
  });
}
