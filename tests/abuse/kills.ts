/** The browser killed at random moments of whatever it is at: nothing promised is lost, and nothing that was not touched changes. */
import { execFileSync } from 'node:child_process';
import { expect, type Page } from '@playwright/test';
import type { Placed } from '../../src/core/note/kinds/kinds';
import { readInk } from '../../src/core/note/records/inkChunk';
import { blankNote, button, Pen, recordNew, spelledMicrophone, startBrowser, startServer, tempFolder } from '../helpers/app';
import { records } from '../helpers/disk';
import { place } from '../helpers/spelled';
import { carrying, converting, importing, table, typing, type Doing } from './killed';
import { attempt, chance, demoStands, killBrowser, pick, type Result, soundKeys, stands, strokesByNote } from './kit';

/** Ink is on disk a second after the pen was lifted, sound five seconds after it was spoken. */
const INK_MS = 1000;
const SOUND_MS = 5000;

/** What lies in a note, on disk. */
const placedOf = async (page: Page, note: string | undefined): Promise<readonly Placed[]> =>
  Object.entries(await records(page, 'scrivo')).filter(([key]) => key.startsWith(`ink/${note}/`)).flatMap(([, text]) => readInk(text).placed);

const settings = (page: Page) => page.getByRole('tab', { name: 'Settings' }).click();

async function restoreFile(page: Page, file: string): Promise<void> {
  await settings(page);
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Restore').click()]);
  await chooser.setFiles(file);
}

const PASS = 'north cardinal 9';
const field = (page: Page, name: string) => page.getByLabel(name, { exact: true });

/** A passphrase is set and everything is locked with it. */
async function lockEverything(page: Page): Promise<void> {
  await settings(page);
  await button(page, 'Set a passphrase').click();
  await field(page, 'New passphrase').fill(PASS);
  await field(page, 'The same once more').fill(PASS);
  await button(page, 'Set it').click();
  await page.getByRole('switch', { name: 'Lock everything' }).click();
  await page.getByText('Everything is locked', { exact: false }).waitFor();
}

/** Takes the passphrase away again, however far the locking came. */
async function openEverything(page: Page, url: string): Promise<void> {
  await page.goto(url);
  const locked = page.getByText('Scrivo is locked');
  // The tabs stand before it is known whether anything is locked.
  await locked.or(page.getByRole('button', { name: /^Open / }).first()).or(page.getByText(/^No notes yet/)).first().waitFor({ timeout: 20_000 });
  const unlock = async (): Promise<void> => {
    await field(page, 'Passphrase').fill(PASS);
    await field(page, 'Passphrase').press('Enter');
  };
  if (await locked.count()) await unlock();
  await settings(page);
  await button(page, 'Set a passphrase').or(button(page, 'Unlock')).or(button(page, 'Lock now')).first().waitFor();
  if (await button(page, 'Set a passphrase').count()) return;
  if (await button(page, 'Unlock').count()) {
    await button(page, 'Unlock').click();
    await unlock();
  }
  await button(page, 'Remove the passphrase').click();
  await button(page, 'Remove it').click();
  await page.getByText('There is no passphrase any more', { exact: false }).waitFor({ timeout: 20_000 });
}

const DOINGS = ['write', 'record', 'restore', 'empty', 'back up', 'lock', 'type', 'table', 'import', 'carry', 'convert'] as const;
const CONVERTED = 'demo-tides-0000000001';
/** Where what it takes to read handwriting is loaded first. */
const SLOW: readonly string[] = ['record', 'convert'];

export async function kills(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const server = await startServer(true);
  const folder = tempFolder();
  const microphone = spelledMicrophone(folder, 60);
  const brought = [0, 1, 2].map((n) => `${folder}/chart ${n}.png`);
  for (const [n, name] of brought.entries()) execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=size=1600x1200:rate=1:duration=1,noise=alls=20:all_seed=${n}`, '-frames:v', '1', name]);
  // The archive that is restored from: the demo's three notes.
  const file = `${folder}/library.zip`;
  {
    const context = await startBrowser();
    const page = context.pages()[0];
    await stands(page, server.url);
    await demoStands(page);
    await settings(page);
    const download = page.waitForEvent('download');
    await button(page, 'Back up').click();
    await (await download).saveAs(file);
    await context.close();
  }
  const counts: Record<string, number> = {};
  let profile = tempFolder();
  let brokenBefore = 0;
  for (let k = 0; k < times; k++) {
    if (k % 20 === 0 || broken.length > brokenBefore) profile = tempFolder();
    brokenBefore = broken.length;
    const doing = pick(random, DOINGS);
    counts[doing] = (counts[doing] ?? 0) + 1;
    const how = `kill ${k} of seed ${seed}, while it was to ${doing}`;
    // One that something went wrong in may still be there.
    killBrowser(profile);
    await attempt(broken, how, async () => {
      let context = await startBrowser({ microphone, profile, idle: doing === 'convert' });
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
      const recordsBefore = doing === 'lock' ? await records(page, 'scrivo-sound') : {};
      const ups: number[] = [];
      let killed = Infinity;
      let clock = 0;
      const own = ({ type: typing, table, carry: carrying, import: () => importing(brought), convert: () => converting(CONVERTED) } as Partial<Record<(typeof DOINGS)[number], () => Doing>>)[doing]?.();
      const doings: Partial<Record<(typeof DOINGS)[number], () => Promise<void>>> = {
        write: () => writing(page, false),
        record: () => writing(page, true),
        restore: () => restoreFile(page, file),
        lock: () => lockEverything(page),
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
      const under = (own ? own.work(page, () => killed !== Infinity) : doings[doing]!()).catch(() => undefined);
      await new Promise((r) => setTimeout(r, 100 + random() * (SLOW.includes(doing) ? 8000 : own ? 4500 : 2500)));
      killed = Date.now();
      killBrowser(profile);
      await under;
      await context.close().catch(() => undefined);

      context = await startBrowser({ microphone, profile });
      page = context.pages()[0];
      if (doing === 'lock' && random() < 0.5) {
        // Killed once more, while what was locked is opened again.
        const opening = openEverything(page, server.url).catch(() => undefined);
        await new Promise((r) => setTimeout(r, 500 + random() * 3000));
        killBrowser(profile);
        await opening;
        await context.close().catch(() => undefined);
        context = await startBrowser({ microphone, profile });
        page = context.pages()[0];
      }
      try {
        if (doing === 'lock') await openEverything(page, server.url);
        await stands(page, server.url);
        const after = await strokesByNote(page);
        const [fresh, ...more] = [...after.keys()].filter((id) => !before.has(id) && !id.startsWith('demo-'));
        expect(more).toEqual([]);
        if (own) await own.looked(page, killed, await placedOf(page, fresh));
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
          // What became text is looked for there.
          if (doing === 'convert' && note === CONVERTED) continue;
          if (now) expect([note, [...strokes].filter((s) => !now.has(s)).length]).toEqual([note, 0]);
          else expect([note, doing]).toEqual([note, 'empty']);
        }
        if (doing !== 'empty') {
          const now = new Set(await soundKeys(page));
          expect(soundBefore.filter((key) => !now.has(key))).toEqual([]);
        }
        if (doing === 'lock') {
          const sound = await records(page, 'scrivo-sound');
          expect(soundBefore.filter((key) => sound[key] !== recordsBefore[key])).toEqual([]);
          expect(Object.entries(await records(page, 'scrivo')).filter(([key, text]) => key === 'vault' || text.startsWith('scrivo-sealed'))).toEqual([]);
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
