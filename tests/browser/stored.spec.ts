/** What was written and recorded stays over a reload, and with two tabs. */
import { expect, test } from '@playwright/test';
import { blankNote, button, Pen, press, recordNew, saved, startBrowser, startServer } from '../helpers/app';
import { inkOnDisk, records } from '../helpers/disk';
import { place, write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

test('notes, ink, stamps and sound are the same after a reload', async () => {
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, 5, 400);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await page.getByRole('button', { name: /^Rename / }).click();
  await page.getByLabel('Title of the note').fill('Buoyage');
  await page.keyboard.press('Enter');
  await saved(page);
  // What is known of the sound is worked out from it, and may come at any moment.
  // Whether a note is being written, which its record says until it is left, is no part of it.
  const settled = (all: Record<string, string>) => Object.fromEntries(Object.entries(all).map(([k, text]) => [k, k.startsWith('note/') ? text.replace(/"state":"\w*","takes"/, '"takes"') : text]));
  const kept = async () => [settled(await records(page, 'scrivo')), Object.fromEntries(Object.entries(await records(page, 'scrivo-sound')).filter(([k]) => !k.startsWith('heard/')))];
  // Five strokes and the title are steps, and their order is one more record.
  await expect.poll(async () => Object.keys(await records(page, 'scrivo')).filter((k) => k.startsWith('history/')).length).toBe(7);
  // That touching a word was explained once is a setting, stored by itself.
  await expect.poll(async () => (await records(page, 'scrivo')).settings ?? '').toContain('"told":["listen"]');
  const before = await kept();
  await page.reload();
  await page.getByRole('button', { name: 'Rename Buoyage' }).waitFor();
  await page.getByRole('button', { name: /^Line written at/ }).first().waitFor();
  expect(await kept()).toEqual(before);
  expect(Object.keys(before[1]).length).toBeGreaterThanOrEqual(1);
  expect(await inkOnDisk(page)).toHaveLength(5);
  await context.close();
  await server.close();
});

test('undo and redo reach the disk, and the eraser takes whole strokes', async () => {
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, 4, 100);
  const count = async (n: number) => {
    await saved(page);
    await expect.poll(async () => (await inkOnDisk(page)).length).toBe(n);
  };
  await count(4);
  await button(page, 'Undo').click();
  await count(3);
  await press(page, 'Redo');
  await count(4);
  const all = await inkOnDisk(page);
  await button(page, 'Eraser').click();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.stroke([place(1), { x: place(1).x + 10, y: place(1).y + 8 }, { x: place(1).x + 20, y: place(1).y }].map((p) => ({ x: p.x + box.x, y: p.y + box.y })));
  await count(3);
  await page.keyboard.press('Control+z');
  await count(4);
  /** All but the version, which goes on with every change. */
  const byId = (list: typeof all) => list.map(({ s: _, ...it }) => it).sort((a, b) => (a.id < b.id ? -1 : 1));
  expect(byId(await inkOnDisk(page))).toEqual(byId(all));
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('two tabs: one writes, the other says so, follows, and takes over without losing a stroke', async () => {
  const server = await startServer();
  const context = await startBrowser();
  const one = context.pages()[0];
  await one.goto(server.url);
  await blankNote(one);
  const pen = await Pen.on(one);
  await write(one, pen, 0, 3, 100);
  await saved(one);
  const two = await context.newPage();
  await two.goto(one.url());
  await expect(two.getByText('This note is being written in another tab.', { exact: false })).toBeVisible();
  await one.bringToFront();
  await write(one, pen, 3, 6, 100);
  await saved(one);
  // What one writes the other shows: its page finds words for all of it.
  await two.bringToFront();
  await button(two, 'Listen').click();
  await expect(two.getByRole('button', { name: 'Line written without sound' })).toHaveCount(2);
  // In the following tab the pen changes nothing.
  await button(two, 'Write').click();
  const penTwo = await Pen.on(two);
  await write(two, penTwo, 6, 7, 50);
  expect(await inkOnDisk(two)).toHaveLength(6);
  await button(two, 'Write here').click();
  await expect(two.locator('[data-testid="save-state"]')).toHaveText('Saved');
  await write(two, penTwo, 6, 8, 50);
  await saved(two);
  await expect.poll(async () => (await inkOnDisk(two)).length).toBe(8);
  await one.bringToFront();
  await expect(one.getByText('Another tab has taken over', { exact: false })).toBeVisible();
  expect(await pageErrors(one)).toEqual([]);
  expect(await pageErrors(two)).toEqual([]);
  await context.close();
  await server.close();
});
