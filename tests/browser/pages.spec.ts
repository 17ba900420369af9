/** Pages and paper in the real interface. */
import { expect, test, type Page } from '@playwright/test';
import { blankNote, button, Pen, PHONE, saved, startBrowser, startServer, WIDE, press } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { headersOnDisk, inkOnDisk } from '../helpers/disk';
import { write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

async function open(viewport = PHONE) {
  const server = await startServer();
  const context = await startBrowser({ viewport });
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  const end = async () => {
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  };
  return { page, pen: await Pen.on(page), end };
}

const headers = async (page: Page) => (await headersOnDisk(page)).sort((a, b) => b.made - a.made);
const stored = async (page: Page) => {
  await saved(page);
  return (await headers(page))[0];
};
const tick = (page: Page, n: number) => page.getByLabel(`Choose page ${n}`, { exact: true }).click();

for (const [name, viewport] of [
  ['phone', PHONE],
  ['wide', WIDE],
] as const) {
  test(`pages are added, copied, moved, bookmarked and deleted in the overview, and all of it is taken back (${name})`, async () => {
    const { page, pen, end } = await open(viewport);
    await write(page, pen, 0, 3, 0);
    await saved(page);
    await press(page, 'Pages');
    const cards = page.locator('.page-card');
    await tick(page, 1);
    await button(page, 'Duplicate').click();
    await expect(cards).toHaveCount(2);
    await expect.poll(async () => (await inkOnDisk(page)).length).toBe(6);
    await button(page, 'Add before').click();
    await expect(cards).toHaveCount(3);
    const order = (await stored(page)).pages.map((p) => p.id);
    await button(page, 'Later').click();
    await expect.poll(async () => (await stored(page)).pages.map((p) => p.id)).toEqual([order[0], order[2], order[1]]);
    await button(page, 'Bookmark page 3').click();
    await page.getByText('Bookmarks', { exact: true }).click();
    await expect(cards).toHaveCount(1);
    await page.getByText('All 3', { exact: true }).click();
    await button(page, 'Delete').click();
    await expect(cards).toHaveCount(2);
    await expect.poll(async () => (await stored(page)).bookmarks).toBeUndefined();
    await page.getByLabel('Go to page, 1 to 2').fill('2');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('dialog', { name: 'Pages' })).toHaveCount(0);
    await expect(page.getByTestId('page-2')).toBeInViewport();
    // Delete, bookmark, later, add, duplicate: back to the beginning.
    for (let i = 0; i < 5; i++) await page.getByRole('button', { name: 'Undo' }).last().click();
    await expect.poll(async () => (await stored(page)).pages.length).toBe(1);
    await expect.poll(async () => (await inkOnDisk(page)).length).toBe(3);
    await end();
  });
}

test('with a mouse a page is dragged to its place', async () => {
  const { page, pen, end } = await open(WIDE);
  await write(page, pen, 0, 2, 0);
  await press(page, 'Pages');
  for (let i = 0; i < 2; i++) await button(page, 'Add a page at the end').click();
  const [a, b, c] = (await stored(page)).pages.map((p) => p.id);
  const last = page.getByTestId('card-3');
  await page.getByTestId('card-1').dragTo(last, { targetPosition: { x: ((await last.boundingBox())!.width * 3) / 4, y: 60 } });
  await expect.poll(async () => (await stored(page)).pages.map((p) => p.id)).toEqual([b, c, a]);
  await end();
});

test('a line of ink becomes a heading; its picture in the outline leads to it', async () => {
  const { page, pen, end } = await open();
  await write(page, pen, 0, 3, 0);
  await saved(page);
  await button(page, 'Lasso').click();
  await button(page, 'Select all').click();
  await button(page, 'Heading').click();
  await press(page, 'Pages');
  await button(page, 'Add a page at the end').click();
  await page.getByText('Outline', { exact: true }).click();
  const entry = page.getByRole('button', { name: 'Heading of level 1 on page 1' });
  await expect(entry.locator('canvas')).toBeVisible();
  await button(page, 'Deeper').click();
  await page.getByRole('button', { name: 'Heading of level 2 on page 1' }).click();
  await expect(page.getByTestId('page-1')).toBeInViewport();
  expect((await stored(page)).headings!.map((h) => [h.level, h.strokes.length])).toEqual([[2, 3]]);
  await end();
});

