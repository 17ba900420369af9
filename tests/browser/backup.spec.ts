/** Backing up and restoring in the real interface, and what storage says. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { button, startBrowser, startServer, tempFolder } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

/** Ink, headers, folders and sound, without what is made anew from them. */
async function kept(page: Page): Promise<Record<string, string>> {
  const notes = Object.entries(await records(page, 'scrivo')).filter(([k]) => /^(note|ink|place|folder)\//.test(k));
  const sound = Object.entries(await records(page, 'scrivo-sound')).filter(([k]) => !k.startsWith('heard/'));
  return Object.fromEntries([...notes, ...sound]);
}

const settings = (page: Page) => page.getByRole('tab', { name: 'Settings' }).click();

async function restoreFile(page: Page, file: string): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await button(page, 'Restore').click();
  await (await chooser).setFiles(file);
}

test('a backup made here is restored in another browser, note for note; a damaged one is told and changes nothing', async () => {
  const server = await startServer(true);
  let context = await startBrowser();
  await bringDemo(context, server);
  let page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await settings(page);
  await expect(page.getByText(/^Ink .* sound .* pictures/)).toBeVisible();
  await expect(page.getByText(/Room for about \d+ hours of recording/)).toBeVisible();
  const download = page.waitForEvent('download');
  await button(page, 'Back up').click();
  const file = path.join(tempFolder(), 'library.zip');
  await (await download).saveAs(file);
  await expect(page.getByText(/3 notes were handed to the browser as one file/)).toBeVisible();
  await expect(page.getByText('The last backup was made today.', { exact: false })).toBeVisible();
  expect(execFileSync('unzip', ['-t', file]).toString()).toContain('No errors detected');
  const before = await kept(page);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();

  const bare = await startServer();
  context = await startBrowser();
  page = context.pages()[0];
  await page.goto(bare.url);
  await expect(page.getByText('No notes yet.', { exact: false })).toBeVisible();
  await settings(page);
  const torn = path.join(tempFolder(), 'torn.zip');
  const bytes = readFileSync(file);
  writeFileSync(torn, bytes.subarray(0, bytes.length - 200));
  await restoreFile(page, torn);
  await expect(page.getByText(/did not arrive whole\. Nothing was changed\./)).toBeVisible();
  expect(Object.keys(await kept(page))).toEqual([]);
  await restoreFile(page, file);
  await expect(page.getByText('3 notes were brought in')).toBeVisible();
  await button(page, 'Done').click();
  const after = await kept(page);
  expect(Object.keys(after).sort()).toEqual(Object.keys(before).sort());
  for (const key of Object.keys(before)) {
    if (/^(note|place|folder)\//.test(key)) expect(JSON.parse(after[key])).toEqual(JSON.parse(before[key]));
    // Ink and every piece of sound, to the byte.
    else expect([key, after[key] === before[key]]).toEqual([key, true]);
  }
  // Once more: all is here already.
  await restoreFile(page, file);
  await expect(page.getByText('3 here already, and the same')).toBeVisible();
  await button(page, 'Done').click();
  await page.getByRole('tab', { name: 'Today' }).click();
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByRole('button', { name: /^(Line|Drawing) written at/ }).nth(3).click();
  await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 0.3);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await bare.close();
});

test('little room is told before it runs out, and the browser is asked to keep what is stored', async () => {
  const server = await startServer();
  const context = await startBrowser();
  // What a browser says that has little room left, fails once to say anything, and grants what it is asked.
  await context.addInitScript(() => {
    let [kept, failing] = [false, false];
    Object.assign(navigator.storage, {
      estimate: () => (failing ? Promise.reject(new Error('the disk does not answer')) : Promise.resolve({ usage: 9_986_000_000, quota: 10_000_000_000 })),
      persisted: () => Promise.resolve(kept),
      persist: () => Promise.resolve((kept = true)),
    });
    Object.assign(globalThis, { failStorage: (fail: boolean) => void (failing = fail) });
  });
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByText('There is room for about 1.0 hours of recording.', { exact: false })).toBeVisible();
  await settings(page);
  await expect(page.getByText('The browser may clear the notes', { exact: false })).toBeVisible();
  await button(page, 'Ask the browser to keep them').click();
  await expect(page.getByText('The browser keeps the notes until they are deleted here.').first()).toBeVisible();
  await expect(button(page, 'Ask the browser to keep them')).toHaveCount(0);
  // Measuring that fails says so, and can be tried again.
  await page.evaluate('failStorage(true)');
  await page.getByRole('tab', { name: 'Today' }).click();
  await settings(page);
  await expect(page.getByText(/could not be measured \(the disk does not answer\)/)).toBeVisible();
  await page.evaluate('failStorage(false)');
  await button(page, 'Measure again').click();
  await expect(page.getByText(/Room for about 1\.0 hours of recording/)).toBeVisible();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
