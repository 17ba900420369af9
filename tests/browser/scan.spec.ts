/** Paper from a photo: a sheet that was laid aslant onto a table comes in upright, straight and white, as a page of its shape. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { button, PHONE, startBrowser, startServer, tempFolder } from '../helpers/app';
import { headersOnDisk, records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

/** Where the corners of an A4 sheet lie in a photo of 1200 x 1600 px that a pinhole camera takes of it from above, aslant and a little turned. */
function seenAslant(): Record<'x0' | 'y0' | 'x1' | 'y1' | 'x2' | 'y2' | 'x3' | 'y3', number> {
  const [tilt, roll, yaw, far, f] = [0.3, -0.2, 0.06, 1.5, 1.05 * 1600];
  const at = (x: number, y: number): [number, number] => {
    const [u, v] = [x * Math.cos(yaw) - y * Math.sin(yaw), x * Math.sin(yaw) + y * Math.cos(yaw)];
    const [w, d] = [v * Math.cos(tilt), v * Math.sin(tilt)];
    const [a, b] = [u * Math.cos(roll) + d * Math.sin(roll), -u * Math.sin(roll) + d * Math.cos(roll)];
    return [600 + (f * a) / (b + far), 800 + (f * w) / (b + far)];
  };
  const [hw, hh] = [0.5 / Math.SQRT2, 0.5];
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = [at(-hw, -hh), at(hw, -hh), at(-hw, hh), at(hw, hh)];
  return { x0, y0, x1, y1, x2, y2, x3, y3 };
}
const CORNERS = seenAslant();

/** A4 with a red square near its upper left and a blue one near its lower right corner, laid aslant by ffmpeg (`perspective`) onto a brown table; the light falls off to the right. */
function photo(folder: string): string {
  const { x0, y0, x1, y1, x2, y2, x3, y3 } = CORNERS;
  const lines = Array.from({ length: 16 }, (_, n) => `drawbox=100:${300 + 38 * n}:${520 + ((n * 37) % 120)}:7:0x202830:fill`);
  const sheet = ['drawbox=80:80:160:160:0xd22828:fill', 'drawbox=600:940:160:160:0x283cc8:fill', ...lines, 'scale=1200:1600', 'format=rgba', `perspective=${[x0, y0, x1, y1, x2, y2, x3, y3].map((v) => v.toFixed(3)).join(':')}:sense=destination:interpolation=cubic`];
  // The filter draws the edge of the sheet out over all around it: what lies beyond its edges is seen through.
  const edge = (xa: number, ya: number, xb: number, yb: number) => `gte((${(xb - xa).toFixed(3)})*(Y-${ya.toFixed(3)})-(${(yb - ya).toFixed(3)})*(X-${xa.toFixed(3)}),0)`;
  const within = `geq=r='r(X,Y)':g='g(X,Y)':b='b(X,Y)':a='255*${[edge(x0, y0, x1, y1), edge(x1, y1, x3, y3), edge(x3, y3, x2, y2), edge(x2, y2, x0, y0)].join('*')}'`;
  const file = path.join(folder, 'handout.jpg');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=0x6b4a2f:size=1200x1600:rate=1:duration=1', '-f', 'lavfi', '-i', 'color=0xf2f0ea:size=840x1188:rate=1:duration=1',
    '-filter_complex', `[1]${sheet.join(',')},${within}[s];[0][s]overlay,format=rgb24,geq=r='r(X,Y)*(1-0.35*X/1200)':g='g(X,Y)*(1-0.35*X/1200)':b='b(X,Y)*(1-0.35*X/1200)',noise=alls=8:all_seed=1`, '-frames:v', '1', '-q:v', '2', '-update', '1', file]);
  return file;
}

async function toScan(page: Page, files: string[]): Promise<void> {
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles(files);
  await button(page, 'Straighten as paper').click();
}

