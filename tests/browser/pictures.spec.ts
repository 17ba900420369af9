/** Pictures on the page: upright whatever the camera wrote, without the place where they were taken, moved and cropped, and playing their moment. */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { readInk } from '../../src/core/note/records/inkChunk';
import type { Picture } from '../../src/core/note/kinds/picture';
import { atRest, blankNote, button, Pen, PHONE, recordNew, saved, startBrowser, startServer, tempFolder, WIDE } from '../helpers/app';
import { headersOnDisk, inkOnDisk, records, strokesOnDisk } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

let server: Awaited<ReturnType<typeof startServer>>;
let folder: string;
test.beforeAll(async () => {
  server = await startServer();
  folder = tempFolder();
});
test.afterAll(() => server.close());

/** A JPEG of 320 x 200 with a red upper left, a green upper right, a blue lower left and a white lower right quarter as it is stored. */
function quarters(): Buffer {
  const file = path.join(folder, 'quarters.jpg');
  const part = (c: string) => `color=c=${c}:s=160x100`;
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', part('red'), '-f', 'lavfi', '-i', part('lime'), '-f', 'lavfi', '-i', part('blue'), '-f', 'lavfi', '-i', part('white'), '-filter_complex', '[0][1]hstack[a];[2][3]hstack[b];[a][b]vstack', '-frames:v', '1', '-q:v', '2', '-update', '1', file]);
  return readFileSync(file);
}

const PLACE = 'North pier, berth 4';

/** With an Exif header after the start of the image: its orientation (tag 274) and a description that names a place (tag 270). Exif 2.3, 4.5.2, 4.6.2 and 4.6.4 A. */
function oriented(jpeg: Buffer, orientation: number): Buffer {
  const text = Buffer.from(`${PLACE}\0`, 'latin1');
  const tiff = Buffer.alloc(8 + 2 + 2 * 12 + 4 + text.length);
  tiff.write('II*\0', 0, 'latin1');
  tiff.writeUInt32LE(8, 4);
  tiff.writeUInt16LE(2, 8);
  const entry = (at: number, tag: number, type: number, count: number, value: number) => {
    tiff.writeUInt16LE(tag, at);
    tiff.writeUInt16LE(type, at + 2);
    tiff.writeUInt32LE(count, at + 4);
    tiff.writeUInt32LE(value, at + 8);
  };
  entry(10, 0x010e, 2, text.length, 38);
  entry(22, 0x0112, 3, 1, orientation);
  text.copy(tiff, 38);
  const body = Buffer.concat([Buffer.from('Exif\0\0', 'latin1'), tiff]);
  const head = Buffer.alloc(4);
  head.writeUInt16BE(0xffe1, 0);
  head.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([jpeg.subarray(0, 2), head, body, jpeg.subarray(2)]);
}

/** Exif 2.3, 4.6.4 A, Orientation: the visual side of the picture at which its 0th row and its 0th column lie. */
const SIDES: readonly (readonly ['top' | 'bottom' | 'left' | 'right', 'top' | 'bottom' | 'left' | 'right'])[] = [
  ['top', 'left'],
  ['top', 'right'],
  ['bottom', 'right'],
  ['bottom', 'left'],
  ['left', 'top'],
  ['right', 'top'],
  ['right', 'bottom'],
  ['left', 'bottom'],
];
const OPPOSITE = { top: 'bottom', bottom: 'top', left: 'right', right: 'left' } as const;

async function bringIn(page: Page, files: { name: string; mimeType: string; buffer: Buffer }[], where: 'page' | 'sheet' = 'page'): Promise<void> {
  await button(page, 'What to do with this note').click();
  await button(page, 'Bring in').click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles(files);
  if (where === 'page') await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
}

async function picturesOnDisk(page: Page): Promise<Picture[]> {
  const all = await records(page, 'scrivo');
  return Object.entries(all).filter(([k]) => k.startsWith('ink/')).flatMap(([, text]) => readInk(text).placed.filter((p): p is Picture => p.kind === 'picture')).sort((a, b) => a.wall - b.wall);
}

