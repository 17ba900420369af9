/** Listening back in the browser: ink that writes itself in a note of two hours, jumps, and finding speech in an hour of sound. */
import type { Page } from '@playwright/test';
import type { Packet } from '../../src/core/audio/opus';
import { button, choose } from '../helpers/app';
import { records } from '../helpers/disk';
import { atLeast, atMost, clearCosts, costsOf, layDown, ms, percentile, rendererMb, row, size } from './kit';

const SECONDS = size(8, 1);

/** The note of two hours is open in Listen and stands still. */
export async function replaying(page: Page, name: string, length: number): Promise<void> {
  const slider = page.getByRole('slider', { name: 'Playback position' });
  const redraw = await redrawAll(page);
  for (const speed of [1, 3]) {
    await choose(page, 'Speed', String(speed));
    await slider.fill(String(length / 2));
    await button(page, 'Play').click();
    await page.waitForFunction((from) => document.querySelector('audio')!.currentTime > from, length / 2000 + 1);
    await clearCosts(page);
    // Measured over a stretch of time, which has to pass.
    await page.waitForTimeout(SECONDS * 1000);
    const { frames, times } = await costsOf(page);
    await button(page, 'Pause').click();
    const rate = ((times.length - 1) * 1000) / (times[times.length - 1] - times[0]);
    row(`${name}: replay at ${speed}x of 20,000 strokes, frames a second`, rate.toFixed(1), '', atLeast(rate, 58, 'at least 58'));
    row(`${name}: scripting in each of those frames (median, p95)`, `${ms(percentile(frames, 0.5))}, ${ms(percentile(frames, 0.95))}`, `all strokes drawn anew ${ms(redraw)}`, atMost(percentile(frames, 0.95), 6, 'p95 under 6 ms'));
  }
  await choose(page, 'Speed', '1');
  const jumps = await page.evaluate(async ([count, long]) => {
    const input = document.querySelector<HTMLInputElement>('input[aria-label="Playback position"]')!;
    const surface = document.querySelector<HTMLElement>('.surface')!;
    const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
    const took: number[] = [];
    for (let i = 1; i <= count; i++) {
      const to = Math.round((((i * 0.618) % 1) * long) / 101) * 100;
      // From a page at rest.
      await new Promise((r) => setTimeout(r, 150));
      const start = performance.now();
      const there = new Promise<void>((resolve) => {
        const watch = new MutationObserver(() => {
          if (surface.dataset.at !== String(to) || surface.dataset.drawn !== 'true') return;
          watch.disconnect();
          resolve();
        });
        watch.observe(surface, { attributes: true });
      });
      set.call(input, String(to));
      input.dispatchEvent(new Event('input', { bubbles: true }));
      await there;
      took.push(performance.now() - start);
    }
    return took;
  }, [size(40, 3), length] as const);
  row(`${name}: jump to any place, to the right picture (median, p95, worst)`, `${ms(percentile(jumps, 0.5))}, ${ms(percentile(jumps, 0.95))}, ${ms(Math.max(...jumps))}`, `all strokes drawn anew ${ms(redraw)}`, atMost(percentile(jumps, 0.95), 50, 'p95 under 50 ms'));
}

/** What it costs to draw 20,000 strokes anew, ms: a plain replay does so with every frame. */
const redrawAll = (page: Page): Promise<number> =>
  page.evaluate(() => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [780, 1104];
    const ctx = canvas.getContext('2d')!;
    const start = performance.now();
    for (let i = 0; i < 20_000; i++) {
      ctx.beginPath();
      for (let j = 0; j < 24; j++) ctx.lineTo((i * 37 + j * 5) % 780, (i * 11 + ((j * 7) % 13)) % 1104);
      ctx.stroke();
    }
    ctx.getImageData(0, 0, 1, 1);
    return performance.now() - start;
  });

const HOUR = size(3_600_000, 180_000);

/** Levels and speech of an hour of sound: opened once, it is looked at by itself. */
export async function hearing(page: Page, url: string, sound: readonly Packet[]): Promise<void> {
  await layDown(page, 'one-hour', HOUR, 500, sound);
  await page.goto(url);
  await page.getByRole('button', { name: /^Open one-hour/ }).click();
  await page.getByText(/^Looking for pauses/).waitFor({ timeout: 30_000 });
  // What the open note takes without it: the search is stopped, and the page comes to rest.
  await button(page, 'Stop looking for pauses').click();
  await page.waitForTimeout(size(4000, 500));
  const before = rendererMb();
  let most = before;
  await button(page, 'Look for pauses').click();
  const done = async (text: RegExp): Promise<number> => {
    await page.getByText(text).waitFor({ timeout: 30_000 });
    const start = performance.now();
    for (;;) {
      most = Math.max(most, rendererMb());
      if (!(await page.getByText(text).count())) break;
      await page.waitForTimeout(250);
    }
    const took = performance.now() - start;
    return took;
  };
  const levels = await done(/^Looking for pauses/);
  const byLevels = most - before;
  row('levels and pauses of 1 h of sound', `${(levels / 1000).toFixed(1)} s, ${(HOUR / levels).toFixed(0)} times as fast as it plays`);
  const model = await done(/^Listening more closely/);
  row('the same with the speech model', `${(model / 1000).toFixed(0)} s, ${(HOUR / model).toFixed(0)} times as fast as it plays`);
  // Which way it was found is kept with it; read last, since reading takes memory of its own.
  const { by } = JSON.parse((await records(page, 'scrivo-sound'))['heard/one-hour-take'].split('\n')[0]) as { by: string };
  if (by !== 'model') throw new Error(`Looked at by ${by}, not by the model.`);
  row('memory that this takes at most', `${byLevels.toFixed(0)} MB, with the model ${(most - before).toFixed(0)} MB`, 'all samples of 1 h at once 691 MB', atMost(Math.max(byLevels, most - before), 150, 'under 150 MB'));
}
