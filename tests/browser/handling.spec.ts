/** The budgets of docs/handling.md: room for the page, and touches for what is done often, counted on the real interface. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { button, Pen, PHONE, ROOT, saved, startBrowser, startServer, WIDE } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { headersOnDisk, strokesOnDisk } from '../helpers/disk';

let server: Awaited<ReturnType<typeof startServer>>;
test.beforeAll(async () => {
  server = await startServer(true);
});
test.afterAll(() => server.close());

const DOC = readFileSync(path.join(ROOT, 'docs/handling.md'), 'utf8');
/** The cells of a row of a table in the document, by what stands in its first cell. */
const row = (name: string): string[] => {
  const line = DOC.split('\n').find((l) => l.startsWith(`| ${name} |`));
  if (!line) throw new Error(`docs/handling.md has no row “${name}”.`);
  return line.split('|').slice(2, -1).map((c) => c.trim());
};

async function openTides(viewport: { width: number; height: number }) {
  const context = await startBrowser({ viewport });
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  return { context, page };
}

const TABLET = { width: 768, height: 1024 };
/** On a phone 640 px while recording and 700 while writing; elsewhere four fifths of the height. */
for (const [name, viewport, leastRecording, leastWriting] of [['Phone, 390 x 844', PHONE, 640, 700], ['Tablet, 768 x 1024', TABLET, 820, 820], ['Wide, 1280 x 800', WIDE, 640, 640]] as const) {
  test(`room for the page: ${name}`, async () => {
    const { context, page } = await openTides(viewport);
    await button(page, 'Write').click();
    const high = async () => (await page.locator('.surface').boundingBox())!.height;
    const writing = await high();
    await button(page, 'Record').click();
    await page.getByTestId('recording-clock').waitFor();
    const recording = await high();
    // A message takes one line over the page's end and none of the page.
    // Both measured in one look, since the message goes by itself.
    const measured = await page.waitForFunction(() => {
      const message = [...document.querySelectorAll('[role="alert"]')].find((e) => e.textContent!.includes('The sound is too loud'));
      return message ? { line: message.getBoundingClientRect().height, page: document.querySelector('.surface')!.getBoundingClientRect().height } : null;
    });
    const { line, page: left } = (await measured.jsonValue())!;
    expect(line).toBeGreaterThan(0);
    expect(line).toBeLessThanOrEqual(48);
    expect(left).toBe(recording);
    // Nothing of the deck is out of reach.
    for (const control of await page.locator('[aria-label="Stop recording"], [aria-label="Pause recording"], [aria-label^="Mark "], [aria-label="Undo"], [aria-label="Eraser"], [aria-label="Listen"]').all()) {
      const box = (await control.boundingBox())!;
      expect(box.x).toBeGreaterThanOrEqual(0);
      expect(box.x + box.width).toBeLessThanOrEqual(viewport.width);
    }
    expect(writing).toBeGreaterThanOrEqual(leastWriting);
    expect(recording).toBeGreaterThanOrEqual(leastRecording);
    expect([String(Math.round(writing)), String(Math.round(recording))]).toEqual(row(name));
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    await context.close();
  });
}

/** Touches made so far. */
class Touches {
  count = 0;
  async on(it: Locator): Promise<void> {
    this.count++;
    await it.click();
  }
}

/** A loop around the first written line of the demo note; the gesture itself is no touch of the budget. */
async function loop(page: Page): Promise<void> {
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  const at = (x: number, y: number) => ({ x: box.x + x * k, y: box.y + y * k });
  await pen.stroke([at(8, 34), at(150, 32), at(155, 44), at(60, 46), at(8, 44), at(7, 35)]);
  await page.getByTestId('selection').waitFor();
}

