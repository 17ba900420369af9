/**
 * A machine that does not keep up: sound comes out of the recorder late, by seconds and for more than a minute, while both cores are busy with something else. It is late
 * and not lost, and no stroke is stamped by when it came. The moment of a stroke is told by tones (ITU-T Q.23), as in promise.spec.
 */
import { spawn } from 'node:child_process';
import os from 'node:os';
import { expect, test, type Page } from '@playwright/test';
import { button, choose, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder } from '../helpers/app';
import { wholeSound } from '../helpers/machine';
import { differences, openFromToday, report, spokenAtDowns, write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

/** So late the recorder's sound comes, from so many ms of the recording on: for longer than the clock remembers single comings. */
const LATE_MS = 4000;
const FROM_MS = 5000;
const LASTS_MS = 64_000;

/** Runs in the page before the application: what the recorder gives out is held back, in its order, and comes at once when it ends, as a browser does. */
function holdBack({ late, from }: { late: number; from: number }): void {
  const told = Object.getOwnPropertyDescriptor(MediaRecorder.prototype, 'ondataavailable')!;
  Object.defineProperty(MediaRecorder.prototype, 'ondataavailable', {
    configurable: true,
    get: () => null,
    set(this: MediaRecorder, handler: (e: BlobEvent) => void) {
      const began = performance.now();
      const held: BlobEvent[] = [];
      const next = () => {
        const e = held.shift();
        if (e) handler.call(this, e);
      };
      told.set!.call(this, (e: BlobEvent) => {
        held.push(e);
        if (this.state === 'inactive') while (held.length) next();
        else if (performance.now() - began < from) next();
        else setTimeout(next, late);
      });
    },
  });
}

/** Every core is busy until it is called. */
function busy(): () => void {
  const all = Array.from({ length: os.cpus().length }, () => spawn(process.execPath, ['-e', 'for (;;) Math.sqrt(Math.random())'], { stdio: 'ignore' }));
  return () => all.forEach((p) => p.kill('SIGKILL'));
}

const clockMs = async (page: Page): Promise<number> => Number(await page.getByTestId('recording-clock').getAttribute('data-ms'));

test('however late the sound of a busy machine comes, strokes play their moments, and the clock never runs backwards', wholeSound(async () => {
  const folder = tempFolder();
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 150), profile: folder });
  await context.addInitScript(holdBack, { late: LATE_MS, from: FROM_MS });
  let page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  const pen = await Pen.on(page);
  const began = Date.now();
  await write(page, pen, 0, 5, 700);
  const calm = busy();
  try {
    let last = 0;
    while (Date.now() - began < FROM_MS + LASTS_MS) {
      const now = await clockMs(page);
      expect(now).toBeGreaterThanOrEqual(last);
      last = now;
      await new Promise((r) => setTimeout(r, 400));
    }
    // The recording goes by the true time, not by when sound came.
    expect(Math.abs((await clockMs(page)) - (Date.now() - began))).toBeLessThan(2500);
    await write(page, pen, 5, 17, 700);
  } finally {
    calm();
  }
  await new Promise((r) => setTimeout(r, 6000));
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const spoken = await spokenAtDowns(page, 0);
  const told = spoken.filter((t) => t !== null).length;
  // Tones that the load itself tore tell nothing.
  expect(told, 'words whose moment the microphone itself tells').toBeGreaterThanOrEqual(8);
  page = await openFromToday(context, server.url);
  const listener = await Pen.on(page);
  await choose(page, 'Lead-in', '0');
  const errors = await differences(page, listener, spoken, 1);
  const { median } = report('late sound', errors);
  expect(median).toBeLessThanOrEqual(20);
  expect(errors.filter((e) => Math.abs(e) > 40).length).toBeLessThanOrEqual(2);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
}, 240_000));
