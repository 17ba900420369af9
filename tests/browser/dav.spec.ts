/** Backups on the WebDAV stand-in, looked at with a client of its own (the package webdav). */
import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { createClient, type FileStat } from 'webdav';
import { button, DAV, Pen, saved, startBrowser, startServer, tempFolder } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { inkOnDisk, records } from '../helpers/disk';
import { write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

/** A backup as the list names it, whatever the month. */
const BACKUP_OF_NOW = /^\w{3},? \d+ (January|February|March|April|May|June|July|August|September|October|November|December)/;

const settings = (page: Page) => page.getByRole('tab', { name: 'Settings' }).click();
async function account(page: Page, url: string, password = DAV.password): Promise<void> {
  await page.getByLabel('Address of the backup server').fill(url);
  await page.getByLabel('User').fill(DAV.user);
  await page.getByLabel('Password', { exact: true }).fill(password);
}
/** Settings with the demo notes, the account filled in, and a clock that can be run on. */
async function withAccount() {
  const server = await startServer(true, 0, tempFolder());
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.clock.install();
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await settings(page);
  await account(page, `${server.url}/dav`);
  return { server, context, page };
}
const backUp = async (page: Page, words: RegExp) => {
  await settings(page);
  await button(page, 'Back up to the server').click();
  await expect(page.getByText(words)).toBeVisible({ timeout: 30_000 });
  await button(page, 'Put this message away').click();
};
const notes = async (page: Page) => Object.keys(await records(page, 'scrivo')).filter((k) => k.startsWith('note/'));

test('only what changed is sent, every backup stays, and any of them comes back', async () => {
  const server = await startServer(true, 0, tempFolder());
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await settings(page);
  await account(page, `${server.url}/dav`);
  await backUp(page, /3 of 3 notes had changed and were sent/);
  await backUp(page, /0 of 3 notes had changed and were sent/);
  await page.getByRole('tab', { name: 'Today' }).click();
  await page.getByRole('button', { name: /^Open Open day/ }).click();
  await button(page, 'Write').click();
  await write(page, await Pen.on(page), 30, 32, 0);
  await saved(page);
  await button(page, 'Back to Today').click();
  await backUp(page, /1 of 3 notes had changed and were sent/);

  const client = createClient(`${server.url}/dav`, { username: DAV.user, password: DAV.password });
  const objects = (await client.getDirectoryContents('/scrivo/objects')) as FileStat[];
  expect(objects.length).toBe(4);
  expect(((await client.getDirectoryContents('/scrivo/history')) as FileStat[]).length).toBe(3);
  for (const { basename, filename } of objects) {
    const bytes = Buffer.from((await client.getFileContents(filename, { format: 'binary' })) as ArrayBuffer);
    expect(`${createHash('sha256').update(bytes).digest('hex')}.scrivo`).toBe(basename);
  }

  // All notes go for good, and come back as they were at first: the oldest of the three.
  await button(page, 'Remove demo notes').click();
  await expect.poll(() => notes(page)).toEqual([]);
  await button(page, 'Restore from the server').click();
  const list = page.getByRole('button', { name: BACKUP_OF_NOW });
  await expect(list).toHaveCount(3);
  await list.last().click();
  await expect(page.getByText('3 notes were brought in')).toBeVisible();
  await button(page, 'Done').click();
  expect((await notes(page)).length).toBe(3);
  // What a newer one has more is brought into what is here, row by row: no copy is needed.
  const before = (await inkOnDisk(page)).length;
  await button(page, 'Restore from the server').click();
  await list.first().click();
  await expect(page.getByText('1 updated with what is newer')).toBeVisible();
  await button(page, 'Done').click();
  expect((await notes(page)).length).toBe(3);
  expect((await inkOnDisk(page)).length).toBe(before + 2);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('a damaged or missing note on the server is named and the rest comes back; a server that is not there is told', async () => {
  const server = await startServer(true, 0, tempFolder());
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await settings(page);
  await account(page, `${server.url}/dav`);
  await backUp(page, /3 of 3 notes had changed/);
  const client = createClient(`${server.url}/dav`, { username: DAV.user, password: DAV.password });
  const [first, second] = (await client.getDirectoryContents('/scrivo/objects')) as FileStat[];
  await client.deleteFile(first.filename);
  const torn = Buffer.from((await client.getFileContents(second.filename, { format: 'binary' })) as ArrayBuffer);
  torn[torn.length >> 1] ^= 4;
  await client.putFileContents(second.filename, torn);
  await button(page, 'Remove demo notes').click();
  await expect.poll(() => notes(page)).toEqual([]);
  await button(page, 'Restore from the server').click();
  await page.getByRole('button', { name: BACKUP_OF_NOW }).click();
  await expect(page.getByText('2 could not be restored')).toBeVisible();
  await expect(page.getByText(/checksum is wrong/)).toBeVisible();
  await expect(page.getByText(/missing on the server/)).toBeVisible();
  await button(page, 'Done').click();
  expect((await notes(page)).length).toBe(1);
  await server.close();
  await button(page, 'Back up to the server').click();
  await expect(page.getByText(/^The backup server cannot be reached/)).toBeVisible();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

test('a wrong password and an address without https are told for what they are, and nothing is sent', async () => {
  const folder = tempFolder();
  const server = await startServer(true, 0, folder);
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await settings(page);
  await account(page, `${server.url}/dav`, 'another');
  await backUp(page, /^The backup server did not accept the name and password/);
  await page.getByLabel('Address of the backup server').fill('http://192.0.2.7/dav');
  await backUp(page, /begins with http, which lets everybody in the network read/);
  await page.getByLabel('Address of the backup server').fill('https://');
  await backUp(page, /is not one/);
  expect(readdirSync(folder)).toEqual([]);
  await context.close();
  await server.close();
});

test('a backup that is broken off by leaving the page is said at the next visit', async () => {
  const { server, context, page } = await withAccount();
  // The second note has no answer until the page is left: the browser fails the request then, as it does any.
  let puts = 0;
  const held = new Promise<void>((resolve) => void page.route('**/dav/scrivo/objects/*', (route) => (route.request().method() === 'PUT' && ++puts > 1 ? resolve() : route.continue())));
  await button(page, 'Back up to the server').click();
  await held;
  await page.reload();
  await button(page, 'Back up to the server').waitFor();
  await page.clock.runFor(21_000);
  await expect(page.getByText(/^The last backup to the server was broken off when the page was closed\. Press Back up/)).toBeVisible();
  await page.unroute('**/dav/scrivo/objects/*');
  await backUp(page, /is up to date: 3 of 3 notes had changed/);
  await page.reload();
  await button(page, 'Back up to the server').waitFor();
  await page.clock.runFor(21_000);
  await expect(page.getByText(/broken off/)).toBeHidden();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('once a day a backup is made by itself', async () => {
  const { server, context, page } = await withAccount();
  await page.getByRole('switch', { name: 'Back up once a day by itself' }).click();
  const client = createClient(`${server.url}/dav`, { username: DAV.user, password: DAV.password });
  const made = async () => ((await client.exists('/scrivo/history')) ? ((await client.getDirectoryContents('/scrivo/history')) as FileStat[]).length : 0);
  await page.clock.runFor(16 * 60_000);
  await expect.poll(made, { timeout: 30_000 }).toBe(1);
  await page.clock.runFor(60 * 60_000);
  // Backups run one after another: one that was made by itself in that hour would stand before the one asked for now.
  await button(page, 'Back up to the server').click();
  await expect(page.getByText(/0 of 3 notes had changed and were sent/)).toBeVisible({ timeout: 30_000 });
  expect(await made()).toBe(2);
  // All at once: the server would else be asked thousands of times whether it is there.
  await page.clock.fastForward(25 * 60 * 60_000);
  await expect.poll(made, { timeout: 30_000 }).toBe(3);
  await context.close();
  await server.close();
});
