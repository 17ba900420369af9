/** Small promises of the README, each seen to hold: the pen's hand, the meter, the timeline's pinch, papers, dark, old backups, a folder's backup, other browsers' habits. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { pointsOf } from '../../src/core/ink/stroke';
import { blankNote, button, Pen, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder, WIDE, type BrowserOptions, press } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { headersOnDisk, strokesOnDisk } from '../helpers/disk';
import { place, write } from '../helpers/spelled';
import { pageErrors } from '../helpers/tap';

let server: Awaited<ReturnType<typeof startServer>>;
test.beforeAll(async () => {
  server = await startServer('loose');
});
test.afterAll(async () => {
  await server.close();
});

async function open(options: BrowserOptions = {}) {
  const context = await startBrowser(options);
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3);
  return { context, page };
}
let demoStrokes = 0;
/** The strokes of this test, the newest first. */
const mine = async (page: Page, n: number) => {
  await expect.poll(async () => (await strokesOnDisk(page)).length - demoStrokes).toBe(n);
  return [...(await strokesOnDisk(page))].sort((a, b) => b.wall - a.wall).slice(0, n);
};

test('a pen’s pressure and every point between two frames are kept; its eraser end erases; steadiness calms the hand', async () => {
  const { context, page } = await open();
  demoStrokes = (await strokesOnDisk(page)).length;
  await blankNote(page);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await page.evaluate(() => {
    const w = window as unknown as { moves: number[] };
    w.moves = [0, 0];
    window.addEventListener('pointermove', (e) => (w.moves[0]++, (w.moves[1] += e.getCoalescedEvents().length)), true);
  });
  // The page is slower than the pen: several moves come in one event.
  const line = Array.from({ length: 60 }, (_, i) => ({ x: box.x + 30 + 4 * i, y: box.y + 100 + 20 * Math.sin(i / 3) }));
  await page.evaluate(() => window.addEventListener('pointermove', () => { for (const until = performance.now() + 30; performance.now() < until; ); }, { once: true, capture: true }));
  await pen.rush(line, 0.9);
  const [hard] = await mine(page, 1);
  const [events, coalesced] = (await page.evaluate('window.moves')) as [number, number];
  expect(coalesced, 'moves that came in fewer events').toBeGreaterThan(events);
  expect(pointsOf(hard).n).toBeGreaterThan(events);
  await pen.stroke(line.map((p) => ({ ...p, y: p.y + 60 })), 0.2);
  const [soft] = await mine(page, 2);
  const middle = (s: typeof soft) => pointsOf(s).p[pointsOf(s).n >> 1];
  expect(middle(hard)).toBeGreaterThan(middle(soft) + 40);

  // The eraser end (Pointer Events, section 4.1.3: button 5, buttons 32), which the browser's remote control cannot press.
  await page.mouse.move(box.x + 100, box.y + 400);
  await page.evaluate(
    ([x, y]) => {
      const el = document.elementFromPoint(x, y)!;
      const send = (type: string, dx: number, buttons: number) => el.dispatchEvent(new PointerEvent(type, { bubbles: true, cancelable: true, pointerId: 1, pointerType: 'pen', isPrimary: true, button: type === 'pointermove' ? -1 : 5, buttons, clientX: x + dx, clientY: y, pressure: 0.5 }));
      send('pointerdown', 0, 32);
      for (let i = 1; i <= 10; i++) send('pointermove', 4 * i, 32);
      send('pointerup', 40, 0);
    },
    [box.x + 30 + 40, box.y + 160 + 20 * Math.sin(10 / 3)],
  );
  await mine(page, 1);
  await button(page, 'Undo').click();
  await mine(page, 2);

  // The same trembling line with a steady pen is calmer.
  const tremble = Array.from({ length: 60 }, (_, i) => ({ x: box.x + 30 + 4 * i, y: box.y + 260 + (i % 2 ? 5 : -5) }));
  await pen.stroke(tremble);
  const [loose] = await mine(page, 3);
  await press(page, 'Pen cup');
  await page.getByRole('button', { name: /^Change Navy/ }).first().click();
  await page.getByRole('slider', { name: 'Steadiness' }).press('End');
  await button(page, 'Close Pen').click();
  await pen.stroke(tremble.map((p) => ({ ...p, y: p.y + 60 })));
  const [steady] = await mine(page, 4);
  const way = (s: typeof soft) => {
    const { n, xy } = pointsOf(s);
    let sum = 0;
    for (let i = 2; i < n; i++) sum += Math.abs(xy[2 * i + 1] - xy[2 * i - 1]);
    return sum;
  };
  expect(way(steady)).toBeLessThan(way(loose) / 2);
  await context.close();
});

