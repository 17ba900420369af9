/** Once with all that users have and other tests leave out: the service worker, things that move, handwriting read and speech listened to in the background; and then without a network. */
import { expect, test } from '@playwright/test';
import { button, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder } from '../helpers/app';
import { headersOnDisk, strokesOnDisk } from '../helpers/disk';
import { place, write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

test('recorded, written, read, listened to and opened again without a network, with everything on', async () => {
  const server = await startServer(true);
  const context = await startBrowser({ offline: true, motion: true, idle: true, whole: true, microphone: spelledMicrophone(tempFolder(), 60) });
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  await recordNew(page);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) > 2000);
  await write(page, pen, 0, 4, 600);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const mine = (await headersOnDisk(page)).find((h) => !h.id.startsWith('demo-'))!;
  const strokes = (await strokesOnDisk(page)).filter((s) => s.page === mine.pages[0].id);
  expect(strokes.map((s) => s.stamp?.take)).toEqual(Array.from({ length: 4 }, () => mine.takes[0].id));
  // In the order and about the distance in which they were written.
  for (const [i, s] of strokes.slice(1).entries()) expect(s.stamp!.at).toBeGreaterThan(strokes[i].stamp!.at + 400);
  await button(page, 'Listen').click();
  await page.getByRole('slider', { name: 'Playback position' }).waitFor();
  await pen.touch(box.x + place(2).x + 8, box.y + place(2).y + 4);
  await button(page, 'Pause').waitFor();
  await button(page, 'Pause').click();
  // What is written in a demo note is read meanwhile.
  await button(page, 'Back to Today').click();
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.waitForFunction(() => document.querySelector('[data-testid="page-1"]')?.getAttribute('aria-description')?.includes('lists them:'), undefined, { timeout: 120_000 });
  await server.close();
  await page.goto(`${server.url}/note/${mine.id}`);
  await page.getByTestId('page-1').waitFor();
  await expect.poll(async () => (await strokesOnDisk(page)).filter((s) => s.page === mine.pages[0].id).length).toBe(4);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});
