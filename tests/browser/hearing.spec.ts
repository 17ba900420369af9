/** How the sound goes: strokes that grow with it, pauses that are skipped, where a touch begins, what is repeated. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { readBundle } from '../../src/core/formats/bundle';
import type { Page } from '@playwright/test';
import { readHeard } from '../../src/core/audio/heard';
import { pausesOf } from '../../src/core/audio/speech';
import { pointsOf } from '../../src/core/ink/stroke';
import { button, ROOT, WIDE, choose, inMore, press, turn } from '../helpers/app';
import { records, strokesOnDisk } from '../helpers/disk';
import { drawn, inkSeen } from '../helpers/inkSeen';
import { wholeSound } from '../helpers/machine';
import { pageErrors } from '../helpers/tap';
import { looked, openTides, slider, tides } from '../helpers/tides';

test('a stroke grows while it is heard; the page follows the writing, stays where it is put, and offers the way back', wholeSound(async () => {
  const { page, end } = await openTides(WIDE);
  await turn(page, 'Ink ahead');
  const long = (await strokesOnDisk(page)).filter((s) => s.stamp && s.ms > 1500).sort((a, b) => b.ms - a.ms)[0];
  const { n, xy, t } = pointsOf(long);
  const places = [0.1, 0.5, 0.9].map((share) => Math.floor(share * (n - 1))).map((i) => [xy[2 * i] / 100, xy[2 * i + 1] / 100] as const);
  const half = long.stamp!.at + (t[Math.floor(0.5 * (n - 1))] + t[Math.floor(0.9 * (n - 1))]) / 2;
  const to = Math.round(half / 100) * 100;
  await slider(page).fill(String(to));
  await drawn(page, to);
  const { pages } = await tides(page);
  expect(await inkSeen(page, pages.findIndex((p) => p.id === long.page) + 1, places)).toEqual([true, true, false]);

  // To the second page, while playing: the view goes along.
  const second = (await strokesOnDisk(page)).filter((s) => s.page === pages[1].id && s.stamp).sort((a, b) => a.stamp!.at - b.stamp!.at);
  await button(page, 'Play').click();
  await slider(page).fill(String(Math.round((second[8].stamp!.at + 200) / 100) * 100));
  await expect(page.locator('[data-testid="page-2"] .word-now')).toBeInViewport();
  await page.mouse.move(600, 300);
  await page.mouse.wheel(0, -3000);
  await expect(button(page, 'Back to the writing')).toBeVisible();
  await expect(page.locator('[data-testid="page-2"] .word-now')).not.toBeInViewport();
  await button(page, 'Back to the writing').click();
  await expect(page.locator('[data-testid="page-2"] .word-now')).toBeInViewport();
  await expect(button(page, 'Back to the writing')).toBeHidden();
  expect(await pageErrors(page)).toEqual([]);
  await end();
}));

test('pauses are found once and kept; skipping them jumps over, and says what it saves', wholeSound(async () => {
  const { page, end } = await openTides(WIDE, 'unheard', { idle: true });
  await looked(page);
  // By the speech model in the end.
  const { timeline } = await tides(page);
  const key = `heard/${timeline[0].take}`;
  await expect.poll(async () => JSON.parse(((await records(page, 'scrivo-sound'))[key] ?? '{}\n').split('\n')[0]).by, { timeout: 60_000 }).toBe('model');
  const heard = readHeard((await records(page, 'scrivo-sound'))[key]);
  // What comes with the demo was found in sound that ffmpeg decoded: the browser finds the same.
  const shipped = (await readBundle(new Uint8Array(readFileSync(path.join(ROOT, 'demo/notes/demo-tides-0000000001.scrivo'))))).heard.get(timeline[0].take)!;
  const edges = (h: typeof heard) => h.speech.flatMap((s) => [s.from, s.to]);
  expect(shipped.by).toBe('model');
  expect(edges(heard).filter((e) => !edges(shipped).some((o) => Math.abs(o - e) <= 40)).length).toBeLessThanOrEqual(4);
  expect(Math.abs(heard.speech.length - shipped.speech.length)).toBeLessThanOrEqual(2);
  const pause = pausesOf(heard.speech, heard.ms, 1800)[1];
  await turn(page, /^Skip pauses/);
  await inMore(page, () => expect(page.getByText(/^Saves \d/)).toBeVisible());
  await slider(page).fill(String(Math.round((pause.from - 600) / 100) * 100));
  const began = Date.now();
  await button(page, 'Play').click();
  await page.waitForFunction((to) => document.querySelector('audio')!.currentTime * 1000 >= to, pause.to - 250);
  // Somebody who heard it all would have needed the whole pause.
  const heardMs = await page.evaluate(() => [...Array(document.querySelector('audio')!.played.length).keys()].reduce((s, i) => s + document.querySelector('audio')!.played.end(i) - document.querySelector('audio')!.played.start(i), 0) * 1000);
  expect(heardMs).toBeLessThan(600 + (pause.to - pause.from) - 700);
  expect(Date.now() - began).toBeLessThan(60_000);
  await button(page, 'Pause').click();
  expect(await pageErrors(page)).toEqual([]);
  await end();
}));

/** Where a touch on a place of the page makes it play from, ms. */
async function playsFrom(page: Page, spot: { x: number; y: number }): Promise<number> {
  await page.evaluate(() => {
    const audio = document.querySelector('audio')!;
    (window as unknown as { from: Promise<number> }).from = new Promise((resolve) => audio.addEventListener('seeking', () => resolve(audio.currentTime * 1000), { once: true }));
  });
  await page.mouse.click(spot.x, spot.y);
  return page.evaluate<number>('window.from');
}

