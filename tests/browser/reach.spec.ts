/** Everything is reached: by keys alone, by what a symbol says of itself, by Back, by a long touch; and what is over the screen keeps the keys to itself. */
import { expect, test, type Page } from '@playwright/test';
import { blankNote, button, Pen, PHONE, press, recordNew, saved, startBrowser, startServer, WIDE, type BrowserOptions } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { headersOnDisk, records, strokesOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

let server: Awaited<ReturnType<typeof startServer>>;
test.beforeAll(async () => {
  server = await startServer('loose');
});
test.afterAll(() => server.close());

async function start(options: BrowserOptions = {}, path = '') {
  const context = await startBrowser(options);
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).waitFor();
  if (path) await page.goto(server.url + path);
  return { context, page, end: async () => (expect(await pageErrors(page)).toEqual([]), await context.close()) };
}

const focused = (page: Page) =>
  page.evaluate(() => {
    const el = document.activeElement;
    return !el || el === document.body ? '' : (el.getAttribute('aria-label') ?? el.textContent ?? '');
  });
/** Goes on with Tab until what has the focus is called so. */
async function tabTo(page: Page, name: string | RegExp, most = 60, back = false): Promise<number> {
  for (let i = 0; i <= most; i++) {
    const now = await focused(page);
    if (typeof name === 'string' ? now === name : name.test(now)) return i;
    await page.keyboard.press(back ? 'Shift+Tab' : 'Tab');
  }
  throw new Error(`${String(name)} was not reached with ${most} Tabs; the focus is on “${await focused(page)}”.`);
}
/** The focus stands on something. */
const isHeld = (page: Page) => page.evaluate(() => document.activeElement !== null && document.activeElement !== document.body);

test('with Tab and Enter alone: record, mark, stop, listen, rename, file; the focus is never lost', async () => {
  const { page, end } = await start();
  expect(await tabTo(page, 'Record')).toBeLessThanOrEqual(3);
  await page.keyboard.press('Enter');
  await page.getByTestId('recording-clock').waitFor();
  // The skip link is the first stop, and Record, or Stop, the one behind it.
  await page.locator('.surface-scroller').focus();
  await tabTo(page, 'Skip to recording', 60, true);
  await page.keyboard.press('Enter');
  expect(await focused(page)).toBe('Stop recording');
  await tabTo(page, 'Mark ask', 10, true);
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await headersOnDisk(page)).flatMap((h) => h.marks ?? []).filter((m) => m.kind === 'ask' && Date.now() - m.wall < 60_000).length).toBe(1);
  await tabTo(page, 'Stop recording', 10);
  await page.keyboard.press('Enter');
  await button(page, 'Record').waitFor();
  await tabTo(page, 'Listen', 60, true);
  await page.keyboard.press('Enter');
  await page.locator('.surface[data-mode="listen"]').waitFor();
  expect(await isHeld(page)).toBe(true);
  await tabTo(page, 'Play', 60);
  await page.keyboard.press('Enter');
  await button(page, 'Pause').waitFor();
  await page.keyboard.press('Enter');
  await tabTo(page, 'What to do with this note', 60, true);
  await page.keyboard.press('Enter');
  await tabTo(page, 'Rename', 12);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Title of the note')).toBeFocused();
  await page.keyboard.type('By keys');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Rename By keys' })).toBeVisible();
  // The dialog gave the focus back to where it was opened.
  expect(await focused(page)).toBe('What to do with this note');
  await page.keyboard.press('Enter');
  await tabTo(page, 'Move to a folder', 12);
  await page.keyboard.press('Enter');
  await tabTo(page, /Outside of any folder/, 12);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/outside of any folder now/)).toBeVisible();
  await end();
});

test('with Tab and Enter alone: back up and lock', async () => {
  const { page, end } = await start({}, '/settings');
  await button(page, 'Remove demo notes').waitFor();
  const download = page.waitForEvent('download');
  await tabTo(page, 'Back up', 80);
  await page.keyboard.press('Enter');
  await download;
  await tabTo(page, 'Set a passphrase', 40);
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').waitFor();
  await page.keyboard.type('four tides a day');
  await tabTo(page, /The same once more/, 6);
  await page.keyboard.type('four tides a day');
  await page.keyboard.press('Enter');
  await button(page, 'Lock now').waitFor();
  await end();
});

