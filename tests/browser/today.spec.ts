/** Today: a spoken memo, what waits, the shortcut that records, and opening without a network. */
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { button, spelledMicrophone, startBrowser, startServer, tempFolder, press } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { headersOnDisk, records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

test('Sound only records with one touch, goes on speaking, and keeps a memo that plays', async () => {
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(tempFolder(), 60) });
  const page = context.pages()[0];
  await page.goto(server.url);
  await button(page, 'Sound only').click();
  const clock = page.getByTestId('recording-clock');
  await expect.poll(async () => Number(await clock.getAttribute('data-ms'))).toBeGreaterThan(1500);
  await button(page, 'Pause recording').click();
  await button(page, 'Resume recording').click();
  await button(page, 'Stop recording').click();
  await expect(page.getByText('The memo is kept.')).toBeVisible();
  await button(page, 'Go on speaking').click();
  await expect.poll(async () => Number(await clock.getAttribute('data-ms'))).toBeGreaterThan(500);
  await button(page, 'Stop recording').click();
  await button(page, 'Open the note').click();
  await expect(page.getByRole('button', { name: /^Rename Memo, / })).toBeVisible();
  await button(page, 'Listen').click();
  await button(page, 'Play').click();
  await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 0.3);
  // Three parts, each of which may lack the packet of 60 ms that was not full at its end.
  expect(Number(await page.getByRole('slider', { name: 'Playback position' }).getAttribute('max'))).toBeGreaterThan(2000 - 3 * 60);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('what waits to be finished stands on Today and leads to its note', async () => {
  const server = await startServer(true);
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByRole('slider', { name: 'Playback position' }).fill('60000');
  await press(page, 'Mark ask');
  await press(page, 'Mark missed');
  await button(page, 'Back to Today').click();
  const waiting = page.getByRole('button', { name: /^Tides and the rule of twelfths.*1 Missed mark, 1 Ask mark$/ });
  await waiting.click();
  await page.getByTestId('page-1').waitFor();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('installed on a start screen: its manifest is whole, and its shortcut records at once', async () => {
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(tempFolder(), 60) });
  const page = context.pages()[0];
  await page.goto(server.url);
  // What a browser asks for before it offers to install: name, start, display, icons of 192 and 512 px (W3C Web Application Manifest).
  const manifest = (await (await page.request.get(`${server.url}/manifest.webmanifest`)).json()) as { name: string; start_url: string; display: string; icons: { src: string; sizes: string }[]; shortcuts: { url: string }[] };
  expect([manifest.name, manifest.start_url, manifest.display]).toEqual(['Scrivo', '/', 'standalone']);
  for (const { src, sizes } of manifest.icons) {
    const png = await (await page.request.get(`${server.url}${src}`)).body();
    // PNG, IHDR: width and height are the 32-bit numbers at 16 and 20 (W3C PNG, 11.2.2).
    expect(`${png.readUInt32BE(16)}x${png.readUInt32BE(20)}`).toBe(sizes);
  }
  const cdp = await context.newCDPSession(page);
  const read = (await cdp.send('Page.getAppManifest')) as { errors: unknown[]; url: string };
  expect([read.errors, read.url]).toEqual([[], `${server.url}/manifest.webmanifest`]);
  await page.goto(`${server.url}${manifest.shortcuts[0].url}`);
  await page.getByTestId('recording-clock').waitFor();
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  expect(Object.keys(await records(page, 'scrivo')).filter((k) => k.startsWith('note/')).length).toBe(1);
  await context.close();
  await server.close();
});