test('a touch begins at the beginning of the sentence where one is near, else a lead-in before; a line is repeated whole', wholeSound(async () => {
  const { page, end } = await openTides(WIDE);
  await looked(page);
  const { timeline, pages } = await tides(page);
  await expect.poll(async () => JSON.parse(((await records(page, 'scrivo-sound'))[`heard/${timeline[0].take}`] ?? '{}\n').split('\n')[0]).by, { timeout: 60_000 }).toBe('model');
  const heard = readHeard((await records(page, 'scrivo-sound'))[`heard/${timeline[0].take}`]);
  const strokes = (await strokesOnDisk(page)).filter((s) => s.page === pages[0].id && s.stamp?.take === timeline[0].take);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  const view = (await page.locator('.surface-scroller').boundingBox())!;
  /** Where a stroke can be touched, in the view; null where it cannot be seen or another lies near. */
  const spot = (s: (typeof strokes)[number]) => {
    const p = pointsOf(s);
    const [x, y] = [box.x + (p.xy[0] / 100) * k, box.y + (p.xy[1] / 100) * k];
    return y > view.y + 20 && y < view.y + view.height - 20 ? { x, y } : null;
  };
  const LEAD = 3000;
  await choose(page, 'Lead-in', String(LEAD / 1000));
  /** What may be touched: strokes in sight, each the first of those around it, by whether a sentence begins in the second and a half before they would play. */
  const firsts = strokes.filter((s) => spot(s) && !strokes.some((o) => o !== s && o.stamp!.at < s.stamp!.at && Math.abs(o.box[1] - s.box[1]) < 6 && Math.abs(o.box[0] - s.box[0]) < 12));
  const beginnings = (at: number) => heard.speech.map((s) => s.from).filter((from) => from > at - 2500 && from < at + 300);
  const near = firsts.filter((s) => beginnings(s.stamp!.at - LEAD).length && Math.max(...beginnings(s.stamp!.at - LEAD)) < s.stamp!.at - LEAD - 500);
  const far = firsts.filter((s) => s.stamp!.at > LEAD && !beginnings(s.stamp!.at - LEAD).length);
  expect(near.length, 'words near the beginning of a sentence').toBeGreaterThan(1);
  expect(far.length, 'words far from one').toBeGreaterThan(0);
  for (const s of near.slice(0, 3)) {
    const from = await playsFrom(page, spot(s)!);
    const sentence = Math.max(...beginnings(s.stamp!.at - LEAD));
    expect(from).toBeLessThanOrEqual(sentence);
    expect(from).toBeGreaterThan(sentence - 300);
  }
  for (const s of far.slice(0, 2)) expect(Math.abs((await playsFrom(page, spot(s)!)) - (s.stamp!.at - LEAD))).toBeLessThan(20);

  // A line by its time in the margin, repeated: from before its first stroke until after its last, and again.
  const line = page.getByRole('button', { name: /^Line written at .*: play from here/ }).first();
  const at = (await line.boundingBox())!;
  const y = (at.y + at.height / 2 - box.y) / k;
  const written = strokes.filter((s) => !s.second && s.box[1] < y && s.box[3] > y).map((s) => s.stamp!.at);
  await line.click();
  await press(page, 'Repeat');
  const jump = await page.evaluate(
    () =>
      new Promise<{ from: number; to: number }>((resolve) => {
        const audio = document.querySelector('audio')!;
        let last = audio.currentTime;
        const look = () => {
          if (audio.currentTime < last - 0.3) return resolve({ from: last * 1000, to: audio.currentTime * 1000 });
          last = audio.currentTime;
          setTimeout(look, 5);
        };
        look();
      }),
  );
  expect(jump.to).toBeLessThan(Math.min(...written));
  expect(jump.from).toBeGreaterThan(Math.max(...written));
  await button(page, 'Pause').click();
  expect(await pageErrors(page)).toEqual([]);
  await end();
}));
