/**
 * PDF: its pages drawn like poppler draws them, its text, sizes and outline as poppler and qpdf tell them; brought in, written on, linked, searched; and
 * files that are broken, locked or hostile.
 */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { bytesOf } from '../../src/core/formats/blobFile';
import { hereAndNow } from '../../src/core/formats/bundle';
import { noteOf } from '../../src/core/note/edit';
import { newPage } from '../../src/core/note/schema';
import { assembled, linked, lockedWith, printed, type Made } from '../helpers/pdfs';
import { button, Pen, PHONE, saved, startBrowser, startServer, WIDE } from '../helpers/app';
import { headersOnDisk, records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

let folder: string;
let server: Awaited<ReturnType<typeof startServer>>;
let files: Record<'printed' | 'assembled' | 'linked', Made>;

test.beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'scrivo-pdf-'));
  server = await startServer();
  files = { printed: await printed(folder, 6), assembled: await assembled(folder), linked: await linked(folder) };
});
test.afterAll(async () => {
  await server.close();
  rmSync(folder, { recursive: true });
});

/** What Scrivo's own worker says of a file, and how it draws its pages at 300 dpi: as raw grey pixels, since packing and unpacking them would take longer than drawing. */
async function told(page: Page, { file }: Made, from: number, to: number) {
  return page.evaluate(
    async ([bytes, first, end]) => {
      const { wrap, proxy } = (await import(/* @vite-ignore */ `${location.origin}/pdf/comlink.min.mjs`)) as typeof import('comlink');
      const worker = new Worker('/pdf/drawing.mjs', { type: 'module' });
      const api = wrap<import('../../src/platform/pdf/pdfWork').PdfWork>(worker);
      const data = Uint8Array.from(atob(bytes), (c) => c.charCodeAt(0));
      const n = await api.open(1, data.length, proxy((from: number, to: number) => Promise.resolve(data.slice(from, to))), null);
      const sizes = await api.sizes(1, 0, n);
      const outline = await api.outline(1);
      const pictures: { w: number; h: number; grey: string }[] = [];
      const texts: string[] = [];
      for (let i = first; i < end; i++) {
        const [w, h] = [(sizes[i].w * 25.4) / 72, (sizes[i].h * 25.4) / 72];
        const bitmap = await api.draw(1, i, 300 / 25.4, [0, 0, w, h]);
        const ctx = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d', { willReadFrequently: true })!;
        ctx.drawImage(bitmap, 0, 0);
        const { data: rgba } = ctx.getImageData(0, 0, bitmap.width, bitmap.height);
        const grey = new Uint8Array(rgba.length / 4);
        // ITU-R BT.601, 2.5.1: the weights of luminance.
        for (let k = 0; k < grey.length; k++) grey[k] = Math.round(0.299 * rgba[4 * k] + 0.587 * rgba[4 * k + 1] + 0.114 * rgba[4 * k + 2]);
        const url = await new Promise<string>((resolve) => {
          const reader = new FileReader();
          reader.onload = () => resolve(reader.result as string);
          reader.readAsDataURL(new Blob([grey]));
        });
        pictures.push({ w: bitmap.width, h: bitmap.height, grey: url.slice(url.indexOf(',') + 1) });
        texts.push((await api.text(1, i)).map((t) => t.text + (t.ends ? '\n' : '')).join(''));
      }
      worker.terminate();
      return { n, sizes, outline, pictures, texts };
    },
    [readFileSync(file).toString('base64'), from, to] as const,
  );
}

const words = (text: string): string[] => (text.normalize('NFKC').match(/[\p{L}\p{N}/:]+/gu) ?? []).sort();

