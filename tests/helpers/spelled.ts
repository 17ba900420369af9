/** Writing words while tones spell the time, and hearing what a touch on them plays. */
import { type BrowserContext, type Page } from '@playwright/test';
import { button, type Pen } from './app';
import { firstSound, median, timeAtStart } from './dtmf';
import { clearSpeaker, microphone, penDowns, speaker, tapSpeaker } from './tap';

/** Places of words on the first page at 390x844, px of the page: spread so that each is a word of its own. */
export const place = (i: number): { x: number; y: number } => ({ x: 22 + (i % 5) * 60, y: 50 + Math.floor(i / 5) * 38 });

export async function write(page: Page, pen: Pen, from: number, to: number, everyMs: number): Promise<void> {
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
export async function spokenAtDowns(page: Page, recording: number): Promise<(number | null)[]> {
  const mic = await microphone(page, recording);
  return (await penDowns(page)).map((down) => {
    const at = mic.sampleAt(down);
    // Heard a little before and a little after the pen came down; both must tell the same, or sound is missing between them.
    const [before, after] = [-1150, 0].map((ms) => {
      const from = at + Math.round((ms * mic.rate) / 1000);
      if (from < 0 || from + 1.1 * mic.rate > mic.samples.length) return null;
      const t = timeAtStart(mic.samples.subarray(from, from + Math.round(1.1 * mic.rate)), mic.rate);
      return t === null ? null : t - ms;
    });
    if (before !== null && after !== null && Math.abs(before - after) > 5) return null;
    return after ?? before;
  });
}

export async function heardAtTouch(page: Page, pen: Pen, i: number, speed: number): Promise<number | null> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  if ((await button(page, 'Pause').count()) > 0) await button(page, 'Pause').click();
  await clearSpeaker(page);
  const { x, y } = place(i);
  await pen.touch(box.x + x + 10, box.y + y + 4);
  const { samples, rate } = await speaker(page, speed === 1 ? 1200 : 1100);
  const start = firstSound(samples);
  return timeAtStart(samples.subarray(start), rate, speed);
}

export async function openFromToday(context: BrowserContext, url: string): Promise<Page> {
  const page = context.pages()[0] ?? (await context.newPage());
  await page.goto(url);
  await page.getByRole('button', { name: /^Open / }).first().click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Listen').click();
  await page.getByRole('slider', { name: 'Playback position' }).waitFor();
  await tapSpeaker(page);
  return page;
}

export function report(name: string, errors: number[]): { median: number; worst: number } {
  const abs = errors.map(Math.abs);
  const result = { median: median(abs), worst: Math.max(...abs) };
  console.log(`${name}: ${errors.length} words, signed median ${median(errors).toFixed(1)} ms, median ${result.median.toFixed(1)} ms, worst ${result.worst.toFixed(1)} ms`);
  return result;
}
