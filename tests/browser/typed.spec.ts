/** Typed text: laid out as the browser lays it out, kept, taken back letter by letter, found where it is handed on. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { atRest, blankNote, button, PHONE, press, saved, startBrowser, startServer, WIDE } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';
import { at, openTides } from '../helpers/tides';

const AXE = readFileSync(createRequire(__filename).resolve('axe-core/axe.min.js'), 'utf8');
let server: Awaited<ReturnType<typeof startServer>>;
let context: BrowserContext;
let page: Page;

test.beforeAll(async () => {
  server = await startServer();
});
test.afterAll(async () => {
  await server.close();
});
test.afterEach(async () => {
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

async function begin(viewport = PHONE): Promise<void> {
  // Without windows letters are set otherwise, on whole pixels.
  context = await startBrowser({ viewport, whole: true });
  page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
}

/** Takes up typing and puts the caret on the page, at shares of its width and height. */
async function caretAt(x: number, y: number): Promise<void> {
  if (!(await page.locator('.surface[data-tool="type"]').count())) await page.keyboard.press('t');
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await page.mouse.click(box.x + x * box.width, box.y + y * box.height);
  await editor().waitFor();
}
const editor = () => page.getByRole('textbox', { name: 'Typed text' });
const lines = () => page.getByTestId('typed-line').allTextContents();
const typed = async () => (await inkOnDisk(page)).filter((it) => it.kind === 'typed').sort((a, b) => a.n - b.n);

const TEXTS = {
  sans: 'High water at noon, low water six hours and a bit later; the range is the difference of both: 4.8 m − 1.2 m = 3.6 m (a “spring”), half-way at 09:00.',
  serif: 'Offer to fit: the difficult affair of the fjord’s light-house keeper, Ægir Þórsson, who knew “every stone” between the buoys – and told it.',
  typewriter: 'VHF 12: all ships, all ships. Dredger at buoy 7; pass to the west, dead slow. Next report 14:30 local, then every half-hour until 18:00.',
  hand: 'To AWA: Tomorrow’s tide table, the yellow one. Year-round fairway works; ask the harbour office about the light at the mole, it was out.',
};

// The reference is the browser's own layout (CSS Text 3) of the same faces: where its lines break and where every word stands.
for (const [face, text] of Object.entries(TEXTS)) {
  test(`text in ${face} breaks where the browser breaks it, and every word stands where the browser has it`, async () => {
    await begin(WIDE);
    await caretAt(0.2, 0.3);
    await page.getByLabel('Font', { exact: true }).selectOption(face);
    await page.getByLabel('Size, points', { exact: true }).selectOption('14');
    await page.keyboard.insertText(text);
    await expect.poll(async () => (await lines()).join('')).toBe(text);
    await atRest(page);
    await page.evaluate(() => document.fonts.ready);
    /** Words of the editor with their places, px from its left edge, line by line. */
    const browsers = await editor().evaluate((el) => {
      const left = el.getBoundingClientRect().left;
      const walker = document.createTreeWalker(el, NodeFilter.SHOW_TEXT);
      const words: { word: string; x: number; w: number; y: number }[] = [];
      for (let node = walker.nextNode(); node; node = walker.nextNode()) {
        for (const m of node.textContent!.matchAll(/\S+/g)) {
          const range = document.createRange();
          range.setStart(node, m.index);
          range.setEnd(node, m.index + m[0].length);
          const rects = [...range.getClientRects()];
          words.push({ word: m[0], x: rects[0].left - left, w: rects.reduce((w, r) => w + r.width, 0), y: Math.round(rects[0].top) });
        }
      }
      return words;
    });
    const rows = [...new Set(browsers.map((w) => w.y))].map((y) => browsers.filter((w) => w.y === y).map((w) => w.word).join(' '));
    const ours = await lines();
    expect(ours.length).toBeGreaterThan(1);
    // A word that is broken at its hyphen begins in the line before.
    expect(ours.map((l) => l.trim().split(/\s+/).length)).toEqual(rows.map((r, i) => r.split(' ').length + (i > 0 && /[-–]$/.test(ours[i - 1].trim()) && !/[-–]$/.test(rows[i - 1]) ? 1 : 0)));
    // Every letter that is drawn comes from the same widths: the width of the text's longest line is that of the browser's.
    const k = (await page.getByTestId('page-1').boundingBox())!.width / 210;
    await saved(page);
    const [it] = await typed();
    const wide = await page.getByTestId('typed-line').evaluateAll((list) => list.map((e) => e.getBoundingClientRect().width));
    const browserWide = [...new Set(browsers.map((w) => w.y))].map((y) => Math.max(...browsers.filter((w) => w.y === y).map((w) => w.x + w.w)));
    wide.forEach((w, i) => /-$/.test(ours[i].trim()) || expect(Math.abs(w - browserWide[i]), `${ours[i]}: ${w} and ${browserWide[i]} px`).toBeLessThan(0.005 * browserWide[i] + 0.5));
    expect(it.looks[0][1]).toMatchObject({ face, size: 14 });
    expect(k).toBeGreaterThan(1);
  });
}

