/** A source beside the note: read, written and heard while the note is written and recorded; what is taken over leads back; the border moves, sides are swapped. */
import { expect, test } from '@playwright/test';
import { printed } from '../helpers/pdfs';
import { blankNote, bringFile, button, Pen, PHONE, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { headersOnDisk, inkOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

for (const viewport of [PHONE, WIDE]) {
  test(`a PDF is read beside the note that is written and recorded (${viewport.width} px)`, async () => {
    const folder = tempFolder();
    const pdf = await printed(folder, 4);
    const server = await startServer();
    const context = await startBrowser({ viewport });
    await context.grantPermissions(['clipboard-read', 'clipboard-write', 'microphone']);
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
    // Each is scrolled by itself; links lead on within the source.
    const scroller = source.locator('.surface-scroller');
    await source.getByRole('button', { name: 'Go to page 2 of the PDF' }).first().click();
    await expect.poll(() => scroller.evaluate((e) => e.scrollTop)).toBeGreaterThan(150);
    expect(await page.locator('.surface-scroller').last().evaluate((e) => e.scrollTop)).toBe(0);
    await scroller.evaluate((e) => e.scrollTo(0, 0));
    // Written on the page, and on the source: each by itself, with the moment of the recording that runs on.
    const mine = page.getByTestId('page-1').last();
    const box = (await mine.boundingBox())!;
    const pen = await Pen.on(page);
    await pen.scribble(box.x + box.width * 0.3, box.y + 40);
    await saved(page);
    const strokes = await inkOnDisk(page);
    expect(strokes).toHaveLength(1);
    expect(strokes[0].stamp).not.toBeNull();
    // It is there to be read, until one wants to write on it.
    const there = (await source.boundingBox())!;
    await pen.scribble(there.x + there.width * 0.5, there.y + there.height * 0.6);
    await source.getByRole('button', { name: 'Write', exact: true }).click();
    await pen.scribble(there.x + there.width * 0.5, there.y + there.height * 0.6);
    await expect.poll(async () => (await inkOnDisk(page)).length).toBe(2);
    const [onPage, onSource] = [strokes[0], (await inkOnDisk(page)).find((s) => s.id !== strokes[0].id)!];
    expect(onSource.page).not.toBe(onPage.page);
    expect(onSource.stamp!.take).toBe(onPage.stamp!.take);
    expect(onSource.stamp!.at).toBeGreaterThan(onPage.stamp!.at);
    // Where that sound is, the source knows.
    const headers = await headersOnDisk(page);
    const [read, written] = ['printed-4', ''].map((title) => headers.find((h) => (h.title === 'printed-4') === (title !== ''))!);
    await expect.poll(async () => (await headersOnDisk(page)).find((h) => h.id === read.id)!.links).toEqual([{ take: onPage.stamp!.take, note: written.id }]);
    // Each has its own undo: of the side that was touched last.
    await page.keyboard.press('Control+z');
    await expect.poll(async () => (await inkOnDisk(page)).map((s) => s.id)).toEqual([onPage.id]);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+Shift+z');
    await expect.poll(async () => (await inkOnDisk(page)).length).toBe(2);
    await pen.scribble(box.x + box.width * 0.3, box.y + 80);
    await button(page, 'Undo').click();
    await saved(page);
    await expect.poll(async () => (await inkOnDisk(page)).map((s) => s.id).sort()).toEqual([onPage.id, onSource.id].sort());
    // Printed text is copied over, and knows where it stood.
    await source.getByRole('button', { name: 'Select text of the source' }).click();
    const text = await source.locator('.printed-text span').first().evaluate((span) => {
      getSelection()!.selectAllChildren(span);
      return span.textContent!.trim();
    });
    await page.keyboard.press('Control+c');
    await source.getByRole('button', { name: 'Leave the text of the source alone' }).click();
    await page.locator('.surface-scroller').last().focus();
    await page.keyboard.press('Control+v');
    await expect.poll(async () => (await inkOnDisk(page)).flatMap((it) => (it.kind === 'typed' ? [it.text] : []))).toEqual([text]);
    await expect.poll(async () => (await headersOnDisk(page)).find((h) => h.id === written.id)!.origins).toMatchObject([{ note: read.id, page: read.pages[0].id }]);
    await page.keyboard.press('Control+z');
    await expect.poll(async () => (await inkOnDisk(page)).filter((it) => it.kind === 'typed').length).toBe(0);
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
    // The pair that stood last comes back.
    await button(page, 'Back to Today').click();
    await page.getByRole('button', { name: /^Open printed-4/ }).click();
    await page.getByTestId('page-1').waitFor();
    await button(page, 'What to do with this note').click();
    await button(page, 'The last pair').click();
    await source.getByTestId('page-1').waitFor();
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
    await server.close();
  });
}

test('what is taken over from the source plays there, and leads back to where it was', async () => {
  const server = await startServer('loose');
  const context = await startBrowser({ viewport: WIDE });
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).first().waitFor();
  const before = new Set((await inkOnDisk(page)).map((s) => s.id));
  await blankNote(page);
  await button(page, 'What to do with this note').click();
  await button(page, 'Beside').click();
  await page.getByRole('button', { name: /^Put beside: Tides/ }).click();
  const source = page.getByRole('region', { name: 'Source' });
  const tools = page.getByRole('group', { name: 'Tools of the source' });
  const [there, here] = [page.locator('.surface-scroller').first(), page.locator('.surface-scroller').last()];
  await source.getByTestId('page-1').waitFor();
  const came = async () => (await inkOnDisk(page)).filter((s) => !before.has(s.id));
  const pen = await Pen.on(page);

  // Words by the lasso.
  const box = (await there.boundingBox())!;
  await there.focus();
  await tools.getByRole('button', { name: 'Write', exact: true }).click();
  await tools.getByRole('button', { name: 'Lasso' }).click();
  const loop = [[0.12, 30], [0.6, 30], [0.6, 150], [0.12, 150], [0.12, 32]] as const;
  await pen.stroke(loop.map(([x, y]) => ({ x: box.x + box.width * x, y: box.y + y })));
  await button(page, 'Take over').click();
  await expect.poll(async () => (await came()).length).toBeGreaterThan(5);
  const taken = await came();
  expect(taken.every((s) => s.stamp !== null)).toBe(true);
  const header = (await headersOnDisk(page)).find((h) => h.origins)!;
  const tides = (await headersOnDisk(page)).find((h) => h.title.startsWith('Tides'))!;
  expect(header.origins).toEqual([{ note: tides.id, page: tides.pages[0].id, box: expect.anything(), placed: expect.arrayContaining(taken.map((s) => s.id)) }]);
  expect(header.links).toEqual([{ take: tides.takes[0].id, note: tides.id }]);

  // Dragged over the border they land where they are let go, and stay where they were.
  const asWas = (await inkOnDisk(page)).filter((s) => before.has(s.id));
  const held = (await source.getByTestId('selection').boundingBox())!;
  const sheet = (await here.getByTestId('page-1').boundingBox())!;
  const to = { x: sheet.x + sheet.width * 0.5, y: sheet.y + 350 };
  await page.mouse.move(held.x + held.width / 2, held.y + held.height / 2);
  await page.mouse.down();
  await page.mouse.move(held.x + held.width / 2 + 30, held.y + held.height / 2 + 10);
  await page.mouse.move(to.x, to.y, { steps: 5 });
  await expect(source.getByTestId('selection')).toHaveAttribute('data-across', 'true');
  await page.mouse.up();
  await expect.poll(async () => (await came()).length).toBe(2 * taken.length);
  const dragged = (await came()).filter((s) => !taken.some((t) => t.id === s.id)).map((s) => s.box);
  const around = [Math.min(...dragged.map((b) => b[0])), Math.min(...dragged.map((b) => b[1])), Math.max(...dragged.map((b) => b[2])), Math.max(...dragged.map((b) => b[3]))];
  const scale = sheet.width / 210;
  expect(Math.abs((around[0] + around[2]) / 2 - (to.x - sheet.x) / scale)).toBeLessThan(4);
  expect(Math.abs((around[1] + around[3]) / 2 - (to.y - sheet.y) / scale)).toBeLessThan(4);
  expect((await inkOnDisk(page)).filter((s) => before.has(s.id))).toEqual(asWas);
  // Where they came from is known of these too.
  expect((await headersOnDisk(page)).find((h) => h.origins)!.origins).toHaveLength(2);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await came()).length).toBe(taken.length);

  // A rectangle of it as a picture, as large as it was.
  await there.focus();
  await tools.getByRole('button', { name: 'Lasso' }).click();
  await tools.getByRole('button', { name: 'Lasso' }).click();
  await source.getByRole('button', { name: 'Cut out' }).click();
  await pen.stroke([{ x: box.x + 120, y: box.y + 320 }, { x: box.x + 420, y: box.y + 330 }, { x: box.x + 420, y: box.y + 500 }, { x: box.x + 118, y: box.y + 500 }]);
  const picture = async () => (await came()).find((s) => s.kind === 'picture');
  await expect.poll(picture).toBeTruthy();
  const wide = (await source.getByTestId('page-1').boundingBox())!.width;
  const mm = (px: number) => (px * 210) / wide;
  const [l, t, r, b] = (await picture())!.box;
  expect(Math.abs(r - l - mm(302))).toBeLessThan(1);
  expect(Math.abs(b - t - mm(180))).toBeLessThan(1);

  // It is selected there: one touch leads back, wherever the source was scrolled to.
  await there.evaluate((e) => e.scrollTo(0, e.scrollHeight));
  await page.getByRole('button', { name: 'Where it came from' }).click();
  await expect.poll(() => there.evaluate((e) => e.scrollTop)).toBeLessThan(400);

  // Touched in Listen, taken-over ink plays in the source.
  await here.focus();
  await button(page, 'Listen').click();
  const stroke = taken[0];
  const mine = (await here.getByTestId('page-1').boundingBox())!;
  await page.mouse.click(mine.x + (stroke.box[0] / 210) * mine.width, mine.y + (stroke.box[1] / 297) * mine.height);
  await expect(source.getByRole('button', { name: 'Pause the source' })).toBeVisible();
  // What is recorded is not the loudspeaker.
  await button(page, 'Record').click();
  await button(page, 'Stop recording').waitFor();
  expect(await page.evaluate(() => [...document.querySelectorAll('audio')].every((a) => a.paused))).toBe(true);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('open notes stay in a row above the page, for who wants that', async () => {
  const server = await startServer('loose');
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).first().waitFor();
  const row = page.getByRole('navigation', { name: 'Open notes' });
  await page.getByRole('button', { name: /^Open Tides/ }).first().click();
  await page.getByTestId('page-1').waitFor();
  await expect(row).toHaveCount(0);
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Settings' }).click();
  await page.getByRole('switch', { name: 'Open notes stay in a row above the page' }).click();
  await page.getByRole('tab', { name: 'Today' }).click();
  await page.getByRole('button', { name: /^Open Interview/ }).first().click();
  await page.getByTestId('page-1').waitFor();
  await expect(row.getByRole('link')).toHaveCount(2);
  await row.getByRole('link', { name: /^Go to Tides/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Tides');
  await row.getByRole('button', { name: /^Shut Tides/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Interview');
  await row.getByRole('button', { name: /^Shut Interview/ }).click();
  await page.getByRole('tab', { name: 'Today' }).waitFor();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
