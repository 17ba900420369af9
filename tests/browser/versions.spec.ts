/** What was changed on two devices: told by the restore, seen side by side, chosen by one touch; and a merge that is taken back. */
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { put } from '../../src/core/note/edit';
import { move } from '../../src/core/ink/transform';
import { mapPlaced, strokesOf } from '../../src/core/note/kinds/kinds';
import { makePicture } from '../../src/core/note/kinds/picture';
import { makeTyped } from '../../src/core/note/kinds/typed';
import { sha256Hex } from '../../src/core/hash';
import { button, PHONE, startBrowser, startServer, WIDE } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { records } from '../helpers/disk';
import { changedOn, fileOf, restoreFile, tidesNote } from '../helpers/otherDevices';
import { QUARTERS, quarters } from '../helpers/picture';
import { pageErrors } from '../helpers/tap';

/** The demo note as a tablet gives it back: another title and a line more, typed an hour ago. */
async function returned(): Promise<string> {
  const { note, takes } = await tidesNote();
  const look = { face: 'sans', size: 12, color: '#16324f' } as const;
  const line = makeTyped({ id: 'from-the-tablet', page: note.header.pages[0].id, stamp: null, wall: Date.now() - 3_600_000, text: 'Ask for the gauge', looks: [[17, look]], times: [{ stamp: null, wall: Date.now() - 3_600_000, t: Array.from({ length: 17 }, (_, i) => i * 90) }], flow: 'f', n: 0, m: [1, 0, 0, 1, 20, 120], width: 120, pitch: 8 });
  return fileOf({ note: changedOn('tablet', 1, note, { put: [line], rows: [put('note', 'title', { value: 'Tides, from the tablet' })] }), takes });
}

const title = (page: Page, name: string) => page.getByRole('button', { name: new RegExp(`^Open ${name}`) });

async function menu(page: Page, name: string): Promise<void> {
  await title(page, name).click({ button: 'right' });
  await page.getByRole('dialog').waitFor();
}

/** The demo note with a title given here and another on the tablet, restored: the report stands. */
async function restoredOverOwn() {
  const server = await startServer(true);
  const context = await startBrowser({ viewport: PHONE });
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('tab', { name: 'Library' }).click();
  await page.getByRole('tab', { name: 'All notes' }).click();
  await menu(page, 'Tides');
  await button(page, 'Rename').click();
  await page.getByLabel('Title of the note').fill('Neaps and springs');
  await button(page, 'Save').click();
  await expect(title(page, 'Neaps and springs')).toBeVisible();
  await page.getByRole('tab', { name: 'Settings' }).click();
  await restoreFile(page, await returned());
  await expect(page.getByText('1 changed on both sides')).toBeVisible();
  const end = async () => {
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  };
  return { page, end };
}

test('two titles of the same note stand side by side after a restore; one touch takes the other, and the merge can be taken back', async () => {
  const { page, end } = await restoredOverOwn();
  await expect(page.getByText(/“Neaps and springs”: the title\. The later change stands/)).toBeVisible();
  await button(page, 'Compare versions of Neaps and springs').click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('Tides, from the tablet')).toBeVisible();
  if (process.env.SCRIVO_SHOTS) await page.screenshot({ path: path.join(process.env.SCRIVO_SHOTS, 'versions.png') });
  await button(page, 'Use the other version of the title').click();
  await expect(dialog.getByText('Nothing is left to choose.')).toBeVisible();
  await dialog.getByRole('button', { name: 'Done' }).click();
  await button(page, 'Done').click();

  await page.getByRole('tab', { name: 'Library' }).click();
  await page.getByRole('tab', { name: 'All notes' }).click();
  await expect(title(page, 'Tides, from the tablet')).toBeVisible();
  const typed = async () => Object.entries(await records(page, 'scrivo')).some(([key, text]) => key.startsWith('ink/demo-tides') && text.includes('Ask for the gauge'));
  expect(await typed()).toBe(true);
  await menu(page, 'Tides, from the tablet');
  await button(page, 'Undo last merge').click();
  await expect(page.getByText(/as it was before the last restore/)).toBeVisible();
  // What the restore brought is gone; what was chosen since then is the writer's own, and stands.
  expect(await typed()).toBe(false);
  await menu(page, 'Tides, from the tablet');
  await expect(button(page, 'Duplicate')).toBeVisible();
  await expect(button(page, 'Undo last merge')).toHaveCount(0);
  await end();
});