test('paper is changed for a page or for all, new notes begin with it, and the ink stays where it is', async () => {
  const { page, pen, end } = await open();
  await write(page, pen, 0, 3, 0);
  await saved(page);
  const ink = (await inkOnDisk(page)).map((s) => s.box);
  await press(page, 'Pages');
  await button(page, 'Add a page at the end').click();
  await button(page, 'Close Pages').click();
  await press(page, 'Paper');
  await page.getByRole('radio', { name: 'Squared' }).click();
  await button(page, 'Closer by 0.1 mm').click();
  await page.getByLabel('Size').selectOption('US Letter');
  await button(page, 'Use this paper').click();
  const first = await stored(page);
  expect(first.pages.map((p) => [p.paper.kind, p.paper.spacing, Math.round(p.w * 10) / 10])).toEqual([['squared', 4.9, 215.9], ['ruled', 8, 210]]);
  expect((await inkOnDisk(page)).map((s) => s.box)).toEqual(ink);
  // The sheet in sight has the new proportion, and squares on it.
  const { width, height } = (await page.getByTestId('page-1').boundingBox())!;
  expect(height / width).toBeCloseTo(11 / 8.5, 2);
  await press(page, 'Paper');
  await page.getByText('All pages', { exact: true }).click();
  await page.getByRole('radio', { name: 'Cornell' }).click();
  await button(page, 'Lines college, 7.1 mm').click();
  await page.getByText('Lying', { exact: true }).click();
  await button(page, 'Use this paper').click();
  const all = await stored(page);
  expect(all.pages.map((p) => [p.paper.kind, p.w > p.h])).toEqual([['cornell', true], ['cornell', true]]);
  expect(all.pages[0].paper.spacing).toBeCloseTo((9 / 32) * 25.4, 3);
  await button(page, 'Back to Today').click();
  await blankNote(page);
  expect((await stored(page)).pages[0]).toMatchObject({ w: 279.4, paper: { kind: 'cornell' } });
  // Notes with sound have a paper of their own.
  await button(page, 'Back to Today').click();
  await expect(button(page, 'Paper: Ruled, 8 mm, A4')).toBeVisible();
  await end();
});

test('any page is kept as a template, with its ink and without its sound, and other notes begin pages as it; a cover is a paper', async () => {
  const { page, pen, end } = await open();
  await write(page, pen, 0, 3, 0);
  await press(page, 'Pages');
  await tick(page, 1);
  await button(page, 'Templates').click();
  await page.getByLabel('Name of the template').fill('Watch log');
  await button(page, 'Keep').click();
  await expect(button(page, 'Add a page from Watch log')).toBeVisible();
  await button(page, 'Done').click();
  await button(page, 'Close Pages').click();
  await button(page, 'Back to Today').click();
  await page.reload();
  await blankNote(page);
  await press(page, 'Pages');
  await button(page, 'Templates').click();
  await button(page, 'Add a page from Watch log').click();
  await expect(page.locator('.page-card')).toHaveCount(2);
  const header = await stored(page);
  await expect.poll(async () => (await inkOnDisk(page)).filter((s) => s.page === header.pages[1].id).map((s) => s.stamp)).toEqual([null, null, null]);
  await tick(page, 1);
  await button(page, 'Paper').last().click();
  await page.getByRole('radio', { name: 'Cover' }).click();
  await page.getByRole('radio', { name: 'Brick' }).click();
  await button(page, 'Use this paper').click();
  await expect(page.getByTestId('page-1')).toHaveCSS('background-color', 'rgb(181, 56, 42)');
  expect((await stored(page)).pages.map((p) => p.paper.kind)).toEqual(['cover', 'ruled']);
  await end();
});

