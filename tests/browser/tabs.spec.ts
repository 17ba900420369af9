/** Several tabs of one browser: none undoes what another did, and nothing goes that another has in hand. */
import { expect, test } from '@playwright/test';
import { blankNote, button, Pen, recordNew, saved, startBrowser, startServer, press } from '../helpers/app';
import { headersOnDisk, inkOnDisk, records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

async function two() {
  const server = await startServer();
  const context = await startBrowser();
  const first = context.pages()[0];
  await first.goto(server.url);
  const second = await context.newPage();
  await second.goto(server.url);
  await second.getByText('No notes yet.', { exact: false }).waitFor();
  const end = async () => {
    for (const page of [first, second]) expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  };
  return { first, second, url: server.url, end };
}

test('a note that another tab writes is not deleted for good; once it is left there, it is', async () => {
  const { first, second, end } = await two();
  await blankNote(first);
  const pen = await Pen.on(first);
  const box = (await first.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 60, box.y + 80);
  await saved(first);
  await second.getByRole('tab', { name: 'Library' }).click();
  await second.getByRole('button', { name: /^What to do with/ }).first().click();
  await button(second, 'Delete').click();
  await second.getByRole('tab', { name: 'Bin 1' }).click();
  await button(second, 'Empty the bin').click();
  await button(second, 'Delete for good').click();
  await expect(second.getByText(/is open in another tab\. Close it there first, then delete it\./)).toBeVisible();
  await pen.scribble(box.x + 60, box.y + 140);
  await saved(first);
  await expect.poll(async () => (await inkOnDisk(first)).length).toBe(2);
  // Another note is opened there: the first one is free.
  await button(first, 'Back to Today').click();
  await blankNote(first);
  await saved(first);
  await button(second, 'Empty the bin').click();
  await button(second, 'Delete for good').click();
  await expect(second.getByText('The bin is empty.')).toBeVisible();
  await expect.poll(async () => (await headersOnDisk(first)).length).toBe(1);
  expect(await inkOnDisk(first)).toEqual([]);
  await end();
});

test('settings of two tabs do not undo each other, and show in both at once', async () => {
  const { first, second, end } = await two();
  await blankNote(first);
  await second.getByRole('tab', { name: 'Settings' }).click();
  await second.getByRole('switch', { name: /^Left-handed/ }).click();
  await expect(first.locator('.surface[data-hand="left"]')).toBeVisible();
  // The other tab changes something else of its own.
  await first.keyboard.press('2');
  const stored = async () => JSON.parse((await records(first, 'scrivo')).settings) as { leftHanded: boolean; pen: number };
  await expect.poll(async () => (await stored()).pen).toBe(1);
  expect((await stored()).leftHanded).toBe(true);
  // And what is in hand in a tab stays in hand when the other changes a setting.
  await second.getByRole('switch', { name: /^Left-handed/ }).click();
  await expect(first.locator('.surface[data-hand="right"]')).toBeVisible();
  expect((await stored()).pen).toBe(1);
  await end();
});

test('a pen that comes down in Listen while a recording runs is told, and one touch makes it write', async () => {
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  await button(page, 'Listen').click();
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 60, box.y + 80);
  await expect(page.getByText('This is Listen, where the pen does not write. The recording goes on.')).toBeVisible();
  await page.getByRole('alert').or(page.getByRole('status')).getByRole('button', { name: 'Write', exact: true }).first().click();
  await expect(page.locator('.surface[data-mode="write"]')).toBeVisible();
  await pen.scribble(box.x + 60, box.y + 80);
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(1);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('an Undo that is offered takes back its own step: it goes with the next one', async () => {
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  await saved(page);
  await press(page, 'Pages');
  await page.getByLabel('Choose page 1', { exact: true }).click();
  await button(page, 'Delete').click();
  const said = page.getByText('The page and its ink were deleted.');
  await expect(said).toBeVisible();
  await page.getByRole('button', { name: 'Go to page 1' }).click();
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 60, box.y + 80);
  await expect(said).toHaveCount(0);
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(1);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
