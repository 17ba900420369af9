/** The browser killed at random moments of whatever it is at: nothing promised is lost, and nothing that was not touched changes. */
import { expect, type Page } from '@playwright/test';
import { blankNote, button, Pen, recordNew, spelledMicrophone, startBrowser, startServer, tempFolder } from '../helpers/app';
import { records } from '../helpers/disk';
import { place } from '../helpers/spelled';
import { attempt, chance, killBrowser, pick, soundKeys, stands, strokesByNote, type Result } from './kit';

/** Ink is on disk a second after the pen was lifted, sound five seconds after it was spoken. */
const INK_MS = 1000;
const SOUND_MS = 5000;

const settings = (page: Page) => page.getByRole('tab', { name: 'Settings' }).click();

async function restoreFile(page: Page, file: string): Promise<void> {
  await settings(page);
  const chooser = page.waitForEvent('filechooser');
  await button(page, 'Restore').click();
  await (await chooser).setFiles(file);
}

const DOINGS = ['write', 'record', 'restore', 'empty', 'back up'] as const;

export async function kills(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const server = await startServer(true);
  const folder = tempFolder();
  const microphone = spelledMicrophone(folder, 60);
  // The archive that is restored from: the demo's three notes.
  const file = `${folder}/library.zip`;
  {
    const context = await startBrowser();
    const page = context.pages()[0];
    await stands(page, server.url);
    await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
    await settings(page);
    const download = page.waitForEvent('download');
    await button(page, 'Back up').click();
    await (await download).saveAs(file);
    await context.close();
  }
  const counts: Record<string, number> = {};
  let profile = tempFolder();
  for (let k = 0; k < times; k++) {
    if (k % 20 === 0) profile = tempFolder();
    const doing = pick(random, DOINGS);
    counts[doing] = (counts[doing] ?? 0) + 1;
    const how = `kill ${k} of seed ${seed}, while it was to ${doing}`;
    // One that something went wrong in may still be there.
    killBrowser(profile);
    await attempt(broken, how, async () => {
      let context = await startBrowser({ microphone, profile });
      let page = context.pages()[0];
      await stands(page, server.url);
      if (doing === 'empty') {
        await page.getByRole('tab', { name: 'Library' }).click();
        await page.getByRole('tab', { name: 'All notes' }).or(button(page, 'All notes')).first().click();
        const first = page.getByRole('button', { name: /^What to do with / }).first();
        if (await first.count()) {
          await first.click();
          await button(page, 'Delete').click();
        }
        await page.getByRole('tab', { name: /^Bin/ }).click();
      }
      const before = await strokesByNote(page);
      const soundBefore = await soundKeys(page);
      const ups: number[] = [];
      let killed = Infinity;
      let clock = 0;
      const doings: Record<(typeof DOINGS)[number], () => Promise<void>> = {
        write: () => writing(page, false),
        record: () => writing(page, true),
        restore: () => restoreFile(page, file),
        async empty() {
          await button(page, 'Empty the bin').click();
          await button(page, 'Delete for good').click();
        },
        async 'back up'() {
          await settings(page);
          await button(page, 'Back up').click();
        },
      };
      const writing = async (on: Page, sound: boolean): Promise<void> => {
        await (sound ? recordNew(on) : blankNote(on));
        const pen = await Pen.on(on);
        const box = (await on.getByTestId('page-1').boundingBox())!;
        for (let i = 0; killed === Infinity && i < 55; i++) {
          const { x, y } = place(i);
          await pen.scribble(box.x + x, box.y + y);
          ups.push(Date.now());
          if (sound) clock = Number(await on.getByTestId('recording-clock').getAttribute('data-ms'));
          await new Promise((r) => setTimeout(r, random() * 150));
        }
      };
      const under = doings[doing]().catch(() => undefined);
      await new Promise((r) => setTimeout(r, 100 + random() * (doing === 'record' ? 8000 : 2500)));
      killed = Date.now();
      killBrowser(profile);
      await under;
      await context.close().catch(() => undefined);

      context = await startBrowser({ microphone, profile });
      page = context.pages()[0];
      try {
        await stands(page, server.url);
        const after = await strokesByNote(page);
        const [fresh, ...more] = [...after.keys()].filter((id) => !before.has(id) && !id.startsWith('demo-'));
        expect(more).toEqual([]);
        if (doing === 'write' || doing === 'record') {
          const kept = after.get(fresh)?.size ?? 0;
          expect(kept >= ups.length || killed - ups[kept] <= INK_MS, `ink: ${kept} of ${ups.length} kept, the next was lifted ${killed - ups[kept]} ms before the kill`).toBe(true);
        }
        if (doing === 'record' && clock > SOUND_MS) {
          // Pieces hold five seconds each and are numbered: the first that is missing was still being spoken.
          const pieces = (await soundKeys(page)).filter((key) => !soundBefore.includes(key)).length;
          expect(pieces * 5000, `sound: ${clock} ms recorded, ${pieces} pieces kept`).toBeGreaterThanOrEqual(clock - SOUND_MS);
        }
        // What was not touched is as it was; a note that was being deleted is there whole, or gone with all that is its own.
        for (const [note, strokes] of before) {
          const now = after.get(note);
          if (now) expect([note, [...strokes].filter((s) => !now.has(s)).length]).toEqual([note, 0]);
          else expect([note, doing]).toEqual([note, 'empty']);
        }
        if (doing !== 'empty') {
          const now = new Set(await soundKeys(page));
          expect(soundBefore.filter((key) => !now.has(key))).toEqual([]);
        }
        expect(Object.keys(await records(page, 'scrivo')).filter((key) => /^aside\//.test(key))).toEqual([]);
      } finally {
        await context.close();
      }
    });
  }
  await server.close();
  return { what: 'kills', times, broken, notes: Object.entries(counts).map(([d, n]) => `${d} ${n}`).join(', ') };
}
