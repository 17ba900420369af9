/** Pictures behind pages in the real interface. What is to be seen where follows from the picture's own pixels and the size of the sheet (ISO 216: A4). */
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { blankNote, button, Pen, PHONE, saved, startBrowser, startServer, tempFolder, WIDE, press } from '../helpers/app';
import { records } from '../helpers/disk';
import { inkSeen } from '../helpers/inkSeen';
import { QUARTERS, quarters } from '../helpers/picture';
import { pageErrors } from '../helpers/tap';

async function open(viewport = PHONE, scale = 1) {
  const server = await startServer();
  const context = await startBrowser({ viewport, scale });
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  const end = async () => {
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  };
  return { page, url: server.url, end };
}

async function choose(page: Page, file: string): Promise<void> {
  await press(page, 'Paper');
  const chooser = page.waitForEvent('filechooser');
  await button(page, 'Picture behind it').click();
  await (await chooser).setFiles(file);
}

function fileOf(name: string, bytes: Buffer): string {
  const file = path.join(tempFolder(), name);
  writeFileSync(file, bytes);
  return file;
}

/** Colours of the page at places in mm; null where nothing is drawn. */
const colorsAt = (page: Page, places: readonly (readonly [number, number])[]) =>
  page.evaluate((list) => {
    const el = document.querySelector('[data-testid="page-1"]');
    if (!el) return list.map(() => null);
    const box = el.getBoundingClientRect();
    return list.map(([x, y]) => {
      const [px, py] = [box.left + (x * box.width) / 210, box.top + (y * box.width) / 210];
      for (const c of el.querySelectorAll('canvas')) {
        const b = c.getBoundingClientRect();
        if (px < b.left || py < b.top || px >= b.right || py >= b.bottom) continue;
        const [r, g, bl, a] = c.getContext('2d')!.getImageData(Math.floor(((px - b.left) * c.width) / b.width), Math.floor(((py - b.top) * c.height) / b.height), 1, 1).data;
        return a > 250 ? [r, g, bl] : null;
      }
      return null;
    });
  }, places);

/** A picture of 2 to 1 lies whole across an A4 sheet: 210 mm by 105 mm, in the middle of 297 mm. Places between the lines of the ruling. */
const PLACES = [[50, 118], [160, 118], [50, 174], [160, 174]] as const;
const near = (seen: readonly number[] | null, color: readonly number[]) => seen !== null && color.every((v, i) => Math.abs(v - seen[i]) <= 6);
const shows = async (page: Page) => (await colorsAt(page, PLACES)).map((c, i) => near(c, QUARTERS[i]));
/** Keys of what is kept of pictures; the browser's database for it comes with the first. */
const contents = async (page: Page) => {
  const made = await page.evaluate(async () => (await indexedDB.databases()).some((d) => d.name === 'scrivo-sound'));
  return made ? Object.keys(await records(page, 'scrivo-sound')).filter((k) => k.startsWith('content/')) : [];
};

for (const [name, viewport] of [['phone', PHONE], ['wide', WIDE]] as const) {
  test(`a picture lies behind the ruling, is taken back and put again, outlives a reload, and goes when nothing needs it (${name})`, async () => {
    const { page, end } = await open(viewport);
    const bytes = quarters(1200, 600);
    const hash = createHash('sha256').update(bytes).digest('hex');
    await choose(page, fileOf('chart.png', bytes));
    await expect(page.getByText('The picture lies behind the page.')).toBeVisible();
    await expect.poll(() => shows(page)).toEqual([true, true, true, true]);
    // Above the picture there is only the sheet and its lines.
    expect(await colorsAt(page, [[100, 60]])).toEqual([null]);
    await button(page, 'Close Paper').click();
    await button(page, 'Undo').first().click();
    await expect.poll(() => shows(page)).toEqual([false, false, false, false]);
    await saved(page);
    // It can be put again, so it is still kept.
    expect((await contents(page)).every((k) => k.startsWith(`content/${hash}/`))).toBe(true);
    await press(page, 'Redo');
    await expect.poll(() => shows(page)).toEqual([true, true, true, true]);
    await saved(page);
    await page.reload();
    await expect.poll(() => shows(page)).toEqual([true, true, true, true]);
    const pen = await Pen.on(page);
    const box = (await page.getByTestId('page-1').boundingBox())!;
    const k = box.width / 210;
    await pen.stroke([{ x: box.x + 30 * k, y: box.y + 140 * k }, { x: box.x + 90 * k, y: box.y + 140 * k }]);
    await expect.poll(() => inkSeen(page, 1, [[60, 140]])).toEqual([true]);

    await press(page, 'Paper');
    await button(page, 'Remove picture').click();
    await button(page, 'Close Paper').click();
    await expect.poll(() => shows(page)).toEqual([false, false, false, false]);
    await saved(page);
    expect(await contents(page)).not.toEqual([]);
    // Once another note is open the step can no longer be taken back.
    await button(page, 'Back to Today').click();
    await blankNote(page);
    await expect.poll(() => contents(page)).toEqual([]);
    await end();
  });
}

