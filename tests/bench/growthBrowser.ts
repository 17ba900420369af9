/** What grows: a library of 2,000 notes that is emptied, restored and measured, and a take of eight hours beside one of one hour. */
import { statSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import type { Packet } from '../../src/core/audio/opus';
import { unfiled, type Folder } from '../../src/core/library/folder';
import { button, startBrowser, tempFolder } from '../helpers/app';
import { atMost, FEW, firstTake, inject, layDown, ms, percentile, rendererMb, row, size } from './kit';

const BINNED = size(200, 2);
const SOME = size(50, 2);

/** What the same deletions cost without any application: records of another database of the same sizes, in steps of a thousand, ms. */
const plainDeletion = (page: Page, notes: number, sounds: number): Promise<number> =>
  page.evaluate(
    async ([few, many]) => {
      const db = await new Promise<IDBDatabase>((resolve) => {
        const r = indexedDB.open('plain', 1);
        r.onupgradeneeded = () => r.result.createObjectStore('entries');
        r.onsuccess = () => resolve(r.result);
      });
      const step = (work: (s: IDBObjectStore, i: number) => void, from: number, to: number) =>
        new Promise((resolve) => {
          const tx = db.transaction('entries', 'readwrite');
          for (let i = from; i < to; i++) work(tx.objectStore('entries'), i);
          tx.oncomplete = resolve;
        });
      const text = 'x'.repeat(16_000);
      const all = few + many;
      for (let i = 0; i < all; i += 500) await step((s, k) => s.put(text, k), i, Math.min(all, i + 500));
      const start = performance.now();
      for (let i = 0; i < all; i += 1000) await step((s, k) => s.delete(k), i, Math.min(all, i + 1000));
      const took = performance.now() - start;
      db.close();
      return took;
    },
    [notes, sounds] as const,
  );

async function restoreFile(page: Page, file: string, text: RegExp): Promise<number> {
  await page.getByRole('tab', { name: 'Settings' }).click();
  const chooser = page.waitForEvent('filechooser');
  await button(page, 'Restore').click();
  const start = performance.now();
  await (await chooser).setFiles(file);
  await page.getByText(text).waitFor({ timeout: 120_000 });
  const took = performance.now() - start;
  await button(page, 'Done').click();
  return took;
}

/** The library of 2,000 notes is laid into `page`. */
export async function growth(page: Page, url: string): Promise<void> {
  // The bin is a tab on the phone; beside a wide list it is a row of the tree.
  await page.setViewportSize({ width: 390, height: 844 });
  await inject(page, 'scrivo', Array.from({ length: BINNED }, (_, i) => [`place/scale-${i * 10 + 5}`, JSON.stringify({ ...unfiled(`scale-${i * 10 + 5}`), binned: Date.now(), changed: 2 })]));
  const folder: Folder = { v: 1, id: 'few', name: 'A few of them', parent: null, color: 'teal', emblem: 'wave', made: 1, changed: 1 };
  const ids = Array.from({ length: SOME }, (_, i) => `scale-${i * 40 + 1}`);
  await inject(page, 'scrivo', [['folder/few', JSON.stringify(folder)], ...ids.map((id): [string, string] => [`place/${id}`, JSON.stringify({ ...unfiled(id), folder: 'few', changed: 2 })])]);
  await page.goto(url);
  await page.getByText(/^All \d+ notes/).waitFor();
  const opened: number[] = [];
  for (let i = 0; i < 3; i++) {
    await page.getByRole('tab', { name: 'Today' }).click();
    await page.waitForTimeout(1000);
    const start = performance.now();
    await page.getByRole('tab', { name: 'Settings' }).click();
    await page.getByText(/^Ink .* sound .* pictures of pages/).waitFor();
    opened.push(performance.now() - start);
  }
  row('2,000 notes: Settings, until it says what they take (median of 3)', ms(percentile(opened, 0.5)), '', atMost(percentile(opened, 0.5), 1000, 'under 1 s'));

  await page.getByRole('tab', { name: 'Library' }).click();
  const download = page.waitForEvent('download', { timeout: 120_000 });
  await button(page, 'What to do with the folder A few of them').click();
  await button(page, 'Back up this folder').click();
  const file = path.join(tempFolder(), 'folder.zip');
  await (await download).saveAs(file);
  await page.getByText(/handed to the browser as one file/).waitFor();

  const plain = await plainDeletion(page, BINNED * 14, BINNED * 36);
  await page.getByRole('tab', { name: `Bin ${BINNED}` }).click();
  await button(page, 'Empty the bin').click();
  const start = performance.now();
  await button(page, 'Delete for good').click();
  await page.getByText('The bin is empty.').waitFor({ timeout: 120_000 });
  const took = performance.now() - start;
  row(`2,000 notes: emptying the bin of ${BINNED} with their sound`, ms(took), `the bare deletions ${ms(plain)}`, atMost(took - plain, 1000, 'under 1 s more'));

  // Those of the folder go, and come back from their archive: here and in a browser that has nothing else.
  await inject(page, 'scrivo', ids.map((id) => [`place/${id}`, JSON.stringify({ ...unfiled(id), binned: Date.now(), changed: 3 })]));
  await page.goto(url);
  await page.getByRole('tab', { name: 'Library' }).click();
  await page.getByRole('tab', { name: `Bin ${ids.length}` }).click();
  await button(page, 'Empty the bin').click();
  await button(page, 'Delete for good').click();
  await page.getByText('The bin is empty.').waitFor({ timeout: 120_000 });
  const here = await restoreFile(page, file, new RegExp(`${ids.length} notes were brought in`));
  const empty = await startBrowser();
  const bare = empty.pages()[0];
  await bare.goto(url);
  const alone = await restoreFile(bare, file, new RegExp(`${ids.length} notes were brought in`));
  await empty.close();
  row(`2,000 notes: restoring ${ids.length} of them`, ms(here), `into an empty library ${ms(alone)}`, atMost(here - alone, 1000, 'under 1 s more'));
}

/** Opens, plays, looks through and backs up a note with one take; the memory that each takes at most, MB over that of the empty page. */
async function oneTake(url: string, hours: number, sound: readonly Packet[]): Promise<Record<'opened' | 'played' | 'looked' | 'backed', number> & { bytes: number }> {
  const context = await startBrowser({ idle: true });
  const page = context.pages()[0];
  await firstTake(page, url);
  await layDown(page, 'long', hours * 3_600_000, 500, sound);
  await page.goto(url);
  await page.getByRole('button', { name: /^Open long/ }).waitFor();
  await page.waitForTimeout(2000);
  const before = rendererMb();
  let most = 0;
  const timer = setInterval(() => (most = Math.max(most, rendererMb() - before)), 150);
  const part = async (work: () => Promise<void>): Promise<number> => {
    most = 0;
    await work();
    await page.waitForTimeout(300);
    return most;
  };
  const opened = await part(async () => {
    await page.getByRole('button', { name: /^Open long/ }).click();
    await page.getByRole('slider', { name: 'Playback position' }).waitFor();
    await page.getByText(/^Looking for pauses/).waitFor({ timeout: 30_000 });
    await button(page, 'Stop looking for pauses').click();
  });
  const played = await part(async () => {
    await button(page, 'Play').click();
    for (let i = 1; i <= size(12, 2); i++) {
      await page.getByRole('slider', { name: 'Playback position' }).fill(String(Math.round(((i * 0.618) % 1) * hours * 3_599_000)));
      await page.waitForFunction(() => !document.querySelector('audio')!.seeking && !document.querySelector('audio')!.paused);
      await page.waitForTimeout(700);
    }
    await button(page, 'Pause').click();
  });
  const looked = await part(async () => {
    await button(page, 'Look for pauses').click();
    await page.getByText(/^Looking for pauses/).waitFor();
    await page.getByText(/^Listening more closely/).waitFor({ timeout: 1_800_000 });
    await button(page, 'Stop looking for pauses').click();
  });
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Settings' }).click();
  let bytes = 0;
  const backed = await part(async () => {
    const download = page.waitForEvent('download', { timeout: 600_000 });
    await button(page, 'Back up').click();
    bytes = statSync(await (await download).path()).size;
  });
  clearInterval(timer);
  await context.close();
  return { opened, played, looked, backed, bytes };
}

/** A take of eight hours, made and not waited for, within the memory of one of one hour. */
export async function eightHours(url: string, sound: readonly Packet[]): Promise<void> {
  const one = await oneTake(url, size(1, 0.1), sound);
  const eight = FEW ? one : await oneTake(url, 8, sound);
  const words = { opened: 'opened', played: 'played at twelve places', looked: 'looked through', backed: 'backed up' } as const;
  for (const what of ['opened', 'played', 'looked', 'backed'] as const) {
    // Memory is given back when the browser sees fit: so much more is none.
    row(`a take of eight hours, ${words[what]}: memory at most`, `${eight[what].toFixed(0)} MB`, `a take of one hour ${one[what].toFixed(0)} MB`, atMost(eight[what], one[what] + 40, 'no more than that and 40 MB'));
  }
  row('a take of eight hours: the backup', `${(eight.bytes / 1e6).toFixed(0)} MB`, `a take of one hour ${(one.bytes / 1e6).toFixed(0)} MB`);
}
