/**
 * The main promise: touch a word and hear the moment it was written.
 *
 * The microphone plays tones that spell the time (ITU-T Q.23, see helpers/dtmf.ts). Words are written through pen events while it
 * records. After a reload each word is touched, and what goes to the loudspeaker is decoded. The reference for a stroke is what
 * the microphone itself delivered at the event time of its pen-down, taken from the same track without the application's help.
 */
import { expect, test } from '@playwright/test';
import { button, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder, choose } from '../helpers/app';
import { wholeSound } from '../helpers/machine';
import { differences, heardAt, openFromToday, report, spokenAtDowns, toldAt, write } from '../helpers/spelled';
import { microphone, pageErrors } from '../helpers/tap';

/** So many words are written whose moment the microphone itself tells. */
const WORDS = 30;
/** Where a starved machine lost sound within half a second of a word, its moment cannot be told: then more are written, up to this many. */
const MOST = 55;
/** Words around which the recording itself may be torn. */
const SPARE = 4;

test('a touched word plays the moment it was written, at 1x and 2x, over a pause and a reload', wholeSound(async () => {
  const folder = tempFolder();
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 240), profile: folder });
  let page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, WORDS / 2, 700);
  // Time for the last word's moment to be spelled out before the pause cuts it off.
  await new Promise((r) => setTimeout(r, 1200));
  await button(page, 'Pause recording').click();
  await button(page, 'Resume recording').waitFor();
  await new Promise((r) => setTimeout(r, 3000));
  await button(page, 'Resume recording').click();
  await button(page, 'Pause recording').waitFor();
  await write(page, pen, WORDS / 2, WORDS, 700);
  let words = WORDS;
  const clean = async () => (await spokenAtDowns(page, 0)).filter((t) => t !== null).length;
  // The last word's moment is spelled out before it is asked for.
  await new Promise((r) => setTimeout(r, 1200));
  while (words < MOST && (await clean()) < WORDS + SPARE) {
    // Reading what the microphone heard tears its sound; the next words need some whole sound before them.
    await new Promise((r) => setTimeout(r, 1500));
    await write(page, pen, words, words + 5, 700);
    words += 5;
    await new Promise((r) => setTimeout(r, 1200));
  }
  // The lecture goes on: no listening below reaches the end of the take, where the tap on the loudspeaker would be cut off.
  await new Promise((r) => setTimeout(r, 6000));
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const spoken = await spokenAtDowns(page, 0);
  expect(spoken.filter((t) => t !== null).length, 'words whose moment the microphone itself tells').toBeGreaterThanOrEqual(WORDS);
  expect(await pageErrors(page)).toEqual([]);

  page = await openFromToday(context, server.url);
  const listener = await Pen.on(page);
  await choose(page, 'Lead-in', '0');
  for (const [speed, limit] of [
    [1, { median: 6, worst: 40 }],
    // The tap can lose one buffer of 1,024 samples as the sound begins: 43 ms of sound at twice the speed.
    [2, { median: 15, worst: 60 }],
  ] as const) {
    await choose(page, 'Speed', String(speed));
    const errors = await differences(page, listener, spoken, speed);
    const { median: middle, worst } = report(`${speed}x`, errors);
    expect(errors.length).toBeGreaterThanOrEqual(WORDS);
    expect(middle).toBeLessThanOrEqual(limit.median);
    // On a machine that others load the tap loses a buffer or two of a word now and then; a wrong stamp, or a jump to a wrong place, is wrong for more words than that.
    const off = errors.filter((e) => Math.abs(e) > limit.worst);
    expect(off.length, `words off by more than ${limit.worst} ms: ${off.map((e) => e.toFixed(0)).join(', ')}`).toBeLessThanOrEqual(2);
    expect(worst).toBeLessThanOrEqual(150);
  }
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
}, 300_000));

/** Typed lines, each begun at a key whose event time the microphone's own sound dates. */
const LINES = 12;
test('a touched typed line plays the moment its first letter was typed', wholeSound(async () => {
  const folder = tempFolder();
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 120), profile: folder });
  let page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  await page.keyboard.press('t');
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await page.mouse.click(box.x + 40, box.y + 40);
  await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
  // Upper case begins a line here, and nothing else.
  await page.evaluate(() => {
    const begun: number[] = [];
    Object.assign(window, { begun });
    window.addEventListener('keydown', (e) => /^[A-Z]$/.test(e.key) && begun.push(e.timeStamp), true);
  });
  let began = Date.now();
  for (let i = 0; i < LINES; i++) {
    if (i) await page.keyboard.press('Enter');
    await page.keyboard.type(`${'ABCDEFGHIJKL'[i]}bb`);
    const due = (began += 1100);
    await new Promise((r) => setTimeout(r, Math.max(0, due - Date.now())));
  }
  await new Promise((r) => setTimeout(r, 7000));
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const spoken = toldAt(await microphone(page, 0), await page.evaluate('window.begun'));
  expect(spoken).toHaveLength(LINES);
  expect(spoken.filter((t) => t !== null).length, 'lines whose moment the microphone itself tells').toBeGreaterThanOrEqual(LINES - 3);
  expect(await pageErrors(page)).toEqual([]);

  page = await openFromToday(context, server.url);
  const pen = await Pen.on(page);
  await choose(page, 'Lead-in', '0');
  await expect(page.getByTestId('typed-line')).toHaveCount(LINES);
  const errors: number[] = [];
  for (const [i, wanted] of spoken.entries()) {
    const line = (await page.getByTestId('typed-line').nth(i).boundingBox())!;
    const heard = wanted === null ? null : await heardAt(page, pen, { x: line.x + 4, y: line.y + line.height / 2 }, 1);
    if (heard !== null) errors.push(heard - wanted!);
  }
  expect(errors.length).toBeGreaterThanOrEqual(LINES - 4);
  const { median, worst } = report('typed lines', errors);
  expect(median).toBeLessThanOrEqual(20);
  expect(worst).toBeLessThanOrEqual(150);
  // The time margin has them as lines, with the time each was begun.
  await expect(page.getByRole('button', { name: /^Line written at/ })).toHaveCount(LINES);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
}));
