/**
 * Measures what must be fast, beside what a plain way of doing it costs in the same run: `npm run bench`.
 * Figures depend on the machine; the ratios and the goals are what counts.
 */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { pieceOf, writePiece } from '../../src/core/audio/pieces';
import type { Packet } from '../../src/core/audio/opus';
import { readBundle } from '../../src/core/formats/bundle';
import { distanceTo, InkIndex } from '../../src/core/ink/inkIndex';
import { packPoints, unpackPoints } from '../../src/core/ink/points';
import { makeStroke, pointsOf, type Stroke } from '../../src/core/ink/stroke';
import { groupWords } from '../../src/core/ink/words';
import { writeChunk, writeHeader } from '../../src/core/note/records';
import { newPage, type NoteHeader } from '../../src/core/note/schema';
import { packetsOfWebm } from '../../src/core/formats/webmFile';
import { button, Pen, PHONE, recordNew, ROOT, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { records } from '../helpers/disk';

const percentile = (v: readonly number[], p: number): number => [...v].sort((a, b) => a - b)[Math.min(v.length - 1, Math.floor(p * v.length))];
const ms = (v: number) => `${v.toFixed(v < 10 ? 2 : 0)} ms`;
const row = (what: string, ours: string, plain = '', goal = '') => console.log(`${what.padEnd(52)} ${ours.padEnd(36)} ${plain.padEnd(44)} ${goal}`);

function timed<T>(work: () => T, least = 200): { value: T; ms: number } {
  work();
  let n = 0;
  let value!: T;
  const start = performance.now();
  do {
    value = work();
    n++;
  } while (performance.now() - start < least);
  return { value, ms: (performance.now() - start) / n };
}

const demo = readBundle(new Uint8Array(readFileSync(path.join(ROOT, 'demo/notes/demo-tides-0000000001.scrivo'))));
const written = Object.values(demo.note.ink).flat();

/** A note of `hours` with `count` strokes: the demo's own, again and again over the pages. */
function longNote(id: string, length: number, count: number): { header: NoteHeader; strokes: Stroke[] } {
  const firstPage = demo.note.header.pages[0].id;
  const sheet = written.filter((s) => s.page === firstPage);
  const pages = Array.from({ length: Math.ceil(count / sheet.length) }, (_, i) => newPage(`${id}-p${i}`));
  const take = `${id}-take`;
  const wall = Date.UTC(2026, 10, 2, 8);
  const strokes: Stroke[] = [];
  for (let i = 0; i < count; i++) {
    const s = sheet[i % sheet.length];
    const at = Math.round((length * i) / count);
    const { pen } = s;
    strokes.push(makeStroke(pointsOf(s), { id: `${id}-s${i}`, page: pages[Math.floor(i / sheet.length)].id, pen, stamp: { take, at }, wall: wall + at }));
  }
  const header: NoteHeader = {
    v: 1, id, title: id, made: wall, changed: wall + length, pages,
    takes: [{ id: take, name: 'Take 1', wall, ms: length, state: 'done', parts: [{ at: 0, wall }] }],
    timeline: [{ take, from: 0, to: length }],
  };
  return { header, strokes };
}

/** Puts records into the browser's database as they are. */
async function inject(page: Page, database: string, entries: [string, string][]): Promise<void> {
  for (let i = 0; i < entries.length; i += 40) {
    const batch = entries.slice(i, i + 40).map(([k, v]) => [k, Buffer.from(v, 'latin1').toString('base64')] as const);
    await page.evaluate(
      async ([name, list]) => {
        const db = await new Promise<IDBDatabase>((resolve) => {
          const r = indexedDB.open(name as string);
          r.onsuccess = () => resolve(r.result);
        });
        const table = db.objectStoreNames[0];
        const tx = db.transaction(table, 'readwrite');
        for (const [k, v] of list as [string, string][]) tx.objectStore(table).put(atob(v), k);
        await new Promise((resolve) => (tx.oncomplete = resolve));
        db.close();
      },
      [database, batch] as const,
    );
  }
}

async function layDown(page: Page, id: string, length: number, count: number, sound: readonly Packet[]): Promise<{ strokes: Stroke[]; header: NoteHeader }> {
  const { header, strokes } = longNote(id, length, count);
  const ink: [string, string][] = [];
  for (let i = 0; i < strokes.length; i += 128) ink.push([`ink/${id}/${i / 128}`, writeChunk(strokes.slice(i, i + 128))]);
  await inject(page, 'scrivo', [[`note/${id}`, writeHeader(header)], ...ink]);
  const end = sound[sound.length - 1].t + 20;
  const pieces = new Map<number, Packet[]>();
  for (let round = 0; round * end < length; round++) {
    for (const p of sound) {
      const t = p.t + round * end;
      if (t >= length) break;
      const k = pieceOf(t);
      if (!pieces.has(k)) pieces.set(k, []);
      pieces.get(k)!.push({ t, data: p.data });
    }
  }
  await inject(page, 'scrivo-sound', [...pieces].map(([k, list]) => [`${id}-take/${String(k).padStart(6, '0')}`, writePiece(list)]));
  return { strokes, header };
}

/** Times every pointer event through all its listeners, every animation frame, and long tasks. */
function watchCosts(): void {
  const costs = { events: [] as number[], frames: [] as number[], long: [] as number[] };
  (window as unknown as { costs: typeof costs }).costs = costs;
  let began = 0;
  for (const type of ['pointerdown', 'pointermove', 'pointerup']) {
    window.addEventListener(type, () => (began = performance.now()), { capture: true });
    window.addEventListener(type, () => costs.events.push(performance.now() - began));
  }
  const ask = window.requestAnimationFrame.bind(window);
  let frame = -1;
  window.requestAnimationFrame = (callback) =>
    ask((t) => {
      const start = performance.now();
      callback(t);
      const cost = performance.now() - start;
      if (t === frame) costs.frames[costs.frames.length - 1] += cost;
      else costs.frames.push(cost);
      frame = t;
    });
  new PerformanceObserver((list) => costs.long.push(...list.getEntries().map((e) => e.duration))).observe({ type: 'longtask' });
}

type Costs = { events: number[]; frames: number[]; long: number[] };
const costsOf = (page: Page) => page.evaluate(() => (window as unknown as { costs: Costs }).costs);
const clearCosts = (page: Page) => page.evaluate(() => Object.values((window as unknown as { costs: Costs }).costs).forEach((l) => (l.length = 0)));

async function touchToSound(page: Page, pen: Pen, strokes: readonly Stroke[], header: NoteHeader, touches: number): Promise<number[]> {
  const times: number[] = [];
  await page.evaluate(() => {
    const w = window as unknown as { touched: number };
    window.addEventListener('pointerdown', (e) => (w.touched = e.timeStamp), true);
  });
  for (let k = 0; k < touches; k++) {
    // Steps through the whole note, so that no touch finds its sound ready from the one before.
    const s = strokes[Math.floor(((k * 0.618) % 1) * strokes.length)];
    const n = header.pages.findIndex((p) => p.id === s.page) + 1;
    if (await button(page, 'Pause').count()) await button(page, 'Pause').click();
    const at = await page.evaluate(
      async ([id, y]) => {
        const scroller = document.querySelector('.surface-scroller')!;
        const el = document.querySelector(`[data-testid="${id}"]`) as HTMLElement;
        scroller.scrollTop = el.offsetTop + (el.offsetHeight * (y as number)) / 297 - 200;
        // The page is at rest, as it is for somebody who looks for a word: three frames in a row on time.
        for (let calm = 0, last = performance.now(); calm < 3; ) {
          const now = await new Promise<number>((r) => requestAnimationFrame(() => r(performance.now())));
          calm = now - last < 25 ? calm + 1 : 0;
          last = now;
        }
        const b = el.getBoundingClientRect();
        return { x: b.left, y: b.top, k: b.width / 210 };
      },
      [`page-${n}`, s.box[1]] as const,
    );
    const { xy } = pointsOf(s);
    await pen.touch(at.x + (xy[0] / 100) * at.k, at.y + (xy[1] / 100) * at.k);
    times.push(
      await page.evaluate(
        () =>
          new Promise<number>((resolve) => {
            const w = window as unknown as { touched: number };
            const audio = document.querySelector('audio')!;
            const start = performance.now();
            let first = -1;
            const look = () => {
              // The clock of the element moves when its sound goes out.
              if (!audio.paused && !audio.seeking) {
                if (first < 0) first = audio.currentTime;
                else if (audio.currentTime > first) return resolve(performance.now() - w.touched);
              }
              if (performance.now() - start > 5000) return resolve(5000);
              channel.port2.postMessage(0);
            };
            const channel = new MessageChannel();
            channel.port1.onmessage = look;
            look();
          }),
      ),
    );
  }
  return times;
}

async function main(): Promise<void> {
  row('', 'Scrivo', 'plain alternative', 'goal');
  console.log('-- core, in Node');

  const points = written.map(pointsOf);
  const count = points.reduce((s, p) => s + p.n, 0);
  const packed = timed(() => points.map(packPoints));
  const bytes = packed.value.reduce((s, b) => s + b.length, 0);
  const json = timed(() => points.map((p) => JSON.stringify(Array.from({ length: p.n }, (_, i) => [p.xy[2 * i] / 100, p.xy[2 * i + 1] / 100, p.p[i] / 127, p.t[i]]))));
  const jsonBytes = json.value.reduce((s, t) => s + t.length, 0);
  row('bytes per stored point', `${(bytes / count).toFixed(2)}`, `JSON.stringify ${(jsonBytes / count).toFixed(1)}`, 'at most 6');
  const chunk = writeChunk(written).length;
  row('the same with all a stroke carries (pen, stamp, box)', `${(chunk / count).toFixed(2)}`);
  row('packing 1,000 points', ms((packed.ms * 1000) / count), `JSON.stringify ${ms((json.ms * 1000) / count)}`);
  const unpacked = timed(() => packed.value.map(unpackPoints));
  const parsed = timed(() => json.value.map((t) => JSON.parse(t) as unknown));
  row('unpacking 1,000 points', ms((unpacked.ms * 1000) / count), `JSON.parse ${ms((parsed.ms * 1000) / count)}`);

  const grouped = timed(() => Object.values(demo.note.ink).map((list) => groupWords(list)), 600);
  row('finding words, per 1,000 strokes', ms((grouped.ms * 1000) / written.length));

  const { strokes: many } = longNote('touch', 7_200_000, 20_000);
  const flat = many.map((s, i) => ({ ...s, box: [s.box[0], s.box[1] + 297 * Math.floor(i / 500), s.box[2], s.box[3] + 297 * Math.floor(i / 500)] as const }));
  const index = new InkIndex(flat);
  const found = timed(() => index.at(60, 100, 3).length);
  const scanned = timed(() => flat.filter((s) => distanceTo(s, 60, 100) < 3).length);
  row('finding what a touch meant among 20,000 strokes', ms(found.ms), `scan without index ${ms(scanned.ms)}`);

  console.log('-- in the browser');
  const server = await startServer();
  const folder = tempFolder();
  const sound = await packetsOfWebm([...demo.takes.values()][0]);
  const wav = path.join(folder, 'lecture.wav');
  const webm = path.join(folder, 'lecture.webm');
  writeFileSync(webm, [...demo.takes.values()][0]);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', webm, '-ac', '1', wav]);

  for (const [name, viewport] of [['390x844', PHONE], ['1280x800', WIDE]] as const) {
    const context = await startBrowser({ viewport, microphone: wav });
    await context.addInitScript(watchCosts);
    const page = context.pages()[0];
    await page.goto(server.url);
    // The application makes its own databases with its first take.
    await recordNew(page);
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    await saved(page);
    const long = await layDown(page, 'two-hours', 7_200_000, 20_000, sound);
    const short = await layDown(page, 'ninety-seconds', 90_000, 300, sound);
    await page.goto(server.url);
    await page.getByRole('button', { name: /^Open two-hours/ }).waitFor();

    const opening: number[] = [];
    for (let i = 0; i < 5; i++) {
      opening.push(
        await page.evaluate(
          () =>
            new Promise<number>((resolve) => {
              const start = performance.now();
              (document.querySelector('[aria-label^="Open two-hours"]') as HTMLElement).click();
              const look = () => {
                if (document.querySelector('[data-testid="page-1"] canvas') && document.querySelector('[role="slider"]')) resolve(performance.now() - start);
                else requestAnimationFrame(look);
              };
              look();
            }),
        ),
      );
      if (i < 4) {
        await button(page, 'Back to Today').click();
        await page.getByRole('button', { name: /^Open ninety-seconds/ }).click();
        await page.getByTestId('page-1').waitFor();
        await button(page, 'Back to Today').click();
        await page.getByRole('button', { name: /^Open two-hours/ }).waitFor();
      }
    }
    row(`${name}: opening 2 h, 20,000 strokes (median of 5)`, ms(percentile(opening, 0.5)), '', 'under 1 s');

    const pen = await Pen.on(page);
    const twoHours = await touchToSound(page, pen, long.strokes, long.header, 40);
    row(`${name}: touch to sound in 2 h (median, p95)`, `${ms(percentile(twoHours, 0.5))}, ${ms(percentile(twoHours, 0.95))}`, '', 'p95 under 150 ms');
    if (await button(page, 'Pause').count()) await button(page, 'Pause').click();

    await button(page, 'Write').click();
    await button(page, 'Record').click();
    await page.getByTestId('recording-clock').waitFor();
    await clearCosts(page);
    await page.evaluate(() => (document.querySelector('.surface-scroller')!.scrollTop = 0));
    const box = (await page.getByTestId('page-1').boundingBox())!;
    for (let i = 0; i < 60; i++) await pen.scribble(box.x + 20 + (i % 10) * (box.width / 11), box.y + 40 + Math.floor(i / 10) * 50, 24, 14);
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
    row(`${name}: pen event while recording (median, p95)`, `${ms(percentile(costs.events, 0.5))}, ${ms(percentile(costs.events, 0.95))}`, `full redraw of all strokes ${ms(redraw)}`, 'p95 under 4 ms');
    row(`${name}: frame while writing (median, p95)`, `${ms(percentile(costs.frames, 0.5))}, ${ms(percentile(costs.frames, 0.95))}`, `full redraw of all strokes ${ms(redraw)}`);
    row(`${name}: tasks over 50 ms while writing`, `${costs.long.length}${costs.long.length ? `, longest ${ms(Math.max(...costs.long))}` : ''}`);

    await button(page, 'Back to Today').click();
    await page.getByRole('button', { name: /^Open ninety-seconds/ }).click();
    await page.getByTestId('page-1').waitFor();
    await button(page, 'Listen').click();
    await page.getByRole('slider', { name: 'Playback position' }).waitFor();
    const brief = await touchToSound(page, pen, short.strokes, short.header, 40);
    row(`${name}: touch to sound in 90 s (median, p95)`, `${ms(percentile(brief, 0.5))}, ${ms(percentile(brief, 0.95))}`, '', 'p95 under 150 ms');
    await context.close();
  }

  const context = await startBrowser({ microphone: wav });
  const page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) >= 30_000, undefined, { timeout: 60_000 });
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const kept = Object.values(await records(page, 'scrivo-sound'));
  await page.getByText('Listen').click();
  const length = Number(await page.getByRole('slider', { name: 'Playback position' }).getAttribute('max'));
  const perHour = (kept.reduce((s, t) => s + t.length, 0) / length) * 3_600_000;
  row('stored bytes per hour of speech', `${(perHour / 1e6).toFixed(1)} MB`, `as base64 ${((perHour * 4) / 3 / 1e6).toFixed(1)} MB`, 'at most 15 MB');
  await context.close();
  await server.close();
}

main().then(
  () => process.exit(0),
  (e: unknown) => {
    console.error(e);
    process.exit(1);
  },
);