test('the level of the microphone is shown while it records; the timeline is widened by two fingers and by the wheel', async () => {
  const { context, page } = await open({ microphone: spelledMicrophone(tempFolder(), 30) });
  await recordNew(page);
  const meter = page.getByRole('meter', { name: 'Microphone level' });
  await expect.poll(async () => Number(await meter.getAttribute('aria-valuenow'))).toBeGreaterThan(12);
  await expect(meter).toHaveAttribute('aria-valuetext', 'good');
  await button(page, 'Pause recording').click();
  await expect(meter).toHaveAttribute('aria-valuetext', 'paused');
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  const timeline = page.getByTestId('timeline');
  const span = () => timeline.evaluate((e) => Number(e.dataset.to) - Number(e.dataset.from));
  const before = await span();
  const box = (await timeline.boundingBox())!;
  const pen = await Pen.on(page);
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const at = (d: number) => [{ x: x - d, y }, { x: x + d, y }];
  await pen.fingers('touchStart', at(20));
  for (let d = 24; d <= 80; d += 4) await pen.fingers('touchMove', at(d));
  await pen.fingers('touchEnd', []);
  await expect.poll(span).toBeLessThan(before / 2);
  const pinched = await span();
  await page.mouse.move(x, y);
  await page.keyboard.down('Control');
  await page.mouse.wheel(0, 600);
  await page.keyboard.up('Control');
  await expect.poll(span).toBeGreaterThan(pinched * 1.5);
  await context.close();
});

test('isometric, music and week papers and sizes of one’s own are papers like any other', async () => {
  const { context, page } = await open();
  await blankNote(page);
  for (const [name, kind] of [['Isometric', 'isometric'], ['Music', 'staves'], ['Week', 'week']] as const) {
    await press(page, 'Paper');
    await page.getByRole('radio', { name, exact: true }).click();
    await button(page, 'Use this paper').click();
    await expect.poll(async () => (await headersOnDisk(page)).find((h) => !h.demo)!.pages[0].paper.kind).toBe(kind);
    // Lines are there: the page is not all of one colour.
    const colours = await page.locator('[data-testid="page-1"] canvas').first().evaluate((c) => new Set(new Uint32Array((c as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, (c as HTMLCanvasElement).width, (c as HTMLCanvasElement).height).data.buffer)).size);
    expect([kind, colours > 1]).toEqual([kind, true]);
  }
  await press(page, 'Paper');
  await page.getByLabel('Size').selectOption({ label: 'A size of your own' });
  await page.getByLabel('Width in millimetres').fill('123');
  await page.getByLabel('Height in millimetres').fill('234');
  await button(page, 'Use this paper').click();
  await expect.poll(async () => (({ w, h }) => [w, h])((await headersOnDisk(page)).find((h) => !h.demo)!.pages[0])).toEqual([123, 234]);
  const { width, height } = (await page.getByTestId('page-1').boundingBox())!;
  expect(height / width).toBeCloseTo(234 / 123, 1);
  await context.close();
});

/** Contrast of two colours (WCAG 2.2, relative luminance). */
function contrast(a: string, b: string): number {
  const luminance = (css: string): number => {
    const [r, g, bl] = css.match(/[\d.]+/g)!.map(Number).map((v) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4));
    return 0.2126 * r + 0.7152 * g + 0.0722 * bl;
  };
  const [hi, lo] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (hi + 0.05) / (lo + 0.05);
}

