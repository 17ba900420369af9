/** Pens, eraser, lasso, room, tidying, shapes, ruler, fill: driven by pen, mouse and finger at both sizes, checked on disk. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { pointsOf, type Stroke } from '../../src/core/ink/stroke';
import { blankNote, button, Pen, PHONE, recordNew, saved, startBrowser, startServer, WIDE, press } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { along, around, drawWith, type Hand, type Spot } from '../helpers/hands';
import { inkSeen } from '../helpers/inkSeen';
import { pageErrors } from '../helpers/tap';

let server: Awaited<ReturnType<typeof startServer>>;
let context: BrowserContext;
let page: Page;
let pen: Pen;
/** px per mm, and the page's corner in the view, px. */
let k: number;
let corner: Spot;

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

async function begin(viewport = PHONE, start: (page: Page) => Promise<void> = blankNote): Promise<void> {
  context = await startBrowser({ viewport });
  page = context.pages()[0];
  await page.goto(server.url);
  await start(page);
  pen = await Pen.on(page);
  await measure();
}

async function measure(): Promise<void> {
  const box = (await page.getByTestId('page-1').boundingBox())!;
  k = box.width / 210;
  corner = { x: box.x, y: box.y };
}

/** A place of the page in mm as one of the view in px. */
const at = (x: number, y: number): Spot => ({ x: corner.x + x * k, y: corner.y + y * k });
const mm = (points: readonly (readonly [number, number])[], step = 6): Spot[] => along(points.map(([x, y]) => at(x, y)), step);

async function strokes(n: number): Promise<readonly Stroke[]> {
  await expect.poll(async () => (await inkOnDisk(page)).length).toBe(n);
  await saved(page);
  return [...((await inkOnDisk(page)) as Stroke[])].sort((a, b) => a.wall - b.wall || a.box[0] - b.box[0]);
}
const plain = (list: readonly Stroke[]) => [...list].sort((a, b) => (a.id < b.id ? -1 : 1)).map(({ s: _s, past: _past, ...it }) => ({ ...it, pts: [...it.pts] }));
const stampsOf = (list: readonly Stroke[]) => list.map(({ stamp, wall }) => ({ stamp, wall }));

/** A word of three arches on the line at `y` mm. */
const word = async (x: number, y: number): Promise<void> => pen.scribble(at(x, y).x, at(x, y).y - 4 * k, 12 * k, 4 * k);

const HANDS: readonly (readonly [Hand, { width: number; height: number }, string])[] = [
  ['pen', PHONE, 'phone'],
  ['mouse', WIDE, 'wide'],
  ['finger', PHONE, 'phone'],
];

for (const [hand, viewport, size] of HANDS) {
  test(`an area is erased with the ${hand} (${size}): the parts keep stamp and times, the pen returns, one undo gives the stroke back`, async () => {
    await begin(viewport, hand === 'pen' ? recordNew : blankNote);
    await drawWith(hand, page, pen, mm([[30, 50], [90, 52]]));
    const before = await strokes(1);
    await button(page, 'Eraser').click();
    await button(page, 'Area, 5 mm').click();
    await drawWith(hand, page, pen, mm([[60, 38], [60, 64]]));
    const [left, right] = await strokes(2);
    // What was rubbed is a band as wide as the eraser; both ends of the gap stand half of it from its middle.
    expect(Math.abs(left.box[2] - 57.5)).toBeLessThan(0.3);
    expect(Math.abs(right.box[0] - 62.5)).toBeLessThan(0.3);
    expect(stampsOf([left, right])).toEqual([...stampsOf(before), ...stampsOf(before)]);
    if (hand === 'pen') expect(left.stamp).not.toBeNull();
    const times = new Set(pointsOf(before[0]).t);
    expect([...pointsOf(left).t].slice(0, -1).every((t) => times.has(t))).toBe(true);
    expect([...pointsOf(right).t].slice(1).every((t) => times.has(t))).toBe(true);
    await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'false');
    await button(page, 'Undo').click();
    expect(plain(await strokes(1))).toEqual(plain(before));
    await press(page, 'Redo');
    await strokes(2);
  });
}

