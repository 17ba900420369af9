/** The library in the real interface: folders, search, several notes at once, archive, bin, copies, and the folder a new note is offered. */
import { expect, test, type Page } from '@playwright/test';
import { blankNote, button, Pen, saved, startBrowser, startServer, WIDE } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { records } from '../helpers/disk';
import { write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

const TIDES = 'Tides and the rule of twelfths';
const opens = (page: Page) => page.getByRole('button', { name: /^Open / });

async function library(viewport?: typeof WIDE) {
  const server = await startServer('loose');
  const context = await startBrowser(viewport ? { viewport } : {});
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(opens(page)).toHaveCount(3);
  await page.getByRole('tab', { name: 'Library' }).click();
  await expect(opens(page)).toHaveCount(3);
  const end = async () => {
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  };
  return { page, server, end };
}

async function newFolder(page: Page, name: string): Promise<void> {
  await button(page, 'New folder').click();
  await page.getByLabel('Name of the folder').fill(name);
  await page.getByRole('radio', { name: 'teal' }).click();
  await button(page, 'Save').click();
  await page.getByRole('button', { name: new RegExp(`^Folder ${name}`) }).first().waitFor();
}

const choose = async (page: Page, ...titles: string[]) => {
  await button(page, 'Select').click();
  for (const title of titles) await page.getByLabel(`Choose ${title}`).check();
};

test('folders in folders; several notes moved at once, and back by one touch; tags; everything is found', async () => {
  const { page, end } = await library();
  await newFolder(page, 'Navigation');
  await page.getByRole('button', { name: /^Folder Navigation/ }).click();
  await newFolder(page, 'Currents');
  await button(page, 'Library').click();
  const titles = await page.locator('.note-title').allTextContents();
  const [interview, committee] = titles.filter((t) => t.startsWith('Interview') || t.startsWith('Open day'));
  await choose(page, TIDES, interview);
  await button(page, 'Move').click();
  await button(page, 'Into Currents').click();
  await expect(opens(page)).toHaveCount(1);
  await button(page, 'Undo').click();
  await expect(opens(page)).toHaveCount(3);
  await choose(page, TIDES, interview);
  await button(page, 'Move').click();
  await button(page, 'Into Currents').click();
  await expect(page.getByRole('button', { name: 'Folder Navigation, 2 notes' })).toBeVisible();
  await button(page, `What to do with ${committee}`).click();
  await button(page, 'Other tags').click();
  await page.getByLabel('New tag').fill('Budget');
  await button(page, 'Save').click();
  await expect(page.locator('.note-chip', { hasText: 'Budget' })).toBeVisible();

  const search = page.getByLabel('Search library');
  for (const [query, n] of [['currents', 2], ['navigation twelfths', 1], ['BUDGET', 1], ['nothing like it', 0]] as const) {
    await search.fill(query);
    await expect(page.getByText(n ? `${n} found` : `No title, folder, tag or mark matches “${query}”.`)).toBeVisible();
    await expect(opens(page)).toHaveCount(n);
  }
  // What was deleted is found no more, and again once it is back.
  await search.fill('BUDGET');
  await button(page, `What to do with ${committee}`).click();
  await button(page, 'Delete').click();
  await expect(page.getByText('No title, folder, tag or mark matches “BUDGET”.')).toBeVisible();
  await expect(opens(page)).toHaveCount(0);
  await button(page, 'Undo').click();
  await expect(opens(page)).toHaveCount(1);
  await search.fill('');
  await page.getByLabel('Sort by').selectOption('name');
  await page.getByRole('tab', { name: 'All notes' }).click();
  const names = await page.locator('.note-row .note-title').allTextContents();
  expect(names).toEqual([...names].sort((a, b) => a.localeCompare(b)));
  // All of it is there again after a reload.
  await page.reload();
  await page.getByRole('button', { name: 'Folder Navigation, 2 notes' }).click();
  await page.getByRole('button', { name: 'Folder Currents, 2 notes' }).click();
  await expect(opens(page)).toHaveCount(2);
  // A folder that goes leaves its notes where it was.
  await button(page, 'Navigation').click();
  await button(page, 'What to do with the folder Currents').click();
  await button(page, 'Remove the folder, keep its notes').click();
  await expect(opens(page)).toHaveCount(2);
  await expect(page.getByRole('heading', { level: 1, name: 'Navigation' })).toBeVisible();
  await end();
});

test('a finished note is archived and found; a deleted one lies in the bin, comes back, and goes for good with its sound', async () => {
  const { page, end } = await library();
  await choose(page, TIDES);
  await button(page, 'Archive').click();
  await expect(opens(page)).toHaveCount(2);
  await page.getByLabel('Search library').fill('twelfths');
  await expect(opens(page)).toHaveCount(1);
  await page.getByLabel('Search library').fill('');
  await page.getByRole('tab', { name: 'Today' }).click();
  await expect(opens(page)).toHaveCount(2);
  await page.getByRole('tab', { name: 'Library' }).click();
  await page.getByRole('tab', { name: 'Archive 1' }).click();
  await button(page, `What to do with ${TIDES}`).click();
  await button(page, 'Delete').click();
  await page.getByRole('tab', { name: 'Bin 1' }).click();
  await expect(page.getByText('30 days left')).toBeVisible();
  await button(page, `What to do with ${TIDES}`).click();
  await button(page, 'Put back').click();
  await expect(page.getByText('The bin is empty.')).toBeVisible();
  await page.getByRole('tab', { name: 'Archive 1' }).click();
  await button(page, `What to do with ${TIDES}`).click();
  await button(page, 'Delete').click();
  await page.getByRole('tab', { name: 'Bin 1' }).click();
  const before = Object.keys(await records(page, 'scrivo-sound'));
  await button(page, 'Empty the bin').click();
  await button(page, 'Delete for good').click();
  await expect(page.getByText('The bin is empty.')).toBeVisible();
  const id = 'demo-tides-0000000001';
  expect(Object.keys(await records(page, 'scrivo')).filter((k) => k.includes(id))).toEqual([]);
  expect(Object.keys(await records(page, 'scrivo-sound')).length).toBeLessThan(before.length);
  await end();
});

test('what has lain in the bin for 30 days goes by itself, and not by a clock that jumps', async () => {
  const { page, end } = await library();
  await button(page, `What to do with ${TIDES}`).click();
  await button(page, 'Delete').click();
  await page.getByRole('tab', { name: 'Bin 1' }).click();
  await page.clock.setSystemTime(Date.now() + 29 * 86_400_000);
  await page.reload();
  await page.getByRole('tab', { name: 'Bin 1' }).click();
  await expect(page.getByText('1 day left')).toBeVisible();
  const day = async (n: number) => {
    await page.clock.setSystemTime(Date.now() + n * 86_400_000);
    await page.reload();
  };
  const counted = async () => JSON.parse((await records(page, 'scrivo')).due ?? '{"days":{}}').days as Record<string, string[]>;
  const days = async () => Object.values(await counted()).map((d) => d.length);
  // A clock that ran ahead by a month, twice, and was set right again.
  for (let i = 0; i < 2; i++) {
    await day(31);
    await expect.poll(days).toEqual([1]);
    await day(0);
    await expect.poll(days).toEqual([]);
  }
  // The month really went by: on the third day of use it goes.
  await day(31);
  await expect.poll(days).toEqual([1]);
  await day(33);
  await expect.poll(days).toEqual([2]);
  await page.getByRole('tab', { name: 'Bin 1' }).click();
  await expect(page.getByText('goes within days')).toBeVisible();
  await day(34);
  await expect(opens(page)).toHaveCount(2);
  await page.getByRole('tab', { name: 'Bin', exact: true }).click();
  await expect(page.getByText('The bin is empty.')).toBeVisible();
  await end();
});

test('a copy has its own ink and the same sound, which stays as long as one of them has it', async () => {
  const { page, end } = await library();
  await button(page, `What to do with ${TIDES}`).click();
  await button(page, 'Duplicate').click();
  const copy = page.getByRole('button', { name: new RegExp(`^Open ${TIDES} \\(copy\\)`) });
  await copy.waitFor();
  const sound = Object.keys(await records(page, 'scrivo-sound')).filter((k) => !k.startsWith('heard/'));
  // The original goes for good; the copy still plays.
  await button(page, `What to do with ${TIDES}`).click();
  await button(page, 'Delete').click();
  await page.getByRole('tab', { name: 'Bin 1' }).click();
  await button(page, 'Empty the bin').click();
  await button(page, 'Delete for good').click();
  await expect(page.getByText('The bin is empty.')).toBeVisible();
  expect(Object.keys(await records(page, 'scrivo-sound')).filter((k) => !k.startsWith('heard/'))).toEqual(sound);
  await page.getByRole('tab', { name: 'All notes' }).click();
  await copy.click();
  await page.getByRole('button', { name: /^(Line|Drawing) written at/ }).nth(3).click();
  await button(page, 'Pause').waitFor();
  await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 0);
  await end();
});

