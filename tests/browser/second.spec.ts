/**
 * Listening in depth, held against tones that spell the time (ITU-T Q.23, helpers/dtmf.ts): three times the speed, with pauses skipped,
 * repeated, and ink of a second pass, whose stamp must be the moment that was heard while it was written.
 */
import { expect, test } from '@playwright/test';
import { button, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder, choose, inMore, press, turn } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { median } from '../helpers/dtmf';
import { clockOf, startLoudspeaker } from '../helpers/loudspeaker';
import { wholeSound } from '../helpers/machine';
import { differences, goesOn, heardAtTouch, openFromToday, place, report, silentMs, spokenAtDowns, tellings, toldAt, write } from '../helpers/spelled';
import { pageErrors, penDowns } from '../helpers/tap';

const WORDS = 14;
/** Where a starved machine lost sound, a word's moment cannot be told: then more are written, up to this many. */
const MOST = 34;
const ENOUGH = 7;
/** Words between which no sound is missing differ by less in what they say of the take, ms. */
const AGREE_MS = 25;
/** Strokes of the second pass, and how many at most where the machine lost sound. */
const SECOND = 20;
const MOST_SECOND = 42;
/** Words that are heard at three times the speed. */
const HEARD_FAST = 12;

/** What the microphone hears: tones that spell the time, and a pause in every ten seconds, ms. */
const RESTS = { every: 10_000, rest: 2500 };

