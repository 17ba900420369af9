/**
 * Measures what must be fast, beside what a plain way of doing it costs in the same run: `npm run bench`; parts of it alone by their
 * names, as in `npm run bench -- core library`: core, hand, phone, wide, sound, library, bring, film, eight, typing, things, board, reading.
 * Figures depend on the machine; the ratios and the goals are what counts. Ends with 1 when a goal is missed.
 * `--few`: a little of each, in two minutes, to see that all of it still runs.
 */
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { packetsOfWebm } from '../../src/core/formats/webmFile';
import { InkIndex } from '../../src/core/ink/inkIndex';
import { distanceTo, strokesOf } from '../../src/core/note/kinds/kinds';
import { packPoints, unpackPoints } from '../../src/core/ink/points';
import { pointsOf, type Stroke } from '../../src/core/ink/stroke';
import { groupWords } from '../../src/core/ink/words/words';
import { writeInk } from '../../src/core/note/records/inkChunk';
import { button, Pen, PHONE, recordNew, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { records } from '../helpers/disk';
import { denseTools, layDense, moveAndZoom } from './inkBrowser';
import type { Packet } from '../../src/core/audio/opus';
import { coreTools, shapeTable } from './inkCore';
import { bringing } from './bringBrowser';
import { eightHours, growth } from './growthBrowser';
import { handingInBrowser } from './handingBrowser';
import { handing } from './handingCore';
import { layLibrary, library, NOTES } from './libraryBrowser';
import { board } from './boardBrowser';
import { readingInBrowser } from './readingBrowser';
import { reading } from './readingCore';
import { things } from './thingsBrowser';
import { typing } from './typingBrowser';
import { hearing, replaying } from './replayBrowser';
import { atMost, clearCosts, costsOf, demo, FEW, firstTake, heardRecord, inject, layDown, longNote, missed, ms, percentile, row, size, timed, touchToSound, watchCosts, written } from './kit';

const asked = process.argv.slice(2).filter((a) => !a.startsWith('--'));
type Part = 'core' | 'hand' | 'phone' | 'wide' | 'sound' | 'library' | 'bring' | 'film' | 'eight' | 'typing' | 'things' | 'board' | 'reading';
const wanted = (part: Part): boolean => asked.length === 0 || asked.includes(part);

function core(): void {
  console.log('-- core, in Node');

  const points = written.map(pointsOf);
  const count = points.reduce((s, p) => s + p.n, 0);
  const packed = timed(() => points.map(packPoints));
  const bytes = packed.value.reduce((s, b) => s + b.length, 0);
  const json = timed(() => points.map((p) => JSON.stringify(Array.from({ length: p.n }, (_, i) => [p.xy[2 * i] / 100, p.xy[2 * i + 1] / 100, p.p[i] / 127, p.t[i]]))));
  const jsonBytes = json.value.reduce((s, t) => s + t.length, 0);
  row('bytes per stored point', `${(bytes / count).toFixed(2)}`, `JSON.stringify ${(jsonBytes / count).toFixed(1)}`, atMost(bytes / count, 6, 'at most 6'));
  const { strokes: many } = longNote('touch', 7_200_000, 20_000);
  const chunk = writeInk(written).length;
  row('the same with all a stroke carries (pen, stamp, box)', `${(chunk / count).toFixed(2)}`);
  const plain = many.map(({ s: _, ...bare }): Stroke => bare);
  const [versioned, bare] = [writeInk(many).length, writeInk(plain).length];
  row('bytes a stroke, of 20,000 with the version of each', `${(versioned / many.length).toFixed(1)} (${(100 * (versioned / bare - 1)).toFixed(3)} % for the versions)`, `without versions ${(bare / many.length).toFixed(1)}`, atMost(versioned / bare, 1.05, 'at most 5 % more'));
  row('packing 1,000 points', ms((packed.ms * 1000) / count), `JSON.stringify ${ms((json.ms * 1000) / count)}`);
  const unpacked = timed(() => packed.value.map(unpackPoints));
  const parsed = timed(() => json.value.map((t) => JSON.parse(t) as unknown));
  row('unpacking 1,000 points', ms((unpacked.ms * 1000) / count), `JSON.parse ${ms((parsed.ms * 1000) / count)}`);

  const grouped = timed(() => Object.values(demo.note.ink).map((list) => groupWords(strokesOf(list))), 600);
  row('finding words, per 1,000 strokes', ms((grouped.ms * 1000) / written.length));

  const flat = many.map((s, i) => ({ ...s, box: [s.box[0], s.box[1] + 297 * Math.floor(i / 500), s.box[2], s.box[3] + 297 * Math.floor(i / 500)] as const }));
  const index = new InkIndex(flat);
  const found = timed(() => index.at(60, 100, 3).length);
  const scanned = timed(() => flat.filter((s) => distanceTo(s, 60, 100) < 3).length);
  row('finding what a touch meant among 20,000 strokes', ms(found.ms), `scan without index ${ms(scanned.ms)}`);

  coreTools();
  shapeTable();
}

interface Setting {
  readonly url: string;
  /** Sound files: the microphone, and the packets it is made of. */
  readonly wav: string;
  readonly sound: readonly Packet[];
}

async function main(): Promise<void> {
  console.log(`${''.padEnd(52)} ${'Scrivo'.padEnd(36)} ${'plain alternative'.padEnd(44)} goal`);
  if (wanted('core')) core();
  if (wanted('reading')) await reading();
  if (wanted('hand')) await handing();
  console.log('-- in the browser');
  const server = await startServer();
  const folder = tempFolder();
  const sound = await packetsOfWebm([...demo.takes.values()][0]);
  const wav = path.join(folder, 'lecture.wav');
  const webm = path.join(folder, 'lecture.webm');
  writeFileSync(webm, [...demo.takes.values()][0]);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', webm, '-ac', '1', wav]);

  const setting: Setting = { url: server.url, wav, sound };
  const parts: [Part, () => Promise<void>][] = [
    ['phone', () => longNotes('390x844', PHONE, setting)],
    ['wide', () => longNotes('1280x800', WIDE, setting)],
    ['sound', () => stored(setting)],
    ['library', () => years(setting)],
    ['typing', () => typing(server.url)],
    ['things', () => things(server.url)],
    ['board', () => board(server.url)],
    ['reading', async () => {
      const own = await startServer(true);
      await readingInBrowser(own.url);
      await own.close();
    }],
    ['bring', () => bringing(server.url)],
    ['film', () => handingInBrowser(server.url, sound)],
    ['eight', () => eightHours(server.url, sound)],
  ];
  const run = parts.filter(([part]) => wanted(part));
  // Where no figure counts the waits of one are the work of another.
  const next = async (): Promise<void> => {
    for (let it = run.shift(); it; it = run.shift()) await it[1]();
  };
  await Promise.all(Array.from({ length: size(1, 4) }, next));
  await server.close();
}

/** Marks and tags of the long note. */
const ROWS = size(2000, 20);
const STROKES = size(20_000, 1000);
/** Of the long notes, ms. */
const LENGTH = size(7_200_000, 300_000);

/** Opens a note from Today, and gives the time until its page and its timeline stand, ms. */
const openTime = (page: Page, note: string): Promise<number> =>
  page.evaluate(
    (title) =>
      new Promise<number>((resolve) => {
        const start = performance.now();
        // A row is named by what stands in it.
        [...document.querySelectorAll<HTMLElement>('button.note-open')].find((el) => el.textContent?.startsWith(`Open ${title}`))!.click();
        const look = () => {
          if (document.querySelector('[data-testid="page-1"] canvas') && document.querySelector('[role="slider"]')) resolve(performance.now() - start);
          else requestAnimationFrame(look);
        };
        look();
      }),
    note,
  );

/** From the open note over a short one to Today, where `next` can be opened. */
async function backAndForth(page: Page, next: string): Promise<void> {
  await button(page, 'Back to Today').click();
  await page.getByRole('button', { name: /^Open ninety-seconds/ }).click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Back to Today').click();
  await page.getByRole('button', { name: new RegExp(`^Open ${next}`) }).waitFor();
}

/** Notes of two hours and of 90 s, opened, listened to and written in. */
async function longNotes(name: string, viewport: typeof PHONE, { url, wav, sound }: Setting): Promise<void> {
  const context = await startBrowser({ viewport, microphone: wav });
  await context.addInitScript(watchCosts);
  const page = context.pages()[0];
  await firstTake(page, url);
  const long = await layDown(page, 'two-hours', LENGTH, STROKES, sound);
  await layDown(page, 'many-rows', LENGTH, STROKES, sound, ROWS);
  await inject(page, 'scrivo-sound', ['two-hours', 'many-rows'].map((note) => [`heard/${note}-take`, heardRecord(LENGTH)]));
  const short = await layDown(page, 'ninety-seconds', 90_000, 300, sound);
  await layDense(page);
  await page.goto(url);
  await page.getByRole('button', { name: /^Open two-hours/ }).waitFor();

  for (const [note, what] of [['many-rows', ', 2,000 rows'], ['two-hours', '']].slice(FEW ? 1 : 0)) {
    const opening: number[] = [];
    for (let i = 0; i < size(5, 1); i++) {
      if (opening.length) await backAndForth(page, note);
      opening.push(await openTime(page, note));
    }
    row(`${name}: opening 2 h, 20,000 strokes${what} (median of 5)`, ms(percentile(opening, 0.5)), '', atMost(percentile(opening, 0.5), 1000, 'under 1 s'));
    if (what) await backAndForth(page, 'two-hours');
  }

  const pen = await Pen.on(page);
  const twoHours = await touchToSound(page, pen, long.strokes, long.header, size(60, 3));
  row(`${name}: touch to sound in 2 h (median, p95)`, `${ms(percentile(twoHours, 0.5))}, ${ms(percentile(twoHours, 0.95))}`, '', atMost(percentile(twoHours, 0.95), 150, 'p95 under 150 ms'));
  row(`${name}: the same after the first ten touches`, `${ms(percentile(twoHours.slice(size(10, 1)), 0.5))}, ${ms(percentile(twoHours.slice(size(10, 1)), 0.95))}`);
  if (await button(page, 'Pause').count()) await button(page, 'Pause').click();
  await replaying(page, name, LENGTH);

  await button(page, 'Write').click();
  await button(page, 'Record').click();
  await page.getByTestId('recording-clock').waitFor();
  await page.evaluate(() => (document.querySelector('.surface-scroller')!.scrollTop = 0));
  // The page is at rest before the pen comes down.
  await page.waitForTimeout(1000);
  await clearCosts(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  for (let i = 0; i < size(60, 6); i++) await pen.scribble(box.x + 20 + (i % 10) * (box.width / 11), box.y + 40 + Math.floor(i / 10) * 50, 24, 14);
  const costs = await costsOf(page);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  const redraw = await page.evaluate((lines) => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [780, 1104];
    const ctx = canvas.getContext('2d')!;
    const times: number[] = [];
    for (let k = 0; k < 5; k++) {
      const start = performance.now();
      ctx.clearRect(0, 0, 780, 1104);
      for (let i = 0; i < 20_000; i++) {
        const line = lines[i % lines.length];
        ctx.beginPath();
        for (let j = 0; j < line.length; j += 2) ctx.lineTo(line[j] * 3, line[j + 1] * 3);
        ctx.stroke();
      }
      ctx.getImageData(0, 0, 1, 1);
      times.push(performance.now() - start);
    }
    return times.sort((a, b) => a - b)[2];
  }, written.slice(0, 300).map((s) => [...pointsOf(s).xy].map((v) => v / 100)));
  row(`${name}: pen event while recording (median, p95)`, `${ms(percentile(costs.events, 0.5))}, ${ms(percentile(costs.events, 0.95))}`, `full redraw of all strokes ${ms(redraw)}`, atMost(percentile(costs.events, 0.95), 4, 'p95 under 4 ms'));
  row(`${name}: frame while writing (median, p95)`, `${ms(percentile(costs.frames, 0.5))}, ${ms(percentile(costs.frames, 0.95))}`, `full redraw of all strokes ${ms(redraw)}`);
  row(`${name}: tasks over 50 ms while writing`, `${costs.long.length}${costs.long.length ? `, longest ${ms(Math.max(...costs.long))}` : ''}`);

  await moveAndZoom(page, pen, name, redraw);
  await denseTools(page, pen, name);

  await button(page, 'Back to Today').click();
  await page.getByRole('button', { name: /^Open ninety-seconds/ }).click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Listen').click();
  await page.getByRole('slider', { name: 'Playback position' }).waitFor();
  const brief = await touchToSound(page, pen, short.strokes, short.header, size(40, 3));
  row(`${name}: touch to sound in 90 s (median, p95)`, `${ms(percentile(brief, 0.5))}, ${ms(percentile(brief, 0.95))}`, '', atMost(percentile(brief, 0.95), 150, 'p95 under 150 ms'));
  await context.close();
}

/** What sound takes, and what finding its levels and pauses costs. */
async function stored({ url, wav, sound }: Setting): Promise<void> {
  const context = await startBrowser({ microphone: wav, idle: true });
  const page = context.pages()[0];
  await page.goto(url);
  await recordNew(page);
  await page.waitForFunction((long) => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) >= long, size(30_000, 4000), { timeout: 60_000 });
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const kept = Object.values(await records(page, 'scrivo-sound'));
  await page.getByText('Listen').click();
  const length = Number(await page.getByRole('slider', { name: 'Playback position' }).getAttribute('max'));
  const perHour = (kept.reduce((s, t) => s + t.length, 0) / length) * 3_600_000;
  row('stored bytes per hour of speech', `${(perHour / 1e6).toFixed(1)} MB`, `as base64 ${((perHour * 4) / 3 / 1e6).toFixed(1)} MB`, atMost(perHour, 15e6, 'at most 15 MB'));
  await hearing(page, url, sound);
  await context.close();
}

/** A library of years. */
async function years({ url, wav, sound }: Setting): Promise<void> {
  const context = await startBrowser({ microphone: wav });
  await context.addInitScript(watchCosts);
  const [first] = context.pages();
  await firstTake(first, url);
  await layLibrary(first, sound);
  // What Today shows first is kept a moment after the library was read.
  await first.goto(url);
  await first.getByText(`All ${NOTES + 1} notes`).waitFor();
  await first.waitForTimeout(3000);
  await library(first, url, '390x844');
  await first.setViewportSize(WIDE);
  if (!FEW) await library(first, url, '1280x800');
  await growth(first, url);
  await context.close();
}

main().then(
  () => {
    console.log(FEW ? '\nAll of it ran; a short run tells no figures.' : missed.length ? `\n${missed.length} ${missed.length === 1 ? 'goal' : 'goals'} missed:\n${missed.join('\n')}` : '\nAll goals hold.');
    process.exit(missed.length ? 1 : 0);
  },
  (e: unknown) => {
    console.error(e);
    process.exit(1);
  },
);
