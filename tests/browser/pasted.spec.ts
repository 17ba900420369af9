/** Ink that is pasted into another note, held against tones that spell the time of what was recorded. */
import { expect, test, type Page } from '@playwright/test';
import type { Stroke } from '../../src/core/ink/stroke';
import { blankNote, button, choose, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { wholeSound } from '../helpers/machine';
import { heardAt, spokenAtDowns } from '../helpers/spelled';
import { pageErrors, tapSpeaker } from '../helpers/tap';

const stampsOf = (list: readonly Stroke[]) => list.map(({ stamp, wall }) => ({ stamp, wall }));

/** A place of the page in mm as one of the view in px, and px per mm. */
async function placesOf(page: Page): Promise<(x: number, y: number) => { x: number; y: number; k: number }> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  return (x, y) => ({ x: box.x + x * k, y: box.y + y * k, k });
}

const pasted = async (): Promise<void> => {
  const server = await startServer();
  const folder = tempFolder();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 90), profile: folder });
  const page = context.pages()[0];
  const strokes = async (n: number): Promise<readonly Stroke[]> => {
    await expect.poll(async () => (await inkOnDisk(page)).length).toBe(n);
    await saved(page);
    return [...((await inkOnDisk(page)) as Stroke[])].sort((a, b) => a.wall - b.wall || a.box[0] - b.box[0]);
  };
  await page.goto(server.url);
  await recordNew(page);
  const pen = await Pen.on(page);
  let at = await placesOf(page);
  for (let i = 0; i < 6; i++) {
    const from = at(30 + 40 * (i % 3), 44 + 16 * Math.floor(i / 3));
    await pen.scribble(from.x, from.y, 12 * from.k, 4 * from.k);
    // Pace of the writer: the words have to be spread over the sound.
    await new Promise((r) => setTimeout(r, 1200));
  }
  await new Promise((r) => setTimeout(r, 2500));
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  const spoken = await spokenAtDowns(page, 0);
  const original = await strokes(6);
  await button(page, 'Write').click();
  await page.keyboard.press('Control+a');
  await expect(page.getByTestId('selection')).toBeVisible();
  await page.keyboard.press('Control+c');
  const known = new Set(original.map((s) => s.id));
  for (const way of ['Bring the sound into this note', 'Leave it there, with a way to it'] as const) {
    await button(page, 'Back to Today').click();
    await blankNote(page);
    await page.keyboard.press('Control+v');
    await button(page, way).click();
    await expect(page.getByTestId('selection')).toBeVisible();
    const all = await strokes(way.startsWith('Bring') ? 12 : 18);
    const own = all.filter((s) => !known.has(s.id));
    for (const s of own) known.add(s.id);
    expect(stampsOf(own)).toEqual(stampsOf(original));
    at = await placesOf(page);
    await button(page, 'Listen').click();
    const spot = (i: number) => at((own[i].box[0] + own[i].box[2]) / 2, (own[i].box[1] + own[i].box[3]) / 2);
    // Both in the order they were written: left to right, top to bottom.
    const told = [0, 1, 2, 3, 4].filter((i) => spoken[i] !== null);
    expect(told.length).toBeGreaterThanOrEqual(2);
    if (way.startsWith('Bring')) await choose(page, 'Lead-in', '0');
    else {
      await pen.touch(spot(told[1]).x, spot(told[1]).y);
      await button(page, 'Hear it there').click();
      // The other note is open, and plays from that word.
      await expect.poll(async () => (await inkOnDisk(page)).length).toBe(18);
      await expect(button(page, 'Pause')).toBeVisible();
      const position = Number(await page.getByRole('slider', { name: 'Playback position' }).getAttribute('aria-valuenow'));
      expect(Math.abs(position - original[told[1]].stamp!.at)).toBeLessThan(2500);
      continue;
    }
    await tapSpeaker(page);
    let whole = 0;
    for (const i of told) {
      // Where the tap on the loudspeaker, or the recording itself, shows a hole, nothing is told of the word.
      const heard = (await heardAt(page, pen, spot(i), 1)) ?? (await heardAt(page, pen, spot(i), 1));
      if (heard === null) continue;
      whole++;
      expect(Math.abs(heard - spoken[i]!), `word ${i}, heard at ${heard}, spoken at ${spoken[i]}`).toBeLessThan(40);
    }
    expect(whole).toBeGreaterThanOrEqual(2);
  }
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
};
test('ink pasted into another note plays its sound there, brought along or left where it is', wholeSound(pasted));