test('pages of 21 makings look as poppler draws them; their words, sizes and outline are those that poppler and qpdf tell', async () => {
  test.setTimeout(180_000);
  // Letters are not pulled onto the pixels: poppler does not do that either.
  const context = await startBrowser({ args: ['--font-render-hinting=none'] });
  const page = context.pages()[0];
  await page.goto(server.url);
  const alike: number[] = [];
  for (const made of [files.printed, files.assembled]) {
    const info = execFileSync('pdfinfo', ['-f', '1', '-l', String(made.pages), '-box', made.file]).toString();
    /** So many at once: a page is 9 MB. */
    const SOME = 4;
    let mine = await told(page, made, 0, 0);
    expect(mine.n).toBe(Number(/Pages:\s+(\d+)/.exec(info)![1]));
    for (let i = 0; i < made.pages; i++) {
      const n = i + 1;
      if (i % SOME === 0) mine = await told(page, made, i, Math.min(made.pages, i + SOME));
      const turned = /Page +\d+ rot: +(90|270)/.test(info.split('\n').filter((l) => new RegExp(`^Page +${n} `).test(l)).join('\n'));
      // Structural similarity (Wang et al. 2004) as ffmpeg measures it.
      const picture = mine.pictures[i % SOME];
      const [ours, theirsFile] = [path.join(folder, `mine-${n}.pgm`), path.join(folder, 'theirs.pgm')];
      // A head of text, then the pixels (Netpbm, pgm(5)): what pdftoppm writes too.
      writeFileSync(ours, Buffer.concat([Buffer.from(`P5\n${picture.w} ${picture.h}\n255\n`), Buffer.from(picture.grey, 'base64')]));
      execFileSync('pdftoppm', ['-r', '300', '-gray', '-cropbox', '-f', String(n), '-l', String(n), '-singlefile', made.file, path.join(folder, 'theirs')]);
      // The two round the height of a page up or down: compared is what both have.
      const a = [picture.w, picture.h];
      const b = /^P5\s+(\d+)\s+(\d+)/.exec(readFileSync(theirsFile).subarray(0, 40).toString('latin1'))!.slice(1).map(Number);
      expect(Math.abs(a[0] - b[0]) + Math.abs(a[1] - b[1]), `${made.name}, page ${n}: size in pixels`).toBeLessThanOrEqual(2);
      // Drawn finer than compared: how letters are laid onto pixels is a matter of taste. Poppler rounds a turned page to whole pixels before it turns it.
      const [w, h] = [Math.min(a[0], b[0]) - 1, Math.min(a[1], b[1]) - 1];
      const fine = (from: number) => `crop=${w}:${h}:${from}:0,format=gray,scale=iw/3:ih/3:flags=area`;
      const likeness = (from: number) => Number(/All:([\d.]+)/.exec(execFileSync('sh', ['-c', `ffmpeg -v info -i "${ours}" -i "${theirsFile}" -lavfi "[0]${fine(from)}[a];[1]${fine(0)}[b];[a][b]ssim" -f null - 2>&1`]).toString())![1]);
      alike.push(Math.max(likeness(0), turned ? likeness(1) : 0));
      expect(alike.at(-1), `${made.name}, page ${n}: likeness`).toBeGreaterThan(0.98);

      const theirs = execFileSync('pdftotext', ['-f', String(n), '-l', String(n), '-cropbox', made.file, '-']).toString();
      // Cropped pages: poppler leaves out what is not in sight.
      if (!/crop/.test(made.name) && ![7, 8].includes(made.name === 'assembled' ? n : 0)) expect(words(mine.texts[i % SOME]), `${made.name}, page ${n}: words`).toEqual(words(theirs));
      const box = new RegExp(`^Page +${n} CropBox: +([\\d.]+) +([\\d.]+) +([\\d.]+) +([\\d.]+)`, 'm').exec(info)!.slice(1).map(Number);
      const [bw, bh] = [box[2] - box[0], box[3] - box[1]];
      expect([mine.sizes[i].w, mine.sizes[i].h].map((v) => Math.round(v))).toEqual((turned ? [bh, bw] : [bw, bh]).map((v) => Math.round(v)));
    }
  }
  expect(alike.length).toBe(21);
  // The outline of a file of three levels, by qpdf's own reading.
  const mine = await told(page, files.linked, 0, 0);
  interface Item {
    title: string;
    kids: Item[];
    destpageposfrom1: number;
  }
  const tree = (JSON.parse(execFileSync('qpdf', ['--json=2', '--json-key=outlines', files.linked.file]).toString()) as { outlines: Item[] }).outlines;
  const flat = (items: Item[], depth: number): [string, number, number][] => items.flatMap((it) => [[it.title, depth, it.destpageposfrom1 - 1] as [string, number, number], ...flat(it.kids, depth + 1)]);
  expect(mine.outline.map((o) => [o.title, o.depth, o.leaf])).toEqual(flat(tree, 1));
  expect(mine.outline).toHaveLength(4);
  await context.close();
});