test('on the ruling, with lists and looks; taken back letter by letter, kept, changed again, and gone when nothing is left', async () => {
  await begin();
  await press(page, 'Typed text');
  await expect(page.getByText(/^Touch a line and type/)).toBeVisible();
  await page.keyboard.press('t');
  await caretAt(0.2, 0.2);
  await page.keyboard.type('ebb');
  await page.keyboard.press('Enter');
  await page.keyboard.type('- springs');
  await page.keyboard.press('Enter');
  await page.keyboard.type('neaps');
  await expect.poll(lines).toEqual(['ebb', 'springs', 'neaps']);
  await saved(page);
  let all = await typed();
  expect(all.map((it) => it.list)).toEqual([undefined, 'dot', 'dot']);
  // A4, first line at 24 mm, one every 8 mm: each stands on one of them.
  for (const it of all) expect((it.m[5] + it.pitch - 24) % 8).toBeCloseTo(0, 6);
  expect(all.map((it) => it.stamp)).toEqual([null, null, null]);
  await page.keyboard.press('Control+z');
  await expect.poll(lines).toEqual(['ebb', 'springs', 'neap']);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(lines).toEqual(['ebb', 'springs', 'neap']);
  await page.keyboard.press('Shift+Home');
  await button(page, 'Bold').click();
  await button(page, 'Check boxes').click();
  await saved(page);
  all = await typed();
  expect(all[2]).toMatchObject({ text: 'neap', list: 'open', looks: [[4, { bold: true }]] });
  await button(page, 'Done').click();
  await expect.poll(async () => (await typed())[2].list).toBe('done');
  // Keys that are typed are no keys of the page.
  await page.keyboard.press('End');
  await page.keyboard.type(' pe');
  await expect.poll(lines).toEqual(['ebb', 'springs', 'neap pe']);
  await page.keyboard.press('Escape');
  await expect(editor()).toHaveCount(0);
  await saved(page);
  await page.reload();
  await expect.poll(lines).toEqual(['ebb', 'springs', 'neap pe']);
  // A touch on a word puts the caret there.
  await page.keyboard.press('t');
  const word = (await page.getByTestId('typed-line').first().boundingBox())!;
  await page.mouse.click(word.x + word.width + 4, word.y + word.height / 2);
  await editor().waitFor();
  await page.keyboard.type(' tide');
  await expect.poll(lines).toEqual(['ebb tide', 'springs', 'neap pe']);
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Delete');
  // An open list is a line; the key that ends it takes it away.
  await page.keyboard.press('Backspace');
  await expect.poll(lines).toEqual([]);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await lines()).length).toBeGreaterThan(0);
});

