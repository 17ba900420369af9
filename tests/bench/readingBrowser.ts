/** Reading in the browser: when the first text of a note is there, what memory it takes, and that the pen does not feel it. */
import type { BrowserContext, Page } from '@playwright/test';
import { button, Pen, startBrowser, WIDE } from '../helpers/app';
import { atLeast, atMost, clearCosts, costsOf, ms, percentile, rendererMb, row, size, watchCosts } from './kit';

/** The demo note of tides, open; with reading or without. */
async function opened(url: string, idle: boolean): Promise<{ context: BrowserContext; page: Page }> {
  const context = await startBrowser({ viewport: WIDE, idle });
  await context.addInitScript(watchCosts);
  const page = context.pages()[0];
  await page.goto(url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  return { context, page };
}

/** A note is opened and written into; with reading or without. */
async function written(url: string, idle: boolean): Promise<{ events: number[]; frames: number[]; first: number; all: number; mb: number }> {
  const { context, page } = await opened(url, idle);
  const began = performance.now();
  let [first, all] = [NaN, NaN];
  await button(page, 'Write').click();
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await clearCosts(page);
  // Words are read while one goes on writing.
  for (let i = 0; i < size(12, 3); i++) {
    await pen.stroke(Array.from({ length: 40 }, (_, k) => ({ x: box.x + 500 + 3 * (k % 20) + 10 * i, y: box.y + 30 + 8 * Math.sin(k / 3) + 20 * i })));
    await page.waitForTimeout(250);
  }
  const { events, frames } = await costsOf(page);
  if (idle) {
    await page.waitForFunction(() => document.querySelector('[data-testid="page-1"]')?.getAttribute('aria-description')?.includes('lists them:'));
    first = performance.now() - began;
    await page.waitForFunction(() => document.querySelectorAll('[data-testid="page-2"][aria-description*="week"]').length > 0);
    all = performance.now() - began;
  }
  const mb = rendererMb();
  await context.close();
  return { events, frames, first, all, mb };
}

/** For so long it is played: words are read for most of it. */
const PLAYED_MS = size(12_000, 2000);

/** A note is opened and played; with reading or without. */
async function played(url: string, idle: boolean): Promise<{ rate: number; frames: number[]; words: number }> {
  const { context, page } = await opened(url, idle);
  await button(page, 'Play').click();
  await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 0.5);
  await clearCosts(page);
  // Measured over a stretch of time, which has to pass.
  await page.waitForTimeout(PLAYED_MS);
  const { frames, times } = await costsOf(page);
  await button(page, 'What to do with this note').click();
  await button(page, 'Show text').click();
  const words = await page.getByTestId('note-text').locator('button[data-word]').count();
  await context.close();
  return { rate: ((times.length - 1) * 1000) / (times[times.length - 1] - times[0]), frames, words };
}

export async function readingInBrowser(url: string): Promise<void> {
  console.log('-- reading, in the browser, 1280x800, the demo note of tides');
  const without = await written(url, false);
  const along = await written(url, true);
  row('from opening to the first text, and to all of it, while one writes', `${ms(along.first)}, ${ms(along.all)}`);
  row('a pen event (median, p95)', `${ms(percentile(along.events, 0.5))}, ${ms(percentile(along.events, 0.95))}`, `nothing is read ${ms(percentile(without.events, 0.5))}, ${ms(percentile(without.events, 0.95))}`, atMost(percentile(along.events, 0.95), Math.max(4, 1.5 * percentile(without.events, 0.95)), 'no slower'));
  row('drawing a frame, p95', ms(percentile(along.frames, 0.95)), `nothing is read ${ms(percentile(without.frames, 0.95))}`);
  const still = await played(url, false);
  const reads = await played(url, true);
  row('replay, frames a second', reads.rate.toFixed(1), `nothing is read ${still.rate.toFixed(1)}; ${reads.words} words were read meanwhile, else ${still.words}`, atLeast(reads.rate, 0.95 * still.rate, 'no slower'));
  row('scripting in each of those frames (median, p95)', `${ms(percentile(reads.frames, 0.5))}, ${ms(percentile(reads.frames, 0.95))}`, `nothing is read ${ms(percentile(still.frames, 0.5))}, ${ms(percentile(still.frames, 0.95))}`, atMost(percentile(reads.frames, 0.95), Math.max(4, 1.5 * percentile(still.frames, 0.95)), 'no slower'));
  row('memory of the page with its reader', `${along.mb.toFixed(0)} MB`, `nothing is read ${without.mb.toFixed(0)} MB`, atMost(along.mb - without.mb, 250, 'at most 250 MB more'));
}