async function bringIn(page: Page, file: string): Promise<void> {
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles(file);
}
const offer = (page: Page) => page.getByRole('dialog', { name: 'Bring in' });

for (const viewport of [PHONE, WIDE]) {
  test(`a PDF becomes a note that is written on, with its outline, links and text (${viewport.width} px)`, async () => {
    const context = await startBrowser({ viewport });
    const page = context.pages()[0];
    const asked: string[] = [];
    context.on('request', (r) => asked.push(r.url()));
    await page.goto(server.url);
    await bringIn(page, files.linked.file);
    await expect(offer(page).getByText('4 pages')).toBeVisible();
    await offer(page).getByRole('button', { name: 'Bring in', exact: true }).click();
    await page.getByTestId('page-1').waitFor();
    await expect(page.getByRole('heading', { name: /linked/ })).toBeVisible();
    const [note] = await headersOnDisk(page);
    expect(note.pages).toHaveLength(4);
    // ISO 216: A4 is 210 mm x 297 mm; the file says 595.28 x 841.89 points.
    expect([note.pages[0].w, note.pages[0].h].map((v) => Math.round(v * 10) / 10)).toEqual([210, 297]);
    expect(note.headings?.map((h) => [h.text, h.level]).sort()).toEqual([['Autumn', 1], ['Neaps', 2], ['Slack water', 3], ['Spring', 1]]);
    // What is printed is seen: the page is not blank where the file has its title.
    const inked = () => page.evaluate(() => [...document.querySelectorAll<HTMLCanvasElement>('[data-testid="page-1"] canvas')].reduce((n, c) => n + c.getContext('2d')!.getImageData(0, 0, c.width, c.height).data.reduce((s, v, i) => s + (i % 4 < 3 && v < 100 ? 1 : 0), 0), 0));
    await expect.poll(inked).toBeGreaterThan(500);
    // Written on, and there after a reload.
    const pen = await Pen.on(page);
    const box = (await page.getByTestId('page-1').boundingBox())!;
    await pen.scribble(box.x + box.width * 0.4, box.y + box.height * 0.3);
    await saved(page);
    await page.reload();
    await expect(page.getByTestId('page-1')).toHaveAttribute('aria-description', /1 written line|drawing|lines?/);
    // Links sleep while one writes, and lead on in Listen.
    await expect(page.getByRole('button', { name: 'Go to page 3 of the PDF' }).first()).toBeDisabled();
    await page.getByRole('button', { name: 'Listen' }).click();
    await page.getByRole('button', { name: 'Go to page 3 of the PDF' }).first().click();
    await expect.poll(() => page.locator('.surface-scroller').evaluate((e) => e.scrollTop)).toBeGreaterThan(500);
    // And back.
    await expect(page.getByText('The link led from page 1 to page 3.')).toBeVisible();
    await button(page, 'Go back').click();
    await expect.poll(() => page.locator('.surface-scroller').evaluate((e) => e.scrollTop)).toBeLessThan(300);
    await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = 0));
    await page.getByRole('button', { name: 'Open https://harbour.example/tides on the web' }).first().click();
    await expect(page.getByRole('dialog', { name: 'Open on the web?' })).toContainText('https://harbour.example/tides');
    await button(page, 'Stay here').click();
    // Words are found, whatever their case, and their places marked.
    await button(page, 'What to do with this note').click();
    await button(page, 'Find in the PDF').click();
    await expect(page.getByLabel('Search note')).toBeFocused();
    await page.keyboard.type('WEEK 4 of');
    await expect(page.getByText('1 found')).toBeVisible();
    await page.getByRole('button', { name: /Week 4 of the planner.*page 4/ }).click();
    await expect(page.locator('.printed-found')).toHaveCount(1);
    if (viewport === PHONE) await expect(page.getByRole('dialog')).toHaveCount(0);
    else await page.keyboard.press('Escape');
    // Its text is taken hold of.
    await button(page, 'What to do with this note').click();
    await button(page, 'Select text of the PDF').click();
    await page.locator('.printed-text').first().waitFor();
    const copied = await page.evaluate(() => {
      const range = document.createRange();
      range.selectNodeContents(document.querySelector('.printed-text')!);
      getSelection()!.removeAllRanges();
      getSelection()!.addRange(range);
      return getSelection()!.toString();
    });
    expect(copied).toMatch(/Week \d of the planner/);
    // Nothing in the file was run, and nothing asked for from elsewhere.
    expect(asked.filter((u) => !u.startsWith(server.url) && !u.startsWith('blob:') && !u.startsWith('data:'))).toEqual([]);
    expect(await pageErrors(page)).toEqual([]);
    await context.close();
  });
}

