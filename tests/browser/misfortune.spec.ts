/** Bad luck, each kind caused for real: one plain sentence, the rest works, nothing is lost. */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { readBundle } from '../../src/core/formats/bundle';
import { blankNote, button, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder, type BrowserOptions } from '../helpers/app';
import { fillDisk, inkOnDisk, overwrite, records } from '../helpers/disk';
import { wavOf } from '../helpers/dtmf';
import { place, write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

async function open(options: BrowserOptions & { quota?: number } = {}) {
  const server = await startServer();
  const context = await startBrowser(options);
  const page = context.pages()[0];
  // Before the first record is written: the browser looks up what is left only now and then.
  const quota = (quotaSize?: number) => cdp.send('Storage.overrideQuotaForOrigin', { origin: server.url, ...(quotaSize ? { quotaSize } : {}) });
  const cdp = await context.newCDPSession(page);
  if (options.quota) await quota(options.quota);
  await page.goto(server.url);
  return {
    server,
    context,
    page,
    quota,
    done: async () => {
      await context.close();
      await server.close().catch(() => undefined);
    },
  };
}

/** The user can go on writing, and what is written is stored. */
async function stillWrites(page: Page, from = 0): Promise<void> {
  const pen = await Pen.on(page);
  await write(page, pen, from, from + 3, 50);
  await saved(page);
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(from + 3);
}

/** It is said; where something else was said as well, it unfolds. */
const sentence = (page: Page, text: string | RegExp) =>
  expect(async () => {
    const it = page.getByText(text).first();
    const fold = page.getByRole('button', { name: /^Read the messages/ }).first();
    if (!(await it.isVisible()) && (await fold.isVisible())) await fold.click();
    await expect(it).toBeVisible({ timeout: 100 });
  }).toPass({ timeout: 60_000 });

test('a refused microphone', async () => {
  const { page, done } = await open({ refuse: true });
  await button(page, 'Record').click();
  await sentence(page, /does not let Scrivo use the microphone.*allow the microphone/);
  await stillWrites(page);
  await expect(button(page, 'Record')).toBeEnabled();
  expect(await pageErrors(page)).toEqual([]);
  await done();
});

test('no microphone in the machine', async () => {
  const { page, done } = await open({ noDevice: true });
  await button(page, 'Record').click();
  await sentence(page, /No microphone was found.*connect a microphone/);
  await stillWrites(page);
  expect(await pageErrors(page)).toEqual([]);
  await done();
});

test('a microphone that goes away in the middle of a take', async () => {
  const folder = tempFolder();
  const { page, context, server, done } = await open({ microphone: spelledMicrophone(folder, 60) });
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, 4, 600);
  // The browser itself ends the track when the permission is taken back, as it does when the device is pulled out.
  const cdp = await context.newCDPSession(page);
  await cdp.send('Browser.setPermission', { origin: server.url, permission: { name: 'microphone' }, setting: 'denied' });
  await sentence(page, /microphone was disconnected.*Everything up to then is kept/);
  await expect(page.getByTestId('recording-clock')).toHaveCount(0);
  await saved(page);
  await button(page, 'Listen').click();
  const length = Number(await page.getByRole('slider', { name: 'Playback position' }).getAttribute('max'));
  expect(length).toBeGreaterThan(2000);
  await button(page, 'Write').click();
  await stillWrites(page, 4);
  expect(await pageErrors(page)).toEqual([]);
  await done();
});

for (const [what, samples, words] of [
  ['silent', new Float32Array(48_000 * 30), /The microphone is silent.*not muted/],
  ['clipping', Float32Array.from({ length: 48_000 * 30 }, (_, i) => (Math.sin(i / 9) > 0 ? 1 : -1)), /too loud and is being cut off.*turn its level down/],
] as const) {
  test(`a ${what} microphone is said in words within seconds`, async () => {
    const file = path.join(tempFolder(), 'microphone.wav');
    writeFileSync(file, wavOf(samples, 48_000));
    const { page, done } = await open({ microphone: file });
    await recordNew(page);
    await expect(page.getByText(words).first()).toBeVisible({ timeout: 7000 });
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    await done();
  });
}

