/** What is brought in: PDF of many pages, text and scans, beside the package alone; photos; an hour of sound. */
import { execFileSync } from 'node:child_process';
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';
import type { Page } from '@playwright/test';
import { SILENT_20_MS } from '../../src/core/audio/opus';
import { bringFile, button, Pen, PHONE, startBrowser, tempFolder, WIDE } from '../helpers/app';
import { printed } from '../helpers/pdfs';
import { atLeast, atMost, clearCosts, costsOf, firstTake, layDown, ms, percentile, rendererMb, row, size, watchCosts } from './kit';

const PAGES = size(200, 6);
/** Photos of 12 megapixels, so many on a page. */
const [SIDE_PX, PHOTOS] = [size(4000, 1200), size(10, 2)];
const JUMPS = size(60, 3);
/** In so long the browser clears away what nothing uses. */
const RESTS_MS = size(15_000, 500);

/** Sheets of a scanner: JPEG of 150 dpi, grain and all, 20 different ones. */
async function scanned(folder: string): Promise<string> {
  const pdf = await PDFDocument.create();
  const pictures = [];
  for (let i = 0; i < 20; i++) {
    const jpg = path.join(folder, `s${i}.jpg`);
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=size=1240x1754:rate=1:duration=1,noise=alls=20:all_seed=${i}`, '-frames:v', '1', '-q:v', '3', '-update', '1', jpg]);
    pictures.push(await pdf.embedJpg(readFileSync(jpg)));
  }
  for (let i = 0; i < PAGES; i++) pdf.addPage([595.28, 841.89]).drawImage(pictures[i % 20], { x: 0, y: 0, width: 595.28, height: 841.89 });
  const file = path.join(folder, 'scans.pdf');
  writeFileSync(file, await pdf.save());
  return file;
}

/** The package alone: opens the file and draws a page at the scale of the screen, ms. */
const alone = (page: Page, file: string, leaf: number): Promise<{ open: number; draw: number }> =>
  page.evaluate(
    async ([bytes, n]) => {
      const { wrap, proxy } = (await import(/* @vite-ignore */ `${location.origin}/pdf/comlink.min.mjs`)) as typeof import('comlink');
      const data = Uint8Array.from(atob(bytes as string), (c) => c.charCodeAt(0));
      const start = performance.now();
      const worker = new Worker('/pdf/drawing.mjs', { type: 'module' });
      const api = wrap<import('../../src/platform/pdf/pdfWork').PdfWork>(worker);
      await api.open(1, data.length, proxy((from: number, to: number) => Promise.resolve(data.slice(from, to))), null);
      const k = ((innerWidth - 60) * devicePixelRatio) / 210;
      const first = await api.draw(1, n as number, k, [0, 0, 210, 297]);
      const open = performance.now() - start;
      first.close();
      const again = performance.now();
      (await api.draw(1, (n as number) + 1, k, [0, 0, 210, 297])).close();
      const draw = performance.now() - again;
      worker.terminate();
      return { open, draw };
    },
    [readFileSync(file).toString('base64'), leaf] as const,
  );

/** From a touch on the note to its first page: anything of it, and as fine as it gets, ms. */
const opening = (page: Page, name: string) =>
  page.getByRole('button', { name: new RegExp(`^Open ${name}`) }).evaluate(
    (el) =>
      new Promise<{ rough: number; fine: number }>((resolve) => {
        const start = performance.now();
        let rough = -1;
        (el as HTMLElement).click();
        const look = () => {
          const root = document.querySelector<HTMLElement>('.surface');
          const now = performance.now() - start;
          if (rough < 0 && root && (window as unknown as { inked: (n: number) => boolean }).inked(1)) rough = now;
          if (rough >= 0 && root!.dataset.due === '0' && root!.dataset.drawn === 'true') return resolve({ rough, fine: now });
          if (now > 20_000) return resolve({ rough: rough < 0 ? now : rough, fine: now });
          requestAnimationFrame(look);
        };
        look();
      }),
  );

/** Goes to a page, and gives the time until anything of it is there, and until it is as fine as it gets, ms. */
const going = (page: Page, n: number) =>
  page.evaluate(
    (number) =>
      new Promise<{ rough: number; fine: number }>((resolve) => {
        const scroller = document.querySelector('.surface-scroller')!;
        const high = [...document.querySelectorAll<HTMLElement>('.page')].find((p) => p.offsetHeight > 0)!.offsetHeight;
        const start = performance.now();
        scroller.scrollTop = 6 + (high + 6) * (number - 1) - 6;
        let rough = -1;
        const look = () => {
          const root = document.querySelector<HTMLElement>('.surface')!;
          const now = performance.now() - start;
          if (rough < 0 && (window as unknown as { inked: (n: number) => boolean }).inked(number)) rough = now;
          if (rough >= 0 && root.dataset.due === '0' && root.dataset.drawn === 'true') return resolve({ rough, fine: now });
          if (now > 10_000) return resolve({ rough: rough < 0 ? now : rough, fine: now });
          requestAnimationFrame(look);
        };
        look();
      }),
    n,
  );

/** Whether anything dark stands on a page. */
const installInked = (page: Page) =>
  page.addInitScript(() => {
    // One canvas for all looks: what the measuring throws away would count as the page's own memory.
    const ctx = new OffscreenCanvas(24, 24).getContext('2d', { willReadFrequently: true })!;
    (window as unknown as { inked: (n: number) => boolean }).inked = (n) => {
      for (const c of document.querySelectorAll<HTMLCanvasElement>(`[data-testid="page-${n}"] canvas`)) {
        if (!c.width) continue;
        ctx.clearRect(0, 0, 24, 24);
        ctx.drawImage(c, 0, 0, 24, 24);
        const { data } = ctx.getImageData(0, 0, 24, 24);
        for (let i = 0; i < data.length; i += 4) if (data[i + 3] > 200 && data[i] + data[i + 1] + data[i + 2] < 690) return true;
      }
      return false;
    };
  });

async function ofPdf(url: string, what: string, file: string, most: number): Promise<void> {
  const context = await startBrowser({ viewport: PHONE });
  const page = context.pages()[0];
  await page.addInitScript(watchCosts);
  await installInked(page);
  await page.goto(url);
  await bringFile(page, file, /\d+ pages/);
  await page.getByTestId('page-1').waitFor({ timeout: 120_000 });
  await button(page, 'Back to Today').click();
  await page.goto(url);
  const title = path.basename(file, '.pdf');
  await page.getByRole('button', { name: new RegExp(`^Open ${title}`) }).waitFor();
  // In a page of its own: what it leaves behind would count as the memory of this one.
  const apart = await startBrowser({ viewport: PHONE });
  await apart.pages()[0].goto(url);
  const bare = await alone(apart.pages()[0], file, 0);
  await apart.close();
  await page.waitForTimeout(size(1500, 200));
  const before = rendererMb();
  const opened = await opening(page, title);
  row(`${PAGES} pages of ${what}: from the list to the first page`, `${ms(opened.rough)}, fine ${ms(opened.fine)}`, `the package alone ${ms(bare.open)}`, atMost(opened.rough, 1000, 'under 1 s'));
  const at: { rough: number; fine: number }[] = [];
  for (let k = 1; k <= JUMPS; k++) at.push(await going(page, 1 + Math.floor(((k * 0.618) % 1) * (PAGES - 2))));
  const [rough, fine] = [percentile(at.map((a) => a.rough), 0.95), percentile(at.map((a) => a.fine), 0.95)];
  row(`${PAGES} pages of ${what}: a page gone to (p95 of ${JUMPS})`, `${ms(rough)}, fine ${ms(fine)}`, `drawn by the package alone ${ms(bare.draw)}`, { text: 'under 200 ms, fine under 500 ms', holds: rough <= 200 && fine <= 500 });
  for (let n = 1; n <= PAGES; n += 2) await going(page, n);
  await page.waitForTimeout(500);
  const meanwhile = rendererMb() - before;
  await page.waitForTimeout(RESTS_MS);
  const grown = rendererMb() - before;
  row(`${PAGES} pages of ${what}: memory after all were seen`, `${grown.toFixed(0)} MB more at rest, ${meanwhile.toFixed(0)} MB at once`, `the file ${(statSync(file).size / 1e6).toFixed(0)} MB`, atMost(grown, most, `under ${most} MB`));
  // Writing over it.
  await going(page, 3);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-3').boundingBox())!;
  await pen.scribble(box.x + 60, box.y + 100);
  await clearCosts(page);
  for (let i = 0; i < 12; i++) await pen.scribble(box.x + 30 + (i % 4) * 70, box.y + 150 + Math.floor(i / 4) * 50);
  const { events } = await costsOf(page);
  row(`writing over a page of ${what}: a pen event (p95)`, ms(percentile(events, 0.95)), '', atMost(percentile(events, 0.95), 4, 'under 4 ms'));
  await context.close();
}

/** Photos onto a page. */
async function ofPictures(url: string, folder: string): Promise<void> {
  const file = path.join(folder, 'photo.jpg');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=size=${SIDE_PX}x${(SIDE_PX * 3) / 4}:rate=1:duration=1,noise=alls=10`, '-frames:v', '1', '-q:v', '3', '-update', '1', file]);
  const context = await startBrowser({ viewport: PHONE });
  const page = context.pages()[0];
  await page.addInitScript(watchCosts);
  await page.goto(url);
  await button(page, 'Write without sound').click();
  await page.getByTestId('page-1').waitFor();
  const bytes = readFileSync(file);
  const start = performance.now();
  await button(page, 'What to do with this note').click();
  await button(page, 'Bring in').click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  // Each with a byte of its own, so that none is another.
  await chooser.setFiles(Array.from({ length: PHOTOS }, (_, i) => ({ name: `photo ${i}.jpg`, mimeType: 'image/jpeg', buffer: Buffer.concat([bytes, Buffer.from([i])]) })));
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByText(`${PHOTOS} pictures lie on the page.`).waitFor({ timeout: 120_000 });
  const each = (performance.now() - start) / PHOTOS;
  row('a photo of 12 megapixels brought onto a page', ms(each));
  await manyPictures(page);
  await context.close();
  // A light sheet with lines of dark on a table, grain over all.
  const sheet = path.join(folder, 'sheet.jpg');
  const lines = Array.from({ length: 24 }, (_, i) => `drawbox=x=800:y=${480 + 84 * i}:w=${1500 + ((i * 377) % 800)}:h=7:color=0x203040:t=fill`).join(',');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `color=0x5a4a3a:size=4000x3000:rate=1:duration=1,drawbox=x=620:y=340:w=2700:h=2300:color=0xeeeade:t=fill,${lines},rotate=0.05:fillcolor=0x5a4a3a,noise=alls=12`, '-frames:v', '1', '-q:v', '3', '-update', '1', sheet]);
  await straightened(url, sheet);
}

