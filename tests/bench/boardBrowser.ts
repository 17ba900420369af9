/** A board of 3 m by 3 m with 20,000 strokes: seen as a whole, and moved over. */
import type { Page } from '@playwright/test';
import { move } from '../../src/core/ink/transform';
import { noteOf } from '../../src/core/note/edit';
import { mapPlaced, type Placed } from '../../src/core/note/kinds/kinds';
import { newPage } from '../../src/core/note/schema';
import { recordsOf } from '../../src/storage/noteFile';
import { button, Pen, PHONE, startBrowser, WIDE } from '../helpers/app';
import { atLeast, clearCosts, costsOf, firstTake, inject, longNote, ms, percentile, row, size, watchCosts } from './kit';

const [COUNT, SIDE] = [size(20_000, 400), 3000];
/** From one report of the fingers to the next, ms: 120 in a second. */
const TOUCHES_MS = 1000 / 120;

interface Moved {
  readonly rate: number;
  readonly script: number;
}

/** Two fingers go over it to every side. */
async function movedOver(page: Page, pen: Pen, shown: 'True size' | 'Whole board'): Promise<Moved> {
  await page.getByRole('button', { name: /^Zoom, / }).click();
  await button(page, shown).click();
  await page.keyboard.press('Escape');
  await page.locator('.surface[data-drawn="true"]').waitFor();
  await page.waitForTimeout(size(1500, 200));
  const box = (await page.locator('.surface-scroller').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const [gaps, scripts]: number[][] = [[], []];
  for (const [wx, wy] of [[-1, -1], [-1, 0], [1, -1], [0, 1], [1, 1], [0, -1], [-1, 1], [1, 0]].slice(0, size(8, 1))) {
    const two = (k: number) => [0, 40].map((d) => ({ x: x + d + wx * 6 * k, y: y + wy * 7 * k }));
    await pen.fingers('touchStart', two(0));
    // The browser does not tell of fingers before they have gone some way, and then no frame is asked for: it is counted from where the board moves.
    for (let k = 1; k <= 12; k++) await pen.fingers('touchMove', two(k / 3));
    await clearCosts(page);
    // A glass tells of fingers more often than a screen is drawn; waiting for each answer would measure who moves them.
    const sent: Promise<void>[] = [];
    for (let k = 13, from = performance.now() - 12 * TOUCHES_MS; k <= 75; k++) {
      sent.push(pen.fingers('touchMove', two(k / 3)));
      await new Promise((next) => setTimeout(next, from + k * TOUCHES_MS - performance.now()));
    }
    await Promise.all(sent);
    const { times, frames } = await costsOf(page);
    await pen.fingers('touchEnd', []);
    gaps.push(...times.slice(1).map((t, i) => t - times[i]));
    scripts.push(...frames);
  }
  return { rate: (1000 * gaps.length) / gaps.reduce((a, b) => a + b, 0), script: percentile(scripts, 0.95) };
}

export async function board(url: string): Promise<void> {
  console.log(`-- a board of ${SIDE / 1000} m x ${SIDE / 1000} m with ${COUNT.toLocaleString('en')} strokes`);
  const { header, note: of } = longNote('board', 7_200_000, COUNT);
  const across = Math.ceil(Math.sqrt(header.pages.length));
  const step = SIDE / across;
  const placed = header.pages.flatMap((p, i): Placed[] => (of.ink[p.id] ?? []).map((s) => mapPlaced(s, move((i % across) * step - SIDE / 2, Math.floor(i / across) * step - SIDE / 2), 'board')));
  const page0 = { ...newPage('board'), w: SIDE, h: SIDE, board: { x: -SIDE / 2, y: -SIDE / 2 } };
  const note = noteOf({ ...header, pages: [page0], takes: [], timeline: [] }, { board: placed });
  for (const [name, viewport] of [['390x844', PHONE], ['1280x800', WIDE]].slice(0, size(2, 1)) as [string, typeof PHONE][]) {
    const context = await startBrowser({ viewport });
    await context.addInitScript(watchCosts);
    const page = context.pages()[0];
    await firstTake(page, url);
    for (const it of [note, noteOf({ ...header, id: 'bare', title: 'bare', pages: [{ ...page0, id: 'bare' }], takes: [], timeline: [] })]) await inject(page, 'scrivo', Object.entries(recordsOf(it).entries));
    const began = Date.now();
    await page.goto(`${url}/note/board`);
    await page.locator('.surface[data-drawn="true"]').waitFor();
    row(`${name}: open, and the whole board drawn`, ms(Date.now() - began), `longest task ${ms(Math.max(0, ...(await costsOf(page)).long))}`);
    const pen = await Pen.on(page);
    const moved = { full: [await movedOver(page, pen, 'True size'), await movedOver(page, pen, 'Whole board')], bare: [] as Moved[] };
    await page.goto(`${url}/note/bare`);
    await page.locator('.surface[data-drawn="true"]').waitFor();
    moved.bare.push(await movedOver(page, pen, 'True size'), await movedOver(page, pen, 'Whole board'));
    for (const [i, label] of ['at true size', 'as a whole'].entries()) {
      const [full, bare] = [moved.full[i], moved.bare[i]];
      row(`${name}: moved over, ${label}`, `${full.rate.toFixed(0)} frames/s, script p95 ${ms(full.script)}`, `a bare board ${bare.rate.toFixed(0)} frames/s, ${ms(bare.script)}`, atLeast(Math.round(full.rate), 59, '60 frames/s'));
    }
    await context.close();
  }
}
