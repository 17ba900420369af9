/**
 * The main promise: touch a word and hear the moment it was written.
 *
 * The microphone plays tones that spell the time (ITU-T Q.23, see helpers/dtmf.ts). Words are written through pen events while it
 * records. After a reload each word is touched, and what goes to the loudspeaker is decoded. The reference for a stroke is what
 * the microphone itself delivered at the event time of its pen-down, taken from the same track without the application's help.
 */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { button, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder } from '../helpers/app';
import { firstSound, median, timeAtStart } from '../helpers/dtmf';
import { clearSpeaker, microphone, pageErrors, penDowns, speaker, tapSpeaker } from '../helpers/tap';

/** Places of words on the first page at 390x844, px of the page: spread so that each is a word of its own. */
export const place = (i: number): { x: number; y: number } => ({ x: 22 + (i % 5) * 60, y: 50 + Math.floor(i / 5) * 38 });

async function write(page: Page, pen: Pen, from: number, to: number, everyMs: number): Promise<void> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const began = Date.now();
  for (let i = from; i < to; i++) {
    const { x, y } = place(i);
    await pen.scribble(box.x + x, box.y + y);
    // Pace of the writer, not a wait for the application: the words have to be spread over the sound.
    const due = began + (i - from + 1) * everyMs;
    await new Promise((r) => setTimeout(r, Math.max(0, due - Date.now())));
  }
}

/** Spelled time that the microphone delivered at each pen-down, ms; null where sound was lost right there. */
async function spokenAtDowns(page: Page, recording: number): Promise<(number | null)[]> {
  const mic = await microphone(page, recording);
  return (await penDowns(page)).map((down) => {
    const at = mic.sampleAt(down);
    // Heard a little before and a little after the pen came down; both must tell the same, or sound is missing between them.
    const [before, after] = [-1000, 0].map((ms) => {
      const from = at + Math.round((ms * mic.rate) / 1000);
      if (from < 0 || from + mic.rate > mic.samples.length) return null;
      const t = timeAtStart(mic.samples.subarray(from, from + Math.round(0.95 * mic.rate)), mic.rate);
      return t === null ? null : t - ms;
    });
    if (before !== null && after !== null && Math.abs(before - after) > 5) return null;
    return after ?? before;
  });
}

async function heardAtTouch(page: Page, pen: Pen, i: number, speed: number): Promise<number | null> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  if ((await button(page, 'Pause').count()) > 0) await button(page, 'Pause').click();
  await clearSpeaker(page);
  const { x, y } = place(i);
  await pen.touch(box.x + x + 10, box.y + y + 4);
  const { samples, rate } = await speaker(page, speed === 1 ? 1250 : 1100);
  const start = firstSound(samples);
  return timeAtStart(samples.subarray(start), rate, speed);
}

async function openFromToday(context: BrowserContext, url: string): Promise<Page> {
  const page = context.pages()[0] ?? (await context.newPage());
  await page.goto(url);
  await page.getByRole('button', { name: /^Open / }).first().click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Listen').click();
  await page.getByRole('slider', { name: 'Playback position' }).waitFor();
  await tapSpeaker(page);
  return page;
}

function report(name: string, errors: number[]): { median: number; worst: number } {
  const abs = errors.map(Math.abs);
  const result = { median: median(abs), worst: Math.max(...abs) };
  console.log(`${name}: ${errors.length} words, signed median ${median(errors).toFixed(1)} ms, median ${result.median.toFixed(1)} ms, worst ${result.worst.toFixed(1)} ms`);
  return result;
}

const WORDS = 36;

test('a touched word plays the moment it was written, at 1x and 2x, over a pause and a reload', async () => {
  const folder = tempFolder();
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 240), profile: folder });
  let page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, WORDS / 2, 700);
  // Time for the last word's moment to be spelled out before the pause cuts it off.
  await new Promise((r) => setTimeout(r, 2200));
  await button(page, 'Pause recording').click();
  await button(page, 'Resume recording').waitFor();
  await new Promise((r) => setTimeout(r, 3000));
  await button(page, 'Resume recording').click();
  await button(page, 'Pause recording').waitFor();
  await write(page, pen, WORDS / 2, WORDS, 700);
  // The last word's sound goes on a little, as a lecture does.
  await new Promise((r) => setTimeout(r, 2500));
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const spoken = await spokenAtDowns(page, 0);
  expect(spoken.filter((t) => t !== null).length, 'words whose moment the microphone itself tells').toBeGreaterThanOrEqual(30);
  expect(await pageErrors(page)).toEqual([]);

  page = await openFromToday(context, server.url);
  const listener = await Pen.on(page);
  await page.getByLabel('Lead-in').selectOption('0');
  for (const [speed, limit] of [
    [1, { median: 20, worst: 60 }],
    [2, { median: 40, worst: 100 }],
  ] as const) {
    await page.getByLabel('Speed').selectOption(String(speed));
    const errors: number[] = [];
    for (let i = 0; i < WORDS; i++) {
      const wanted = spoken[i];
      if (wanted === null) continue;
      const heard = await heardAtTouch(page, listener, i, speed);
      expect(heard, `word ${i} is heard`).not.toBeNull();
      errors.push(heard! - wanted);
    }
    const { median: middle, worst } = report(`${speed}x`, errors);
    expect(errors.length).toBeGreaterThanOrEqual(30);
    expect(middle).toBeLessThanOrEqual(limit.median);
    expect(worst).toBeLessThanOrEqual(limit.worst);
  }
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