/** A note with a hundred pictures on ten pages: those that are there are laid down once more, and the page is scrolled by the hand of a program. */
async function manyPictures(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^Pages, / }).click();
  const first = page.getByRole('checkbox', { name: /^Choose page 1\b/i });
  for (let i = 0; i < size(9, 1); i++) {
    if (!(await first.isChecked())) await first.click();
    await button(page, 'Duplicate').click();
  }
  await page.keyboard.press('Escape');
  const rate = await page.evaluate(
    (length) =>
      new Promise<{ frames: number; late: number }>((resolve) => {
        const scroller = document.querySelector('.surface-scroller')!;
        const start = performance.now();
        let [frames, late, last] = [0, 0, start];
        const step = (now: number) => {
          frames++;
          if (now - last > 25) late++;
          last = now;
          scroller.scrollTop = ((now - start) / length) * (scroller.scrollHeight - scroller.clientHeight);
          if (now - start < length) requestAnimationFrame(step);
          else resolve({ frames: (1000 * frames) / (now - start), late });
        };
        requestAnimationFrame(step);
      }),
    size(6000, 500),
  );
  const count = await page.locator('.page').count();
  row(`${PHOTOS * count} pictures on ${count} pages, scrolled through in 6 s`, `${rate.frames.toFixed(1)} frames/s, ${rate.late} late`, '', atLeast(rate.frames, 58, 'at least 58 of 60'));
}

