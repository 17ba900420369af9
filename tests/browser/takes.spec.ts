/** Several takes in the same note, and a take that runs while its note is out of sight. */
import { expect, test } from '@playwright/test';
import { button, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

test('Record in a note adds a take; a take goes on while one looks at Today, and asks before the page is left', async () => {
  const folder = tempFolder();
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 60), viewport: WIDE });
  const page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const recorded = (ms: number) => page.waitForFunction((least) => Number(document.querySelector('[data-testid="recording-clock"]')?.getAttribute('data-ms')) >= least, ms);
  await recorded(600);
  await pen.scribble(box.x + 80, box.y + 150, 60, 20);
  await recorded(1800);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').click();
  await recorded(600);
  await pen.scribble(box.x + 80, box.y + 250, 60, 20);
  await pen.scribble(box.x + 200, box.y + 250, 60, 20);

  // Away from the note the recording goes on, is in sight, and leads back.
  await button(page, 'Back to Today').click();
  await expect(page.getByText(/^Recording in “/)).toBeVisible();
  await expect(button(page, 'Record')).toBeDisabled();
  await button(page, 'Return').click();
  await recorded(1500);

  // Leaving the page asks first.
  const asked = page.waitForEvent('dialog');
  const leaving = page.goto(server.url).catch(() => undefined);
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await leaving;
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);

  await button(page, 'Listen').click();
  await page.getByRole('tab', { name: 'Takes', exact: true }).click();
  await expect(page.getByRole('list', { name: 'Takes' }).getByRole('listitem')).toHaveCount(2);
  await expect(page.getByRole('button', { name: /^Take 1, .*: play from its start/ })).toBeEnabled();
  await expect(page.getByRole('button', { name: /^Line written at .*, Take 2: play from here/ })).toHaveCount(1);
  const strokes = await inkOnDisk(page);
  expect(new Set(strokes.map((s) => s.stamp!.take)).size).toBe(2);
  // Take 2 comes after take 1 on the timeline.
  const slider = page.getByRole('slider', { name: 'Playback position' });
  await page.getByRole('button', { name: /^Take 2, / }).click();
  await button(page, 'Pause').waitFor();
  expect(Number(await slider.getAttribute('aria-valuenow'))).toBeGreaterThan(1500);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
