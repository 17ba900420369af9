/** Takes the pictures of docs/screenshots from the demo notes: `npm run screenshots`. */
import { mkdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, type Page } from '@playwright/test';
import { move } from '../src/core/ink/transform';
import { groupWords } from '../src/core/ink/words/words';
import { put } from '../src/core/note/edit';
import { mapPlaced, strokesOf } from '../src/core/note/kinds/kinds';
import { button, inMore, Pen, PHONE, press, ROOT, startBrowser, startServer, tempFolder, WIDE } from '../tests/helpers/app';
import { records } from '../tests/helpers/disk';
import { along, around } from '../tests/helpers/hands';
import { changedOn, fileOf, restoreFile, tidesNote } from '../tests/helpers/otherDevices';
import { printed } from '../tests/helpers/pdfs';
import { tides } from '../tests/helpers/tides';

const out = path.join(ROOT, 'docs/screenshots');
mkdirSync(out, { recursive: true });

/** Views that show nothing more than another one does. */
const LEFT_OUT = new Set(['pen-cup-wide', 'selection-wide', 'settings-wide', 'review-wide', 'note-write-phone-dark', 'note-write-phone', 'note-recording-wide', 'today-phone-dark', 'pages-wide', 'shapes-wide', 'hand-on-wide', 'things-wide', 'library-wide']);

/** A hand-out that was brought in, beside the note that is written from it. */
async function beside(page: Page, url: string, settled: (p: Page) => Promise<unknown>, shot: (view: string) => Promise<unknown>): Promise<void> {
  const { file } = await printed(tempFolder(), 3);
  await page.goto(url);
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles({ name: 'Tides hand-out.pdf', mimeType: 'application/pdf', buffer: readFileSync(file) });
  await page.getByRole('dialog').getByText('3 pages').waitFor();
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByTestId('page-1').waitFor();
  await page.goto(url);
  await page.getByRole('button', { name: /^Open Tides and/ }).click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'What to do with this note').click();
  await button(page, 'Beside').click();
  await button(page, 'Put beside: Tides hand-out').click();
  await page.getByRole('region', { name: 'Source' }).locator('[data-testid="page-1"] canvas').first().waitFor();
  await page.locator('.surface[data-due="0"][data-drawn="true"]').nth(1).waitFor();
  await page.getByText(/^Auto \d/).first().waitFor({ state: 'attached', timeout: 60_000 });
  await settled(page);
  await shot('beside');
}

/** Text typed below the writing, with its looks, a table and a sticky note. */
async function things(page: Page, url: string, settled: (p: Page) => Promise<unknown>, shot: (view: string) => Promise<unknown>): Promise<void> {
  await page.goto(url);
  await page.getByRole('button', { name: /^Open Interview/ }).click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Write').click();
  await press(page, 'Pages');
  await button(page, 'Add a page at the end').click();
  await button(page, 'Close Pages').click();
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = e.scrollHeight));
  await settled(page);
  await page.keyboard.press('t');
  const sheet = (await page.locator('.page').last().boundingBox())!;
  await page.mouse.click(sheet.x + 0.1 * sheet.width, sheet.y + 0.2 * sheet.height);
  await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
  await page.getByLabel('Font', { exact: true }).selectOption('serif');
  await page.keyboard.type('To ask him again');
  await page.keyboard.press('Enter');
  await page.getByLabel('Font', { exact: true }).selectOption('sans');
  for (const text of ['1. the pilot cutter', 'who taught him', 'the winter of the ice']) {
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  }
  await page.keyboard.press('Enter');
  await page.keyboard.type('[x] thank him');
  await page.keyboard.press('Escape');
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop += 100));
  await settled(page);
  await press(page, 'Table');
  await page.getByRole('dialog').getByLabel(/^Rows/).fill('3');
  await page.getByRole('dialog').getByLabel(/^Columns/).fill('2');
  await button(page, 'Put it there').click();
  for (const cell of ['Winter', 'Ships', 'of 1962', '212', 'of 1978', '187', 'Both']) {
    await page.keyboard.type(cell);
    await page.keyboard.press('Tab');
  }
  await button(page, 'Sum above').click();
  await button(page, 'Leave').click();
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop += 160));
  await settled(page);
  await press(page, 'Sticky note');
  await page.keyboard.press('t');
  const view = (await page.locator('.surface-scroller').boundingBox())!;
  await page.mouse.click(view.x + view.width / 2 - 40, view.y + view.height / 2 - 30);
  await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
  await page.keyboard.type('The cutter’s log is in the harbour office: ask for the volume of 1962.');
  await page.keyboard.press('Escape');
  await settled(page);
  await shot('things');
}

