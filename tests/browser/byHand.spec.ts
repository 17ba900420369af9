/** What is set and moved by hand or key while one listens and writes: loudness, names of takes, media keys, what is said aloud, headings, the pen cup's way back, the strip's rest. */
import { expect, test } from '@playwright/test';
import { blankNote, button, choose, Pen, PHONE, press, saved, startBrowser, startServer } from '../helpers/app';
import { headersOnDisk, records, strokesOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';
import { at, openTides, tides } from '../helpers/tides';

test('a quiet voice is made louder, a take is renamed, media keys play, and what keys go to is said', async () => {
  const { page, end } = await openTides(PHONE);
  // What the browser is asked for, from the next page on.
  await page.addInitScript(() => {
    const w = window as unknown as { gains: GainNode[]; media: Record<string, (() => void) | null> };
    [w.gains, w.media] = [[], {}];
    const gain = AudioContext.prototype.createGain;
    AudioContext.prototype.createGain = function () {
      const node = gain.call(this);
      w.gains.push(node);
      return node;
    };
    const set = navigator.mediaSession.setActionHandler.bind(navigator.mediaSession);
    navigator.mediaSession.setActionHandler = (action, handler) => {
      w.media[action] = handler as (() => void) | null;
      set(action, handler);
    };
  });
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Listen').click();
  await choose(page, 'Louder by', '12');
  // 12 dB are 10^(12/20) times the amplitude (ISO 80000-3 from memory; common practice).
  await expect.poll(() => page.evaluate(() => (window as unknown as { gains: GainNode[] }).gains.map((g) => g.gain.value))).toEqual([expect.closeTo(3.981, 2)]);
  await choose(page, 'Louder by', '0');
  await expect.poll(() => page.evaluate(() => (window as unknown as { gains: GainNode[] }).gains.map((g) => g.gain.value))).toEqual([1]);

  const media = (action: string) => page.evaluate((a) => (window as unknown as { media: Record<string, () => void> }).media[a](), action);
  await media('play');
  await button(page, 'Pause').waitFor();
  await media('pause');
  await button(page, 'Play').waitFor();
  const before = await at(page);
  await media('seekforward');
  await expect.poll(() => at(page)).toBeGreaterThan(before + 9000);
  await media('seekbackward');
  await expect.poll(() => at(page)).toBeLessThan(before + 1500);

  // The word that a key goes to is named by its line and moment.
  await page.keyboard.press('ArrowDown');
  await expect(page.getByTestId('spoken')).toHaveText(/^(Line \d+|Drawing) of page \d+, written at .*, Take 1$/);
  const said = await page.getByTestId('spoken').textContent();
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowDown');
  await expect(page.getByTestId('spoken')).not.toHaveText(said!);

  await button(page, 'Lists').click();
  await page.getByRole('tab', { name: 'Takes', exact: true }).click();
  await button(page, 'Rename Take 1').click();
  await page.getByLabel('Name of Take 1').fill('Second lecture');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Second lecture, .*: play from its start/ })).toBeVisible();
  await expect.poll(async () => (await tides(page)).takes[0].name).toBe('Second lecture');
  await page.keyboard.press('Control+z');
  await expect(button(page, 'Rename Take 1')).toBeVisible();
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('a heading is seen where it stands; a pen taken out of the cup comes back by key; the strip waits as long as was set', async () => {
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 40, box.y + 60, 80, 16);
  await button(page, 'Lasso').click();
  await pen.stroke([[30, 50], [130, 50], [130, 90], [30, 90], [30, 52]].map(([x, y]) => ({ x: box.x + x, y: box.y + y })));
  await button(page, 'Heading').click();
  const mark = page.locator('.page-heading');
  await expect(mark).toHaveCount(1);
  const [seen, ink] = [(await mark.boundingBox())!, (await page.getByTestId('selection').boundingBox())!];
  expect(Math.abs(seen.y + seen.height / 2 - (ink.y + ink.height / 2))).toBeLessThan(12);
  await page.keyboard.press('Control+z');
  await expect(mark).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.keyboard.press('p');

  // In the cup the key takes back what was done there, and leaves the ink alone.
  await saved(page);
  await press(page, 'Pen cup');
  const pens = page.getByRole('button', { name: /^Take .* out of the cup$/ });
  const count = await pens.count();
  await pens.first().click();
  await expect(pens).toHaveCount(count - 1);
  await page.keyboard.press('Control+z');
  await expect(pens).toHaveCount(count);
  await button(page, 'Close Pen cup').click();
  expect(await strokesOnDisk(page)).toHaveLength(1);

  // As long as it can be set, the strip still stands long after it would have gone on by itself.
  await button(page, 'Back to Today').click();
  await page.goto(`${server.url}/settings`);
  await page.getByLabel('Rest before the writing strip moves on').fill('2.5');
  await expect.poll(async () => (await records(page, 'scrivo')).settings ?? '').toContain('"rest":2500');
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open / }).first().click();
  await page.getByTestId('page-1').waitFor();
  await press(page, 'Writing strip');
  const area = (await page.locator('.strip-area').boundingBox())!;
  const left = async () => (await page.getByTestId('strip-frame').boundingBox())!.x;
  const from = await left();
  await page.evaluate(() => {
    const w = window as unknown as { up: number; gone: number };
    const frame = document.querySelector('[data-testid="strip-frame"]')!;
    const x = frame.getBoundingClientRect().x;
    window.addEventListener('pointerup', (e) => (w.up = e.timeStamp), true);
    const look = () => (frame.getBoundingClientRect().x === x ? requestAnimationFrame(look) : (w.gone = performance.now()));
    look();
  });
  // Up to where it goes on.
  const pen2 = await Pen.on(page);
  await pen2.stroke(Array.from({ length: 12 }, (_, i) => ({ x: area.x + area.width * (0.5 + 0.035 * i), y: area.y + area.height * 0.5 + 8 * Math.sin(i) })));
  await expect.poll(left).not.toBe(from);
  const rested = await page.evaluate(() => { const w = window as unknown as { up: number; gone: number }; return w.gone - w.up; });
  expect(rested).toBeGreaterThan(2400);
  expect(await headersOnDisk(page)).toHaveLength(1);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
