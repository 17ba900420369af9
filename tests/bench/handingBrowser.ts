/** What is handed on from the browser: film, and the replay page of an hour opened from disk. */
import { execFileSync } from 'node:child_process';
import { statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Page } from '@playwright/test';
import type { Packet } from '../../src/core/audio/opus';
import { button, startBrowser, tempFolder, WIDE } from '../helpers/app';
import { atLeast, atMost, firstTake, layDown, ms, row, size } from './kit';

const [MINUTES, STROKES] = [size(10, 0.2), size(1500, 40)];

async function saved(page: Page, format: string, folder: string, choices: Readonly<Record<string, string>> = {}): Promise<{ file: string; ms: number }> {
  await button(page, 'What to do with this note').click();
  await button(page, 'Hand on').click();
  await page.getByRole('radio', { name: format, exact: true }).click();
  for (const [label, value] of Object.entries(choices)) await page.getByRole('dialog').getByLabel(label, { exact: true }).selectOption(value);
  const start = performance.now();
  const [got] = await Promise.all([page.waitForEvent('download', { timeout: 600_000 }), button(page, 'Save file').click()]);
  const took = performance.now() - start;
  const file = path.join(folder, got.suggestedFilename());
  await got.saveAs(file);
  return { file, ms: took };
}

/** `packets`: a minute of sound. */
export async function handingInBrowser(url: string, packets: readonly Packet[]): Promise<void> {
  console.log('-- handing on, in the browser');
  const folder = tempFolder();
  const context = await startBrowser({ viewport: WIDE });
  const page = context.pages()[0];
  await firstTake(page, url);
  await layDown(page, 'film', MINUTES * 60_000, STROKES, packets);
  await layDown(page, 'hour', size(3_600_000, 30_000), size(10_000, 100), packets);
  await page.goto(`${url}/note/film`);
  await page.getByTestId('page-1').waitFor();
  for (const [view, as, speed] of [['line', 'mp4', '1'], ['page', 'mp4', '1'], ['line', 'webm', '1'], ['line', 'mp4', '1.5']] as const) {
    const film = await saved(page, 'Film', folder, { Seen: view, Kind: as, Speed: speed });
    const length = Number(execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', film.file]).toString());
    const rate = (MINUTES * 60_000) / film.ms;
    const kB = statSync(film.file).size / 1000 / (length / 60);
    row(`film of ${MINUTES} min and ${STROKES} strokes, ${as}, the ${view}${speed === '1' ? '' : `, ${speed}x`}: times real time`, rate.toFixed(1), 'recorded from the screen 1', view === 'line' && as === 'mp4' && speed === '1' ? atLeast(rate, 6, 'at least 6') : undefined);
    row('  its size a minute', `${kB.toFixed(0)} kB`, '', as === 'mp4' ? atMost(kB, 1000, 'under 1 MB') : undefined);
  }
  await page.goto(`${url}/note/hour`);
  await page.getByTestId('page-1').waitFor();
  const replay = await saved(page, 'Replay page', folder);
  row('replay page of an hour and 10,000 strokes made', `${(replay.ms / 1000).toFixed(1)} s`);
  const shown = await context.newPage();
  const start = performance.now();
  await shown.goto(pathToFileURL(replay.file).href, { waitUntil: 'commit' });
  await shown.locator('html[data-ready="true"]').waitFor();
  const seen = performance.now() - start;
  await shown.locator('html[data-sound="true"]').waitFor();
  const took = performance.now() - start;
  row('  opened from disk, to be seen and to be heard', `${ms(seen)}, ${ms(took)}`, `a page of its ${(statSync(replay.file).size / 1e6).toFixed(1)} MB that does nothing ${ms(await readAlone(shown, replay.file))}`, atMost(took, 1000, 'under 1 s'));
  await context.close();
}

/** A page of the same size that does nothing: what reading it takes alone. */
async function readAlone(page: Page, file: string): Promise<number> {
  const plain = file.replace(/\.html$/, ' bare.html');
  writeFileSync(plain, `<!doctype html><title>Bare</title><script type="text/plain">${'A'.repeat(statSync(file).size)}</script>`);
  const start = performance.now();
  await page.goto(pathToFileURL(plain).href);
  return performance.now() - start;
}