test('a microphone that dies without a word: it is said in the place of the clock, and ink beyond the sound has no stamp', async () => {
  const folder = tempFolder();
  const { page, context, done } = await open({ microphone: spelledMicrophone(folder, 60) });
  await context.addInitScript(() => {
    const ask = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
    // Its own end is no event (Media Capture and Streams, 4.3.1: `stop()` fires none).
    navigator.mediaDevices.getUserMedia = async (wanted) => ((window as unknown as { mic: MediaStream }).mic = await ask(wanted));
  });
  await page.reload();
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, 3, 700);
  await page.evaluate(() => (window as unknown as { mic: MediaStream }).mic.getTracks().forEach((t) => t.stop()));
  await expect(page.getByText('No sound', { exact: true })).toBeVisible();
  await expect(page.getByText(/No sound is arriving from the microphone/)).toBeVisible();
  await write(page, pen, 3, 5, 700);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  await expect.poll(async () => (await inkOnDisk(page)).map((s) => s.stamp !== null)).toEqual([true, true, true, false, false]);
  expect(await pageErrors(page)).toEqual([]);
  await done();
});

test('a full disk: nothing is lost, a copy can be saved, and storing goes on when there is room', async () => {
  const folder = tempFolder();
  const { page, quota, done } = await open({ microphone: spelledMicrophone(folder, 60), quota: 3_000_000 });
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, 2, 400);
  await saved(page);
  await fillDisk(page);
  await write(page, pen, 2, 6, 500);
  await sentence(page, /no room left for Scrivo.*free some room/);
  await expect(page.locator('[data-testid="save-state"][data-state="failed"]')).toBeVisible();
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  const download = page.waitForEvent('download');
  await button(page, 'Save a copy').first().click();
  const copy = await readBundle(new Uint8Array(readFileSync(await (await download).path())));
  expect(Object.values(copy.note.ink).flat()).toHaveLength(6);
  expect([...copy.takes.values()][0].length).toBeGreaterThan(5000);

  await quota();
  await sentence(page, 'Everything is stored again.');
  await expect.poll(async () => (await inkOnDisk(page)).length, { timeout: 15_000 }).toBe(6);
  expect(await pageErrors(page)).toEqual([]);
  await page.reload();
  await page.getByRole('slider', { name: 'Playback position' }).waitFor();
  expect(Number(await page.getByRole('slider', { name: 'Playback position' }).getAttribute('max'))).toBeGreaterThan(2500);
  await done();
});

test('a full disk with the reserve: ink and sound go on without a break, and it is said', async () => {
  const folder = tempFolder();
  const { page, done } = await open({ microphone: spelledMicrophone(folder, 60), quota: 14_000_000 });
  await expect.poll(async () => Object.keys(await records(page, 'scrivo-reserve')), { timeout: 20_000 }).toEqual(['reserve']);
  await recordNew(page);
  const pen = await Pen.on(page);
  await write(page, pen, 0, 2, 400);
  await saved(page);
  await fillDisk(page);
  const failures = await page.evaluateHandle(() => {
    const seen: string[] = [];
    new MutationObserver(() => seen.push(document.querySelector<HTMLElement>('[data-testid="save-state"]')?.dataset.state ?? '')).observe(document.querySelector('[data-testid="save-state"]')!, { attributes: true });
    return seen;
  });
  await write(page, pen, 2, 6, 500);
  await sentence(page, /goes on in a reserve that it kept/);
  await saved(page);
  expect(await failures.evaluate((seen) => seen.filter((s) => s === 'failed'))).toEqual([]);
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(6);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  // Without the reserve, and without room again, nothing can be stored, not even what lies in the bin; notes still go for good.
  await fillDisk(page);
  await write(page, pen, 6, 9, 300);
  await sentence(page, /no room left for Scrivo.*free some room/);
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Library' }).click();
  await page.getByRole('button', { name: /^What to do with/ }).first().click();
  await button(page, 'Delete').click();
  await sentence(page, /is in the bin for as long as this tab is open.*Empty the bin now/);
  await page.getByRole('tab', { name: /^Bin/ }).click();
  await button(page, 'Empty the bin').click();
  await button(page, 'Delete for good').click();
  await sentence(page, 'The bin is empty.');
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(0);
  expect(await pageErrors(page)).toEqual([]);
  await done();
});

test('a browser without a recorder', async () => {
  const { page, context, server, done } = await open();
  await context.addInitScript('delete window.MediaRecorder');
  await page.goto(server.url);
  await button(page, 'Record').click();
  await sentence(page, /cannot record Opus sound.*open Scrivo in a current/);
  await stillWrites(page);
  expect(await pageErrors(page)).toEqual([]);
  await done();
});