test('what waits to be chosen is listed on Review too', async () => {
  const { page, end } = await restoredOverOwn();
  await button(page, 'Done').click();
  await page.reload();
  await page.getByRole('tab', { name: 'Review' }).click();
  await expect(page.getByText('One change lost against another device.')).toBeVisible();
  if (process.env.SCRIVO_SHOTS) await page.screenshot({ path: path.join(process.env.SCRIVO_SHOTS, 'review.png') });
  await button(page, 'Compare versions in Neaps and springs').click();
  await button(page, 'Keep the current version of the title').click();
  await expect(page.getByText('Nothing is left to choose.')).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Done' }).click();
  await expect(page.getByText('One change lost against another device.')).toHaveCount(0);
  await end();
});

test('ink and a picture that were moved on two devices are seen in both places, with what lies around; both are kept by one touch', async () => {
  const { note, takes } = await tidesNote();
  const page = note.header.pages[0].id;
  const bytes = new Uint8Array(quarters(60, 40));
  const content = await sha256Hex(bytes);
  const picture = makePicture({ id: 'chart', page, stamp: null, wall: 1, content, px: [60, 40], m: [30, 0, 0, 20, 20, 200] });
  const base = changedOn('school', 9, note, { put: [picture] });
  const stroke = strokesOf(base.ink[page]).find((s) => s.pts.length > 20)!;
  const moved = (by: readonly [number, number]) => ({ put: [stroke, picture].map((it) => mapPlaced(it, move(...by), page)) });
  const desk = changedOn('desk', 5, base, moved([0, 6]));
  const tablet = changedOn('tablet', 3, base, moved([-8, 0]));
  const server = await startServer();
  const context = await startBrowser({ viewport: PHONE });
  const app = context.pages()[0];
  await app.goto(server.url);
  await app.getByRole('tab', { name: 'Settings' }).click();
  for (const side of [desk, tablet]) {
    await restoreFile(app, await fileOf({ note: side, takes, contents: new Map([[content, bytes]]) }));
    await button(app, 'Done').click();
  }
  await app.getByRole('tab', { name: 'Library' }).click();
  await app.getByRole('tab', { name: 'All notes' }).click();
  await menu(app, 'Tides');
  await button(app, 'Compare versions (2)').click();
  const sides = (name: string) => app.getByRole('listitem').filter({ hasText: name }).locator('canvas');
  // Where ink of the colour lies, as shares of the picture: left and top.
  const seen = (name: string, side: number, [r, g, b]: readonly number[]) =>
    sides(name).nth(side).evaluate((el, rgb) => {
      const c = el as HTMLCanvasElement;
      const { data } = c.getContext('2d')!.getImageData(0, 0, c.width, c.height);
      let [left, top, n] = [c.width, c.height, 0];
      for (let i = 0; i < data.length; i += 4) {
        if (data[i + 3] < 250 || Math.abs(data[i] - rgb[0]) + Math.abs(data[i + 1] - rgb[1]) + Math.abs(data[i + 2] - rgb[2]) > 40) continue;
        [left, top, n] = [Math.min(left, (i / 4) % c.width), Math.min(top, Math.floor(i / 4 / c.width)), n + 1];
      }
      return { left: left / c.width, top: top / c.height, n };
    }, [r, g, b]);
  const color = [1, 3, 5].map((i) => Number.parseInt(stroke.pen.color.slice(i, i + 2), 16));
  for (const [name, rgb] of [['Ink on page 1', color], ['A picture on page 1', QUARTERS[0]]] as const) {
    await expect.poll(async () => (await seen(name, 0, rgb)).n).toBeGreaterThan(10);
    const [current, other] = [await seen(name, 0, rgb), await seen(name, 1, rgb)];
    // The tablet's change stands: farther left, and not so far down.
    expect([current.left < other.left - 0.05, current.top < other.top - 0.05]).toEqual([true, true]);
  }
  if (process.env.SCRIVO_SHOTS) {
    await app.screenshot({ path: path.join(process.env.SCRIVO_SHOTS, 'compare-phone.png') });
    await app.setViewportSize(WIDE);
    await app.screenshot({ path: path.join(process.env.SCRIVO_SHOTS, 'compare-wide.png') });
    await app.setViewportSize(PHONE);
  }
  await button(app, 'Keep both versions of a picture on page 1').click();
  await button(app, 'Use the other version of ink on page 1').click();
  await app.getByText('Nothing is left to choose.').waitFor();
  await app.getByRole('dialog').getByRole('button', { name: 'Done' }).click();
  expect(await pageErrors(app)).toEqual([]);
  await context.close();
  await server.close();
});