test('a photographed sheet is found, straightened and becomes a page; corners can be set by hand and by keys', async () => {
  const folder = tempFolder();
  const file = photo(folder);
  const server = await startServer();
  const context = await startBrowser({ viewport: PHONE });
  const page = context.pages()[0];
  await page.goto(server.url);
  await toScan(page, [file]);
  await expect(page.getByText('Pull the corners where they are not right.')).toBeVisible({ timeout: 20_000 });
  const at = async (name: string) => {
    const style = await page.getByRole('button', { name: new RegExp(`^${name} corner`) }).evaluate((e) => [(e as HTMLElement).style.left, (e as HTMLElement).style.top]);
    return [(parseFloat(style[0]) / 100) * 1200, (parseFloat(style[1]) / 100) * 1600];
  };
  const wanted = { 'Upper left': [CORNERS.x0, CORNERS.y0], 'Upper right': [CORNERS.x1, CORNERS.y1], 'Lower left': [CORNERS.x2, CORNERS.y2], 'Lower right': [CORNERS.x3, CORNERS.y3] };
  for (const [name, [x, y]] of Object.entries(wanted)) {
    const [fx, fy] = await at(name);
    // Half a percent of the sheet's width.
    expect(Math.hypot(fx - x, fy - y), name).toBeLessThan(0.005 * 830);
  }
  // By hand, and back by keys.
  const corner = page.getByRole('button', { name: /^Lower right corner/ });
  const before = await at('Lower right');
  const box = (await corner.boundingBox())!;
  await page.mouse.move(box.x + 22, box.y + 22);
  await page.mouse.down();
  // Under the magnifier is the corner: paper up and to the left of its cross, the brown table on all other sides.
  const magnified = () => page.locator('.glass').evaluate((e: HTMLCanvasElement) => [[30, 30], [90, 30], [30, 90], [90, 90]].map(([x, y]) => e.getContext('2d')!.getImageData(x, y, 1, 1).data[2] > 110));
  await expect.poll(magnified).toEqual([true, false, false, false]);
  await page.mouse.move(box.x - 20, box.y - 30, { steps: 4 });
  await expect(page.locator('.glass')).toBeVisible();
  await expect.poll(magnified).toEqual([true, true, true, true]);
  await page.mouse.up();
  await expect(page.locator('.glass')).toBeHidden();
  expect((await at('Lower right'))[0]).toBeLessThan(before[0] - 40);
  await page.keyboard.press('Shift+ArrowRight');
  await page.mouse.move(box.x - 20, box.y - 30);
  await page.mouse.down();
  await page.mouse.move(box.x + 22, box.y + 22, { steps: 4 });
  await page.mouse.up();
  await button(page, 'Straighten').click();
  await page.getByRole('img', { name: 'The straightened sheet' }).waitFor();
  await page.getByText('Black', { exact: true }).first().click();
  await page.getByRole('img', { name: 'The straightened sheet' }).waitFor();
  await page.getByText('Colour', { exact: true }).first().click();
  await page.getByRole('img', { name: 'The straightened sheet' }).waitFor();
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByTestId('page-1').waitFor();
  const [note] = await headersOnDisk(page);
  // ISO 216: A4. What was laid down is 840 to 1188, one to the root of two.
  expect([note.pages[0].w, note.pages[0].h].map(Math.round)).toEqual([210, 297]);
  const text = (await records(page, 'scrivo-sound'))[`content/${note.pages[0].backdrop!.content}/0`];
  const seen = await page.evaluate(async (t) => {
    const bitmap = await createImageBitmap(new Blob([Uint8Array.from(t.slice(t.indexOf('\n') + 1), (c) => c.charCodeAt(0))]));
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    const ctx = canvas.getContext('2d')!;
    ctx.drawImage(bitmap, 0, 0);
    const color = (x: number, y: number) => [...ctx.getImageData(Math.round((x / 840) * bitmap.width), Math.round((y / 1188) * bitmap.height), 1, 1).data];
    return { red: color(160, 160), blue: color(680, 1020), paper: [color(700, 200), color(60, 600), color(780, 600), color(420, 1100)] };
  }, text);
  expect(seen.red[0] - seen.red[2]).toBeGreaterThan(90);
  expect(seen.blue[2] - seen.blue[0]).toBeGreaterThan(90);
  // White on both sides, in the light and in the shadow.
  for (const [r, g, b] of seen.paper) expect(Math.min(r, g, b)).toBeGreaterThan(228);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('where there is no sheet its corners are set by hand; several sheets make a note together', async () => {
  const folder = tempFolder();
  const file = photo(folder);
  const bare = path.join(folder, 'table.jpg');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=c=0x6b4a2f:s=1200x1600,noise=alls=20', '-frames:v', '1', '-update', '1', bare]);
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await toScan(page, [bare, file]);
  await expect(page.getByText('No sheet was found for sure. Pull the corners to where they are.')).toBeVisible({ timeout: 20_000 });
  await button(page, 'Straighten').click();
  await button(page, 'Next sheet').click();
  await expect(page.getByText('Sheet 2 of 2')).toBeVisible();
  await expect(page.getByText('Pull the corners where they are not right.')).toBeVisible({ timeout: 20_000 });
  await button(page, 'Straighten').click();
  await page.getByRole('img', { name: 'The straightened sheet' }).waitFor();
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByTestId('page-1').waitFor();
  expect((await headersOnDisk(page))[0].pages).toHaveLength(2);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