test('a record of ink damaged by hand is set aside and the rest opens', async () => {
  const { page, done } = await open();
  await blankNote(page);
  const pen = await Pen.on(page);
  // More than one record: 128 strokes fill the first.
  const box = (await page.getByTestId('page-1').boundingBox())!;
  for (let i = 0; i < 132; i++) await pen.stroke([{ x: box.x + 20 + (i % 20) * 14, y: box.y + 50 + Math.floor(i / 20) * 20 }, { x: box.x + 28 + (i % 20) * 14, y: box.y + 56 + Math.floor(i / 20) * 20 }]);
  await saved(page);
  const keys = Object.keys(await records(page, 'scrivo')).filter((k) => k.startsWith('ink/'));
  expect(keys).toHaveLength(2);
  const whole = (await records(page, 'scrivo'))[keys[0]];
  await overwrite(page, 'scrivo', keys[0], '{"v":1,"strokes":"gone"}');
  await page.reload();
  await sentence(page, /A part of the ink of this note is damaged.*the rest was opened/);
  await page.getByTestId('page-1').waitFor();
  const after = await records(page, 'scrivo');
  expect(after[`aside/${keys[0]}`]).toBe('{"v":1,"strokes":"gone"}');
  expect(await inkOnDisk(page)).toHaveLength(4);
  // Opened once more there is nothing to report, and writing goes on.
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  await expect(page.getByText('damaged')).toHaveCount(0);
  await button(page, 'Write').click();
  const again = await Pen.on(page);
  await again.scribble(box.x + place(20).x, box.y + place(20).y);
  await saved(page);
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(5);
  // Settings lists it: it is saved as a file as it is, tried again in vain, and once it can be read it is back where it belongs.
  await button(page, 'Back to Today').click();
  const list = page.getByRole('list', { name: 'Set aside' });
  const settings = async () => {
    await page.getByRole('tab', { name: 'Today' }).click();
    await page.getByRole('tab', { name: 'Settings' }).click();
    await expect(list.getByRole('listitem')).toHaveCount(1);
  };
  await settings();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save as a file: / }).click();
  expect(readFileSync(await (await download).path(), 'utf8')).toBe('{"v":1,"strokes":"gone"}');
  await page.getByRole('button', { name: /^Try again: / }).click();
  await sentence(page, /It still cannot be read\. It stays set aside/);
  await overwrite(page, 'scrivo', `aside/${keys[0]}`, whole);
  await settings();
  await page.getByRole('button', { name: /^Try again: / }).click();
  await sentence(page, /It can be read and is back in its note/);
  await expect(list).toHaveCount(0);
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(133);
  // What is of no use is thrown away, after a second touch.
  await overwrite(page, 'scrivo', `aside/${keys[0]}`, 'nothing of the kind');
  await settings();
  await page.getByRole('button', { name: /^Throw away: / }).click();
  await page.getByRole('button', { name: /^Throw away for good: / }).click();
  await sentence(page, /It was thrown away/);
  expect(Object.keys(await records(page, 'scrivo')).filter((k) => k.startsWith('aside/'))).toEqual([]);
  expect(await pageErrors(page)).toEqual([]);
  await done();
});

test('a note whose header is damaged does not keep the others from opening', async () => {
  const { page, server, done } = await open();
  await blankNote(page);
  await saved(page);
  await page.goto(server.url);
  await blankNote(page);
  await saved(page);
  const key = Object.keys(await records(page, 'scrivo')).find((k) => k.startsWith('note/'))!;
  await overwrite(page, 'scrivo', key, 'not a note');
  await page.goto(server.url);
  await sentence(page, /record of a note is damaged.*were not touched/);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(1);
  await done();
});

test('the server gone: writing and recording go on, and all is there when it is back', async () => {
  const folder = tempFolder();
  const { page, server, context, done } = await open({ microphone: spelledMicrophone(folder, 60) });
  await blankNote(page);
  await server.close();
  await page.evaluate(() => window.dispatchEvent(new Event('offline')));
  await sentence(page, /The Scrivo server does not answer.*start the server again/);
  await button(page, 'Record').click();
  await page.getByTestId('recording-clock').waitFor();
  const pen = await Pen.on(page);
  await write(page, pen, 0, 4, 500);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  await button(page, 'Listen').click();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.touch(box.x + place(2).x + 10, box.y + place(2).y + 4);
  await button(page, 'Pause').waitFor();
  const back = await startServer(false, server.port);
  await page.evaluate(() => window.dispatchEvent(new Event('online')));
  await expect(page.getByText('The Scrivo server does not answer', { exact: false })).toHaveCount(0);
  await page.reload();
  await page.getByRole('button', { name: /^Line written at/ }).first().waitFor();
  expect(await inkOnDisk(page)).toHaveLength(4);
  await context.close();
  await back.close();
  await done();
});