test('some pages come into an open note and go by one Undo; a locked PDF asks for its password; broken and foreign files are told, and nothing of them is kept', async () => {
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await button(page, 'Write without sound').click();
  await page.getByTestId('page-1').waitFor();
  const into = async (file: string | { name: string; mimeType: string; buffer: Buffer }) => {
    await button(page, 'What to do with this note').click();
    await button(page, 'Bring in').click();
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
    await chooser.setFiles(file as string);
  };
  await into(files.assembled.file);
  await page.getByLabel(/^Pages to bring in/).fill('2-3, 99');
  await expect(page.getByText('Name pages from 1 to 15, such as 1-3, 7.')).toBeVisible();
  await page.getByLabel(/^Pages to bring in/).fill('2-3, 7');
  await button(page, 'Bring in 3 pages').click();
  await expect.poll(async () => (await headersOnDisk(page))[0].pages.map((p) => p.backdrop?.leaf ?? null)).toEqual([null, 1, 2, 6]);
  await expect(page.getByText('3 pages of “assembled.pdf” came in.')).toBeVisible();
  await page.getByRole('status').getByRole('button', { name: 'Undo' }).or(page.getByRole('button', { name: 'Undo', exact: true })).first().click();
  await expect.poll(async () => (await headersOnDisk(page))[0].pages.length).toBe(1);
  // Locked: a wrong word is told, the right one opens it, and its pages are shown again later.
  const locked = lockedWith(files.linked, 'slack water');
  await into(locked.file);
  await page.getByLabel('Password of the PDF').fill('high water');
  await button(page, 'Open').click();
  await expect(page.getByText('That is not its password. Try again.')).toBeVisible();
  await page.getByLabel('Password of the PDF').fill('slack water');
  await button(page, 'Open').click();
  await expect(offer(page).getByText('4 pages')).toBeVisible();
  await offer(page).getByRole('button', { name: 'Bring in', exact: true }).click();
  await expect.poll(async () => (await headersOnDisk(page))[0].pages.length).toBe(5);
  await page.reload();
  await page.getByTestId('page-1').waitFor();
  await page.locator('.surface-scroller').evaluate((e) => (e.scrollTop = 700));
  await expect(page.getByRole('button', { name: 'Go to page 3 of the PDF' }).first()).toBeAttached();
  // What cannot be read says so, and leaves nothing behind.
  const before = Object.keys(await records(page, 'scrivo-sound')).filter((k) => k.startsWith('content/')).sort();
  const whole = readFileSync(files.assembled.file);
  const bad: [string, Buffer, RegExp][] = [
    ['empty.pdf', Buffer.alloc(0), /it is empty/],
    ['letter.docx', Buffer.from('Dear harbour master'), /none of the kinds/],
    ['cut.pdf', Buffer.concat([Buffer.from('%PDF-1.7\n'), Buffer.alloc(300, 0x20)]), /it is no PDF, or it is damaged/],
    ['noise.pdf', Buffer.concat([whole.subarray(0, 60), Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * 7919) % 256))]), /it is no PDF, or it is damaged|cannot be read/],
  ];
  for (const [name, buffer, why] of bad) {
    await into({ name, mimeType: 'application/pdf', buffer });
    await expect(page.getByRole('alert').filter({ hasText: why })).toBeVisible();
    await button(page, 'Leave it out').click();
    await expect(page.getByRole('dialog')).toHaveCount(0);
  }
  expect(Object.keys(await records(page, 'scrivo-sound')).filter((k) => k.startsWith('content/')).sort()).toEqual(before);
  expect((await headersOnDisk(page))[0].pages).toHaveLength(5);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

