/** How the page feels under the tools: scrolling and pinching a large note, moving 2,000 strokes, rubbing through 1,000, undo. */
import type { Page } from '@playwright/test';
import { newPage } from '../../src/core/note/schema';
import { noteOf } from '../../src/core/note/edit';
import { recordsOf } from '../../src/storage/noteFile';
import { button, Pen, saved, press } from '../helpers/app';
import { densePage } from './inkCore';
import { atLeast, atMost, clearCosts, costsOf, everyFrame, inject, longNote, ms, percentile, row, size } from './kit';

const DENSE = size(2000, 300);

/** A note of one page that holds 2,000 strokes. */
export async function layDense(page: Page): Promise<void> {
  const strokes = densePage(DENSE);
  const { header } = longNote('dense', 600_000, DENSE);
  const note = noteOf({ ...header, pages: [newPage('dense')], takes: [], timeline: [] }, { dense: strokes });
  await inject(page, 'scrivo', Object.entries(recordsOf(note).entries));
}

const ROUNDS = size(5, 1);

/** ms between frames, the first left out. */
const gaps = (times: readonly number[]): number[] => times.slice(1).map((t, i) => t - times[i]);
const worth = (values: readonly number[]) => `${ms(percentile(values, 0.5))}, ${ms(percentile(values, 0.95))}`;

/** The large note is open in Write, and a pen has been seen: fingers move the page. `redraw`: a plain redraw of all strokes, ms. */
export async function moveAndZoom(page: Page, pen: Pen, name: string, redraw: number): Promise<void> {
  const box = (await page.locator('.surface-scroller').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  // A resting hand is not taken for a moving finger right after the pen; then the page is at rest.
  await page.waitForTimeout(600);
  await clearCosts(page);
  for (let i = 0; i < size(12, 2); i++) {
    await pen.fingers('touchStart', [{ x, y: y + 150 }]);
    for (let k = 1; k <= 20; k++) await pen.fingers('touchMove', [{ x, y: y + 150 - 15 * k }]);
    await pen.fingers('touchEnd', []);
  }
  const scrolled = await costsOf(page);
  row(`${name}: frame while scrolling 20,000 strokes (median, p95)`, worth(scrolled.frames), `full redraw of all strokes ${ms(redraw)}`, atMost(percentile(scrolled.frames, 0.95), 12, 'p95 under 12 ms'));
  row(`${name}: time between those frames (median, p95)`, worth(gaps(scrolled.times)));
  await page.waitForTimeout(1500);
  await clearCosts(page);
  for (const [from, to] of [[40, 110], [110, 45], [45, 120], [120, 60]].slice(0, size(4, 1))) {
    const at = (d: number) => [{ x: x - d, y }, { x: x + d, y }];
    await pen.fingers('touchStart', at(from));
    for (let k = 1; k <= 25; k++) await pen.fingers('touchMove', at(from + ((to - from) * k) / 25));
    await pen.fingers('touchEnd', []);
  }
  const pinched = await costsOf(page);
  row(`${name}: frame while pinching 20,000 strokes (median, p95)`, worth(pinched.frames), `full redraw of all strokes ${ms(redraw)}`, atMost(percentile(pinched.frames, 0.95), 12, 'p95 under 12 ms'));
  row(`${name}: tasks over 50 ms while scrolling and pinching`, `${scrolled.long.length + pinched.long.length}`);
  await press(page, 'Zoom');
  await button(page, 'Fit width').click();
  await button(page, 'Close Zoom').click();
}

/** Opens the dense note from the one that is open. */
export async function denseTools(page: Page, pen: Pen, name: string): Promise<void> {
  await button(page, 'Back to Today').click();
  await page.getByRole('button', { name: /^Open dense/ }).click();
  await page.locator('[data-testid="page-1"] canvas').first().waitFor();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await page.keyboard.press('Control+a');
  await page.getByTestId('selection').waitFor();
  await page.waitForTimeout(500);
  await clearCosts(page);
  const middle = { x: box.x + box.width / 2, y: box.y + 200 };
  // Fine steps, so that every frame of the drag has a move to show.
  await everyFrame(page, true);
  await pen.paced(Array.from({ length: size(240, 40) }, (_, i) => ({ x: middle.x + 20 * Math.sin(i / 20), y: middle.y + 20 * Math.sin(i / 14) })));
  const moved = await costsOf(page);
  await everyFrame(page, false);
  const between = gaps(moved.times).slice(2, -4);
  const rate = 1000 / (between.reduce((a, b) => a + b, 0) / between.length);
  row(`${name}: 2,000 selected strokes while they are moved`, `${rate.toFixed(0)} frames/s, script p95 ${ms(percentile(moved.frames.slice(2, -4), 0.95))}`, '', atLeast(Math.round(rate), 59, '60 frames/s'));

  /** From the touch on Undo to the end of the frame that shows it, ms. */
  const undo = () =>
    page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const start = performance.now();
          document.querySelector<HTMLElement>('[aria-label="Undo"]')!.click();
          requestAnimationFrame(() => {
            const channel = new MessageChannel();
            channel.port1.onmessage = () => resolve(performance.now() - start);
            channel.port2.postMessage(0);
          });
        }),
    );
  const times: Record<'moving' | 'deleting', number[]> = { moving: [], deleting: [] };
  for (const what of ['moving', 'deleting'] as const) {
    if (what === 'deleting') {
      await page.keyboard.press('Control+a');
      await page.keyboard.press('Delete');
    }
    for (let i = 0; i < ROUNDS; i++) {
      // Stored and grouped: nothing else is going on.
      await saved(page);
      await page.waitForTimeout(700);
      times[what].push(await undo());
      await page.waitForTimeout(700);
      if (i < ROUNDS - 1 || what === 'moving') await press(page, 'Redo');
    }
    if (what === 'moving') await button(page, 'Undo').click();
  }
  row(`${name}: undo of moving, of deleting 2,000 strokes, to the frame (median of 5)`, `${ms(percentile(times.moving, 0.5))}, ${ms(percentile(times.deleting, 0.5))}`, '', atMost(Math.max(percentile(times.moving, 0.5), percentile(times.deleting, 0.5)), 50, 'under 50 ms'));

  await button(page, 'Eraser').click();
  await button(page, 'Area, 12 mm').click();
  await page.waitForTimeout(500);
  await clearCosts(page);
  const k = box.width / 210;
  const view = (await page.locator('.surface-scroller').boundingBox())!;
  const bottom = Math.min(290, (view.height - 70) / k);
  const way: { x: number; y: number }[] = [];
  for (let y = 12; y < bottom; y += 11) for (let x = 0; x <= 40; x++) way.push({ x: box.x + (10 + (4.7 * (y % 2 ? x : 40 - x))) * k, y: box.y + y * k });
  await pen.paced(way.slice(0, size(way.length, 60)));
  const rubbed = await costsOf(page);
  row(`${name}: area erase through the page, a move (median, p95, worst)`, `${worth(rubbed.events.slice(1, -1))}, ${ms(Math.max(...rubbed.events.slice(1, -1)))}`, '', atMost(percentile(rubbed.events.slice(1, -1), 0.95), 16, 'p95 under 16 ms'));
  row(`${name}: lifting the eraser after it`, ms(rubbed.events[rubbed.events.length - 1]));
  await button(page, 'Back to Today').click();
  await page.getByRole('button', { name: /^Open two-hours/ }).click();
  await page.getByTestId('page-1').waitFor();
}