async function views(name: string, viewport: typeof PHONE, url: string, dark = false): Promise<void> {
  const context = await startBrowser({ viewport, scale: 2, dark, idle: name === 'wide' });
  const page = context.pages()[0];
  const shot = async (view: string) => {
    if (!LEFT_OUT.has(`${view}-${name}`)) await page.screenshot({ path: path.join(out, `${view}-${name}.png`), scale: 'css' });
  };
  const settled = (p: Page) => p.evaluate(() => document.fonts.ready.then(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)))));
  await page.goto(url);
  await page.getByRole('button', { name: /^Open Tides/ }).waitFor();
  await page.locator('.note-row img').nth(2).waitFor();
  await settled(page);
  await shot('today');
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  const line = page.getByRole('button', { name: /^(Line|Drawing) written at/ });
  await line.first().waitFor();
  // What is heard in the sound came along with the note: pauses and gaps are known.
  await inMore(page, () => page.getByText(/^Auto \d/).first().waitFor({ state: 'attached', timeout: 60_000 }));
  for (const [ms, kind] of [[30_000, 'key'], [120_000, 'missed'], [215_000, 'ask']] as const) {
    await page.getByRole('slider', { name: 'Playback position' }).fill(String(ms));
    await page.locator(`.surface[data-at="${ms}"]`).waitFor();
    await press(page, `Mark ${kind}`);
  }
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
  if (!dark) await tools(page, shot, settled);
  if (!dark) {
    await button(page, 'Record').click();
    await page.getByTestId('recording-clock').waitFor();
    await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) >= 1000);
    await shot('note-recording');
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    await overview(page, shot, settled);
    await library(page, url);
    await settled(page);
    await shot('library');
    await page.goto(`${url}/review`);
    // It looks through by itself.
    await page.getByRole('list', { name: /^Unfinished in Open day/ }).waitFor({ timeout: 120_000 });
    await button(page, 'Stop').waitFor({ state: 'detached', timeout: 120_000 });
    await settled(page);
    await shot('review');
    await page.goto(`${url}/settings`);
    await button(page, 'Remove demo notes').waitFor();
    await settled(page);
    await shot('settings');
    if (name === 'phone') await things(page, url, settled, shot);
    if (name === 'phone') await handOn(page, url, settled, shot);
    if (name === 'phone') await compare(page, url, settled, shot);
    if (name === 'wide') await text(page, url, settled, shot);
    if (name === 'wide') await beside(page, url, settled, shot);
  }
  await context.close();
}

/** The overview of pages. */
async function overview(page: Page, shot: (view: string) => Promise<unknown>, settled: (p: Page) => Promise<unknown>): Promise<void> {
  await press(page, 'Pages');
  await page.getByLabel('Choose page 1', { exact: true }).check();
  await settled(page);
  await shot('pages');
  await button(page, 'Close Pages').click();
}

/** A note on its way to a file, with the picture of what comes out. */
async function handOn(page: Page, url: string, settled: (p: Page) => Promise<unknown>, shot: (view: string) => Promise<unknown>): Promise<void> {
  await page.goto(url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'What to do with this note').click();
  await button(page, 'Hand on').click();
  await page.locator('.made-picture[data-page="1"]').scrollIntoViewIfNeeded();
  await settled(page);
  await shot('hand-on');
  await button(page, 'Close Hand on').click();
}

/** What two devices did to the same note, unseen by each other. */
async function compare(page: Page, url: string, settled: (p: Page) => Promise<unknown>, shot: (view: string) => Promise<unknown>): Promise<void> {
  const { note, takes } = await tidesNote();
  const at = note.header.pages[0].id;
  const [word] = groupWords(strokesOf(note.ink[at])).words;
  const ink = strokesOf(note.ink[at]).filter((s) => word.strokes.includes(s.id));
  const sides: [string, number, number, string][] = [['desk', 5, 0, 'Tides: the rule of twelfths'], ['tablet', 3, 9, 'Tides, first lesson']];
  await page.goto(`${url}/settings`);
  for (const [device, hoursAgo, down, value] of sides) {
    const side = changedOn(device, hoursAgo, note, { put: ink.slice(0, 1).map((s) => mapPlaced(s, move(3 + down, down), at)), rows: [put('note', 'title', { value })] });
    await restoreFile(page, await fileOf({ note: side, takes }));
    if (device !== 'tablet') await button(page, 'Done').click();
  }
  await page.getByRole('button', { name: /^Compare versions/ }).click();
  await page.getByRole('dialog').getByText('Current', { exact: false }).first().waitFor();
  // A pointer that rests on a button tints it.
  await page.mouse.move(2, 2);
  await settled(page);
  await shot('compare');
}

