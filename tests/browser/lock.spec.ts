/** Notes, and everything, behind a passphrase: what stays readable in the browser's own database, and the ways in and out. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { blankNote, button, Pen, saved, startBrowser, startServer, tempFolder } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { overwrite, records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

const PASS = 'north cardinal 9';
const tab = (page: Page, name: string) => page.getByRole('tab', { name }).click();
const field = (page: Page, name: string) => page.getByLabel(name, { exact: true });

async function setPassphrase(page: Page): Promise<void> {
  await field(page, 'New passphrase').fill(PASS);
  await field(page, 'The same once more').fill(PASS);
  await field(page, 'Hint').fill('What stands off the breakwater');
  await button(page, 'Set it').click();
}

async function unlock(page: Page, passphrase: string): Promise<void> {
  await field(page, 'Passphrase').fill(passphrase);
  await expect(button(page, 'Unlock').last()).toBeEnabled();
  await field(page, 'Passphrase').press('Enter');
}

/** Every record of the browser's database, as text. */
const everything = async (page: Page) => ({ ...(await records(page, 'scrivo')), ...(await records(page, 'scrivo-sound')) });
const TIDES = 'Tides and the rule of twelfths';

test('of a locked note nothing is readable in storage, lists or search; the passphrase brings it back, ink and sound', async () => {
  const server = await startServer('loose');
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  await tab(page, 'Library');
  const pictured = page.locator('.note-row', { hasText: TIDES }).locator('img');
  await expect(pictured).toBeVisible();
  const before = await everything(page);
  const note = JSON.parse(Object.entries(before).find(([k, v]) => k.startsWith('note/') && v.includes(TIDES))![1]) as { id: string; takes: { id: string }[] };
  const mine = (key: string) => (key.includes(`/${note.id}`) && !/^(extent|locked|gone|replacing)\//.test(key)) || note.takes.some((t) => key.includes(t.id));
  expect(Object.keys(before).filter(mine).length).toBeGreaterThan(30);

  await page.getByRole('button', { name: `What to do with ${TIDES}` }).click();
  await button(page, 'Lock').click();
  await expect(page.getByText(/A forgotten passphrase cannot be reset/)).toBeVisible();
  // Too short, not the same, and a hint that gives it away are told before anything is set.
  await field(page, 'New passphrase').fill('short');
  await expect(page.getByText(/At least 8 characters/)).toBeVisible();
  await field(page, 'New passphrase').fill(PASS);
  await field(page, 'The same once more').fill(`${PASS}0`);
  await expect(page.getByText('The two are not the same.')).toBeVisible();
  await field(page, 'Hint').fill(`it is ${PASS}`);
  await field(page, 'The same once more').fill(PASS);
  await expect(page.getByText(/must not hold the passphrase/)).toBeVisible();
  await setPassphrase(page);
  await page.getByRole('switch', { name: 'Hide the title too' }).click();
  await button(page, 'Lock').click();
  await expect(page.getByText(/locked from now on/)).toBeVisible();
  // Open as long as the lock is.
  await expect(page.locator('.note-row', { hasText: TIDES })).toContainText('Locked');

  const sealed = await everything(page);
  for (const [key, text] of Object.entries(sealed)) expect([key, text.startsWith('scrivo-sealed')]).toEqual([key, mine(key)]);
  expect(JSON.stringify(sealed)).not.toContain(TIDES);
  expect(JSON.stringify(sealed)).not.toContain('north');

  await page.goto(server.url);
  await expect(page.getByText('A note is locked.')).toBeVisible();
  await expect(page.getByText(TIDES)).toHaveCount(0);
  await tab(page, 'Library');
  await expect(page.getByRole('button', { name: 'Unlock Locked note' })).toBeVisible();
  await field(page, 'Search library').fill('twelfths');
  await expect(page.getByText('No title, folder, tag or mark matches “twelfths”.')).toBeVisible();
  await tab(page, 'Review');
  await expect(page.getByText(TIDES)).toHaveCount(0);

  // By its address, too, it asks.
  await page.goto(`${server.url}/note/${note.id}`);
  await expect(page.getByText('This note is locked')).toBeVisible();
  await button(page, 'Unlock').click();
  await unlock(page, 'south cardinal 9');
  await expect(page.getByText(/This is not the passphrase/)).toBeVisible();
  await expect(page.getByText(/can be tried in \d s/)).toBeVisible();
  await expect(page.getByText('Hint: What stands off the breakwater')).toBeVisible();
  // A reload does not shorten the wait.
  await overwrite(page, 'scrivo', 'vault', JSON.stringify({ ...JSON.parse((await records(page, 'scrivo')).vault), wrong: 7, notBefore: Date.now() + 64_000 }));
  await page.reload();
  await button(page, 'Unlock').click();
  await expect(page.getByText(/can be tried in 6\d s/)).toBeVisible();
  await field(page, 'Passphrase').fill(PASS);
  await expect(button(page, 'Unlock').last()).toBeDisabled();
  await overwrite(page, 'scrivo', 'vault', JSON.stringify({ ...JSON.parse((await records(page, 'scrivo')).vault), notBefore: 0 }));
  await page.reload();
  await button(page, 'Unlock').click();
  await unlock(page, PASS);
  await page.getByTestId('page-1').waitFor();
  await expect(button(page, `Rename ${TIDES}`)).toBeVisible();
  await button(page, 'Play').click();
  await expect(button(page, 'Pause')).toBeVisible();
  await expect.poll(() => page.getByRole('slider', { name: 'Playback position' }).getAttribute('aria-valuenow').then(Number)).toBeGreaterThan(500);
  await button(page, 'Pause').click();

  // Written while the lock is open: never readable, not for a moment.
  await button(page, 'Write').click();
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 150, box.y + 300);
  await saved(page);
  for (const [key, text] of Object.entries(await everything(page))) if (mine(key)) expect([key, text.startsWith('scrivo-sealed')]).toEqual([key, true]);

  // The lock is closed from elsewhere while the note stands open: the note goes from the screen.
  const other = await context.newPage();
  await other.goto(server.url);
  await tab(other, 'Settings');
  await button(other, 'Unlock').click();
  await unlock(other, PASS);
  await expect(page.getByTestId('page-1')).toBeVisible();
  await button(other, 'Lock now').click();
  await expect(page.getByText('This note is locked')).toBeVisible();
  await expect(page.getByTestId('page-1')).toHaveCount(0);
  await expect(page.getByText(TIDES)).toHaveCount(0);
  await other.close();
  await page.goto(server.url);
  await tab(page, 'Settings');
  await expect(page.getByText('The lock is closed.', { exact: false })).toBeVisible();
  // To lock another note it is opened first, and what was wanted goes on.
  await tab(page, 'Library');
  await page.getByRole('button', { name: /^What to do with Interview/ }).click();
  await button(page, 'Lock').click();
  await unlock(page, PASS);
  await expect(page.getByRole('switch', { name: 'Hide the title too' })).toBeVisible();
  await button(page, 'Cancel').click();
  await tab(page, 'Settings');
  await expect(button(page, 'Lock now')).toBeVisible();
  await button(page, 'Remove the passphrase').click();
  await button(page, 'Remove it').click();
  await expect(page.getByText('There is no passphrase any more', { exact: false })).toBeVisible();
  const after = await everything(page);
  expect(Object.entries(after).filter(([, text]) => text.startsWith('scrivo-sealed'))).toEqual([]);
  for (const [key, text] of Object.entries(before)) if (note.takes.some((t) => key.startsWith(`${t.id}/`))) expect(after[key]).toBe(text);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('everything locked: only the passphrase is asked for, it locks by itself, and an open note with it', async () => {
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.clock.install();
  await page.goto(server.url);
  await blankNote(page);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 150, box.y + 200);
  await saved(page);
  await button(page, 'Back to Today').click();
  await tab(page, 'Settings');
  await button(page, 'Set a passphrase').click();
  await setPassphrase(page);
  await page.getByRole('switch', { name: 'Lock everything' }).click();
  await expect(page.getByText('Everything is locked', { exact: false })).toBeVisible();
  for (const [key, text] of Object.entries(await everything(page))) expect([key, text.startsWith('scrivo-sealed')]).toEqual([key, !key.startsWith('vault')]);

  await tab(page, 'Today');
  await page.getByRole('button', { name: /^Open / }).click();
  await page.getByTestId('page-1').waitFor();
  await pen.scribble(box.x + 150, box.y + 300);
  // A hand that rests for less than five minutes does not lock, for longer it does.
  await page.clock.runFor('04:00');
  await expect(page.getByTestId('page-1')).toBeVisible();
  await page.clock.runFor('01:20');
  await expect(page.getByText('Scrivo is locked')).toBeVisible();
  await expect(page.getByTestId('page-1')).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('Scrivo is locked')).toBeVisible();
  await expect(page.getByTestId('page-1')).toHaveCount(0);
  await expect(page.getByRole('tab')).toHaveCount(0);
  await unlock(page, PASS);
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Undo').waitFor();
  await button(page, 'Back to Today').click();
  await tab(page, 'Settings');
  // Another passphrase: the old one has to be known, and opens nothing any more.
  await button(page, 'Change the passphrase').click();
  await field(page, 'Passphrase until now').fill(PASS);
  await field(page, 'New passphrase').fill('south cardinal 6');
  await field(page, 'The same once more').fill('south cardinal 6');
  await button(page, 'Change it').click();
  await expect(page.getByText('The passphrase was changed.')).toBeVisible();
  await button(page, 'Lock now').click();
  await unlock(page, PASS);
  await expect(page.getByText(/This is not the passphrase/)).toBeVisible();
  await page.clock.runFor('00:02');
  await unlock(page, 'south cardinal 6');
  // Later, where that is set.
  await page.getByLabel('Closes by itself').selectOption({ label: 'After 15 minutes' });
  await page.clock.runFor('14:00');
  await expect(page.getByRole('switch', { name: 'Lock everything' })).toBeVisible();
  await page.clock.runFor('01:20');
  await unlock(page, 'south cardinal 6');
  await page.getByRole('switch', { name: 'Lock everything' }).click();
  await expect(page.getByText('No notes are locked one by one', { exact: false })).toBeVisible();
  const open = await everything(page);
  expect(Object.entries(open).filter(([, text]) => text.startsWith('scrivo-sealed'))).toEqual([]);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('a backup holds locked notes sealed; another browser asks for their passphrase', async () => {
  const server = await startServer('loose');
  let context = await startBrowser();
  await bringDemo(context, server);
  let page = context.pages()[0];
  await page.goto(server.url);
  await tab(page, 'Library');
  await page.getByRole('button', { name: `What to do with ${TIDES}` }).click();
  await button(page, 'Lock').click();
  await setPassphrase(page);
  await button(page, 'Lock').click();
  await expect(page.getByText(/locked from now on/)).toBeVisible();
  await tab(page, 'Settings');
  const backUp = async () => {
    const download = page.waitForEvent('download');
    await button(page, 'Back up').click();
    const file = path.join(tempFolder(), 'library.zip');
    await (await download).saveAs(file);
    return file;
  };
  const open = await backUp();
  expect(execFileSync('unzip', ['-l', open]).toString()).not.toContain('locked/');
  // Closed, the note cannot be read: it is named before the backup begins, and goes along as it is stored.
  await button(page, 'Lock now').click();
  await expect(page.getByText('The lock is closed.', { exact: false })).toBeVisible();
  await expect(page.getByText(/Locked now: .*It goes along sealed/)).toBeVisible();
  const file = await backUp();
  await expect(page.getByText('2 notes were handed to the browser as one file, and a locked note sealed.', { exact: false })).toBeVisible();
  expect(execFileSync('unzip', ['-l', file]).toString()).toContain('locked/');
  await context.close();
  await server.close();

  const bare = await startServer();
  context = await startBrowser();
  page = context.pages()[0];
  await page.goto(bare.url);
  await tab(page, 'Settings');
  const restore = async () => {
    const chooser = page.waitForEvent('filechooser');
    await button(page, 'Restore').click();
    await (await chooser).setFiles(file);
  };
  await restore();
  await expect(page.getByText('Locked notes in the backup')).toBeVisible();
  await button(page, 'Leave them out').click();
  await expect(page.getByText('2 notes were brought in')).toBeVisible();
  await expect(page.getByText(/it is locked, and what it was locked with was not given/)).toBeVisible();
  await button(page, 'Done').click();
  await restore();
  await field(page, 'Passphrase').fill('south cardinal 9');
  await button(page, 'Open').click();
  await expect(page.getByText(/This is not the passphrase of the backup/)).toBeVisible();
  await field(page, 'Passphrase').fill(PASS);
  await expect(button(page, 'Open')).toBeEnabled();
  await button(page, 'Open').click();
  await expect(page.getByText('1 note was brought in')).toBeVisible();
  await button(page, 'Done').click();
  // It stays locked, with the passphrase it came with.
  await expect(page.getByText('1 note is locked one by one.', { exact: false })).toBeVisible();
  await page.reload();
  await expect(page.getByText(/^Unlock$/).first()).toBeVisible();
  await button(page, 'Unlock').click();
  await unlock(page, PASS);
  await tab(page, 'Library');
  await expect(page.locator('.note-row', { hasText: TIDES })).toContainText('Locked');
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await bare.close();
});