test('what is over the screen has the keys: nothing behind it is reached, Escape puts it away, and Enter in a field does what the field is for', async () => {
  const { page, end } = await start({ viewport: WIDE });
  await blankNote(page);
  await button(page, 'What to do with this note').click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toHaveAccessibleName(/\d\d:\d\d, /);
  for (let i = 0; i < 25; i++) {
    await page.keyboard.press('Tab');
    expect(await page.evaluate(() => document.activeElement === document.body || document.querySelector('dialog')!.contains(document.activeElement))).toBe(true);
  }
  // Keys of the page do nothing behind it.
  await page.keyboard.press('e');
  await page.keyboard.press('3');
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'false');
  await expect(page.getByRole('button', { name: /^Navy ballpoint/ })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('e');
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  // What stands over the page has its keys until it is gone.
  await expect(dialog).toHaveCount(0);
  await page.keyboard.press('p');
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'false');
  // Keys of one letter can be switched off; those with Ctrl stay.
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Settings' }).click();
  await page.getByRole('switch', { name: 'Keys of a single letter do something' }).click();
  await page.getByRole('tab', { name: 'Today' }).click();
  await page.getByRole('button', { name: /^Open \d\d:\d\d/ }).first().click();
  await page.keyboard.press('e');
  await page.keyboard.press('Shift+R');
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'false');
  await expect(page.getByTestId('recording-clock')).toHaveCount(0);
  await end();
});

test('keys for recording, and for playing on a keyboard or headphones', async () => {
  const { page, end } = await start();
  await blankNote(page);
  await page.locator('.surface-scroller').focus();
  await page.keyboard.press('Shift+R');
  await page.getByTestId('recording-clock').waitFor();
  await page.keyboard.press('Shift+P');
  await button(page, 'Resume recording').waitFor();
  await page.keyboard.press('Shift+P');
  await button(page, 'Pause recording').waitFor();
  await page.keyboard.press('Shift+S');
  await button(page, 'Record').waitFor();
  await page.keyboard.press('Shift+L');
  await page.locator('.surface[data-mode="listen"]').waitFor();
  await page.keyboard.press('Shift+W');
  await page.locator('.surface[data-mode="write"]').waitFor();
  await end();
});

test('a symbol says its name, key and use: to a mouse that rests, to the keyboard, and to a finger that stays, which then presses nothing', async () => {
  const { context, page, end } = await start();
  await blankNote(page);
  const hint = page.getByTestId('hint');
  await button(page, 'Eraser').hover();
  await expect(hint).toHaveText('Eraser (E): erases strokes or an area');
  await page.mouse.move(200, 300);
  await expect(hint).toBeHidden();
  await page.locator('.surface-scroller').focus();
  await tabTo(page, 'Lasso', 30);
  await expect(hint).toHaveText(/^Lasso \(L\)/);
  await page.keyboard.press('Escape');
  const box = (await button(page, 'Eraser').boundingBox())!;
  const cdp = await context.newCDPSession(page);
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [{ x: box.x + 20, y: box.y + 20 }] });
  await expect(hint).toHaveText(/^Eraser/);
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'false');
  // And a short touch presses.
  await (await Pen.on(page)).touch(box.x + 20, box.y + 20);
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'true');
  await end();
});

test('Back puts away what is open before it leaves; a note opened from a search goes back to that search', async () => {
  const { page, end } = await start({}, '/library');
  await page.getByLabel('Search library').fill('pilot');
  await expect(page.getByText('1 found')).toBeVisible();
  await page.getByRole('button', { name: /^Open Interview/ }).click();
  await page.getByTestId('page-1').waitFor();
  const back = () => page.evaluate(() => history.back());
  await press(page, 'Pages');
  await page.getByRole('dialog', { name: 'Pages' }).waitFor();
  await back();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await button(page, 'Lists').click();
  await back();
  await expect(page.getByRole('region', { name: 'Lists' })).toHaveCount(0);
  expect(page.url()).toContain('/note/');
  await button(page, 'Back to Library').click();
  await expect(page.getByLabel('Search library')).toHaveValue('pilot');
  await expect(page.getByText('1 found')).toBeVisible();
  await end();
});

