/** The demo notes as a first visitor meets them. */
import { expect, test } from '@playwright/test';
import { button, Pen, saved, startBrowser, startServer } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

test('first visit, removing, bringing back; the visitor’s own notes are never touched', async () => {
  const server = await startServer(true);
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await button(page, 'Write without sound').click();
  await page.getByTestId('page-1').waitFor();
  await write(page, await Pen.on(page), 0, 2, 0);
  await saved(page);
  await page.goto(`${server.url}/settings`);
  await button(page, 'Remove demo notes').click();
  await expect(button(page, 'Remove demo notes')).toBeDisabled();
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(1);
  // Removed by hand they stay away, until they are asked for.
  await page.reload();
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(1);
  await page.goto(`${server.url}/settings`);
  await button(page, 'Bring demo notes back').click();
  await expect(button(page, 'Remove demo notes')).toBeEnabled();
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(4);
  expect((await inkOnDisk(page)).length).toBeGreaterThan(800);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('without the demo an empty library stays empty', async () => {
  const server = await startServer(false);
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByText('No notes yet.', { exact: false })).toBeVisible();
  await context.close();
  await server.close();
});
