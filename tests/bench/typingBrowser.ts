/** Typing into a note that is full already. */
import type { Page } from '@playwright/test';
import { SILENT_20_MS } from '../../src/core/audio/opus';
import { PHONE, startBrowser } from '../helpers/app';
import { atMost, firstTake, layDown, ms, percentile, row, size } from './kit';

const KEYS = 'the ebb runs for six hours and a bit, then it is slack water. ';

/** What a letter costs until all that it changes is changed, before the browser draws, ms: the editor, the note, its lines. One a frame, as nobody types faster. */
export const typeKeys = (page: Page, text: string): Promise<number[]> =>
  page.evaluate(async (letters) => {
    const costs: number[] = [];
    for (const letter of letters) {
      await new Promise((r) => requestAnimationFrame(() => setTimeout(r)));
      const start = performance.now();
      document.execCommand('insertText', false, letter);
      // The editor reads what was typed in a microtask of its own, which was asked for before these.
      await Promise.resolve();
      await Promise.resolve();
      costs.push(performance.now() - start);
    }
    return costs;
  }, text);

const LINES = size(500, 60);

export async function typing(url: string): Promise<void> {
  console.log('-- typing, 390x844, a note of two hours and 20,000 strokes, 500 typed lines');
  const context = await startBrowser({ viewport: PHONE });
  const page = context.pages()[0];
  await firstTake(page, url);
  await layDown(page, 'long', 7_200_000, size(20_000, 500), Array.from({ length: 250 }, (_, i) => ({ t: 20 * i, data: SILENT_20_MS })));
  await page.goto(`${url}/note/long`);
  const sheet = page.getByTestId('page-1');
  await sheet.waitFor();
  await page.keyboard.press('Shift+W');
  await page.keyboard.press('t');
  const box = (await sheet.boundingBox())!;
  const editor = page.getByRole('textbox', { name: 'Typed text' });
  await page.mouse.click(box.x + 200, box.y + 300);
  await editor.waitFor();
  const alone = await typeKeys(page, KEYS.repeat(4));
  await page.keyboard.press('Enter');
  // What is pasted comes as lines of its own.
  await editor.evaluate((el, lines) => {
    const data = new DataTransfer();
    data.setData('text/html', Array.from({ length: lines }, (_, i) => `<p>line ${i} of the harbour book</p>`).join(''));
    el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, LINES);
  await page.waitForFunction((lines) => document.querySelectorAll('.typed-line').length > lines, LINES);
  await page.keyboard.press('Escape');
  // Back to the first page: the caret has gone with the text to the last.
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = 350));
  const first = page.getByTestId('page-1').getByTestId('typed-line').first();
  await first.scrollIntoViewIfNeeded();
  const at = (await first.boundingBox())!;
  await page.mouse.click(Math.max(at.x, 70) + 20, at.y + at.height / 2);
  await editor.waitFor();
  const full = await typeKeys(page, KEYS.repeat(4));
  // The plain alternative: a field of the browser alone, with as much in it.
  await page.evaluate((lines) => {
    const area = document.createElement('textarea');
    area.value = Array.from({ length: lines }, (_, i) => `line ${i} of the harbour book`).join('\n');
    document.body.append(area);
    area.focus();
  }, LINES);
  const plain = await typeKeys(page, KEYS);
  row('a key, p95, in a flow of a few lines', ms(percentile(alone, 0.95)), `a textarea of the browser ${ms(percentile(plain, 0.95))}`, atMost(percentile(alone, 0.95), 8, 'under 8 ms'));
  row('a key, p95, in the first of 500 lines on their pages', ms(percentile(full, 0.95)), '', atMost(percentile(full, 0.95), 8, 'under 8 ms'));
  await context.close();
}