/** From the touch that straightens a photo to its page. */
async function straightened(url: string, file: string): Promise<void> {
  const context = await startBrowser({ viewport: PHONE });
  const page = context.pages()[0];
  await page.goto(url);
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles(file);
  const start = performance.now();
  // Looked for at every frame: waiting for a locator looks less and less often, every half second in the end.
  const there = (what: string) => page.waitForFunction((selector) => document.querySelector(selector) !== null, what, { polling: 'raf', timeout: 60_000 });
  await button(page, 'Straighten as paper').click();
  await there('.corners');
  await button(page, 'Straighten').click();
  await there('img.scan-result');
  const shown = performance.now() - start;
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await there('[data-testid="page-1"]');
  const took = performance.now() - start;
  row('a photo of 12 megapixels to a straightened page', `${ms(took)}, seen after ${ms(shown)}`, '', atMost(took, 2000, 'under 2 s'));
  await context.close();
}

/** A second note, of two hours and 20,000 strokes, beside the first. */
async function besideNote(url: string): Promise<void> {
  const context = await startBrowser({ viewport: WIDE });
  const page = context.pages()[0];
  await firstTake(page, url);
  await layDown(page, 'long', 7_200_000, size(20_000, 500), Array.from({ length: 250 }, (_, i) => ({ t: 20 * i, data: SILENT_20_MS })));
  await page.goto(url);
  await button(page, 'Write without sound').click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'What to do with this note').click();
  await button(page, 'Beside').click();
  await page.getByRole('button', { name: 'Put beside: long' }).waitFor();
  const took = await page.getByRole('button', { name: 'Put beside: long' }).evaluate(
    (el) =>
      new Promise<number>((resolve) => {
        const start = performance.now();
        (el as HTMLElement).click();
        const look = () => {
          const drawn = document.querySelector<HTMLElement>('[aria-label="Source"] .surface');
          if (drawn?.dataset.drawn === 'true' && drawn.querySelector('canvas')) return resolve(performance.now() - start);
          requestAnimationFrame(look);
        };
        look();
      }),
  );
  row('a second note of 2 h and 20,000 strokes put beside the first', ms(took), '', atMost(took, 1000, 'under 1 s'));
  await context.close();
}

