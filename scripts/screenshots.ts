/** Takes the pictures of docs/screenshots from the demo notes: `npm run screenshots`. */
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { button, PHONE, ROOT, startBrowser, startServer, WIDE } from '../tests/helpers/app';

const out = path.join(ROOT, 'docs/screenshots');
mkdirSync(out, { recursive: true });

async function views(name: string, viewport: typeof PHONE, url: string, dark = false): Promise<void> {
  const context = await startBrowser({ viewport, scale: 2, dark });
  const page = context.pages()[0];
  const shot = (view: string) => page.screenshot({ path: path.join(out, `${view}-${name}.png`), scale: 'css' });
  const settled = (p: Page) => p.evaluate(() => document.fonts.ready.then(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)))));
  await page.goto(url);
  await page.getByRole('button', { name: /^Open Tides/ }).waitFor();
  await settled(page);
  await shot('today');
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  const line = page.getByRole('button', { name: /^(Line|Drawing) written at/ });
  await line.first().waitFor();
  await line.nth(9).click();
  await button(page, 'Pause').waitFor();
  await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 0);
  await page.getByRole('slider', { name: 'Playback position' }).focus();
  await page.keyboard.press('ArrowRight');
  await button(page, 'Pause').click();
  await settled(page);
  await shot('note-listen');
  await button(page, 'Write').click();
  await settled(page);
  await shot('note-write');
  if (!dark) {
    await button(page, 'Record').click();
    await page.getByTestId('recording-clock').waitFor();
    await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) >= 1000);
    await shot('note-recording');
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    await page.goto(`${url}/library`);
    await page.getByRole('button', { name: /^Open Tides/ }).waitFor();
    await settled(page);
    await shot('library');
    await page.goto(`${url}/settings`);
    await button(page, 'Remove demo notes').waitFor();
    await settled(page);
    await shot('settings');
  }
  await context.close();
}

(async () => {
  const server = await startServer(true);
  await views('phone', PHONE, server.url);
  await views('wide', WIDE, server.url);
  await views('phone-dark', PHONE, server.url, true);
  await server.close();
})().catch((e: unknown) => {
  console.error(e);
  process.exit(1);
});