/** The text of a note beside its page, with a word in hand. */
async function text(page: Page, url: string, settled: (p: Page) => Promise<unknown>, shot: (view: string) => Promise<unknown>): Promise<void> {
  await page.goto(url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'What to do with this note').click();
  await button(page, 'Show text').click();
  await page.locator('button[data-word]').first().waitFor();
  await page.waitForFunction(() => !document.querySelector('.read-wait'), null, { timeout: 120_000 });
  await page.locator('button[data-word]', { hasText: 'range' }).first().click();
  await button(page, 'Pause').click();
  // A pointer that rests on a button is told its name.
  await page.mouse.move(1240, 342);
  const { takes } = await tides(page);
  const listened = async () => {
    const sound = await records(page, 'scrivo-sound');
    return takes.every((t) => (sound[`heard/${t.id}`] ?? '').includes('"by":"model"'));
  };
  await expect.poll(listened, { timeout: 60_000 }).toBe(true);
  await page.getByRole('status', { name: 'Work under way' }).waitFor({ state: 'detached' });
  await settled(page);
  await shot('text');
  await button(page, 'Close Text').click();
}

/** All notes, whatever folder they lie in. */
async function library(page: Page, url: string): Promise<void> {
  await page.goto(`${url}/library`);
  await page.getByRole('tab', { name: 'All notes' }).or(button(page, 'All notes')).first().click();
  await page.getByRole('button', { name: /^Open Tides/ }).waitFor();
  await page.locator('.note-row img').nth(2).waitFor();
}

/** The pen cup, a selection, a hand-drawn chart of clean shapes under the ruler: on the second page of the demo note. */
async function tools(page: Page, shot: (view: string) => Promise<unknown>, settled: (p: Page) => Promise<unknown>): Promise<void> {
  const pen = await Pen.on(page);
  await press(page, 'Pen cup');
  await settled(page);
  await shot('pen-cup');
  await page.keyboard.press('Escape');
  await page.keyboard.press('l');
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  const spot = (x: number, y: number) => ({ x: box.x + x * k, y: box.y + y * k });
  await pen.stroke([spot(10, 46), spot(100, 44), spot(110, 62), spot(60, 66), spot(10, 62), spot(9, 47)]);
  await page.getByTestId('selection').waitFor();
  await settled(page);
  await shot('selection');
  await page.keyboard.press('Escape');
  // Below the second page's lines, in view.
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = e.scrollHeight));
  await settled(page);
  const second = (await page.getByTestId('page-2').boundingBox())!;
  const view = (await page.locator('.surface-scroller').boundingBox())!;
  const top = Math.max(second.y + 90 * k, view.y + 40);
  const at = (x: number, y: number) => ({ x: second.x + x * k, y: top + y * k });
  const held = async (points: { x: number; y: number }[]) => pen.strokeHeld(along(points, 6), () => page.locator('.tool-label').waitFor());
  await page.keyboard.press('1');
  await held([at(30, 20), at(80, 20.5), at(80, 45), at(30.5, 45), at(30, 21)]);
  await pen.strokeHeld(around(at(140, 32).x, at(140, 32).y, 16 * k, 16 * k), () => page.locator('.tool-label').waitFor());
  await held([at(80, 33), at(124, 32)]);
  await page.keyboard.press('s');
  await page.mouse.click(at(55, 32).x, at(55, 32).y);
  await page.getByTestId('selection').waitFor();
  await button(page, 'Fill Sky').click();
  await page.keyboard.press('r');
  await settled(page);
  await shot('shapes');
  await page.keyboard.press('r');
  await page.keyboard.press('Escape');
  // As one goes on writing.
  await page.keyboard.press('p');
  const away = button(page, 'Put this message away');
  if (await away.count()) await away.click();
}

(async () => {
  const server = await startServer(true);
  await views('phone', PHONE, server.url);
  await views('wide', WIDE, server.url);
  await views('phone-dark', PHONE, server.url, true);
  await server.close();
  // The browser that all views share would keep it waiting.
  process.exit(0);
})().catch((e: unknown) => {
  console.error(e);
  process.exit(1);
});