test('touches for what is done often: as the document says, and at most two beyond the gesture itself', async () => {
  const { context, page } = await openTides(PHONE);
  // A folder, a tag and a heading to go to.
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Library' }).click();
  await button(page, 'New folder').click();
  await page.getByLabel('Name of the folder').fill('Navigation');
  await page.keyboard.press('Enter');
  await page.getByRole('tab', { name: 'All notes' }).or(button(page, 'All notes')).first().click();
  await page.getByRole('button', { name: /^What to do with Interview/ }).click();
  await button(page, 'Other tags').click();
  await page.getByLabel('New tag').fill('exam');
  await page.keyboard.press('Enter');
  await button(page, 'Save').click();
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await button(page, 'Write').click();

  const found: Record<string, number> = {};
  const task = async (name: string, work: (t: Touches) => Promise<void>) => {
    const t = new Touches();
    await work(t);
    found[name] = t.count;
  };
  const pens = page.getByRole('button', { name: /^Pens, in hand/ });
  const menu = button(page, 'What to do with this note');
  const tides = async () => (await headersOnDisk(page)).find((h) => h.takes.length === 1 && h.pages.length === 2)!;

  await task('Another pen', async (t) => {
    await t.on(pens);
    await t.on(page.getByRole('group', { name: 'Pens of the cup' }).getByRole('button').nth(1));
    await expect(page.getByRole('button', { name: /^Pens, in hand: Green/ })).toBeVisible();
  });
  await page.keyboard.press('Escape');
  await task('Colour of the pen', async (t) => {
    await t.on(pens);
    await t.on(page.getByRole('group', { name: 'Colour' }).getByRole('button', { name: 'Red' }));
    await expect(page.getByRole('button', { name: /^Pens, in hand: Red/ })).toBeVisible();
  });
  await page.keyboard.press('Escape');
  await task('Width of the pen', async (t) => {
    await t.on(pens);
    await t.on(page.getByRole('group', { name: 'Width' }).getByRole('button', { name: '0.7 mm' }));
    await expect(page.getByRole('button', { name: /^Pens, in hand: .*0\.7 mm/ })).toBeVisible();
  });
  await page.keyboard.press('Escape');
  const before = (await strokesOnDisk(page)).length;
  await task('Erase one thing', async (t) => {
    await t.on(button(page, 'Eraser'));
    const pen = await Pen.on(page);
    const box = (await page.getByTestId('page-1').boundingBox())!;
    const k = box.width / 210;
    await pen.stroke([{ x: box.x + 20 * k, y: box.y + 36 * k }, { x: box.x + 60 * k, y: box.y + 44 * k }]);
    await expect.poll(async () => (await strokesOnDisk(page)).length).toBeLessThan(before);
  });
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await strokesOnDisk(page)).length).toBe(before);
  await task('Recolour words', async (t) => {
    await t.on(button(page, 'Lasso'));
    await loop(page);
    await t.on(page.getByRole('group', { name: 'Colour of the selection' }).getByRole('button').first());
    await saved(page);
  });
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await task('Copy ink into another note', async (t) => {
    await t.on(button(page, 'Lasso'));
    await loop(page);
    await t.on(page.getByRole('button', { name: /^Into “.*”: copy into/ }));
    await expect(page.getByText(/^Copied to the end of “/)).toBeVisible();
  });
  const copied = (await strokesOnDisk(page)).length;
  await page.getByRole('status').filter({ hasText: 'Copied to the end' }).getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await strokesOnDisk(page)).length).toBeLessThan(copied);
  await button(page, 'Heading').click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await task('Rename in the note', async (t) => {
    await t.on(page.getByRole('button', { name: /^Rename / }));
    await page.getByLabel('Title of the note').fill('Tides, first lesson');
    await page.keyboard.press('Enter');
    await expect.poll(async () => (await tides()).title).toBe('Tides, first lesson');
  });
  await task('File in a folder', async (t) => {
    await t.on(menu);
    await t.on(page.getByRole('group', { name: 'Folder' }).getByRole('button', { name: 'Navigation' }));
    await expect(page.getByText(/is in “Navigation” now/)).toBeVisible();
  });
  await task('Tag', async (t) => {
    await t.on(menu);
    await t.on(page.getByRole('group', { name: 'Tags at hand' }).getByRole('button', { name: 'exam' }));
    await expect(page.getByRole('group', { name: 'Tags at hand' }).getByRole('button', { name: 'exam' })).toHaveAttribute('aria-pressed', 'true');
  });
  await page.keyboard.press('Escape');
  await task('Bookmark the page in sight', async (t) => {
    await t.on(menu);
    await t.on(button(page, 'Bookmark this page'));
    await expect.poll(async () => (await tides()).bookmarks?.length).toBe(1);
  });
  await task('Go to a heading', async (t) => {
    await t.on(page.getByRole('button', { name: /^Pages, / }));
    await t.on(page.getByRole('button', { name: /^Go to the heading on page 1/ }));
    await expect(page.getByRole('dialog')).toHaveCount(0);
  });
  await task('Second pass, from Write', async (t) => {
    await t.on(button(page, 'Listen'));
    await t.on(button(page, 'Write while listening'));
    await expect(page.locator('.surface[data-second="true"]')).toBeVisible();
  });
  await button(page, 'Write').click();
  await button(page, 'Record').click();
  await page.getByTestId('recording-clock').waitFor();
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 60, box.y + 420, 40, 8);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await task('First word after Stop', async (t) => {
    await t.on(button(page, 'Show me'));
    await page.locator('.surface[data-mode="listen"]').waitFor();
    await page.mouse.click(box.x + 75, box.y + 424);
    await expect(page.locator('.word-lit:not([hidden])')).toBeVisible();
  });
  await button(page, 'Pause').click();
  await button(page, 'Back to Library').click();
  await task('Rename in the Library', async (t) => {
    await page.getByRole('button', { name: /^Open Interview/ }).click({ button: 'right' });
    await t.on(button(page, 'Rename'));
    await page.getByLabel('Title of the note').fill('Aldous Fenwick');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: /^Open Aldous Fenwick/ })).toBeVisible();
  });
  for (const [name, count] of Object.entries(found)) {
    expect(count, name).toBeLessThanOrEqual(2);
    expect([name, String(count)]).toEqual([name, row(name)[0]]);
  }
  expect(Object.keys(found)).toHaveLength(14);
  await context.close();
});