test('the Library: a right click or a finger that stays opens the menu; renamed, begun where one is, one choice for several steps, taken back by key', async () => {
  const { context, page, end } = await start({}, '/library');
  await page.getByRole('button', { name: /^Open Tides/ }).click({ button: 'right' });
  await button(page, 'Rename').click();
  await page.getByLabel('Title of the note').fill('Tides, and more tides');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await headersOnDisk(page)).some((h) => h.title === 'Tides, and more tides')).toBe(true);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^Open Tides and the rule/ })).toBeVisible();
  const box = (await page.getByRole('button', { name: /^Open Interview/ }).boundingBox())!;
  const cdp = await context.newCDPSession(page);
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [{ x: box.x + 60, y: box.y + 30 }] });
  await page.getByRole('dialog', { name: /^Interview/ }).waitFor();
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect(page.getByRole('dialog', { name: /^Interview/ })).toBeVisible();
  const download = page.waitForEvent('download');
  await button(page, 'Save as a file').click();
  expect((await download).suggestedFilename()).toMatch(/^Interview.*\.scrivo$/);
  // Several steps with one choice.
  await button(page, 'Select').click();
  await page.getByLabel(/^Choose Tides/).check();
  await button(page, 'Archive').click();
  await expect(page.getByText('1 chosen')).toBeVisible();
  await button(page, 'Done').click();
  await page.keyboard.press('Control+z');
  await button(page, 'New folder').click();
  await page.getByLabel('Name of the folder').fill('Buoyage');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^Folder Buoyage/ }).first().click();
  await button(page, 'Write a new note in this folder').click();
  await page.getByTestId('page-1').waitFor();
  await expect(page.getByRole('heading', { name: /^Rename Buoyage, \d\d:\d\d, / })).toBeVisible();
  await button(page, 'Back to Library').click();
  await expect(page.getByRole('button', { name: /^Open Buoyage, / })).toBeVisible();
  await end();
});

