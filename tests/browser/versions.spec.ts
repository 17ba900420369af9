/** What was changed on two devices: told by the restore, seen side by side, chosen by one touch; and a merge that is taken back. */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { bytesOf } from '../../src/core/formats/blobFile';
import { hereAndNow } from '../../src/core/formats/bundle';
import { applyEdit, put } from '../../src/core/note/edit';
import { makeTyped } from '../../src/core/note/kinds/typed';
import { button, PHONE, ROOT, startBrowser, startServer, tempFolder } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

const FILE = path.join(ROOT, 'demo/notes/demo-tides-0000000001.scrivo');

/** The demo note as a tablet gives it back: another title and a line more, typed an hour ago. */
async function returned(): Promise<string> {
  const { note, takes } = await hereAndNow.readBundle(new Uint8Array(readFileSync(FILE)));
  const by = { device: 'tablet', now: Date.now() - 3_600_000 };
  const look = { face: 'sans', size: 12, color: '#16324f' } as const;
  const line = makeTyped({ id: 'from-the-tablet', page: note.header.pages[0].id, stamp: null, wall: by.now, text: 'Ask for the gauge', looks: [[17, look]], times: [{ stamp: null, wall: by.now, t: Array.from({ length: 17 }, (_, i) => i * 90) }], flow: 'f', n: 0, m: [1, 0, 0, 1, 20, 120], width: 120, pitch: 8 });
  const there = applyEdit(note, { put: [line], rows: [put('note', 'title', { value: 'Tides, from the tablet' })] }, by).note;
  const file = path.join(tempFolder(), 'returned.scrivo');
  writeFileSync(file, await bytesOf(await hereAndNow.writeBundle({ note: there, takes })));
  return file;
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
  const chooser = page.waitForEvent('filechooser');
  await button(page, 'Restore').click();
  await (await chooser).setFiles(await returned());
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
  await expect(page.getByText(/Neaps and springs: the title\. The later change stands/)).toBeVisible();
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