test('what finds no room goes on at the top of the next page, the caret with it, and comes back by undo', async () => {
  await begin(WIDE);
  // A4, the last line but one: 297 mm, lines every 8 mm from 24 mm on, none below 289.
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = e.scrollHeight));
  await caretAt(0.2, 279 / 297);
  await page.keyboard.type('first');
  for (const text of ['second', 'third', 'fourth']) {
    await page.keyboard.press('Enter');
    await page.keyboard.type(text);
  }
  await expect.poll(async () => (await lines()).sort()).toEqual(['first', 'fourth', 'second', 'third']);
  await saved(page);
  const all = await typed();
  const pages = [...new Set(all.map((it) => it.page))];
  expect(pages).toHaveLength(2);
  const on = (p: string) => all.filter((it) => it.page === p).sort((a, b) => a.m[5] - b.m[5]);
  const [one, two] = [on(all.find((it) => it.text === 'first')!.page), on(all.find((it) => it.text === 'fourth')!.page)];
  expect([...one, ...two].map((it) => it.text)).toEqual(['first', 'second', 'third', 'fourth']);
  for (const it of one) expect(it.m[5] + it.pitch).toBeLessThanOrEqual(291);
  // At the top of the next page, on its ruling, as far from the left.
  expect(two[0].m[5] + two[0].pitch).toBeCloseTo(24, 6);
  expect(two[0].m[4]).toBeCloseTo(one[0].m[4], 6);
  expect(await editor().evaluate((e) => e === document.activeElement)).toBe(true);
  expect(await editor().locator('.typing-line').allTextContents()).toEqual(two.map((it) => it.text));
  // A line less above, and what went on comes back, below the others.
  await page.keyboard.press('Escape');
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = (document.querySelector('[data-testid="page-1"]') as HTMLElement).offsetHeight - e.clientHeight / 2));
  await caretAt(0.25, 279 / 297);
  for (let i = 0; i < 'first'.length; i++) await page.keyboard.press('Backspace');
  await page.keyboard.press('Delete');
  const byPlace = async () => {
    const list = await typed();
    const order = (p: string) => (p === one[0].page ? 0 : 1);
    return list.sort((a, b) => order(a.page) - order(b.page) || a.m[5] - b.m[5]).map((it) => [it.text, order(it.page)]);
  };
  await expect.poll(byPlace).toEqual([['second', 0], ['third', 0], ['fourth', 1]]);
  expect(await editor().locator('.typing-line').allTextContents()).toEqual(['second', 'third']);
  await page.keyboard.press('Escape');
  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+z');
  await expect.poll(async () => (await lines()).length).toBe(4);
  for (let i = 0; i < 'fourth'.length + 'third'.length + 2; i++) await page.keyboard.press('Control+z');
  await expect.poll(async () => (await lines()).sort()).toEqual(['first', 'second']);
});

test('by keys alone: begun below what stands there, gone on with, left, and read out in the time margin', async () => {
  await begin();
  await page.keyboard.press('t');
  await page.keyboard.press('Enter');
  await page.keyboard.type('ebb');
  await page.keyboard.press('Escape');
  await expect(editor()).toHaveCount(0);
  await page.keyboard.press('Enter');
  await page.keyboard.type(' tide');
  await page.keyboard.press('Enter');
  await page.keyboard.type('flood');
  await expect.poll(lines).toEqual(['ebb tide', 'flood']);
  await saved(page);
  expect(new Set((await typed()).map((it) => it.flow)).size).toBe(1);
  await expect(page.getByRole('button', { name: 'Line written without sound, “ebb tide”' })).toBeAttached();
  // Shown larger, the editor's letters stay where the page has its own.
  const widths = () =>
    page.evaluate(() => {
      const range = document.createRange();
      range.selectNodeContents(document.querySelector('.typing .typing-line')!);
      return [range.getBoundingClientRect().width, document.querySelector('.typed-line')!.getBoundingClientRect().width];
    });
  const [small] = await widths();
  await page.mouse.move(200, 300);
  await page.keyboard.down('Control');
  await page.mouse.wheel(0, -200);
  await page.keyboard.up('Control');
  await expect.poll(async () => (await widths())[0]).toBeGreaterThan(1.3 * small);
  await expect.poll(async () => Math.abs((await widths())[0] / (await widths())[1] - 1)).toBeLessThan(0.01);
  // The editor and its bar have no finding of the checker of access.
  await page.evaluate(AXE);
  expect(await page.evaluate('axe.run().then((r) => r.violations.map((v) => v.id + ": " + v.nodes[0].html))')).toEqual([]);
});