test('the side button erases while it is held; the eraser can spare all but highlighter, and can stay in hand', async () => {
  await begin();
  await pen.stroke(mm([[30, 50], [90, 50]]));
  await page.keyboard.press('5');
  await pen.stroke(mm([[30, 60], [90, 61]]));
  const [, light] = await strokes(2);
  expect(light.pen.kind).toBe('highlighter');
  // It keeps straight: all of its points on one level.
  expect(light.box[3] - light.box[1]).toBeLessThan(0.02);
  await button(page, 'Eraser').click();
  await button(page, 'Only highlighter').click();
  await button(page, 'Pen returns after erasing').click();
  await pen.stroke(mm([[60, 40], [60, 70]]));
  const [ink] = await strokes(1);
  expect(ink.pen.kind).toBe('ball');
  await expect(button(page, 'Eraser')).toHaveAttribute('aria-pressed', 'true');
  await button(page, 'Only highlighter').click();
  await page.keyboard.press('1');
  await pen.sideStroke(mm([[60, 40], [60, 60]]));
  await strokes(0);
  await expect(page.getByRole('button', { name: /^Pens, in hand: Navy ballpoint/ })).toHaveAttribute('aria-pressed', 'true');
});

test('a pen is changed in its place in the cup, named, copied, moved, taken out and put back; it writes as set', async () => {
  await begin();
  await press(page, 'Pen cup');
  await page.getByRole('button', { name: 'Change Green fountain pen, 0.5 mm' }).click();
  await page.getByLabel('Name of the pen').fill('definitions');
  await button(page, 'Calligraphy').click();
  await page.getByLabel('Colour by code').fill('#9a1');
  await expect(page.getByText('A colour code is # and six digits', { exact: false })).toBeVisible();
  await page.getByLabel('Colour by code').fill('#9a1b7c');
  await page.getByRole('slider', { name: 'Width' }).press('End');
  await button(page, 'Close Pen').click();
  const chip = page.getByRole('button', { name: /definitions: #9a1b7c calligraphy, 4 mm$/ });
  await expect(chip).toHaveText('definitions');
  await word(40, 60);
  const [{ pen: written }] = await strokes(1);
  expect(written).toEqual({ kind: 'chisel', color: '#9a1b7c', width: 4, angle: 40 });
  await press(page, 'Pen cup');
  await button(page, 'Add a pen').click();
  await button(page, 'Back').click();
  await button(page, 'Move #9a1b7c calligraphy, 4 mm up').click();
  await page.getByRole('button', { name: 'Take definitions: #9a1b7c calligraphy, 4 mm out of the cup' }).click();
  await button(page, 'Put it back').click();
  await button(page, 'Close Pen cup').click();
  await page.reload();
  // Kept over a reload: the copy stands second, the named pen third; keys take them.
  await page.getByTestId('page-1').waitFor();
  await page.keyboard.press('3');
  await expect(chip).toHaveAttribute('aria-pressed', 'true');
});

test('a word scratched out goes when that is switched on, says so, and comes back by one touch', async () => {
  await begin();
  await word(40, 48);
  await word(70, 48);
  await strokes(2);
  const scratch = mm(Array.from({ length: 12 }, (_, i) => [i % 2 ? 84 : 68, 43 + 0.6 * i] as const), 8);
  await pen.stroke(scratch);
  await strokes(3);
  await button(page, 'Undo').click();
  await button(page, 'Back to Today').click();
  await page.getByText('Settings').click();
  await page.getByRole('switch', { name: 'Scratching a word out deletes it' }).click();
  await page.goBack();
  await page.getByRole('button', { name: /^Open / }).first().click();
  await page.getByTestId('page-1').waitFor();
  await measure();
  const before = await strokes(2);
  // The words of the page are found a moment after it opens; its margin then has a line for them.
  await page.getByRole('button', { name: 'Line written without sound' }).first().waitFor();
  await pen.stroke(scratch);
  await expect(page.getByText('A word was scratched out.')).toBeVisible();
  const [left] = await strokes(1);
  expect(left.box[2]).toBeLessThan(60);
  await page.getByRole('status').filter({ hasText: 'A word was scratched out.' }).getByRole('button', { name: 'Undo' }).click();
  expect(plain(await strokes(2))).toEqual(plain(before));
});

for (const [hand, viewport, size] of HANDS) {
  test(`lasso with the ${hand} (${size}): a loop takes a word; it is moved, nudged, scaled, turned; stamps stay`, async () => {
    await begin(viewport, hand === 'pen' ? recordNew : blankNote);
    const write = async (x: number, y: number) => drawWith(hand, page, pen, mm([[x, y], [x + 3, y - 4], [x + 6, y], [x + 9, y - 4], [x + 12, y]], 3));
    await write(40, 60);
    await write(90, 60);
    const before = await strokes(2);
    await button(page, 'Lasso').click();
    await drawWith(hand, page, pen, mm([[34, 50], [58, 50], [58, 66], [34, 66], [34, 51]], 10));
    const frame = page.getByTestId('selection');
    await expect(frame).toHaveAttribute('aria-label', /^Selection of 1 stroke\./);
    await drawWith(hand, page, pen, mm([[46, 58], [56, 88]], 10));
    let [a, b] = await strokes(2);
    await expect.poll(async () => ([a, b] = await strokes(2))[0].box[1] > 80).toBe(true);
    expect(Math.abs(a.box[0] - (before[0].box[0] + 10))).toBeLessThan(0.8);
    expect(Math.abs(a.box[1] - (before[0].box[1] + 30))).toBeLessThan(0.8);
    expect(b).toEqual(before[1]);
    await frame.press('Shift+ArrowRight');
    await expect.poll(async () => Math.abs((await strokes(2))[0].box[0] - a.box[0] - 5) < 0.05).toBe(true);
    [a] = await strokes(2);
    const wide = a.box[2] - a.box[0];
    await button(page, 'Scale selection').press('ArrowRight');
    await expect.poll(async () => Math.abs((await strokes(2))[0].box[2] - (await strokes(2))[0].box[0] - 1.05 * wide) < 0.1).toBe(true);
    const handle = (await button(page, 'Turn selection').boundingBox())!;
    const body = (await frame.boundingBox())!;
    await drawWith(hand, page, pen, along([{ x: handle.x + 22, y: handle.y + 22 }, { x: body.x + body.width / 2 + 90, y: body.y + body.height / 2 }], 10));
    // A quarter turn: what was wide is tall.
    await expect.poll(async () => (([s]) => s.box[3] - s.box[1] > 1.5 * (s.box[2] - s.box[0]))(await strokes(2))).toBe(true);
    expect(stampsOf(await strokes(2))).toEqual(stampsOf(before));
    expect((await strokes(2)).map((s) => [...pointsOf(s).t])).toEqual(before.map((s) => [...pointsOf(s).t]));
    for (let i = 0; i < 4; i++) await button(page, 'Undo').click();
    await expect.poll(async () => plain(await strokes(2))).toEqual(plain(before));
  });
}

test('lasso by touch: a word, another, a line; look, duplicate, group, delete; all by undo', async () => {
  await begin(WIDE);
  for (const [x, y] of [[40, 56], [56, 56], [72, 56], [40, 72]]) await word(x, y);
  const before = await strokes(4);
  await expect(page.getByRole('button', { name: 'Line written without sound' })).toHaveCount(2);
  await button(page, 'Lasso').click();
  const frame = page.getByTestId('selection');
  const touch = (x: number, y: number) => page.mouse.click(at(x, y).x, at(x, y).y);
  const mid = before[0].box[1] + 0.5 * (before[0].box[3] - before[0].box[1]);
  await touch(46, mid);
  await expect(frame).toHaveAttribute('aria-label', /^Selection of 1 stroke/);
  // The frame takes touches on what is selected; a press that does not move passes them on to the lasso.
  await touch(46, mid);
  await expect(frame).toHaveAttribute('aria-label', /^Selection of 3 strokes/);
  await button(page, 'Look').click();
  await button(page, 'Red').click();
  await button(page, 'Dashed line').click();
  await button(page, 'Close Look of the selection').click();
  await expect.poll(async () => (await strokes(4)).filter(({ pen: p }) => p.color === '#b5382a' && p.line === 'dashed').length).toBe(3);
  await button(page, 'Group').click();
  await page.keyboard.press('Escape');
  await expect(frame).toHaveCount(0);
  await touch(46, mid);
  await expect(frame).toHaveAttribute('aria-label', /^Selection of 3 strokes/);
  await button(page, 'Ungroup').click();
  await button(page, 'Duplicate').click();
  await strokes(7);
  await page.keyboard.press('Delete');
  await strokes(4);
  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+z');
  await expect.poll(async () => plain(await strokes(4))).toEqual(plain(before));
});

test('a selection is saved as a picture, with and without the paper', async () => {
  await begin();
  await word(40, 60);
  await strokes(1);
  await page.keyboard.press('Control+a');
  const picture = async (name: string) => {
    await button(page, 'Picture').click();
    const [download] = await Promise.all([page.waitForEvent('download'), button(page, name).click()]);
    const stream = await download.createReadStream();
    const parts: Buffer[] = [];
    for await (const part of stream) parts.push(part as Buffer);
    const bytes = Buffer.concat(parts);
    // PNG (ISO/IEC 15948): signature, then IHDR with width and height.
    expect(bytes.subarray(1, 4).toString()).toBe('PNG');
    const size = [bytes.readUInt32BE(16), bytes.readUInt32BE(20)];
    const corner = await page.evaluate(async (b64) => {
      const image = new Image();
      image.src = `data:image/png;base64,${b64}`;
      await image.decode();
      const c = document.createElement('canvas');
      [c.width, c.height] = [image.width, image.height];
      const ctx = c.getContext('2d')!;
      ctx.drawImage(image, 0, 0);
      const data = ctx.getImageData(0, 0, c.width, c.height).data;
      let dark = 0;
      for (let i = 0; i < data.length; i += 4) if (data[i + 3] > 200 && data[i] < 80) dark++;
      return { alpha: data[3], dark };
    }, bytes.toString('base64'));
    return { size, ...corner };
  };
  const without = await picture('Save without the paper');
  const withPaper = await picture('Save with the paper');
  expect(without.alpha).toBe(0);
  expect(withPaper.alpha).toBe(255);
  expect(without.dark).toBeGreaterThan(100);
  // 300 to the inch: the word is 12 mm wide, and there is air around it.
  expect(withPaper.size[0]).toBeGreaterThan((12 * 300) / 25.4);
  expect(withPaper.size).toEqual(without.size);
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await button(page, 'Picture').click();
  await button(page, 'Copy with the paper').click();
  await expect(page.getByText('The picture is on the clipboard.')).toBeVisible();
  expect(await page.evaluate(async () => (await navigator.clipboard.read()).flatMap((item) => item.types))).toEqual(['image/png']);
});

for (const [hand, viewport, size] of HANDS.slice(0, 2)) {
  test(`room is made below a line with the ${hand} (${size}), across the end of the page, and taken back`, async () => {
    await begin(viewport);
    for (const y of [48, 64, 80]) await word(40, y);
    await page.keyboard.press('Control+0');
    await expect(page.getByRole('button', { name: 'Line written without sound' })).toHaveCount(3);
    const before = await strokes(3);
    const spacing = 8;
    await press(page, 'Make room');
    await drawWith(hand, page, pen, mm([[120, 54], [120, 54 + 3 * spacing]], 8));
    await expect.poll(async () => (await strokes(3))[2].box[1]).toBeGreaterThan(90);
    const after = await strokes(3);
    expect(after[0]).toEqual(before[0]);
    for (const i of [1, 2]) expect(after[i].box[1] - before[i].box[1]).toBeCloseTo(3 * spacing, 1);
    expect(stampsOf(after)).toEqual(stampsOf(before));
    await button(page, 'Undo').click();
    await expect.poll(async () => plain(await strokes(3))).toEqual(plain(before));
    // Pushed beyond the foot of the page the lines go to the head of the next.
    await drawWith(hand, page, pen, mm([[120, 54], [120, 54 + 28 * spacing]], 16));
    await expect(page.getByTestId('page-2')).toHaveCount(1);
    await expect.poll(async () => new Set((await strokes(3)).map((s) => s.page)).size).toBe(2);
    await button(page, 'Undo').click();
    await expect.poll(async () => plain(await strokes(3))).toEqual(plain(before));
  });
}

test('tidying sets words onto the ruling and keeps their look', async () => {
  await begin(WIDE);
  for (const [x, y] of [[30, 49], [46, 50], [62, 51.4], [78, 52.2]]) await word(x, y);
  const before = await strokes(4);
  await page.keyboard.press('Control+a');
  await button(page, 'Tidy').click();
  const paper = { top: 24, spacing: 8 };
  const off = (s: Stroke) => Math.abs(((s.box[3] - paper.top + paper.spacing / 2) % paper.spacing) - paper.spacing / 2);
  await expect.poll(async () => Math.max(...(await strokes(4)).map(off))).toBeLessThan(0.6);
  const after = await strokes(4);
  after.forEach((s, i) => expect(Math.abs(s.box[2] - s.box[0] - (before[i].box[2] - before[i].box[0]))).toBeLessThan(0.8));
  expect(stampsOf(after)).toEqual(stampsOf(before));
  await button(page, 'Undo').click();
  await expect.poll(async () => plain(await strokes(4))).toEqual(plain(before));
});

const label = () => page.locator('.tool-label');

test('held still, a stroke becomes its shape with its size in mm; without the hold it stays ink', async () => {
  await begin();
  const box: readonly (readonly [number, number])[] = [[40, 50], [90, 51], [89.5, 80], [40.5, 79], [40, 50.5]];
  await pen.stroke(mm(box));
  expect((await strokes(1))[0].shape).toBeUndefined();
  await button(page, 'Undo').click();
  await pen.strokeHeld(mm(box), () => expect(label()).toHaveText(/^(49|50)\.\d × (28|29|30)\.\d mm$/));
  let [rectangle] = await strokes(1);
  expect(rectangle.shape?.name).toBe('rectangle');
  await pen.strokeHeld(around(at(150, 65).x, at(150, 65).y, 18 * k, 18 * k), () => expect(label()).toHaveText(/^⌀ 3[5-7]\.\d mm$/));
  // A line from the one to the other holds on to both.
  await pen.strokeHeld(mm([[90, 65], [131, 65.4]]), () => expect(label()).toHaveText(/ mm, (0|180|360)°$/));
  let [, , line] = await strokes(3);
  expect(line.shape).toMatchObject({ name: 'line', from: { to: rectangle.id } });
  expect(line.shape!.to).toBeDefined();
  const drawn = [...pointsOf(rectangle).t];

  await press(page, 'Shapes');
  await page.mouse.click(at(60, 65).x, at(60, 65).y);
  await expect(page.getByTestId('selection')).toBeVisible();
  const stamp = stampsOf([rectangle]);
  // Its corner is pulled: the size is shown, and the line comes along.
  const corners = await Promise.all([1, 2, 3, 4].map((n) => button(page, `Corner ${n} of the rectangle`).boundingBox()));
  const handle = corners.map((c) => c!).sort((a, b) => b.x + b.y - a.x - a.y)[0];
  const [cx, cy] = [handle.x + handle.width / 2, handle.y + handle.height / 2];
  await pen.strokeHeld(along([{ x: cx, y: cy }, { x: cx - 10 * k, y: cy + 15 * k }], 8), () => expect(label()).toHaveText(/ × .* mm$/));
  await expect.poll(async () => (await strokes(3))[0].box[3]).toBeGreaterThan(90);
  [rectangle, , line] = await strokes(3);
  expect(stampsOf([rectangle])).toEqual(stamp);
  const [x0, y0] = line.shape!.at[0];
  expect(Math.min(Math.abs(x0 - rectangle.box[2]), Math.abs(x0 - rectangle.box[0]))).toBeLessThan(0.1);
  expect(y0 > rectangle.box[1] - 0.1 && y0 < rectangle.box[3] + 0.1).toBe(true);
  await button(page, 'Dashed outline').click();
  await button(page, 'Fill Straw').click();
  await expect.poll(async () => (await strokes(3))[0].fill).toBe('#f6e3a8');
  expect((await strokes(3))[0].pen.line).toBe('dashed');
  // It replays at the pace at which it was drawn: from pen-down to pen-up.
  const t = pointsOf((await strokes(3))[0]).t;
  expect([t[0], t[t.length - 1]]).toEqual([drawn[0], drawn[drawn.length - 1]]);
});

test('a line gets an arrow head at either end or both, on disk and to be seen', async () => {
  await begin(WIDE);
  await pen.strokeHeld(mm([[50, 60], [100, 60]]), () => expect(label()).toHaveText(/ mm, (0|180|360)°$/));
  const [line] = await strokes(1);
  const [a, b] = line.shape!.at;
  const [left, right] = a[0] < b[0] ? [a, b] : [b, a];
  // Beside the line, a little behind its tips: where barbs are and the line is not.
  const barbs = ([x, y]: readonly [number, number], back: number): (readonly [number, number])[] => [-1, 1].map((side) => [x + 1.7 * back, y + side * 1.7 * Math.tan(0.45)]);
  const places = [...barbs(left, 1), ...barbs(right, -1)];
  const seen = async () => (await inkSeen(page, 1, places)).map(Boolean);
  expect(await seen()).toEqual([false, false, false, false]);
  await press(page, 'Shapes');
  await page.mouse.click(at(75, 60).x, at(75, 60).y);
  await expect(page.getByTestId('selection')).toBeVisible();
  const first = a[0] < b[0];
  for (const [name, heads, wanted] of [
    ['the end', 'end', first ? [false, false, true, true] : [true, true, false, false]],
    ['the start', 'start', first ? [true, true, false, false] : [false, false, true, true]],
    ['both ends', 'both', [true, true, true, true]],
  ] as const) {
    await button(page, `Arrow head at ${name}`).click();
    await expect.poll(async () => (await strokes(1))[0].shape).toMatchObject({ name: 'arrow', heads });
    await expect.poll(seen).toEqual(wanted);
  }
  await button(page, 'Arrow head at both ends').click();
  await expect.poll(seen).toEqual([false, false, false, false]);
  expect((await strokes(1))[0].shape).toEqual(line.shape);
});

test('a closed area is filled, a freehand loop too; an open one is not, and says so', async () => {
  await begin(WIDE);
  await pen.stroke(around(at(60, 70).x, at(60, 70).y, 20 * k, 14 * k));
  await pen.stroke(mm([[110, 50], [160, 50], [160, 90]]));
  await strokes(2);
  await press(page, 'Shapes');
  await button(page, 'Fill an area').click();
  await button(page, 'Sky').click();
  await page.mouse.click(at(60, 70).x, at(60, 70).y);
  await expect.poll(async () => (await strokes(2))[0].fill).toBe('#9ccbe8');
  await page.mouse.click(at(130, 70).x, at(130, 70).y);
  await expect(page.getByText('This area is not closed', { exact: false })).toBeVisible();
  // Two strokes that close an area between them.
  await page.keyboard.press('1');
  await pen.stroke(mm([[160, 90], [110, 90], [110, 50]]));
  await page.keyboard.press('f');
  await page.mouse.click(at(135, 70).x, at(135, 70).y);
  const all = await strokes(4);
  const area = all.find((s) => s.fill && s.box[0] > 100)!;
  // 50 mm by 40 mm, to the middle of its lines.
  expect(Math.abs(area.box[2] - area.box[0] - 50)).toBeLessThan(1);
  expect(Math.abs(area.box[3] - area.box[1] - 40)).toBeLessThan(1);
});

test('the ruler lies on the page in true millimetres, shows its angle and leads the pen', async () => {
  await begin(WIDE);
  await press(page, 'Zoom');
  await button(page, 'True size').click();
  await button(page, 'Close Zoom').click();
  await expect(page.getByTestId('zoom-value')).toHaveText('100 %');
  await press(page, 'Ruler');
  const ruler = page.getByTestId('ruler');
  const box = (await ruler.boundingBox())!;
  // 150 mm long at 96 px to the inch (CSS Values and Units 4, section 5.2).
  expect(Math.abs(box.width - (150 * 96) / 25.4)).toBeLessThan(1);
  expect(Math.abs((await page.getByTestId('page-1').boundingBox())!.width - (210 * 96) / 25.4)).toBeLessThan(1);
  await measure();
  const marks = await page.locator('.ruler-marks').evaluate((e) => ((m) => [m.a, m.d, m.e])((e as SVGSVGElement).getScreenCTM()!));
  expect(marks[0]).toBeCloseTo(96 / 25.4, 2);
  expect(marks[1]).toBeCloseTo(96 / 25.4, 1);
  expect(Math.abs(marks[2] - box.x)).toBeLessThan(0.5);
  // A trembling hand along the upper edge draws a straight line.
  const y = box.y - 6;
  await pen.stroke(Array.from({ length: 30 }, (_, i) => ({ x: box.x + 60 + 10 * i, y: y + 7 * Math.sin(i * 1.7) })));
  const [line] = await strokes(1);
  expect(line.box[3] - line.box[1]).toBeLessThan(0.03);
  expect(Math.abs(line.box[3] - ((box.y - corner.y) / k - line.pen.width / 2))).toBeLessThan(0.4);
  await ruler.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press(']');
  await expect(page.locator('.ruler-words')).toHaveText(/^177° · 150 mm$/);
  const knob = (await button(page, 'Turn ruler').boundingBox())!;
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  await drawWith('pen', page, pen, along([{ x: knob.x + 22, y: knob.y + 22 }, { x: middle.x + 200, y: middle.y - 199 }], 12));
  await expect(page.locator('.ruler-words')).toHaveText(/^45° · 150 mm$/);
});
