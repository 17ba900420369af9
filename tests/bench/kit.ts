/** What the measurements share: rows, notes of any size laid into the browser, what events and frames cost. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { writeHeard } from '../../src/core/audio/heard';
import { LEVEL_MS } from '../../src/core/audio/speech';
import { pieceOf, writePiece } from '../../src/core/audio/pieces';
import type { Packet } from '../../src/core/audio/opus';
import { bundleOfFiles } from '../../src/core/formats/bundle';
import { makeStroke, pointsOf, type Stroke } from '../../src/core/ink/stroke';
import { applyEdit, noteOf, put, type Edit, type Note, type RowPut } from '../../src/core/note/edit';
import { strokesOf } from '../../src/core/note/kinds/kinds';
import { NOTHING_SEEN, Versions } from '../../src/core/note/version';
import { recordsOf } from '../../src/storage/noteFile';
import { newPage, type NoteHeader } from '../../src/core/note/schema';
import { button, Pen, recordNew, ROOT, saved } from '../helpers/app';
import { takenByOthers } from '../helpers/machine';

export const percentile = (v: readonly number[], p: number): number => [...v].sort((a, b) => a - b)[Math.min(v.length - 1, Math.floor(p * v.length))];
export const ms = (v: number) => `${v.toFixed(v < 10 ? 2 : 0)} ms`;

/** What a figure should be, and whether it is. */
export interface Goal {
  readonly text: string;
  readonly holds: boolean;
}
/** At most `limit`; `text` says so in the figure's own unit. */
export const atMost = (value: number, limit: number, text: string): Goal => ({ text, holds: value <= limit });
export const atLeast = (value: number, limit: number, text: string): Goal => ({ text, holds: value >= limit });

/** A short run: of everything a little, to see that every part still runs to its end. Its figures tell nothing. */
export const FEW = process.argv.includes('--few');
export const size = (whole: number, few: number): number => (FEW ? few : whole);

/** A row during which others took more of the machine's time than this share is marked: its figure tells of the machine. */
const DISTURBED = 0.05;
let taken = takenByOthers();

/** Figures that missed their goals so far. */
export const missed: string[] = [];
export function row(what: string, ours: string, plain = '', goal?: Goal): void {
  const share = taken();
  taken = takenByOthers();
  const disturbed = share > DISTURBED ? `  (others took ${(100 * share).toFixed(0)} % of the machine)` : '';
  if (goal?.holds === false && !FEW) missed.push(`${what}: ${ours} (${goal.text})${disturbed}`);
  const judged = goal && !FEW ? `${goal.text}: ${goal.holds ? 'yes' : 'NO'}` : '';
  console.log(`${what.padEnd(52)} ${ours.padEnd(36)} ${plain.padEnd(44)} ${judged}${disturbed}`);
}

