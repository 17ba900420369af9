/** What is written along with a sound file is stamped with what came out of the loudspeaker, told by tones (ITU-T Q.23) that a foreign program encoded. */
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { blankNote, bringFile, button, Pen, saved, startBrowser, startServer, tempFolder } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { spellTime, wavOf } from '../helpers/dtmf';
import { clockOf, startLoudspeaker } from '../helpers/loudspeaker';
import { wholeSound } from '../helpers/machine';
import { goesOn, place, report, tellings, toldAt } from '../helpers/spelled';
import { pageErrors, penDowns } from '../helpers/tap';

const RATE = 44_100;

test('what is written along with a sound file is stamped with what is heard, and counts as written while it was recorded', wholeSound(async () => {
  const folder = tempFolder();
  const wav = path.join(folder, 'tides.wav');
  const mp3 = path.join(folder, 'tides.mp3');
  writeFileSync(wav, wavOf(spellTime(60, RATE), RATE));
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', wav, '-c:a', 'libmp3lame', '-b:a', '128k', mp3]);
  const server = await startServer();
  const card = await startLoudspeaker();
  const context = await startBrowser({ loudspeaker: card.server });
  const page = context.pages()[0];
  await page.goto(server.url);
  await bringFile(page, mp3, /of sound\. It becomes a take/);
  await page.getByTestId('page-1').waitFor();
  const pen = await Pen.on(page);
  await button(page, 'Play').click();
  await button(page, 'Pause').waitFor();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const origin = await clockOf(page);
  const told = async () => toldAt(card.heard(), (await penDowns(page)).map((at) => origin + at));
  let made = 0;
  while ((await goesOn(page)) && (made < 14 || (made < 36 && (await told()).filter((t) => t !== null).length < 9))) {
    const { x, y } = place(made++);
    await pen.scribble(box.x + x, box.y + y);
    // The pace of the writer.
    await new Promise((r) => setTimeout(r, 900));
  }
  await new Promise((r) => setTimeout(r, 2000));
  await button(page, 'Pause').click();
  await saved(page);
  const heard = await told();
  const strokes = await inkOnDisk(page);
  expect(strokes).toHaveLength(made);
  expect(strokes.every((s) => !s.second && s.stamp !== null)).toBe(true);
  const off = strokes.flatMap((s, i) => (heard[i] === null ? [] : [s.stamp!.at - heard[i]!]));
  const result = report('written along with a file', off);
  expect(off.length).toBeGreaterThanOrEqual(7);
  expect(result.median).toBeLessThan(40);

  // The same sound beside another note: ink there is a second pass, stamped with what is heard, and says where that sound is.
  await button(page, 'Back to Today').click();
  await blankNote(page);
  await button(page, 'What to do with this note').click();
  await button(page, 'Beside').click();
  await page.getByRole('button', { name: 'Put beside: tides' }).click();
  const source = page.getByRole('region', { name: 'Source' });
  await source.getByRole('button', { name: 'Play the source' }).click();
  await source.getByText('What you write beside it is linked to this sound').waitFor();
  const clean = (await page.getByTestId('page-1').last().boundingBox())!;
  const from = (await penDowns(page)).length;
  const toldBeside = async () => toldAt(card.heard(), (await penDowns(page)).slice(from).map((at) => origin + at));
  let more = 0;
  while ((await goesOn(page)) && (more < 10 || (more < 30 && (await toldBeside()).filter((t) => t !== null).length < 7))) {
    const { x, y } = place(more++);
    await pen.scribble(clean.x + x, clean.y + y);
    await new Promise((r) => setTimeout(r, 900));
  }
  await new Promise((r) => setTimeout(r, 2000));
  await source.getByRole('button', { name: 'Pause the source' }).click();
  await saved(page);
  const known = new Set(strokes.map((s) => s.id));
  const beside = (await inkOnDisk(page)).filter((s) => !known.has(s.id));
  expect(beside).toHaveLength(more);
  expect(beside.every((s) => s.second && s.stamp!.take === strokes[0].stamp!.take)).toBe(true);
  const spoken = await toldBeside();
  const offBeside = beside.flatMap((s, i) => (spoken[i] === null ? [] : [s.stamp!.at - spoken[i]!]));
  const there = report('written beside the sound', offBeside);
  expect(offBeside.length).toBeGreaterThanOrEqual(5);
  expect(there.median).toBeLessThan(40);
  // Touched in Listen, it plays where that sound is.
  await button(page, 'Listen').click();
  const [it] = beside;
  const began = performance.timeOrigin + performance.now();
  await page.mouse.click(clean.x + (it.box[0] * clean.width) / 210 + 1, clean.y + (((it.box[1] + it.box[3]) / 2) * clean.height) / 297);
  await source.getByRole('button', { name: 'Pause the source' }).waitFor();
  await expect.poll(() => tellings(card.heard(), began, 1).some(({ time }) => Math.abs(time - it.stamp!.at) < 3500), { timeout: 15_000 }).toBe(true);
  await source.getByRole('button', { name: 'Pause the source' }).click();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await card.close();
  await server.close();
}));
