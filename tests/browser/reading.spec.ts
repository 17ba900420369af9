/** Handwriting becomes text in the real interface: shown, put right, searched, converted; and without the model all else works. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, test } from '@playwright/test';
import { blankNote, button, Pen, PHONE, press, recordNew, saved, startBrowser, startServer, WIDE } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { inkOnDisk, records, strokesOnDisk } from '../helpers/disk';
import { writeText } from '../helpers/hershey';
import { pageErrors } from '../helpers/tap';
import { at, openTides } from '../helpers/tides';

const AXE = readFileSync(createRequire(__filename).resolve('axe-core/axe.min.js'), 'utf8');

test('the text of a note stands beside its page; a word leads to its ink, is put right and stays so; a search finds the ink', async () => {
  const { page, end } = await openTides(WIDE, true, { idle: true });
  const show = async () => {
    await button(page, 'What to do with this note').click();
    await button(page, 'Show text').click();
  };
  await show();
  const text = page.getByTestId('note-text');
  const words = text.locator('button[data-word]');
  await expect(text.getByText('Words are being read.')).toHaveCount(0, { timeout: 90_000 });
  await expect(words.first()).toBeVisible();
  // What must not be missed: plain words in the demo's own hand.
  const shown = (await words.allTextContents()).map((w) => w.toLowerCase());
  for (const word of ['rule', 'range', 'height', 'slow,', 'week', 'hours']) expect(shown).toContain(word);
  await page.evaluate(AXE);
  expect(await page.evaluate('axe.run().then((r) => r.violations.map((v) => v.id + ": " + v.nodes[0].html))')).toEqual([]);
  // The first word as the writer has it.
  const first = (await words.first().textContent())!;
  await words.first().click();
  await text.getByLabel('What the word says').fill('Tideway');
  await button(page, 'Put right').click();
  await expect(words.first()).toHaveText('Tideway');
  await expect(words.first()).toHaveAttribute('data-corrected', 'true');
  await saved(page);
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  await show();
  await expect(words.first()).toHaveText('Tideway');
  // In Listen a word plays.
  await words.nth(shown.indexOf('week')).click();
  await expect.poll(() => at(page)).toBeGreaterThan(25_000);
  await button(page, 'Pause').click();
  await words.first().click();
  await button(page, 'As it was read').click();
  await expect(words.first()).toHaveText(first);
  // Its likes are found by how they look.
  await words.nth(shown.indexOf('range')).click();
  await button(page, 'Search by writing').click();
  const likes = text.getByRole('list', { name: 'Found in this note' }).getByRole('listitem');
  await expect.poll(() => likes.count()).toBeGreaterThan(2);
  await button(page, 'Back to the text').click();
  // What is read stands over the ink, and is put away again.
  await button(page, 'Text over the ink').click();
  await expect(page.locator('.read-over span').filter({ hasText: /^range$/ }).first()).toBeVisible();
  await button(page, 'Text over the ink').click();
  await expect(page.locator('.read-over')).toHaveCount(0);
  // A line with a dash is something to do, and is ticked; it stays so.
  await text.getByRole('tab', { name: 'To do, dates, numbers' }).click();
  const toDo = text.getByRole('checkbox', { name: /^Done: shape of the bay/ });
  await toDo.click();
  await expect(toDo).toBeChecked();
  // By the clock of the lesson, 6 o'clock on the day of the note goes into a calendar file.
  const [file] = await Promise.all([page.waitForEvent('download'), text.getByRole('button', { name: /^Put in the calendar file/ }).first().click()]);
  expect(readFileSync(await file.path(), 'utf8')).toMatch(/^BEGIN:VCALENDAR\r\n[^]*\r\nDTSTART[^]*END:VCALENDAR\r\n$/);
  await text.getByRole('tab', { name: 'Text', exact: true }).click();
  await button(page, 'Close the word').click();
  // Written into the field: its likes are found by their shape.
  await button(page, 'Search by writing').click();
  const pad = (await page.locator('.write-pad').boundingBox())!;
  const bow = (cy: number, r: number) => Array.from({ length: 21 }, (_, i) => [pad.x + 60 + 1.1 * r * Math.cos(-2.2 + i * 0.2), pad.y + cy + r * Math.sin(-2.2 + i * 0.2)] as const);
  const three = [...bow(38, 18), ...bow(76, 20)];
  await page.mouse.move(...three[0]);
  await page.mouse.down();
  for (const at of three) await page.mouse.move(...at);
  await page.mouse.up();
  await expect(likes.filter({ hasText: '3' }).first()).toBeVisible();
  await button(page, 'Close field').click();
  // Searched, with an ending that was not typed yet; what is not there is said.
  await text.getByLabel('Search note').fill('heig');
  const hits = text.getByRole('list', { name: 'Found in this note' }).getByRole('listitem');
  await expect(hits.first()).toContainText('height');
  await hits.first().getByRole('button').first().click();
  await expect(page.locator('.printed-found').first()).toBeVisible();
  await text.getByLabel('Search note').fill('zeppelin');
  await text.getByText('is not found in this note').waitFor();
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('ink becomes text that plays the same moments, and ink again; the whole library is searched', async () => {
  const { page, end } = await openTides(PHONE);
  const before = await strokesOnDisk(page);
  await button(page, 'Write').click();
  await press(page, 'Lasso');
  await button(page, 'Select all').click();
  await button(page, 'Convert to text').click();
  await page.getByText(/^Look it over/).waitFor({ timeout: 90_000 });
  await saved(page);
  const typed = (await inkOnDisk(page)).flatMap((it) => (it.kind === 'typed' ? [it] : []));
  expect(typed.length).toBeGreaterThan(10);
  // Each line has the moment of a stroke that it was.
  const moments = new Set(before.map((s) => `${s.stamp?.take} ${s.stamp?.at}`));
  for (const line of typed) for (const burst of line.times) expect(moments.has(`${burst.stamp?.take} ${burst.stamp?.at}`)).toBe(true);
  await button(page, 'Back to ink').click();
  await saved(page);
  const after = await strokesOnDisk(page);
  expect(after.map((s) => s.id).sort()).toEqual(before.map((s) => s.id).sort());
  expect((await inkOnDisk(page)).some((it) => it.kind === 'typed')).toBe(false);
  await page.getByRole('button', { name: /^Back to / }).click();
  await page.getByRole('tab', { name: 'Library' }).or(page.getByRole('link', { name: 'Library' })).or(page.getByRole('button', { name: 'Library' })).first().click();
  await page.getByLabel('Search library').fill('"rule of"');
  const hit = page.getByRole('list', { name: 'Found in the notes' }).getByRole('listitem').first();
  await expect(hit).toContainText('Tides and the rule of twelfths', { timeout: 60_000 });
  await hit.getByRole('button', { name: /^Open Tides.* and play/ }).click();
  await expect.poll(() => at(page)).toBeGreaterThan(0);
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('marks are found with the words of a note, and only those of the take that is asked for', async () => {
  const server = await startServer();
  const context = await startBrowser({ viewport: PHONE });
  const page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  await page.getByText('Ask', { exact: true }).click();
  await expect(page.getByTestId('recording-clock')).toHaveText(/0:0[3-9]/);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').click();
  await button(page, 'Stop recording').click();
  await button(page, 'What to do with this note').click();
  await button(page, 'Show text').click();
  const text = page.getByTestId('note-text');
  await text.getByLabel('Search note').fill('ask');
  const marks = text.getByRole('list', { name: 'Marks that were found' }).getByRole('listitem');
  await expect(marks).toHaveCount(1);
  await text.getByRole('radio', { name: 'Take 2' }).click();
  await expect(text.getByText('“ask” is not found in this note.')).toBeVisible();
  await text.getByRole('radio', { name: 'Take 1' }).click();
  // It was written; sound is heard in Listen, and the text stays beside it.
  await expect(button(page, 'Write')).toHaveAttribute('aria-pressed', 'true');
  await marks.getByRole('button').first().click();
  await button(page, 'Pause').waitFor();
  await expect(marks).toHaveCount(1);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('a line becomes text when one has gone on from it; taken back it stays ink', async () => {
  const server = await startServer();
  const context = await startBrowser({ viewport: PHONE, idle: true });
  const page = context.pages()[0];
  await page.goto(`${server.url}/settings`);
  await page.getByRole('switch', { name: 'A line becomes typed text when it is written' }).click();
  await expect.poll(async () => (await records(page, 'scrivo')).settings ?? '').toContain('"liveText":true');
  await page.goto(server.url);
  await blankNote(page);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const mm = box.width / 210;
  for (const [i, line] of ['tides and moon', 'keep the line'].entries()) {
    const { words } = writeText(line.split(' '), { font: 'futural', size: 6, slant: 0.1, jitter: 0.02, late: 0, tracking: 1, spacing: 1 }, { x: 20, y: 40 + 14 * i, width: 170, pitch: 14, wall: 0, seed: 3 + i });
    for (const s of words.flatMap((w) => w.strokes)) await pen.stroke(s.points.map((p) => ({ x: box.x + p.x * mm, y: box.y + p.y * mm })));
  }
  const typed = async () => (await inkOnDisk(page)).flatMap((it) => (it.kind === 'typed' ? [it.text] : []));
  await expect.poll(typed, { timeout: 90_000 }).toEqual(['tides and moon', 'keep the line']);
  // Each is one step, and the ink is there again.
  await button(page, 'Undo').click();
  await expect.poll(async () => (await strokesOnDisk(page)).length).toBeGreaterThan(5);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('without the model everything else works, and one sentence says so', async () => {
  const server = await startServer(true);
  const context = await startBrowser({ viewport: PHONE, idle: true });
  await bringDemo(context, server);
  const page = context.pages()[0];
  await context.route('**/reading/reader.onnx', (route) => route.fulfill({ status: 200, body: 'damaged' }));
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  await expect(page.getByText('Handwriting is not turned into text now')).toHaveCount(1, { timeout: 60_000 });
  await button(page, 'Play').click();
  await expect.poll(() => at(page)).toBeGreaterThan(500);
  await button(page, 'Pause').click();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