test('after the first visit it opens without a network, and a note plays', async () => {
  const server = await startServer(true);
  const context = await startBrowser({ offline: true });
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  // Kept: the page, the application, its fonts and styles.
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  await server.close();
  await page.goto(`${server.url}/library`);
  await page.getByRole('tab', { name: 'All notes' }).or(button(page, 'All notes')).first().click();
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByRole('button', { name: /^(Line|Drawing) written at/ }).nth(3).click();
  await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 0.3);
  expect(await page.evaluate(() => document.fonts.check('16px "Atkinson Hyperlegible"'))).toBe(true);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

test('text is as large as the browser is asked to show it, and the list keeps its order', async () => {
  const server = await startServer(true);
  const profile = tempFolder();
  // The setting of Chromium for the size of text, in a profile of its own.
  mkdirSync(path.join(profile, 'Default'), { recursive: true });
  writeFileSync(path.join(profile, 'Default', 'Preferences'), JSON.stringify({ webkit: { webprefs: { default_font_size: 22 } } }));
  const context = await startBrowser({ profile, whole: true });
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  const size = (selector: string) => page.locator(selector).first().evaluate((e) => parseFloat(getComputedStyle(e).fontSize));
  // 16 px and 22 px of the usual 16: Record is set in 22 px, titles of notes in 16 px.
  expect(await size('.note-title')).toBeCloseTo(22, 1);
  expect(await page.getByText('Record', { exact: true }).evaluate((e) => parseFloat(getComputedStyle(e).fontSize))).toBeCloseTo((22 * 22) / 16, 0);
  const rows = await page.locator('.note-row').evaluateAll((list) => list.map((e) => e.getBoundingClientRect()).map(({ top, bottom }) => [top, bottom]));
  rows.slice(1).forEach(([top], i) => expect(top).toBeGreaterThan(rows[i][1]));
  // The one changed last stands first.
  const byChange = (await headersOnDisk(page)).sort((a, b) => b.changed - a.changed).map((h) => h.title);
  expect(await page.locator('.note-row .note-title').allTextContents()).toEqual(byChange);
  await context.close();
  await server.close();
});

// WCAG 2.2, success criterion 1.4.4: text to 200 per cent without loss of content or function.
test('at twice the size of text every button of the main views stands within a phone, and none over another', async () => {
  const server = await startServer(true);
  const profile = tempFolder();
  mkdirSync(path.join(profile, 'Default'), { recursive: true });
  writeFileSync(path.join(profile, 'Default', 'Preferences'), JSON.stringify({ webkit: { webprefs: { default_font_size: 32 } } }));
  const context = await startBrowser({ profile, whole: true });
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).waitFor();
  expect(await page.locator('.note-title').first().evaluate((e) => parseFloat(getComputedStyle(e).fontSize))).toBeCloseTo(32, 0);
  const whole = async (view: string, within = 'body') => {
    const boxes = await page.locator(within).evaluate((root) =>
      [...root.querySelectorAll('button, [role="button"], [role="tab"], [role="radio"]')].flatMap((e) => {
        const { left, top, right, bottom } = e.getBoundingClientRect();
        // What scrolls out of sight is reached by scrolling; what covers nothing is not there.
        return right - left > 1 && bottom > 0 && top < innerHeight && getComputedStyle(e).visibility === 'visible' ? [{ name: e.getAttribute('aria-label') ?? e.textContent ?? '', left, top, right, bottom }] : [];
      }),
    );
    expect(boxes.length, view).toBeGreaterThan(3);
    for (const b of boxes) expect(b.right <= 391 && b.left >= -1, `${view}: ${b.name} from ${b.left} to ${b.right}`).toBe(true);
    return boxes;
  };
  await whole('Today');
  for (const tab of ['Library', 'Review', 'Settings', 'Today']) {
    await page.getByRole('tab', { name: tab }).click();
    await page.getByRole('heading', { name: tab, exact: true }).first().waitFor();
    await whole(tab);
  }
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('timeline').waitFor();
  const apart = (boxes: Awaited<ReturnType<typeof whole>>) => {
    for (const [i, a] of boxes.entries()) for (const b of boxes.slice(i + 1)) expect(a.right - b.left < 2 || b.right - a.left < 2 || a.bottom - b.top < 2 || b.bottom - a.top < 2, `${a.name} and ${b.name}`).toBe(true);
  };
  const DECK = '[role="group"][aria-label="Deck"]';
  apart(await whole('Listen', DECK));
  await button(page, 'Write').click();
  apart(await whole('Write', DECK));
  await button(page, 'Record').click();
  await page.getByTestId('recording-clock').waitFor();
  apart(await whole('Recording', DECK));
  const clock = (await page.getByTestId('recording-clock').boundingBox())!;
  expect(clock.x + clock.width).toBeLessThanOrEqual(391);
  await context.close();
  await server.close();
});
