/** The whole of Listen, on the demo notes. */
import { expect, test, type Page } from '@playwright/test';
import { button, startBrowser, startServer, choose, inMore } from '../helpers/app';
import { records } from '../helpers/disk';
import { wholeSound } from '../helpers/machine';
import { pageErrors } from '../helpers/tap';

const TIDES = 'Open Tides and the rule of twelfths';
const slider = (page: Page) => page.getByRole('slider', { name: 'Playback position' });
const now = async (page: Page) => Number(await slider(page).getAttribute('aria-valuenow'));

test('listening: words, time margin, keys, speed, lead-in, position', wholeSound(async () => {
  const server = await startServer(true);
  const context = await startBrowser();
  const page = context.pages()[0];
  const fetched: string[] = [];
  context.on('request', (r) => fetched.push(r.url()));
  await page.goto(server.url);
  await page.getByRole('button', { name: new RegExp(`^${TIDES}`) }).click();
  const line = page.getByRole('button', { name: /^(Line|Drawing) written at/ });
  await line.first().waitFor();
  expect(await line.count()).toBeGreaterThan(5);
  // The words were found away from the thread that draws.
  expect(fetched.some((url) => /\/words-[0-9a-f]+\.js/.test(url))).toBe(true);

  // A time in the margin plays from there, the lead-in first: as late as the writer is found to be.
  const late = await inMore(page, async () => {
    const auto = page.getByLabel('Lead-in').locator('option', { hasText: /Auto \d/ });
    await auto.waitFor({ state: 'attached' });
    return Number(/Auto ([\d.]+) s/.exec((await auto.textContent())!)![1]);
  });
  const label = (await line.nth(3).getAttribute('aria-label'))!;
  const [, minutes = '0', seconds = '0'] = /at (?:(\d+) minutes?)? ?(?:(\d+) seconds?)?/.exec(label)!;
  const at = (Number(minutes) * 60 + Number(seconds)) * 1000;
  await line.nth(3).click();
  await button(page, 'Pause').waitFor();
  expect(await now(page)).toBeGreaterThan(at - 1000 * late - 1500);
  expect(await now(page)).toBeLessThan(at + 1500);
  await expect(page.locator('.word-lit:not([hidden])')).toHaveCount(1);
  await button(page, 'Pause').click();

  // Keys.
  const before = await now(page);
  await page.locator('.surface-scroller').focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(() => now(page)).toBe(before + 10_000);
  await page.keyboard.press('ArrowLeft');
  await expect.poll(() => now(page)).toBe(before);
  await page.keyboard.press('+');
  await inMore(page, () => expect(page.getByLabel('Speed')).toHaveValue('1.25'));
  await page.keyboard.press('-');
  await page.keyboard.press('.');
  await inMore(page, () => expect(page.getByLabel('Lead-in')).toHaveValue(String(Math.round(2 * late) / 2 + 0.5)));
  await page.locator('.surface-scroller').focus();
  await page.keyboard.press(' ');
  await button(page, 'Pause').waitFor();
  await expect.poll(() => now(page)).toBeGreaterThan(before + 300);
  await page.keyboard.press(' ');
  await button(page, 'Play').waitFor();

  // The position by hand, and the word that was being written then.
  await slider(page).fill('60000');
  await expect.poll(() => now(page)).toBe(60_000);
  await expect(page.locator('.word-now:not([hidden])')).toHaveCount(1);
  await button(page, 'Forward 10 seconds').click();
  await expect.poll(() => now(page)).toBe(70_000);
  await button(page, 'Back 10 seconds').click();
  await expect.poll(() => now(page)).toBe(60_000);

  // Speed is real: three seconds of sound take about one, at natural pitch.
  await choose(page, 'Speed', '3');
  expect(await page.locator('audio').evaluate((a) => (a as HTMLAudioElement).preservesPitch)).toBe(true);
  for (const [speed, least, most] of [[3, 2.4, 3.3], [0.5, 0.4, 0.55]] as const) {
    await choose(page, 'Speed', String(speed));
    await button(page, 'Play').click();
    // Between two moments of steady playing, by the clock of the machine.
    const rate = await page.evaluate(async () => {
      const audio = document.querySelector('audio')!;
      const moves = async (by: number) => {
        for (const from = audio.currentTime; audio.currentTime < from + by; ) await new Promise((r) => setTimeout(r, 4));
      };
      await moves(0.3);
      const [at, wall] = [audio.currentTime, performance.now()];
      await moves(1.2);
      return ((audio.currentTime - at) * 1000) / (performance.now() - wall);
    });
    await button(page, 'Pause').click();
    expect(rate, `${speed}x`).toBeGreaterThan(least);
    expect(rate, `${speed}x`).toBeLessThan(most);
  }
  await choose(page, 'Speed', '3');

  // The lead-in is remembered.
  await choose(page, 'Lead-in', '5');
  // Written at once, in a step or two of storage.
  await expect.poll(async () => (JSON.parse((await records(page, 'scrivo')).settings) as { leadIn: number }).leadIn).toBe(5);
  await page.reload();
  await inMore(page, () => expect(page.getByLabel('Lead-in')).toHaveValue('5'));
  await inMore(page, () => expect(page.getByLabel('Speed')).toHaveValue('3'));
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
}));

test('playing runs to the end of the note and starts again from its beginning', wholeSound(async () => {
  const server = await startServer(true);
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Interview/ }).click();
  const length = Number(await slider(page).getAttribute('max'));
  await slider(page).fill(String(length - 1500));
  await button(page, 'Play').click();
  await button(page, 'Play').waitFor();
  await expect.poll(() => now(page)).toBeGreaterThan(length - 200);
  await button(page, 'Play').click();
  await button(page, 'Pause').waitFor();
  await expect.poll(() => now(page)).toBeLessThan(5000);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
}));
