/** The disk gets full at random moments, while it records, writes or restores; what was written is there when there is room again. */
import { expect } from '@playwright/test';
import { button, Pen, recordNew, startBrowser, startServer } from '../helpers/app';
import { fillDisk } from '../helpers/disk';
import { place } from '../helpers/spelled';
import { penDowns } from '../helpers/tap';
import { attempt, chance, stands, strokesByNote, type Result } from './kit';

export async function room(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const server = await startServer();
  let ran = 0;
  for (let k = 0; k < times; k++) {
    await attempt(broken, `room ${k} of seed ${seed}`, async () => {
      const context = await startBrowser();
      const page = context.pages()[0];
      const cdp = await context.newCDPSession(page);
      // Before the first record is written: the browser looks up what is left only now and then.
      await cdp.send('Storage.overrideQuotaForOrigin', { origin: server.url, quotaSize: 3_000_000 + Math.floor(random() * 500_000) });
      await stands(page, server.url);
      await recordNew(page);
      const pen = await Pen.on(page);
      const box = (await page.getByTestId('page-1').boundingBox())!;
      const words = 12 + Math.floor(random() * 25);
      const full = Math.floor(random() * 8);
      const back = full + 2 + Math.floor(random() * 8);
      for (let i = 0; i < words; i++) {
        if (i === full) await fillDisk(page);
        if (i === back) await cdp.send('Storage.overrideQuotaForOrigin', { origin: server.url });
        const { x, y } = place(i);
        await pen.scribble(box.x + x, box.y + y);
        await new Promise((r) => setTimeout(r, random() * 500));
        if (await page.locator('[data-testid="save-state"][data-state="failed"]').count()) {
          ran++;
          await expect(page.getByText(/no room left for Scrivo/).first()).toBeVisible();
        }
      }
      await cdp.send('Storage.overrideQuotaForOrigin', { origin: server.url });
      // A message may lie where a word was to be.
      const strokes = (await penDowns(page)).length;
      expect(strokes).toBeGreaterThan(words / 2);
      await button(page, 'Stop recording').click();
      await button(page, 'Record').waitFor();
      await page.locator('[data-testid="save-state"][data-state="saved"]').waitFor({ timeout: 30_000 });
      await expect.poll(async () => [...(await strokesByNote(page)).values()].reduce((n, s) => n + s.size, 0), { timeout: 15_000 }).toBe(strokes);
      await stands(page, server.url);
      expect([...(await strokesByNote(page)).values()].reduce((n, s) => n + s.size, 0)).toBe(strokes);
      await context.close();
    });
  }
  await server.close();
  return { what: 'room', times, broken, notes: `told without room ${ran} times` };
}