/** An hour of MP3. */
async function ofSound(url: string, folder: string): Promise<void> {
  const file = path.join(folder, 'hour.mp3');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `sine=frequency=330:sample_rate=44100:duration=${size(3600, 60)},tremolo=f=4:d=0.8`, '-c:a', 'libmp3lame', '-b:a', '96k', file]);
  const context = await startBrowser({ viewport: PHONE });
  const page = context.pages()[0];
  await page.goto(url);
  await page.waitForTimeout(size(1500, 200));
  const before = rendererMb();
  let most = 0;
  const timer = setInterval(() => (most = Math.max(most, rendererMb() - before)), 200);
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles(file);
  await page.getByRole('dialog').getByText(/of sound/).waitFor({ timeout: 60_000 });
  const start = performance.now();
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByTestId('page-1').waitFor({ timeout: 300_000 });
  const took = performance.now() - start;
  clearInterval(timer);
  const plain = performance.now();
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', file, '-ac', '1', '-c:a', 'libopus', '-b:a', '40k', '-compression_level', '5', path.join(folder, 'hour.ogg')]);
  row('an hour of MP3 brought in', `${(took / 1000).toFixed(0)} s`, `ffmpeg ${((performance.now() - plain) / 1000).toFixed(0)} s`, atMost(took, 60_000, 'under 60 s'));
  row('memory meanwhile', `${most.toFixed(0)} MB more`, '', atMost(most, 300, 'under 300 MB'));
  await context.close();
}

export async function bringing(url: string): Promise<void> {
  const folder = tempFolder();
  await ofPdf(url, 'text', (await printed(folder, PAGES)).file, 150);
  await ofPdf(url, 'scans', await scanned(folder), 350);
  await ofPictures(url, folder);
  await besideNote(url);
  await ofSound(url, folder);
}