test('3x, skipped pauses and repeating play the right moment, and second-pass ink is stamped with what was heard', wholeSound(async () => {
  const folder = tempFolder();
  const server = await startServer();
  const card = await startLoudspeaker();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 120, RESTS), profile: folder, loudspeaker: card.server });
  let page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, WORDS, 900);
  let words = WORDS;
  while (words < MOST && (await spokenAtDowns(page, 0)).filter((t) => t !== null).length < HEARD_FAST) {
    await write(page, pen, words, words + 4, 900);
    words += 4;
  }
  await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) >= 58_000, undefined, { timeout: 60_000 });
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const spoken = await spokenAtDowns(page, 0);

  page = await openFromToday(context, server.url);
  const listener = await Pen.on(page);
  await choose(page, 'Lead-in', '0');
  await turn(page, /^Skip pauses/);
  await choose(page, 'Speed', '3');
  const errors = await differences(page, listener, spoken, 3);
  const fast = report('3x with pauses skipped', errors);
  expect(errors.length).toBeGreaterThanOrEqual(HEARD_FAST);
  expect(fast.median).toBeLessThanOrEqual(35);

  // Over a pause: what came out of the loudspeaker is later in the sound by the pause than three times the speed alone makes it.
  await inMore(page, () => expect(page.getByText(/^Saves \d/)).toBeVisible());
  const pause = 2 * RESTS.every - RESTS.rest;
  await button(page, 'Pause').click();
  await page.getByRole('slider', { name: 'Playback position' }).fill(String(pause - 4000));
  const began = performance.timeOrigin + performance.now();
  await button(page, 'Play').click();
  await page.waitForFunction((to) => document.querySelector('audio')!.currentTime * 1000 >= to, 2 * RESTS.every + 4000);
  await button(page, 'Pause').click();
  const played = card.heard();
  const told = tellings(played, began, 3);
  const [first, last] = [told[0], told.at(-1)!];
  // A starved machine plays nothing for a while, and goes on where it was.
  const stalled = silentMs(played, first.at, last.at);
  const skipped = last.time - first.time - 3 * (last.at - first.at - stalled);
  console.log(`skipped ${skipped.toFixed(0)} of ${RESTS.rest} ms, nothing was played for ${stalled.toFixed(0)} ms`);
  expect(first.time).toBeLessThan(pause);
  expect(last.time).toBeGreaterThan(2 * RESTS.every);
  // On both sides something of it is heard, and the jump itself takes a moment.
  expect(skipped).toBeGreaterThan(RESTS.rest / 2);
  expect(skipped).toBeLessThan(RESTS.rest);

  // Repeated: the same moment is heard again, by itself.
  await choose(page, 'Speed', '1');
  const word = spoken.findIndex((t) => t !== null);
  const again = await heardAtTouch(page, listener, word, 1);
  expect(Math.abs(again! - spoken[word]!)).toBeLessThanOrEqual(60);
  await press(page, 'Repeat');
  await inMore(page, () => expect(button(page, 'Repeat')).toHaveAttribute('aria-pressed', 'true'));
  // Where it goes on after each jump back, where it jumped from, and how long nobody looked, in which it plays on, s. The third time the page is busy when it should jump.
  const rounds = await page.evaluate(
    () =>
      new Promise<{ from: number; to: number; unseen: number }[]>((resolve, reject) => {
        const audio = document.querySelector('audio')!;
        const jumps: { from: number; to: number; unseen: number }[] = [];
        let last = audio.currentTime;
        let looked = performance.now();
        // A run is at most a line long.
        setTimeout(() => reject(new Error(`It does not repeat: ${JSON.stringify(jumps)}, at ${audio.currentTime} s, ${audio.paused ? 'paused' : 'playing'}, ready ${audio.readyState}, ${document.querySelector('[aria-label="Playback position"]')?.getAttribute('aria-valuenow')}`)), 90_000);
        const look = () => {
          if (audio.currentTime < last - 0.3) jumps.push({ from: last, to: audio.currentTime, unseen: (performance.now() - looked) / 1000 });
          last = audio.currentTime;
          looked = performance.now();
          if (jumps.length === 2 && last > jumps[1].from - 0.05) for (const until = performance.now() + 200; performance.now() < until; );
          if (jumps.length >= 3) resolve(jumps);
          else setTimeout(look, 5);
        };
        look();
      }),
  );
  for (const { from, to, unseen } of rounds) {
    // A starved machine looks late, when it already plays on: by no more than nobody looked.
    expect(Math.abs(to - rounds[0].to)).toBeLessThan(0.06 + Math.max(unseen, rounds[0].unseen));
    // Busy for 200 ms from 50 ms before the end on: the jump is late, and comes nevertheless.
    expect(from - rounds[0].from).toBeLessThan(2);
  }
  await press(page, 'Repeat');
  await inMore(page, () => expect(button(page, 'Repeat')).toHaveAttribute('aria-pressed', 'false'));

  // The second pass: written while it plays on, stamped with what was heard. In a page of its own: the one before was kept busy on purpose, after which the browser's own clock of what it plays can be off for good.
  page = await openFromToday(context, server.url);
  const writer = await Pen.on(page);
  await turn(page, /^Skip pauses/);
  await button(page, 'Write while listening').click();
  await page.getByRole('slider', { name: 'Playback position' }).fill('8000');
  await button(page, 'Play').click();
  await button(page, 'Pause').waitFor();
  const from = (await penDowns(page)).length;
  const box = (await page.getByTestId('page-1').boundingBox())!;
  let made = 0;
  const origin = await clockOf(page);
  /** Spelled time that came out of the loudspeaker at each pen-down, ms. */
  const heardAtDowns = async () => toldAt(card.heard(), (await penDowns(page)).slice(from).map((at) => origin + at));
  while ((await goesOn(page)) && (made < SECOND || (made < MOST_SECOND && (await heardAtDowns()).filter((t) => t !== null).length < ENOUGH + 6))) {
    const { x, y } = place((words + 6 + made++) % 55);
    await writer.scribble(box.x + x, box.y + y);
    // The pace of the writer.
    await new Promise((r) => setTimeout(r, 900));
  }
  await new Promise((r) => setTimeout(r, 2500));
  if (await button(page, 'Pause').count()) await button(page, 'Pause').click();
  await saved(page);
  const heard = await heardAtDowns();
  const strokes = await inkOnDisk(page);
  const [written, second] = [strokes.filter((s) => !s.second), strokes.filter((s) => s.second)];
  expect(second.length).toBe(made);
  // Spelled time less take time is the same for all sound of the take, but where a starved machine lost some of it: told by the words written around, and only where they agree.
  const shifts = written.flatMap((s, i) => (spoken[i] === null ? [] : [{ at: s.stamp!.at, by: spoken[i]! - s.stamp!.at }]));
  const shiftAt = (at: number): number | null => {
    const near = [...shifts].sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at)).slice(0, 3).map((s) => s.by);
    return Math.max(...near) - Math.min(...near) > AGREE_MS ? null : median(near);
  };
  const off = second.flatMap((s, i) => {
    const shift = shiftAt(s.stamp!.at);
    return heard[i] === null || shift === null ? [] : [s.stamp!.at + shift - heard[i]!];
  });
  console.log(`  spelled time less take time, by take time, ms: written ${shifts.map((s) => `${s.at.toFixed(0)} ${s.by.toFixed(0)}`).join(', ')}; heard ${second.map((s, i) => `${s.stamp!.at.toFixed(0)} ${heard[i] === null ? '?' : (heard[i]! - s.stamp!.at).toFixed(0)}`).join(', ')}`);
  const result = report('second pass', off);
  expect(off.length).toBeGreaterThanOrEqual(ENOUGH);
  expect(result.median).toBeLessThanOrEqual(20);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await card.close();
  await server.close();
}, 300_000));