export function timed<T>(work: () => T, least = size(200, 1)): { value: T; ms: number } {
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

const BUNDLE = path.join(ROOT, 'demo/notes/demo-tides-0000000001.scrivo');
const fileNames = execFileSync('unzip', ['-Z1', BUNDLE], { encoding: 'utf8' }).split('\n').filter(Boolean);
export const demo = bundleOfFiles(new Map(fileNames.map((name) => [name, new Uint8Array(execFileSync('unzip', ['-p', BUNDLE, name], { maxBuffer: 1 << 28 }))])));
export const written = strokesOf(Object.values(demo.note.ink).flat());

/** A note of `length` ms with `count` strokes: the demo's own, again and again over the pages, each in the version of its writing; and with `rows` marks and tags. */
export function longNote(id: string, length: number, count: number, rows = 0): { note: Note; header: NoteHeader; strokes: Stroke[] } {
  const firstPage = demo.note.header.pages[0].id;
  const sheet = written.filter((s) => s.page === firstPage);
  const pages = Array.from({ length: Math.ceil(count / sheet.length) }, (_, i) => newPage(`${id}-p${i}`));
  const take = `${id}-take`;
  const wall = Date.UTC(2026, 10, 2, 8);
  const strokes: Stroke[] = [];
  let seen = NOTHING_SEEN;
  for (let i = 0; i < count; i++) {
    const s = sheet[i % sheet.length];
    const at = Math.round((length * i) / count);
    const { pen } = s;
    const made = makeStroke(pointsOf(s), { id: `${id}-s${i}`, page: pages[Math.floor(i / sheet.length)].id, pen, stamp: { take, at }, wall: wall + at });
    const versions = new Versions(seen, { device: 'a-device', now: made.wall + made.ms });
    strokes.push({ ...made, s: versions.nextOf(made) });
    seen = versions.seen;
  }
  const header: NoteHeader = {
    v: 2, id, title: id, made: wall, changed: wall + length, pages,
    takes: [{ id: take, name: 'Take 1', wall, ms: length, state: 'done', parts: [{ at: 0, wall }] }],
    timeline: [{ take, from: 0, to: length }],
  };
  const ink: Record<string, Stroke[]> = {};
  for (const s of strokes) (ink[s.page] ??= []).push(s);
  const at = (i: number) => Math.round((length * i) / rows);
  const more = Array.from({ length: rows }, (_, i): RowPut =>
    i % 2 ? put('tags', `${strokes[i].id}/exam`, { placed: strokes[i].id, name: 'exam', order: 'a0' }) : put('marks', `${id}-m${i}`, { kind: 'key', take, at: at(i), wall: wall + at(i), text: 'Height of tide' }),
  );
  return { note: applyEdit(noteOf(header, ink), { rows: more }, { device: 'a-device', now: wall + length }).note, header, strokes };
}

/** Puts records into the browser's database as they are. */
export async function inject(page: Page, database: string, entries: [string, string][]): Promise<void> {
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

/** What is known of the sound of a take, as it is kept: sentences of four seconds with pauses of one and a half. */
export function heardRecord(length: number): string {
  const speech = Array.from({ length: Math.floor(length / 5500) }, (_, i) => ({ from: i * 5500 + 500, to: i * 5500 + 4500 }));
  const levels = Uint8Array.from({ length: length / LEVEL_MS }, (_, i) => (i % 275 > 25 && i % 275 < 225 ? 120 + (i % 40) : 60));
  return writeHeard({ ms: length, by: 'model', speech, levels });
}

export async function layDown(page: Page, id: string, length: number, count: number, sound: readonly Packet[], rows = 0, more?: (note: Note) => Edit): Promise<{ strokes: Stroke[]; header: NoteHeader }> {
  const { note, header, strokes } = longNote(id, length, count, rows);
  await inject(page, 'scrivo', Object.entries(recordsOf(more ? applyEdit(note, more(note), { device: 'bench', now: Date.now() }).note : note).entries));
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

/** Times every pointer event through all its listeners, every frame (animation callbacks and the events before them), and long tasks. */
export function watchCosts(): void {
  const costs = { events: [] as number[], frames: [] as number[], long: [] as number[], times: [] as number[] };
  (window as unknown as { costs: typeof costs }).costs = costs;
  let began = 0;
  let before = 0;
  for (const type of ['pointerdown', 'pointermove', 'pointerup', 'keydown']) {
    window.addEventListener(type, () => (began = performance.now()), { capture: true });
    window.addEventListener(type, () => {
      const cost = performance.now() - began;
      before += cost;
      if (type !== 'keydown') costs.events.push(cost);
    });
  }
  const ask = window.requestAnimationFrame.bind(window);
  let frame = -1;
  window.requestAnimationFrame = (callback) =>
    ask((t) => {
      const start = performance.now();
      callback(t);
      const cost = performance.now() - start;
      if (t === frame) costs.frames[costs.frames.length - 1] += cost;
      else {
        costs.frames.push(cost + before);
        costs.times.push(t);
        before = 0;
      }
      frame = t;
    });
  new PerformanceObserver((list) => costs.long.push(...list.getEntries().map((e) => e.duration))).observe({ type: 'longtask' });
}

/** Asks for every frame, also where nothing is drawn anew: their times tell whether any did not come. */
export const everyFrame = (page: Page, on: boolean): Promise<void> =>
  page.evaluate((wanted) => {
    const w = window as unknown as { watching: boolean };
    w.watching = wanted;
    const next = () => w.watching && requestAnimationFrame(next);
    next();
  }, on);

export type Costs = { events: number[]; frames: number[]; long: number[]; times: number[] };
export const costsOf = (page: Page) => page.evaluate(() => (window as unknown as { costs: Costs }).costs);
export const clearCosts = (page: Page) => page.evaluate(() => Object.values((window as unknown as { costs: Costs }).costs).forEach((l) => (l.length = 0)));

export async function touchToSound(page: Page, pen: Pen, strokes: readonly Stroke[], header: NoteHeader, touches: number): Promise<number[]> {
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
        // The page has shown where the sound stopped, and follows it no more.
        for (let i = 0; i < 8; i++) await new Promise((r) => requestAnimationFrame(r));
        const el = document.querySelector(`[data-testid="${id}"]`) as HTMLElement;
        // Pages out of reach are not laid out; all are of one size, 6 px apart.
        const high = [...document.querySelectorAll<HTMLElement>('.page')].find((p) => p.offsetHeight > 0)!.offsetHeight;
        scroller.scrollTop = 6 + (high + 6) * (Number((id as string).slice(5)) - 1) + (high * (y as number)) / 297 - 200;
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
              setTimeout(look, 2);
            };
            look();
          }),
      ),
    );
  }
  return times;
}

/** Memory of the largest process that draws pages, MB. */
export function rendererMb(): number {
  const lines = execFileSync('ps', ['-eo', 'rss=,args='], { maxBuffer: 1 << 24 }).toString().split('\n');
  return Math.max(...lines.filter((l) => l.includes('--type=renderer')).map((l) => Number(l.trim().split(' ')[0]) / 1024), 0);
}

/** A first take, with which the application makes its own databases. */
export async function firstTake(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await recordNew(page);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
}