test('on a phone under a finger a new note has lines one can write on, and two touches go between the page and the line', async () => {
  const { page, end } = await start({ touch: true });
  await expect(page.getByText('and write on ruled, 9 mm, A6')).toBeVisible();
  await button(page, 'Write without sound').tap();
  const sheet = page.getByTestId('page-1');
  await sheet.waitFor();
  const { width } = (await sheet.boundingBox())!;
  // 9 mm of 105 mm, in mm of 96 px to the inch.
  expect((9 * width) / 105 / (96 / 25.4)).toBeGreaterThanOrEqual(7);
  await button(page, 'Back to Today').tap();
  await page.getByRole('button', { name: /^Open Tides/ }).tap();
  await page.getByTestId('timeline').waitFor();
  await page.getByRole('button', { name: /^Line written at/ }).first().waitFor();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  const twice = async () => {
    for (let i = 0; i < 2; i++) await page.touchscreen.tap(box.x + 40 * k, box.y + 52 * k);
  };
  const percent = async () => Number((await page.getByTestId('zoom-value').textContent())!.replace(/\D/g, ''));
  // A sheet that is wider than the glass opens as large as its writing needs to be read.
  expect(await percent()).toBeGreaterThan(50);
  /** Where what is written most to the left begins, px beside the time margin: its first letters are not under it. */
  const clear = async (mm: number) => {
    const [left, margin] = [(await page.getByTestId('page-1').boundingBox())!, (await page.getByRole('group', { name: 'Time margin' }).boundingBox())!];
    return left.x + (mm * left.width) / 210 - (margin.x + margin.width);
  };
  const leftmost = Math.min(...(await strokesOnDisk(page)).filter((s) => s.page.startsWith('demo-tides') && s.page.endsWith('p1')).map((s) => s.box[0]));
  expect(await clear(leftmost)).toBeGreaterThanOrEqual(0);
  await twice();
  const whole = 42;
  await expect.poll(percent).toBe(whole);
  // Shown whole its lines lie 13 px apart; their buttons stand in two columns and are as large as WCAG 2.2, 2.5.8 asks (24 by 24 CSS px).
  const measured = () => page.getByRole('button', { name: /^(Line|Drawing) written at/ }).evaluateAll((list) => list.map((e) => e.getBoundingClientRect()).map(({ left, top, right, bottom }) => ({ left, top, right, bottom })));
  // The margin is laid anew with a frame after the zoom.
  await expect.poll(async () => Math.min(...(await measured()).map((b) => Math.min(b.right - b.left, b.bottom - b.top)))).toBeGreaterThanOrEqual(24);
  const buttons = await measured();
  expect(buttons.length).toBeGreaterThan(10);
  for (const [i, a] of buttons.entries()) {
    expect(Math.min(a.right - a.left, a.bottom - a.top)).toBeGreaterThanOrEqual(24);
    for (const b of buttons.slice(i + 1)) expect(Math.min(a.right - b.left, b.right - a.left, a.bottom - b.top, b.bottom - a.top)).toBeLessThanOrEqual(0.5);
  }
  await page.evaluate(() => new Promise((r) => setTimeout(r, 400)));
  await twice();
  await expect.poll(percent).toBeGreaterThan(whole * 1.4);
  expect(await clear(leftmost)).toBeGreaterThanOrEqual(0);
  await page.evaluate(() => new Promise((r) => setTimeout(r, 400)));
  // And where one stopped it opens again. What was touched plays, and the page would follow it.
  const pause = button(page, 'Pause');
  if (await pause.isVisible()) await pause.tap();
  await button(page, 'Play').waitFor();
  await page.locator('.surface-scroller').evaluate(async (e) => {
    e.scrollTop = 500;
    // The browser says so with the next frame; who leaves before it has not scrolled yet.
    await new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)));
  });
  // Stored is this place, and not the one before it: px from the top, at the scale of now.
  const stored = async () => Math.max(-1, ...Object.entries(await records(page, 'scrivo')).filter(([key]) => key.startsWith('seen/')).map(([, text]) => (JSON.parse(text) as { y: number }).y));
  const px = (await page.getByTestId('page-1').boundingBox())!.width / 210;
  await expect.poll(async () => Math.abs((await stored()) * px - 500)).toBeLessThan(20);
  const [zoom, top] = [await percent(), await page.locator('.surface-scroller').evaluate((e) => e.scrollTop)];
  await button(page, 'Back to Today').tap();
  await page.getByRole('button', { name: /^Open Tides/ }).tap();
  await expect.poll(percent).toBe(zoom);
  await expect.poll(() => page.locator('.surface-scroller').evaluate((e) => e.scrollTop)).toBeGreaterThan(top - 5);
  await end();
});

test('pages are carried to another place by a finger, deleting offers the way back in the overview, and panels beside the page fold away', async () => {
  const { context, page, end } = await start();
  await blankNote(page);
  const pen = await Pen.on(page);
  const sheet = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(sheet.x + 60, sheet.y + 60);
  await press(page, 'Pages');
  for (let i = 0; i < 2; i++) await button(page, 'Add a page at the end').click();
  await page.getByTestId('card-3').waitFor();
  const order = async () => (await headersOnDisk(page)).find((h) => /^\d\d:/.test(h.title))!.pages.map((p) => p.id);
  await expect.poll(async () => (await order()).length).toBe(3);
  const [first, second, third] = await order();
  const middle = async (n: number) => {
    const b = (await page.getByTestId(`card-${n}`).boundingBox())!;
    return { x: b.x + b.width / 2, y: b.y + b.height / 2 };
  };
  const [from, to] = [await middle(1), await middle(2)];
  const cdp = await context.newCDPSession(page);
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [from] });
  await page.locator('[data-lifted="true"]').waitFor();
  for (let i = 1; i <= 6; i++) await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: [{ x: from.x + ((to.x + 40 - from.x) * i) / 6, y: from.y + ((to.y - from.y) * i) / 6 }] });
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect.poll(order).toEqual([second, first, third]);
  await page.getByLabel('Choose page 2', { exact: true }).check();
  await button(page, 'Delete').click();
  await expect.poll(async () => (await order()).length).toBe(2);
  await button(page, 'Undo deleting').click();
  await expect.poll(order).toEqual([second, first, third]);
  await page.keyboard.press('Escape');
  await page.setViewportSize(WIDE);
  const wide = async () => (await page.locator('.surface').boundingBox())!.width;
  await button(page, 'Fold the pages away').waitFor();
  await expect.poll(wide).toBeLessThan(1000);
  const before = await wide();
  await button(page, 'Fold the pages away').click();
  await button(page, 'Fold the lists away').click();
  expect(await wide()).toBeGreaterThan(before + 300);
  await button(page, 'Show the pages').click();
  await expect(page.getByRole('button', { name: 'Go to page 1' })).toBeVisible();
  await end();
});