test('page by page: pages are turned by swiping, by buttons and by what plays, and written on where they are', async () => {
  const { page, pen, end } = await open();
  await write(page, pen, 0, 3, 0);
  await press(page, 'Pages');
  await button(page, 'Add a page at the end').click();
  await button(page, 'Close Pages').click();
  await saved(page);
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Settings' }).click();
  await page.getByRole('switch', { name: 'Page by page, turned sideways' }).click();
  await page.getByRole('tab', { name: 'Today' }).click();
  await page.getByRole('button', { name: /^Open / }).click();
  await expect(page.getByRole('status').filter({ hasText: '1 / 2' })).toBeVisible();
  await expect(page.getByTestId('page-2')).toBeHidden();
  await button(page, 'Next page').click();
  await expect(page.getByTestId('page-2')).toBeVisible();
  await expect(page.getByTestId('page-1')).toBeHidden();
  await expect(button(page, 'Next page')).toBeDisabled();
  const box = (await page.getByTestId('page-2').boundingBox())!;
  await pen.scribble(box.x + 60, box.y + 80);
  await saved(page);
  const header = await stored(page);
  await expect.poll(async () => (await inkOnDisk(page)).filter((s) => s.page === header.pages[1].id).length).toBe(1);
  // For half a second after the pen touches are taken for the hand; there is no event for its end.
  await page.evaluate(() => new Promise((r) => setTimeout(r, 600)));
  // A finger moves pages since a pen was seen: to the right it turns back.
  const y = box.y + 300;
  await pen.fingers('touchStart', [{ x: 120, y }]);
  for (let x = 130; x <= 260; x += 10) await pen.fingers('touchMove', [{ x, y }]);
  await pen.fingers('touchEnd', []);
  await expect(page.getByRole('status').filter({ hasText: '1 / 2' })).toBeVisible();
  await expect(page.getByTestId('page-1')).toBeVisible();
  await press(page, 'Pages');
  await button(page, 'Go to page 2').click();
  await expect(page.getByTestId('page-2')).toBeVisible();
  await end();
});

test('pages go to another note with their ink, stamps and sound', async () => {
  const server = await startServer(true);
  const context = await startBrowser({ viewport: WIDE });
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  const asWas = await inkOnDisk(page);
  await press(page, 'Pages');
  await tick(page, 2);
  await button(page, 'To another note').click();
  await page.getByRole('button', { name: /^Into Open day/ }).click();
  await expect(page.getByText(/The page is at the end of “Open day/)).toBeVisible();
  await expect(page.locator('.page-card')).toHaveCount(1);
  // Taken back, both notes are as they were.
  await button(page, 'Undo moving').click();
  await expect(page.locator('.page-card')).toHaveCount(2);
  await expect.poll(async () => (await headers(page)).find((h) => h.title.startsWith('Open day'))!.pages.length).toBe(1);
  expect(await inkOnDisk(page)).toHaveLength(asWas.length);
  await tick(page, 2);
  await button(page, 'To another note').click();
  await page.getByRole('button', { name: /^Into Open day/ }).click();
  await expect(page.locator('.page-card')).toHaveCount(1);
  await button(page, 'Close Pages').click();
  await saved(page);
  await button(page, 'Back to Today').click();
  await page.getByRole('button', { name: /^Open Open day.*2 pages/ }).click();
  const line = page.locator('.margin-line, [aria-label^="Line written at"]').last();
  await line.waitFor();
  const tides = (await headers(page)).find((h) => h.id.startsWith('demo-tides'))!;
  const openDay = (await headers(page)).find((h) => h.title.startsWith('Open day'))!;
  expect(openDay.takes.map((t) => t.id)).toContain(tides.takes[0].id);
  const moved = (await inkOnDisk(page)).filter((s) => s.page === openDay.pages[1].id);
  expect(moved.length).toBeGreaterThan(50);
  expect(moved.every((s) => s.stamp?.take === tides.takes[0].id)).toBe(true);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('on a dark page ink stays to be read, whatever the interface looks like', async () => {
  const { page, pen, end } = await open();
  await write(page, pen, 0, 3, 0);
  await saved(page);
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Settings' }).click();
  await page.getByText('Dark page', { exact: true }).click();
  await page.getByRole('tab', { name: 'Today' }).click();
  await page.getByRole('button', { name: /^Open / }).click();
  await page.locator('[data-testid="page-1"] canvas').first().waitFor();
  const shot = await page.getByTestId('page-1').evaluate((el) => {
    const sheet = getComputedStyle(el).backgroundColor;
    let brightest = 0;
    for (const canvas of el.querySelectorAll('canvas')) {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      for (let i = 0; i < data.length; i += 4) if (data[i + 3] > 150) brightest = Math.max(brightest, data[i] + data[i + 1] + data[i + 2]);
    }
    return { sheet, brightest, interface: getComputedStyle(document.body).backgroundColor };
  });
  expect(shot.sheet).toBe('rgb(16, 23, 31)');
  expect(shot.interface).toBe('rgb(251, 248, 241)');
  // Navy on white has 12.7:1; on the dark sheet that is nearly white.
  expect(shot.brightest).toBeGreaterThan(600);
  await end();
});