test('pasted text keeps lists and emphasis and nothing else', async () => {
  await begin();
  await caretAt(0.2, 0.2);
  await editor().evaluate((el) => {
    const data = new DataTransfer();
    data.setData('text/html', '<h1 style="color:red;font-size:80px">Open day</h1><p>Boats <b>and</b> <em>buoys</em> <a href="https://example.org">here</a></p><ul><li>Kaja</li><li>Olu</li></ul><ol><li>quay</li></ol><script>document.title = "run"</script>');
    data.setData('text/plain', 'Open day');
    el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect.poll(lines).toEqual(['Open day', 'Boats and buoys here', 'Kaja', 'Olu', 'quay']);
  await saved(page);
  const all = await typed();
  expect(all.map((it) => it.list)).toEqual([undefined, undefined, 'dot', 'dot', 'number']);
  expect(all[0].looks).toEqual([[8, { face: 'sans', size: 12, color: '#16324f' }]]);
  expect(all[1].looks.map(([n, l]) => [n, l.bold ?? false, l.slant ?? false])).toEqual([[6, false, false], [3, true, false], [1, false, false], [5, false, true], [5, false, false]]);
});

test('a text stands in the box that is drawn for it, wherever the lines run', async () => {
  await begin(WIDE);
  await page.keyboard.press('t');
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  await page.mouse.move(box.x + 40 * k, box.y + 41 * k);
  await page.mouse.down();
  await page.mouse.move(box.x + 90 * k, box.y + 60 * k, { steps: 4 });
  await page.mouse.up();
  await editor().waitFor();
  await page.keyboard.type('Slack water lasts a quarter of an hour at the bar');
  await saved(page);
  const [it] = await typed();
  expect(it.width).toBeCloseTo(50, 0);
  expect([it.m[4], it.m[5]].map(Math.round)).toEqual([40, 41]);
  expect(it.box[2]).toBeLessThan(90.5);
});

test('what is spoken is written down where the caret stands, once one has agreed; without a service it is said', async () => {
  context = await startBrowser({ viewport: WIDE });
  page = context.pages()[0];
  // A stand-in for the browser's own recognition, which needs a service on the web (Web Speech API: a result that is final, then the end).
  await page.addInitScript(() => {
    class Recognition extends EventTarget {
      start() {
        (window as unknown as { spoken: (t: string | null, error?: string) => void }).spoken = (transcript, error) => {
          if (error) this.dispatchEvent(Object.assign(new Event('error'), { error }));
          else if (transcript) this.dispatchEvent(Object.assign(new Event('result'), { resultIndex: 0, results: [Object.assign([{ transcript }], { isFinal: true })] }));
          if (error || !transcript) this.dispatchEvent(new Event('end'));
        };
      }
      stop() {
        this.dispatchEvent(new Event('end'));
      }
    }
    Object.assign(window, { SpeechRecognition: Recognition, webkitSpeechRecognition: Recognition });
  });
  await page.goto(server.url);
  await blankNote(page);
  await caretAt(0.2, 0.3);
  await page.keyboard.type('Noted:');
  await button(page, 'Dictate').click();
  await page.getByText('Many browsers send the sound to their maker').waitFor();
  await page.getByRole('dialog').getByRole('button', { name: 'Dictate' }).click();
  const spoken = (text: string | null, error?: string) => page.evaluate(([t, e]) => (window as unknown as { spoken: (t: string | null, e?: string) => void }).spoken(t, e), [text, error] as const);
  await expect(button(page, 'Dictate')).toHaveAttribute('aria-pressed', 'true');
  await spoken(' the light is out ');
  await expect.poll(async () => (await lines()).join('')).toBe('Noted: the light is out');
  await button(page, 'Dictate').click();
  await expect(button(page, 'Dictate')).toHaveAttribute('aria-pressed', 'false');
  await button(page, 'Dictate').click();
  await spoken(null, 'network');
  await page.getByText('could not reach it').waitFor();
  await expect(button(page, 'Dictate')).toHaveAttribute('aria-pressed', 'false');
  // Where the browser has none a plain sentence says so.
  await page.evaluate(() => Object.assign(window, { SpeechRecognition: undefined, webkitSpeechRecognition: undefined }));
  await button(page, 'Dictate').click();
  await page.getByText('This browser cannot write down what is spoken.').waitFor();
});

test('one word of a typed line leads to a moment of another note, stays that word as one types on, and there is a way back', async () => {
  const tides = await openTides(PHONE);
  ({ page, context } = tides);
  await page.getByRole('button', { name: /^Back to / }).click();
  await blankNote(page);
  await caretAt(0.2, 0.3);
  await page.keyboard.type('See the ebb');
  await page.getByRole('button', { name: /^Link the word/ }).click();
  await page.getByRole('dialog').getByRole('radio', { name: 'Note' }).or(page.getByRole('dialog').getByRole('button', { name: 'Note', exact: true })).click();
  await button(page, 'Choose a note').click();
  await page.getByRole('button', { name: /^Lead to Tides/ }).click();
  await page.getByLabel(/^Moment of its sound/).fill('99:00');
  await expect(button(page, 'Lead there')).toBeDisabled();
  await page.getByLabel(/^Moment of its sound/).fill('1:05');
  await button(page, 'Lead there').click();
  const link = page.getByRole('button', { name: /^Link to 1:05 of “Tides/ });
  /** From the left edge of its page. */
  const under = async () => {
    const [box, sheet] = [(await page.locator('.page-link').boundingBox())!, (await page.getByTestId('page-1').boundingBox())!];
    return { ...box, x: box.x - sheet.x };
  };
  const before = await under();
  // The keys are back with the text; what is typed after the word is no part of it, what is typed before it moves it.
  await expect(editor()).toBeFocused();
  // The editor sets its caret 20 ms after it got the keys; nobody is that quick.
  await atRest(page);
  await page.keyboard.type(' first');
  await page.keyboard.press('Home');
  await atRest(page);
  await page.keyboard.type('Then: ');
  await expect.poll(lines).toEqual(['Then: See the ebb first']);
  await expect.poll(async () => (await under()).x).toBeGreaterThan(before.x + 5);
  expect((await under()).width).toBeCloseTo(before.width, 1);
  await saved(page);
  const here = page.url();
  await link.press('Enter');
  // It plays there from the lead-in before that moment, or the sentence it stands in.
  await expect.poll(() => at(page)).toBeGreaterThan(50_000);
  expect(await at(page)).toBeLessThan(75_000);
  await button(page, 'Go back').click();
  await expect(page).toHaveURL(here);
  await link.waitFor();
  // The letters of the link taken away, nothing is left of it; undo brings it back.
  await button(page, 'Write').click();
  await page.keyboard.press('t');
  const word = (await page.locator('.page-link').boundingBox())!;
  await page.mouse.click(word.x + 3, word.y + word.height / 2);
  await expect(editor()).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Backspace');
  await expect(link).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await link.waitFor();
});

test('a number and an address of the text are called and written to', async () => {
  await begin();
  await caretAt(0.2, 0.2);
  // A number that nobody has: Ofcom, "Telephone numbers for drama use", London.
  await page.keyboard.type('Ring +44 20 7946 0018');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Write to office@harbour.example');
  await page.keyboard.press('Escape');
  await saved(page);
  // Where the page is sent is noted, and it stays.
  await page.evaluate(() => {
    const went: string[] = [];
    Object.assign(window, { went });
    (window as unknown as { navigation: EventTarget }).navigation.addEventListener('navigate', (e) => {
      went.push((e as unknown as { destination: { url: string } }).destination.url);
      e.preventDefault();
    });
  });
  const went = () => page.evaluate(() => (window as unknown as { went: string[] }).went);
  await button(page, 'What to do with this note').click();
  await button(page, 'Show text').click();
  const text = page.getByTestId('note-text');
  await text.getByRole('tab', { name: 'To do, dates, numbers' }).click();
  await text.getByRole('button', { name: /^Call/ }).click();
  await expect.poll(went).toEqual(['tel:+442079460018']);
  await text.getByRole('button', { name: /^Write/ }).click();
  await expect.poll(went).toEqual(['tel:+442079460018', 'mailto:office@harbour.example']);
});