test('Shapes are clean without holding, another colour spares the highlighter, and a recording begins with a pen', async () => {
  const { page, end } = await start();
  await blankNote(page);
  const known = new Set((await strokesOnDisk(page)).map((s) => s.id));
  const mine = async () => (await strokesOnDisk(page)).filter((s) => !known.has(s.id));
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await press(page, 'Shapes');
  const ring = Array.from({ length: 41 }, (_, i) => ({ x: box.x + 150 + 50 * Math.cos((2 * Math.PI * i) / 40), y: box.y + 120 + 50 * Math.sin((2 * Math.PI * i) / 40) }));
  await pen.stroke(ring);
  await expect.poll(async () => (await mine()).map((s) => s.shape?.name)).toEqual(['circle']);
  await page.keyboard.press('5');
  await pen.stroke([{ x: box.x + 60, y: box.y + 222 }, { x: box.x + 160, y: box.y + 222 }]);
  await page.keyboard.press('1');
  await pen.scribble(box.x + 70, box.y + 215, 80, 12);
  await expect.poll(async () => (await mine()).length).toBe(3);
  await button(page, 'Lasso').click();
  const loop = [[40, 195], [190, 195], [190, 250], [40, 250], [40, 196]].map(([x, y]) => ({ x: box.x + x, y: box.y + y }));
  await pen.stroke(loop);
  await page.getByTestId('selection').waitFor();
  await page.getByRole('group', { name: 'Colour of the selection' }).getByRole('button', { name: 'Green' }).click();
  await saved(page);
  const after = await mine();
  const light = after.find(({ pen: { kind } }) => kind === 'highlighter')!;
  expect(light.pen.color).toBe('#f2c94c');
  expect(after.filter(({ pen: { color } }) => color === '#14665b')).toHaveLength(1);
  await page.keyboard.press('5');
  await expect(page.getByRole('button', { name: /^Pens, in hand: Yellow highlighter/ })).toBeVisible();
  await button(page, 'Record').click();
  await page.getByTestId('recording-clock').waitFor();
  await expect(page.getByRole('button', { name: /^Pens, in hand: Navy ballpoint/ })).toBeVisible();
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await end();
});

test('the question which folder waits until the recording has ended', async () => {
  const { page, end } = await start({ viewport: PHONE }, '/library');
  await button(page, 'New folder').click();
  await page.getByLabel('Name of the folder').fill('Navigation');
  await page.keyboard.press('Enter');
  await page.getByRole('tab', { name: 'Today' }).click();
  // Three notes in the folder, made at this time of this day of the week.
  for (let i = 0; i < 3; i++) {
    await page.getByRole('tab', { name: 'Library' }).click();
    if (i === 0) await page.getByRole('button', { name: /^Folder Navigation/ }).first().click();
    await button(page, 'Write a new note in this folder').click();
    await page.getByTestId('page-1').waitFor();
    await button(page, 'Back to Library').click();
  }
  await page.getByRole('tab', { name: 'Today' }).click();
  await recordNew(page);
  await saved(page);
  await expect(page.getByText(/^Does this note belong/)).toHaveCount(0);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  const fold = page.getByRole('button', { name: /^Read the messages/ });
  await expect(page.getByText(/^Does this note belong in “Navigation”/).or(fold).first()).toBeVisible();
  if (await fold.isVisible()) await fold.click();
  await button(page, 'Put it there').click();
  // It has its subject in its title now, since nobody named it.
  await expect(page.getByRole('heading', { name: /^Rename Navigation, \d\d:\d\d/ })).toBeVisible();
  await end();
});