test('the picture is part of pictures in small, and a copied page keeps it when the first one goes', async () => {
  const { page, end } = await open();
  const bytes = quarters(1200, 600);
  await choose(page, fileOf('chart.png', bytes));
  await expect.poll(() => shows(page)).toEqual([true, true, true, true]);
  await button(page, 'Close Paper').click();
  await press(page, 'Pages');
  const small = (index: number) =>
    page.locator('.page-card canvas').nth(index).evaluate((c: HTMLCanvasElement) => [...c.getContext('2d')!.getImageData(Math.round(c.width * 0.25), Math.round(c.height * 0.41), 1, 1).data.slice(0, 3)]);
  await expect.poll(async () => near(await small(0), QUARTERS[0])).toBe(true);
  await page.getByLabel('Choose page 1', { exact: true }).click();
  await button(page, 'Duplicate').click();
  await expect(page.locator('.page-card')).toHaveCount(2);
  await button(page, 'Delete').click();
  await expect(page.locator('.page-card')).toHaveCount(1);
  await page.getByRole('button', { name: 'Go to page 1' }).click();
  await expect.poll(() => shows(page)).toEqual([true, true, true, true]);
  await saved(page);
  await button(page, 'Back to Today').click();
  await blankNote(page);
  await button(page, 'Back to Today').click();
  expect(await contents(page)).toHaveLength(1);
  // The picture of the note in the list is drawn in a worker.
  const listed = () =>
    page.evaluate(async () => {
      const colors: number[][] = [];
      for (const img of document.querySelectorAll<HTMLImageElement>('.note-sheet img')) {
        await img.decode();
        const c = document.createElement('canvas');
        [c.width, c.height] = [img.naturalWidth, img.naturalHeight];
        const ctx = c.getContext('2d')!;
        ctx.drawImage(img, 0, 0);
        colors.push([...ctx.getImageData(Math.round(c.width * 0.25), Math.round(c.height * 0.41), 1, 1).data.slice(0, 3)]);
      }
      return colors;
    });
  await expect.poll(async () => (await listed()).some((c) => c.every((v, i) => Math.abs(v - QUARTERS[0][i]) <= 20))).toBe(true);
  await end();
});

test('what is no picture is refused in a sentence, and a picture that was damaged on disk is told', async () => {
  const { page, url, end } = await open();
  await choose(page, fileOf('words.png', Buffer.from('no picture at all')));
  await expect(page.getByText(/“words\.png” was not put behind the page: it is no picture that this browser can show.*Nothing was changed/)).toBeVisible();
  await button(page, 'Close Paper').click();
  // A drawing that asks for 10^12 shapes is not even begun.
  const nested = `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><g id="n0"><rect width="1" height="1"/></g>${Array.from({ length: 12 }, (_, i) => `<g id="n${i + 1}">${`<use href="#n${i}"/>`.repeat(10)}</g>`).join('')}<use href="#n12"/></svg>`;
  await choose(page, fileOf('nested.svg', Buffer.from(nested)));
  await expect(page.getByText(/“nested\.svg” was not put behind the page: it is no picture that this browser can show/)).toBeVisible();
  expect(await contents(page)).toEqual([]);
  await button(page, 'Close Paper').click();
  await choose(page, fileOf('chart.png', quarters(400, 200)));
  await expect.poll(() => shows(page)).toEqual([true, true, true, true]);
  await saved(page);
  const [key] = await contents(page);
  await page.evaluate(async (k) => {
    const db = await new Promise<IDBDatabase>((resolve) => {
      const asked = indexedDB.open('scrivo-sound');
      asked.onsuccess = () => resolve(asked.result);
    });
    const tx = db.transaction(db.objectStoreNames[0], 'readwrite');
    tx.objectStore(db.objectStoreNames[0]).put('1\nx', k);
    await new Promise((resolve) => (tx.oncomplete = resolve));
    db.close();
  }, key);
  await page.goto(url);
  await page.getByRole('button', { name: /^Open / }).click();
  await expect(page.getByText(/The picture behind a page cannot be shown: it is not on this device, or damaged\. The page and its ink are all there/)).toBeVisible();
  await end();
});
