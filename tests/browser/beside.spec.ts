/** A source beside the note: read, scrolled and followed while the note is written and recorded; the border moves, sides are swapped, and locking shuts it. */
import { expect, test } from '@playwright/test';
import { printed } from '../helpers/pdfs';
import { blankNote, bringFile, button, Pen, PHONE, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

for (const viewport of [PHONE, WIDE]) {
  test(`a PDF is read beside the note that is written and recorded (${viewport.width} px)`, async () => {
    const folder = tempFolder();
    const pdf = await printed(folder, 4);
    const server = await startServer();
    const context = await startBrowser({ viewport });
    const page = context.pages()[0];
    await page.goto(server.url);
    await bringFile(page, pdf.file, '4 pages');
    await page.getByTestId('page-1').waitFor();
    await button(page, 'Back to Today').click();
    await blankNote(page);
    await button(page, 'Record').click();
    await button(page, 'Stop recording').waitFor();
    await button(page, 'What to do with this note').click();
    await button(page, 'Beside').click();
    await button(page, 'Put beside: printed-4').click();
    const source = page.getByRole('region', { name: 'Source' });
    await expect(source.getByText('printed-4')).toBeVisible();
    // What is printed is seen in it.
    const inked = () => source.locator('[data-testid="page-1"] canvas').evaluateAll((all) => (all as HTMLCanvasElement[]).reduce((n, c) => n + c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data.filter((v, i) => i % 4 === 0 && v < 100).length, 0));
    await expect.poll(inked).toBeGreaterThan(300);
    // Written on the page, not in the source; and the recording runs on.
    const mine = page.getByTestId('page-1').last();
    const box = (await mine.boundingBox())!;
    const pen = await Pen.on(page);
    await pen.scribble(box.x + box.width * 0.3, box.y + 40);
    await saved(page);
    const strokes = await inkOnDisk(page);
    expect(strokes).toHaveLength(1);
    expect(strokes[0].stamp).not.toBeNull();
    const there = (await source.boundingBox())!;
    await pen.scribble(there.x + there.width * 0.5, there.y + there.height * 0.6);
    expect(await inkOnDisk(page)).toHaveLength(1);
    // Each is scrolled by itself; links lead on within the source.
    const scroller = source.locator('.surface-scroller');
    await source.getByRole('button', { name: 'Go to page 2 of the PDF' }).first().click();
    await expect.poll(() => scroller.evaluate((e) => e.scrollTop)).toBeGreaterThan(150);
    expect(await page.locator('.surface-scroller').last().evaluate((e) => e.scrollTop)).toBe(0);
    // The border, by key.
    const border = page.getByRole('separator');
    const size = async () => (viewport === WIDE ? (await source.boundingBox())!.width : (await source.boundingBox())!.height);
    const before = await size();
    await border.focus();
    await page.keyboard.press(viewport === WIDE ? 'ArrowLeft' : 'ArrowUp');
    await expect.poll(size).toBeLessThan(before - 15);
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    // Sides are swapped, and it goes.
    await page.getByRole('button', { name: /^Swap sides/ }).click();
    await expect(page.getByRole('heading', { name: /printed-4/ })).toBeVisible();
    await expect(source.getByText('printed-4')).toHaveCount(0);
    await button(page, 'Close Source').click();
    await expect(source).toHaveCount(0);
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  });
}