test('a locked PDF whose password did not come along with its note is asked for it, and shown by the right one', async () => {
  const bytes = readFileSync(lockedWith(files.linked, 'slack water').file);
  const hash = createHash('sha256').update(bytes).digest('hex');
  const note = noteOf({ v: 2, id: 'handed-on', title: 'Buoyage, handed on', made: 1, changed: 2, pages: [{ ...newPage('leaf'), backdrop: { content: hash, leaf: 0 } }], takes: [], timeline: [] });
  const bundle = path.join(folder, 'handed-on.scrivo');
  writeFileSync(bundle, await bytesOf(await hereAndNow.writeBundle({ note, takes: new Map(), contents: new Map([[hash, new Uint8Array(bytes)]]) })));
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('tab', { name: 'Settings' }).click();
  const chooser = page.waitForEvent('filechooser');
  await button(page, 'Restore').click();
  await (await chooser).setFiles(bundle);
  await page.getByRole('tab', { name: 'Today' }).click();
  await page.getByRole('button', { name: /^Open Buoyage, handed on/ }).click();
  await button(page, 'Write').click();
  await expect(page.getByText('A PDF in this note is locked, and its password did not come along. Your ink is all there.')).toBeVisible();
  await button(page, 'Enter password').click();
  await page.getByRole('textbox', { name: 'Password of the PDF' }).fill('high water');
  await button(page, 'Open PDF').click();
  await expect(page.getByText('That is not its password. Try again.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Password of the PDF' }).fill('slack water');
  await button(page, 'Open PDF').click();
  await expect(page.getByRole('button', { name: 'Go to page 3 of the PDF' }).first()).toBeAttached();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByText('A PDF in this note is locked', { exact: false })).toHaveCount(0);
  await saved(page);
  expect((await headersOnDisk(page))[0].pages[0].backdrop).toEqual({ content: hash, leaf: 0, password: 'slack water' });
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});

test('in the dark a printed page keeps its white, and what is written on it is dark', async () => {
  const context = await startBrowser({ dark: true, viewport: WIDE });
  const page = context.pages()[0];
  await page.goto(server.url);
  await bringIn(page, files.linked.file);
  await offer(page).getByText('4 pages').waitFor();
  await offer(page).getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByTestId('page-1').waitFor();
  await page.locator('.surface[data-due="0"][data-drawn="true"]').waitFor();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const [x, y] = [box.x + box.width * 0.6, box.y + box.height * 0.35];
  /** The darkest and the lightest of a place of the page, 0..255. */
  const range = () =>
    page.evaluate(([px, py]) => {
      let [dark, light] = [255, 0];
      for (const c of document.querySelectorAll<HTMLCanvasElement>('[data-testid="page-1"] canvas')) {
        const r = c.getBoundingClientRect();
        if (px + 60 < r.left || px > r.right || py + 30 < r.top || py > r.bottom) continue;
        const k = c.width / r.width;
        const { data } = c.getContext('2d')!.getImageData(Math.round((px - r.left) * k), Math.round((py - r.top) * k), Math.round(60 * k), Math.round(30 * k));
        for (let i = 0; i < data.length; i += 4) {
          if (data[i + 3] < 200) continue;
          [dark, light] = [Math.min(dark, data[i + 1]), Math.max(light, data[i + 1])];
        }
      }
      return [dark, light];
    }, [x - 8, y - 8] as const);
  await expect.poll(range).toEqual([255, 255]);
  const pen = await Pen.on(page);
  await pen.scribble(x, y);
  await saved(page);
  await expect.poll(async () => (await range())[0]).toBeLessThan(120);
  expect((await range())[1]).toBe(255);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
});