test('with a mouse notes are dragged onto folders, and folders into each other', async () => {
  const { page, end } = await library(WIDE);
  await newFolder(page, 'Navigation');
  await newFolder(page, 'Currents');
  const folder = (name: string) => page.getByRole('navigation', { name: 'Folders' }).getByRole('button', { name: new RegExp(`^Folder ${name}`) });
  await page.locator('.drag-host', { hasText: TIDES }).dragTo(folder('Currents'));
  await expect(folder('Currents')).toHaveAttribute('aria-label', 'Folder Currents, 1 note');
  await folder('Currents').dragTo(folder('Navigation'));
  await expect(folder('Navigation')).toHaveAttribute('aria-label', 'Folder Navigation, 1 note');
  // Into itself it does not go.
  await folder('Navigation').dragTo(folder('Currents'));
  await expect(page.getByText('“Navigation” cannot be put into itself.')).toBeVisible();
  await expect(page.getByText('2 notes')).toBeVisible();
  await end();
});

test('page pictures show the ink of each note, and are drawn anew when it changes', async () => {
  const { page, end } = await library();
  await button(page, 'Show page pictures').click();
  const pictures = page.locator('.note-card img');
  await expect(pictures).toHaveCount(3);
  const dark = (of: number) =>
    pictures.nth(of).evaluate(async (img: HTMLImageElement) => {
      await img.decode();
      const canvas = new OffscreenCanvas(img.naturalWidth, img.naturalHeight);
      const ctx = canvas.getContext('2d')!;
      ctx.drawImage(img, 0, 0);
      const { data } = ctx.getImageData(0, 0, canvas.width, canvas.height);
      let n = 0;
      for (let i = 0; i < data.length; i += 4) if (data[i] + data[i + 1] + data[i + 2] < 560) n++;
      return n;
    });
  for (let i = 0; i < 3; i++) expect(await dark(i)).toBeGreaterThan(100);
  await page.getByRole('tab', { name: 'Today' }).click();
  await blankNote(page);
  await write(page, await Pen.on(page), 0, 5, 0);
  await saved(page);
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Library' }).click();
  await expect(pictures).toHaveCount(4);
  // First its picture of before may be shown, which is of an empty page.
  await expect.poll(() => dark(0)).toBeGreaterThan(10);
  const few = await dark(0);
  // More ink, another picture.
  await opens(page).first().click();
  await button(page, 'Write').click();
  await write(page, await Pen.on(page), 5, 30, 0);
  await saved(page);
  await button(page, 'Back to Library').click();
  await page.getByRole('tab', { name: 'Library' }).click();
  await expect.poll(() => dark(0)).toBeGreaterThan(2 * few);
  await end();
});

test('a new note is offered the folder that notes of this weekday and hour lie in', async () => {
  const { page, end } = await library();
  await newFolder(page, 'Navigation');
  await page.getByRole('tab', { name: 'Today' }).click();
  const note = async (days: number) => {
    await page.clock.setSystemTime(Date.UTC(2026, 10, 2, 9, 5) + days * 86_400_000);
    await blankNote(page);
    await write(page, await Pen.on(page), 0, 1, 0);
    await saved(page);
  };
  await note(0);
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Library' }).click();
  await page.getByRole('button', { name: /^What to do with 09:05, Mon/ }).click();
  await button(page, 'Move to a folder').click();
  await button(page, 'Into Navigation').click();
  await page.getByRole('tab', { name: 'Today' }).click();
  await note(9);
  await expect(page.getByText('Does this note belong in “Navigation”?')).toHaveCount(0);
  await button(page, 'Back to Today').click();
  await note(7);
  await expect(page.getByText('Does this note belong in “Navigation”?')).toBeVisible();
  await button(page, 'Put it there').click();
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Library' }).click();
  await expect(page.getByRole('button', { name: 'Folder Navigation, 2 notes' })).toBeVisible();
  await end();
});