/** Colours in the middle of the four quarters of a stored picture, upper left, upper right, lower left, lower right, and its size. */
const seen = (page: Page, text: string) =>
  page.evaluate(async (t) => {
    const bytes = Uint8Array.from(t.slice(t.indexOf('\n') + 1), (c) => c.charCodeAt(0));
    const bitmap = await createImageBitmap(new Blob([bytes]));
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    const ctx = canvas.getContext('2d')!;
    ctx.drawImage(bitmap, 0, 0);
    const name = (x: number, y: number) => {
      const [r, g, b] = ctx.getImageData(Math.round(x * bitmap.width), Math.round(y * bitmap.height), 1, 1).data;
      return r > 200 && g > 200 && b > 200 ? 'white' : r > 150 ? 'red' : g > 150 ? 'green' : 'blue';
    };
    return { w: bitmap.width, h: bitmap.height, corners: { 'top left': name(0.25, 0.25), 'top right': name(0.75, 0.25), 'bottom left': name(0.25, 0.75), 'bottom right': name(0.75, 0.75) } as Record<string, string> };
  }, text);

test('the eight ways a camera can be held come in upright, and without the place they were taken at', async () => {
  const context = await startBrowser({ viewport: WIDE });
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  const jpeg = quarters();
  await bringIn(page, SIDES.map((_, i) => ({ name: `held ${i + 1}.jpg`, mimeType: 'image/jpeg', buffer: oriented(jpeg, i + 1) })));
  await expect.poll(async () => (await picturesOnDisk(page)).length).toBe(8);
  const contents = await records(page, 'scrivo-sound');
  for (const [i, it] of (await picturesOnDisk(page)).entries()) {
    const text = contents[`content/${it.content}/0`];
    expect(text).not.toContain(PLACE);
    const { w, h, corners } = await seen(page, text);
    const [row, column] = SIDES[i];
    const at = (a: string, b: string) => corners[a === 'top' || a === 'bottom' ? `${a} ${b}` : `${b} ${a}`];
    expect({ way: i + 1, red: at(row, column), green: at(row, OPPOSITE[column]), blue: at(OPPOSITE[row], column) }).toEqual({ way: i + 1, red: 'red', green: 'green', blue: 'blue' });
    // From the fifth way on the picture stands on its side.
    expect([w, h]).toEqual(i < 4 ? [320, 200] : [200, 320]);
    expect(it.px).toEqual([w, h]);
  }
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

for (const viewport of [PHONE, WIDE]) {
  test(`a picture is put onto the page, moved, cropped, mirrored, locked, written over and taken back (${viewport.width} px)`, async () => {
    const context = await startBrowser({ viewport });
    const page = context.pages()[0];
    await page.goto(server.url);
    await blankNote(page);
    const pen = await Pen.on(page);
    await bringIn(page, [{ name: 'board.jpg', mimeType: 'image/jpeg', buffer: quarters() }]);
    await page.getByTestId('selection').waitFor();
    await expect.poll(async () => (await picturesOnDisk(page)).length).toBe(1);
    const first = (await picturesOnDisk(page))[0];
    // It keeps its shape, and lies on the sheet.
    expect(first.m[0] / first.m[3]).toBeCloseTo(1.6, 5);
    expect(first.box.every((v, i) => v >= 0 && v <= (i % 2 ? 297 : 210))).toBe(true);
    // Its colours are on the glass: red, where its red quarter lies.
    const sheet = (await page.getByTestId('page-1').boundingBox())!;
    const k = sheet.width / 210;
    const colorAt = (x: number, y: number) =>
      page.evaluate(([px, py]) => {
        for (const c of document.querySelectorAll<HTMLCanvasElement>('[data-testid="page-1"] canvas')) {
          const r = c.getBoundingClientRect();
          if (px < r.left || px >= r.right || py < r.top || py >= r.bottom || c.className) continue;
          return [...c.getContext('2d')!.getImageData(Math.round(((px - r.left) / r.width) * c.width), Math.round(((py - r.top) / r.height) * c.height), 1, 1).data];
        }
        return [0, 0, 0, 0];
      }, [sheet.x + x * k, sheet.y + y * k] as const);
    const quarter = (it: Picture, u: number, v: number) => colorAt(it.m[4] + u * it.m[0] + v * it.m[2], it.m[5] + u * it.m[1] + v * it.m[3]);
    await expect.poll(async () => (await quarter(first, 0.25, 0.25))[0]).toBeGreaterThan(200);
    expect((await quarter(first, 0.25, 0.25))[1]).toBeLessThan(60);
    // By keys: 5 mm to the left and up.
    await page.keyboard.press('Shift+ArrowUp');
    await page.keyboard.press('Shift+ArrowLeft');
    await saved(page);
    const moved = (await picturesOnDisk(page))[0];
    expect(moved.m[4]).toBeCloseTo(first.m[4] - 5, 3);
    expect(moved.m[5]).toBeCloseTo(first.m[5] - 5, 3);
    await button(page, 'Mirror').click();
    await saved(page);
    const mirror = (await picturesOnDisk(page))[0];
    expect(mirror.box.map((v) => Math.round(v * 100))).toEqual(moved.box.map((v) => Math.round(v * 100)));
    // The red quarter is on the right now.
    await expect.poll(async () => (await colorAt(mirror.box[2] - 3, mirror.box[1] + 3))[0]).toBeGreaterThan(200);
    // Cropped to its upper half by a rectangle drawn around it.
    await button(page, 'Crop').click();
    const [l, t, r, b] = mirror.box;
    const around = [[l - 2, t - 2], [r + 2, t - 2], [r + 2, (t + b) / 2], [l - 2, (t + b) / 2], [l - 2, t]] as const;
    await pen.stroke(around.map(([x, y]) => ({ x: sheet.x + x * k, y: sheet.y + y * k })));
    await expect.poll(async () => (await picturesOnDisk(page))[0].crop?.length).toBe(8);
    const half = (await picturesOnDisk(page))[0];
    expect(half.box[3]).toBeCloseTo((t + b) / 2, 0);
    expect(half.content).toBe(first.content);
    await button(page, 'Show all of it').click();
    await expect.poll(async () => (await picturesOnDisk(page))[0].crop).toBeUndefined();
    // Locked it is not taken hold of, and it is written over; the eraser takes the ink alone.
    await button(page, 'Arrange').click();
    await button(page, 'Lock in place').click();
    await expect(page.getByTestId('selection')).toHaveCount(0);
    const on = { x: sheet.x + ((l + r) / 2) * k, y: sheet.y + ((t + b) / 2) * k };
    await pen.stroke([on]);
    await atRest(page);
    await expect(page.getByTestId('selection')).toHaveCount(0);
    await page.keyboard.press('p');
    await pen.scribble(on.x, on.y);
    await expect.poll(async () => (await strokesOnDisk(page)).length).toBe(1);
    await page.keyboard.press('e');
    await pen.stroke([{ x: on.x - 4, y: on.y + 4 }, { x: on.x + 10, y: on.y + 4 }, { x: on.x + 24, y: on.y + 4 }]);
    await expect.poll(async () => (await strokesOnDisk(page)).length).toBe(0);
    expect(await picturesOnDisk(page)).toHaveLength(1);
    await button(page, 'What to do with this note').click();
    await button(page, 'Let locked things go').click();
    await saved(page);
    expect((await picturesOnDisk(page))[0].locked).toBe(false);
    // All of it by Undo, to the blank page.
    for (let i = 0; i < 10 && (await picturesOnDisk(page)).length; i++) {
      await page.keyboard.press('Control+z');
      await saved(page);
    }
    expect(await picturesOnDisk(page)).toEqual([]);
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
  });
}

test('a picture placed while a recording runs plays its moment when it is touched; drawings run and fetch nothing; what cannot be shown says why', async () => {
  const context = await startBrowser();
  const page = context.pages()[0];
  const asked: string[] = [];
  context.on('request', (r) => asked.push(r.url()));
  await page.goto(server.url);
  await recordNew(page);
  await page.waitForFunction(() => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) > 6500);
  const hostile = `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="300" height="200" onload="window.ran=1"><script>window.ran = 1; fetch('https://elsewhere.example/a')</script>
<image href="https://elsewhere.example/b.png" width="10" height="10"/><style>@import url('https://elsewhere.example/c.css');</style><rect width="300" height="200" fill="#d98e04"/><foreignObject><iframe src="https://elsewhere.example/d"/></foreignObject></svg>`;
  await bringIn(page, [{ name: 'chart.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(hostile) }]);
  await expect.poll(async () => (await picturesOnDisk(page)).length, { timeout: 15_000 }).toBe(1);
  const [it] = await picturesOnDisk(page);
  expect(it.stamp!.at).toBeGreaterThan(6000);
  // One of 1.3 kB that asks for 10^12 shapes never reaches the page: it goes on recording.
  const nested = `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><g id="n0"><rect width="1" height="1"/></g>${Array.from({ length: 12 }, (_, i) => `<g id="n${i + 1}">${`<use href="#n${i}"/>`.repeat(10)}</g>`).join('')}<use href="#n12"/></svg>`;
  await bringIn(page, [{ name: 'nested.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(nested) }], 'sheet');
  await expect(page.getByRole('alert').filter({ hasText: /a drawing \(SVG\) that asks for too many shapes/ })).toBeVisible();
  await button(page, 'Leave it out').click();
  await page.waitForFunction((at) => Number(document.querySelector('[data-testid="recording-clock"]')!.getAttribute('data-ms')) > at + 3000, it.stamp!.at);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  expect(await page.evaluate(() => (window as unknown as { ran?: number }).ran)).toBeUndefined();
  expect(asked.filter((u) => !u.startsWith(server.url) && !u.startsWith('blob:') && !u.startsWith('data:'))).toEqual([]);
  await page.getByRole('button', { name: 'Listen' }).click();
  await page.getByRole('slider', { name: 'Playback position' }).waitFor();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const k = box.width / 210;
  const pen = await Pen.on(page);
  await pen.touch(box.x + k * ((it.box[0] + it.box[2]) / 2), box.y + k * ((it.box[1] + it.box[3]) / 2));
  await button(page, 'Pause').waitFor();
  // From its moment minus the lead-in, and neither from the beginning nor from where the recording ended.
  const started = await page.waitForFunction(() => !document.querySelector('audio')!.paused && document.querySelector('audio')!.currentTime > 0 && document.querySelector('audio')!.currentTime * 1000);
  const from = it.stamp!.at - Number(await started.jsonValue());
  expect(from).toBeGreaterThan(-1000);
  expect(from).toBeLessThan(3500);
  await button(page, 'Pause').click();
  // Broken, and of a kind that browsers do not show.
  await bringIn(page, [{ name: 'IMG_0001.heic', mimeType: 'image/heic', buffer: Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypheic\0\0\0\0mif1heic'), Buffer.alloc(2000)]) }], 'sheet');
  await expect(page.getByRole('alert').filter({ hasText: /browsers cannot show HEIC pictures/ })).toBeVisible();
  await button(page, 'Leave it out').click();
  await bringIn(page, [{ name: 'torn.png', mimeType: 'image/png', buffer: Buffer.concat([Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), Buffer.alloc(200, 7)]) }], 'sheet');
  await expect(page.getByRole('alert').filter({ hasText: '“torn.png” cannot be brought in: it is no picture that this browser can show.' })).toBeVisible();
  await expect(page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true })).toBeDisabled();
  await button(page, 'Leave it out').click();
  expect(await picturesOnDisk(page)).toHaveLength(1);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

test('a moving picture moves below what is written over it, unless it is held still or nothing is to move; an AVIF comes in', async () => {
  const gif = path.join(folder, 'buoy.gif');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=size=80x60:rate=4:duration=2', gif]);
  const avif = path.join(folder, 'still.avif');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=red:size=64x64', '-frames:v', '1', '-c:v', 'libaom-av1', '-still-picture', '1', avif]);
  const context = await startBrowser({ motion: true });
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  await bringIn(page, [{ name: 'buoy.gif', mimeType: 'image/gif', buffer: readFileSync(gif) }]);
  const moving = page.locator('.page-moving img');
  await expect.poll(() => moving.evaluate((e) => (e as HTMLImageElement).naturalWidth)).toBe(80);
  await expect.poll(async () => (await picturesOnDisk(page)).length).toBe(1);
  const [picture] = await picturesOnDisk(page);
  const [seen, sheet] = [(await moving.boundingBox())!, (await page.getByTestId('page-1').boundingBox())!];
  const k = sheet.width / 210;
  expect(Math.abs(seen.x - (sheet.x + picture.box[0] * k))).toBeLessThan(1.5);
  expect(Math.abs(seen.width - (picture.box[2] - picture.box[0]) * k)).toBeLessThan(1.5);
  // Its frames follow one another on the glass.
  const looks = new Set<string>();
  await expect
    .poll(async () => {
      looks.add((await page.screenshot({ clip: { x: seen.x, y: seen.y, width: seen.width, height: seen.height } })).toString('base64'));
      return looks.size;
    })
    .toBeGreaterThan(2);
  await button(page, 'Hold still').click();
  await expect(moving).toHaveCount(0);
  await button(page, 'Let it move').click();
  await expect(moving).toHaveCount(1);
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  await expect(moving).toHaveCount(0);
  await bringIn(page, [{ name: 'still.avif', mimeType: 'image/avif', buffer: readFileSync(avif) }]);
  await expect.poll(async () => (await picturesOnDisk(page)).length).toBe(2);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

test('text, a link and a picture that were copied from a page of the web are placed with their address; ink that was copied here comes first while it was copied last', async () => {
  const context = await startBrowser();
  await context.grantPermissions(['clipboard-read', 'clipboard-write', 'microphone']);
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  const address = 'https://tides.example/table';
  const copied = (types: Record<string, string>) => page.evaluate((t) => navigator.clipboard.write([new ClipboardItem(Object.fromEntries(Object.entries(t).map(([type, text]) => [type, new Blob([text], { type })])))]), types);
  const all = async () => (await inkOnDisk(page)).flatMap((it) => (it.kind === 'typed' || it.kind === 'picture' ? [it] : []));
  const texts = async () => (await all()).flatMap((it) => (it.kind === 'typed' ? [it.text] : []));
  const origins = async () => (await headersOnDisk(page))[0].origins ?? [];
  await copied({ 'text/plain': 'High water 0412, 4.8 m', 'text/html': `<p>High water <a href="${address}"><b>0412</b></a>, 4.8 m</p>` });
  await page.keyboard.press('Control+v');
  await expect.poll(texts).toEqual(['High water 0412, 4.8 m']);
  const [first] = await all();
  // Its emphasis came along, and nothing else of its look.
  expect(first.kind === 'typed' && first.looks.map(([n, look]) => [n, look.bold ?? false, look.color])).toEqual([[11, false, '#16324f'], [4, true, '#16324f'], [7, false, '#16324f']]);
  expect(await origins()).toEqual([{ placed: [first.id], url: address }]);
  // It leads there again, after a question.
  await button(page, 'Where it came from').click();
  await expect(page.getByRole('dialog').getByText(address)).toBeVisible();
  await button(page, 'Stay here').click();
  await copied({ 'text/plain': address });
  await page.keyboard.press('Control+v');
  await expect.poll(async () => (await texts()).sort()).toEqual(['High water 0412, 4.8 m', address].sort());
  expect((await headersOnDisk(page))[0].refs?.map((r) => r.to)).toEqual([{ is: 'web', url: address }]);
  // A picture comes with the address that the page names it by.
  const paste = (html: string) =>
    page.evaluate(async (h) => {
      const data = new DataTransfer();
      const canvas = new OffscreenCanvas(20, 20);
      canvas.getContext('2d')!.fillRect(0, 0, 20, 20);
      data.items.add(new File([await canvas.convertToBlob()], 'image.png', { type: 'image/png' }));
      data.setData('text/html', h);
      document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    }, html);
  await paste('<img src="https://tides.example/curve.png?online=1&Style=plain" onerror="window.ran = 1">');
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await expect.poll(async () => (await origins()).map((o) => o.url)).toContain('https://tides.example/curve.png?online=1&Style=plain');
  // Copied here: that is what the next paste brings, until something else is copied.
  await page.keyboard.press('Escape');
  await button(page, 'Lasso').click();
  await page.keyboard.press('Control+a');
  // A browser that takes its time to put it onto the clipboard: pasted at once it is what was copied, not what was copied before.
  await page.evaluate(() => {
    const write = navigator.clipboard.writeText.bind(navigator.clipboard);
    const late = new Promise((resolve) => window.addEventListener('late', resolve, { once: true }));
    navigator.clipboard.writeText = (text) => late.then(() => write(text));
  });
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await expect.poll(async () => (await all()).length).toBe(6);
  await page.evaluate(() => window.dispatchEvent(new Event('late')));
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toMatch(/^Copied in Scrivo/);
  await copied({ 'text/plain': 'Low water 1031' });
  await page.keyboard.press('Control+v');
  await expect.poll(async () => (await texts()).filter((t) => t === 'Low water 1031').length).toBe(1);
  // Lists come along; what would run, and colours, do not.
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', 'Slack 0700');
    data.setData('text/html', '<ul><li style="color: red" onclick="window.ran = 1">Slack <i>0700</i></li></ul>');
    document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect.poll(async () => (await all()).flatMap((it) => (it.kind === 'typed' && it.text === 'Slack 0700' ? [[it.list, it.looks.map(([n, look]) => [n, look.slant ?? false, look.color])]] : []))).toEqual([['dot', [[6, false, '#16324f'], [4, true, '#16324f']]]]);
  await saved(page);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

test('a piece of the screen comes in by the browser’s own choice, or not at all where that is refused', async () => {
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await blankNote(page);
  const ask = async () => {
    await button(page, 'What to do with this note').click();
    await button(page, 'Bring in').click();
    await button(page, 'A piece of the screen').click();
  };
  // Who chooses nothing gets nothing, and stays where one was.
  await page.evaluate(() => {
    const real = navigator.mediaDevices.getDisplayMedia.bind(navigator.mediaDevices);
    let first = true;
    navigator.mediaDevices.getDisplayMedia = (o) => {
      if (!first) return real(o);
      first = false;
      return Promise.reject(new DOMException('Permission denied', 'NotAllowedError'));
    };
  });
  await ask();
  await expect(button(page, 'Choose files')).toBeVisible();
  await button(page, 'A piece of the screen').click();
  await page.getByRole('group', { name: 'Piece of the screen.png' }).waitFor();
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await expect.poll(async () => (await picturesOnDisk(page)).map((p) => p.name)).toEqual(['Piece of the screen.png']);
  const [{ px }] = await picturesOnDisk(page);
  expect(Math.min(...px)).toBeGreaterThan(100);
  // The browser's stand-in for a screen is a camera, which the policy forbids: it says so, and shows its picture nevertheless.
  const troubles = await pageErrors(page);
  const camera = troubles.findIndex((t) => /camera/.test(t));
  if (camera >= 0) troubles.splice(camera, 1);
  expect(troubles).toEqual([]);
  await context.close();
});