test('the dark interface is dark on every screen and its words stand out', async () => {
  const { context, page } = await open({ dark: true });
  for (const tab of ['Today', 'Library', 'Review', 'Settings']) {
    await page.getByRole('tab', { name: tab }).click();
    const heading = page.getByRole('heading', { level: 1 }).filter({ visible: true });
    const [ink, ground] = await heading.first().evaluate((e) => {
      let at: Element | null = e;
      while (at && /rgba\(0, 0, 0, 0\)|transparent/.test(getComputedStyle(at).backgroundColor)) at = at.parentElement;
      return [getComputedStyle(e).color, getComputedStyle(at ?? document.body).backgroundColor];
    });
    expect([tab, contrast(ground, 'rgb(0,0,0)') < 2, contrast(ink, ground) > 7]).toEqual([tab, true, true]);
  }
  await context.close();
});

test('a backup of a folder has its notes alone; that notes were never backed up is said after some weeks', async () => {
  const { context, page } = await open({ viewport: WIDE });
  await page.getByRole('tab', { name: 'Library' }).click();
  await button(page, 'New folder').click();
  await page.getByLabel('Name of the folder').fill('Buoyage');
  await button(page, 'Save').click();
  await button(page, 'Select').click();
  await page.getByLabel(/^Choose Tides/).check();
  await button(page, 'Move').click();
  await button(page, 'Into Buoyage').click();
  const download = page.waitForEvent('download');
  await button(page, 'What to do with the folder Buoyage').click();
  await button(page, 'Back up this folder').click();
  const file = path.join(tempFolder(), 'folder.zip');
  await (await download).saveAs(file);
  expect(execFileSync('unzip', ['-Z1', file]).toString().split('\n').filter((n) => n.startsWith('notes/'))).toEqual(['notes/demo-tides-0000000001.scrivo']);

  await page.getByRole('tab', { name: 'Today' }).click();
  await blankNote(page);
  await write(page, await Pen.on(page), 0, 1, 0);
  await saved(page);
  await button(page, 'Back to Today').click();
  await expect(page.getByText('Your notes have never been backed up.')).toHaveCount(0);
  await page.clock.setSystemTime(Date.now() + 40 * 86_400_000);
  await page.reload();
  await expect(page.getByText('Your notes have never been backed up.')).toBeVisible();
  await context.close();
});

for (const [habit, options] of [
  ['with motion', { motion: true }],
  ['where nothing plays by itself', { autoplay: false }],
  ['where the microphone is asked for', { asks: true }],
] as const) {
  test(`recorded, written and heard ${habit}`, async () => {
    const { context, page } = await open({ ...options, microphone: spelledMicrophone(tempFolder(), 30) });
    await recordNew(page);
    await write(page, await Pen.on(page), 0, 4, 500);
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    await saved(page);
    await page.reload();
    await button(page, 'Listen').click();
    await page.getByRole('slider', { name: 'Playback position' }).waitFor();
    const box = (await page.getByTestId('page-1').boundingBox())!;
    await (await Pen.on(page)).touch(box.x + place(1).x + 10, box.y + place(1).y + 4);
    await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 0.3 && !document.querySelector('audio')!.paused);
    await context.close();
  });
}

test('what goes wrong in a page is noticed, and what its policy forbids, also after the page was left', async () => {
  const { context, page } = await open();
  await page.evaluate(() => {
    const script = document.createElement('script');
    script.textContent = 'window.inline = true';
    document.body.append(script);
    setTimeout(() => {
      throw new Error('thrown on purpose');
    });
    void Promise.reject(new Error('rejected on purpose'));
  });
  const troubles = await pageErrors(page);
  await expect.poll(() => troubles.length).toBe(3);
  await page.goto(server.url);
  expect((await pageErrors(page)).join(' ')).toMatch(/Content Security Policy/);
  expect(troubles.join(' ')).toMatch(/thrown on purpose/);
  expect(troubles.join(' ')).toMatch(/rejected on purpose/);
  expect(await page.evaluate('window.inline')).toBeUndefined();
  await expect(context.close()).rejects.toThrow('something went wrong');
});
