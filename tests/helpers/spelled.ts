/** Writing words while tones spell the time, and hearing what a touch on them plays. */
import { type BrowserContext, type Page } from '@playwright/test';
import { button, type Pen } from './app';
import { firstSound, median, timeAtStart } from './dtmf';
import { NotByLoad } from './machine';
import { clearSpeaker, microphone, penDowns, speaker, tapSpeaker, type TimedPcm } from './tap';

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

/**
 * Spelled time that the microphone delivered at each pen-down, ms; null where it cannot be told because sound was lost right
 * there (a starved machine really loses microphone sound, which is no fault of the application).
 */
export async function spokenAtDowns(page: Page, recording: number): Promise<(number | null)[]> {
  return toldAt(await microphone(page, recording), await penDowns(page));
}

/** Spelled time of a sound at each of some event times, ms; null where it cannot be told. */
export function toldAt(sound: TimedPcm, events: readonly number[]): (number | null)[] {
  const tell = (at: number, ms: number, long: number, by: 'first' | 'last'): number | null => {
    const from = at + Math.round((ms * sound.rate) / 1000);
    const n = Math.round((long * sound.rate) / 1000);
    if (from < 0 || from + n > sound.samples.length) return null;
    const t = timeAtStart(sound.samples.subarray(from, from + n), sound.rate, 1, by);
    return t === null ? null : t - ms;
  };
  return events.map((event) => {
    const at = sound.sampleAt(event);
    // Told by the sound just before and just after the event, from farther away where a tone is torn; both must say the
    // same, or sound is missing between them.
    const before = tell(at, -600, 550, 'last') ?? tell(at, -1150, 1100, 'last');
    const after = tell(at, 0, 550, 'first') ?? tell(at, 0, 1100, 'first');
    return before === null || after === null || Math.abs(before - after) > 5 ? null : after;
  });
}

/** What is told in what was heard from an event time on: spelled time and event time, both in ms, wherever half a second tells it. */
export function tellings(sound: TimedPcm, from: number, speed: number): { at: number; time: number }[] {
  const found: { at: number; time: number }[] = [];
  const n = Math.round(0.55 * sound.rate);
  for (let start = sound.sampleAt(from), at = from; start + n <= sound.samples.length; start = sound.sampleAt((at += 100))) {
    const time = timeAtStart(sound.samples.subarray(start, start + n), sound.rate, speed);
    if (time !== null) found.push({ at, time });
  }
  return found;
}

/** Before the end of what is played nothing more is written, ms: the last word has to be heard. */
const END_MS = 6000;

/** A slow machine writes slowly: what is heard comes to its end all the same, and nothing is heard after it. */
export const goesOn = (page: Page): Promise<boolean> => page.evaluate((ms) => [...document.querySelectorAll('audio')].some((a) => 1000 * (a.duration - a.currentTime) > ms), END_MS);

/** Touches word `i` and gives the spelled time of the first sound that goes out, ms; null where the recording is torn right there. */
export async function heardAtTouch(page: Page, pen: Pen, i: number, speed: number): Promise<number | null> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const { x, y } = place(i);
  return heardAt(page, pen, { x: box.x + x + 10, y: box.y + y + 4 }, speed);
}

/** The same for a place of the view. */
export async function heardAt(page: Page, pen: Pen, at: { x: number; y: number }, speed: number): Promise<number | null> {
  if ((await button(page, 'Pause').count()) > 0) await button(page, 'Pause').click();
  await clearSpeaker(page);
  await pen.touch(at.x, at.y);
  // Half a second and a bit holds four whole tones; where one is torn (sound lost while recording) it takes a longer ear.
  for (const ms of speed === 1 ? [650, 1300] : [550, 1100]) {
    const got = await speaker(page, ms).catch((e: Error) => {
      // On a machine that stood still between the two ends of a touch it was held, and plays nothing: the word is heard again after the others, and counted.
      if (!e.message.includes('"paused":true')) throw e;
      console.log(`  the player stands still: ${e.message}`);
      return null;
    });
    if (!got) return null;
    const { samples, rate } = got;
    const first = firstSound(samples);
    const told = first < 0 ? null : timeAtStart(samples.subarray(first), rate, speed);
    if (told !== null) return told;
  }
  return null;
}

/** All words are gone through so often at most: what was not heard whole is heard again after the others, when what starved the machine may have passed. */
const ROUNDS = 4;
/** Words around which the recording itself has a hole, since the microphone was starved there: at a higher speed more sound around a word has to be whole. They are counted and named; sound that the application lost, as at the end of every piece of 5 s, would tear one word in four. */
const TORN = 5;

/**
 * Differences between the moment heard and the moment written, ms, of all words whose moment the microphone told (the others are null). A word is heard
 * again only where what the tap caught is not whole, which it shows itself: its tones do not follow each other as they were sounded. Every word is
 * in the result, among the few that are torn in the recording, or the reason of a failure.
 */
export async function differences(page: Page, pen: Pen, spoken: readonly (number | null)[], speed: number): Promise<number[]> {
  const errors: number[] = [];
  let left = spoken.flatMap((wanted, i) => (wanted === null ? [] : [{ i, wanted }]));
  let again = 0;
  for (let round = 0; round < ROUNDS && left.length > 0; round++) {
    if (round > 0) again += left.length;
    const torn: typeof left = [];
    for (const word of left) {
      const heard = await heardAtTouch(page, pen, word.i, speed);
      if (heard === null) {
        torn.push(word);
        continue;
      }
      errors.push(heard - word.wanted);
      // A torn tone may be taken for another once or twice.
      if (errors.filter((e) => Math.abs(e) > 1000).length >= 3) throw new NotByLoad(`Words play another moment than theirs, by ${errors.map((e) => e.toFixed(0)).join(', ')} ms.`);
      if (Math.abs(heard - word.wanted) > 20) console.log(`  word ${word.i} at ${speed}x: ${(heard - word.wanted).toFixed(1)} ms`);
    }
    left = torn;
  }
  for (const { i, wanted } of left) console.log(`  word ${i} at ${speed}x, written ${wanted.toFixed(0)} ms into the sound, was not heard whole`);
  if (left.length > TORN) throw new Error(`At ${speed}x the words ${left.map((w) => w.i).join(', ')} were not heard whole in ${ROUNDS} rounds.`);
  console.log(`${speed}x: ${spoken.length} words written, ${errors.length} told by the microphone and heard, ${again} times again, ${left.length} torn`);
  return errors;
}

/** How long nothing at all came out of a sound card between two event times, ms: a player that is starved gives silence, where what it plays is never quite still. */
export function silentMs(sound: TimedPcm, from: number, to: number): number {
  const least = Math.round(0.01 * sound.rate);
  const end = sound.sampleAt(to);
  let silent = 0;
  for (let i = sound.sampleAt(from), run = 0; i <= end; i++) {
    if (i < end && sound.samples[i] === 0) run++;
    else {
      if (run >= least) silent += run;
      run = 0;
    }
  }
  return (silent / sound.rate) * 1000;
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

/** Median and worst of the differences between the moment heard and the moment written, ms. */
export function report(name: string, errors: number[]): { median: number; worst: number } {
  const abs = errors.map(Math.abs);
  const result = { median: median(abs), worst: Math.max(...abs) };
  console.log(`${name}: ${errors.length} words, signed median ${median(errors).toFixed(1)} ms, median ${result.median.toFixed(1)} ms, worst ${result.worst.toFixed(1)} ms`);
  return result;
}
