/** What was written and recorded stays when the browser is killed. */
import { execFileSync } from 'node:child_process';
import { expect, test } from '@playwright/test';
import { blankNote, Pen, recordNew, spelledMicrophone, startBrowser, startServer, tempFolder, choose } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { wholeSound } from '../helpers/machine';
import { differences, openFromToday, place, report, spokenAtDowns, write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

/** Words that find room on the first page. */
const MOST_WORDS = 60;

const KILLS = 10;

const told = (spoken: readonly (number | null)[]): number => spoken.filter((t) => t !== null).length;

/** Every process of the browser that works on this folder, at once and without notice. */
function kill(profile: string): void {
  execFileSync('pkill', ['-9', '-f', `user-data-dir=${profile}`]);
}

/** Words that are written in a take before the browser is killed, one every so many ms, and of how many their moment must be known by then. */
for (const [when, words, every, known] of [
  ['early', 9, 350, 0],
  ['later', 17, 900, 8],
] as const) {
  test(`a browser killed ${when} in a take loses at most 5 s of sound and 1 s of ink, and what is left plays at its moments`, wholeSound(async () => {
    const profile = tempFolder();
    const server = await startServer();
    const microphone = spelledMicrophone(profile, 120);
    let context = await startBrowser({ microphone, profile });
    let page = context.pages()[0];
    await page.goto(server.url);
    await recordNew(page);
    let pen = await Pen.on(page);
    let written: number = words;
    await write(page, pen, 0, words, every);
    await new Promise((r) => setTimeout(r, 1300));
    let spoken = await spokenAtDowns(page, 0);
    // A starved machine tears the microphone's sound, and what was spoken at a tear cannot be told: then more words are needed.
    for (; told(spoken) < known && written < MOST_WORDS; written += 5) {
      await write(page, pen, written, written + 5, every);
      await new Promise((r) => setTimeout(r, 1300));
      spoken = await spokenAtDowns(page, 0);
    }
    const recorded = Number(await page.getByTestId('recording-clock').getAttribute('data-ms'));
    kill(profile);
    await context.close().catch(() => undefined);

    context = await startBrowser({ microphone, profile });
    page = context.pages()[0];
    await page.goto(server.url);
    await expect(page.getByText(/Scrivo was closed while .* was being recorded\. .* recovered/)).toBeVisible();
    page = await openFromToday(context, server.url);
    const length = Number(await page.getByRole('slider', { name: 'Playback position' }).getAttribute('max'));
    console.log(`${when}: recorded ${recorded} ms, kept ${length} ms`);
    expect(length).toBeGreaterThanOrEqual(recorded - 5000);
    expect((await inkOnDisk(page)).length).toBe(written);

    pen = await Pen.on(page);
    await choose(page, 'Lead-in', '0');
    // The very last words may lie in the sound that was lost, or too near its end to be spelled out.
    const first = spoken.find((t) => t !== null) ?? 0;
    const kept = spoken.map((t) => (t !== null && t - first <= length - 2500 ? t : null));
    const errors = await differences(page, pen, kept, 1);
    if (known) expect(errors.length).toBeGreaterThanOrEqual(known - 4);
    if (told(kept) > 2) expect(errors.length).toBeGreaterThan(2);
    // The recorder and the ear of this test lose sound separately on a starved machine, so single words may be off, and one or two tell
    // nothing then; what a kill could do is shift what is left, and that shows in all of them.
    if (errors.length > 2) {
      expect(report(`after the kill (${when})`, errors).median).toBeLessThanOrEqual(20);
    } else console.log(`${when}: of ${errors.length} words nothing is told`);
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  }));
}

test('of ink no more than a second is lost, from the pen-up on, whenever the browser is killed', wholeSound(async () => {
  const profile = tempFolder();
  const server = await startServer();
  const microphone = spelledMicrophone(profile, 30);
  // The moments differ from run to run; they are said, so that one can be tried again.
  const seed = Number(process.env.SCRIVO_SEED ?? (Date.now() % 1e6));
  let random = seed;
  const next = (): number => (random = (random * 48_271 + 11) % 2_147_483_647) / 2_147_483_647;
  const lost: number[] = [];
  let before = 0;
  const opened = async () => {
    const context = await startBrowser({ microphone, profile });
    const page = context.pages()[0];
    await page.goto(server.url);
    await page.getByRole('tab', { name: 'Today' }).waitFor();
    return { context, page };
  };
  let { context, page } = await opened();
  for (let round = 0; round < KILLS; round++) {
    await (round % 2 ? recordNew(page) : blankNote(page));
    const pen = await Pen.on(page);
    const box = (await page.getByTestId('page-1').boundingBox())!;
    const ups: number[] = [];
    let killed = Infinity;
    const wait = 300 + next() * 3500;
    const writing = (async () => {
      for (let i = 0; killed === Infinity && i < 55; i++) {
        const { x, y } = place(i);
        await pen.scribble(box.x + x, box.y + y);
        ups.push(Date.now());
        await new Promise((r) => setTimeout(r, next() * 250));
      }
    })().catch(() => undefined);
    await new Promise((r) => setTimeout(r, wait));
    killed = Date.now();
    kill(profile);
    await writing;
    await context.close().catch(() => undefined);

    ({ context, page } = await opened());
    const kept = (await inkOnDisk(page)).length - before;
    before += kept;
    expect(ups.length, 'strokes were made').toBeGreaterThan(0);
    // Strokes are stored in the order they were written: the first that is missing was lifted this long before the kill.
    lost.push(kept < ups.length ? Math.max(0, killed - ups[kept]) : 0);
  }
  await context.close();
  console.log(`seed ${seed}: ink lost before the kill, ms: ${lost.join(', ')}`);
  expect(lost.length).toBe(KILLS);
  expect(Math.max(...lost)).toBeLessThanOrEqual(1000);
  await server.close();
}));
