/** The clock jumps by hours and months, forward and back, between and amid what one does: nothing goes, nothing is passed over, `changed` never stands still. */
import { expect } from '@playwright/test';
import { noteRecord } from '../../src/core/note/records/noteRecord';
import { blankNote, button, Pen, saved, startBrowser, startServer } from '../helpers/app';
import { records } from '../helpers/disk';
import { place } from '../helpers/spelled';
import { attempt, chance, demoStands, pick, type Result, stands, strokesByNote } from './kit';

const HOUR = 3_600_000;
const JUMPS = [-26 * 30 * 24 * HOUR, -31 * 24 * HOUR, -5 * HOUR, -1000, 0, 7 * HOUR, 31 * 24 * HOUR, 60 * 24 * HOUR, 400 * 24 * HOUR];

export async function clocks(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const server = await startServer(true);
  for (let k = 0; k < times; k++) {
    await attempt(broken, `clock ${k} of seed ${seed}`, async () => {
      const context = await startBrowser();
      const page = context.pages()[0];
      await stands(page, server.url);
      await demoStands(page);
      const changes = async () => new Map(Object.entries(await records(page, 'scrivo')).flatMap(([key, text]) => (key.startsWith('note/') ? [[key.slice(5), noteRecord.peek(text).value.changed] as const] : [])));
      // One lies in the bin from the beginning: no jump of the clock may empty it on the first days of use.
      await page.getByRole('tab', { name: 'Library' }).click();
      await page.getByRole('tab', { name: 'All notes' }).or(button(page, 'All notes')).first().click();
      await page.getByRole('button', { name: /^What to do with / }).first().click();
      await button(page, 'Delete').click();
      await page.getByRole('tab', { name: 'Today' }).click();
      await blankNote(page);
      let written = 0;
      const pen = await Pen.on(page);
      const note = page.url().split('/').at(-1)!.split('?')[0];
      for (let step = 0; step < 6; step++) {
        const jump = pick(random, JUMPS);
        await page.clock.setSystemTime(Date.now() + jump);
        const box = (await page.getByTestId('page-1').boundingBox())!;
        const before = (await changes()).get(note)!;
        for (let i = 0; i < 3; i++) {
          const { x, y } = place(written++);
          await pen.scribble(box.x + x, box.y + y);
        }
        await saved(page);
        if (random() < 0.5) await page.reload();
        else {
          await button(page, 'Back to Today').click();
          await page.getByRole('button', { name: /^Open / }).first().waitFor();
          await page.goto(`${server.url}/note/${note}`);
        }
        await page.getByTestId('page-1').waitFor();
        const now = await changes();
        expect(now.size, 'notes').toBe(4);
        expect(now.get(note), `changed after a jump of ${jump / HOUR} h`).toBeGreaterThan(before);
        expect((await strokesByNote(page)).get(note)?.size).toBe(written);
        if (await button(page, 'Write').count()) await button(page, 'Write').click();
      }
      await context.close();
    });
  }
  await server.close();
  return { what: 'clocks', times, broken };
}
