/** Handing notes on: from the sheet to the file, and what other programs find in it. */
import { execFileSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, test, type BrowserContext, type Download, type Page } from '@playwright/test';
import { readBundle } from '../../src/core/formats/bundle';
import { unpackPoints } from '../../src/core/ink/points';
import { bringFile, button, Pen, press, saved, startBrowser, startServer, tempFolder } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';
import { spellTime, timeAtStart, wavOf } from '../helpers/dtmf';
import { inkOnDisk, strokesOnDisk } from '../helpers/disk';
import { tides } from '../helpers/tides';
import { clearSpeaker, speaker, tapSpeaker } from '../helpers/tap';

const AXE = readFileSync(createRequire(__filename).resolve('axe-core/axe.min.js'), 'utf8');
let server: Awaited<ReturnType<typeof startServer>>;
let empty: typeof server;
test.beforeAll(async () => {
  [server, empty] = [await startServer(true), await startServer()];
});
test.afterAll(async () => {
  await server.close();
  await empty.close();
});

async function openTides(): Promise<{ context: BrowserContext; page: Page }> {
  const context = await startBrowser();
  await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  return { context, page };
}

async function openSheet(page: Page, format: string): Promise<void> {
  await button(page, 'What to do with this note').click();
  await button(page, 'Hand on').click();
  await page.getByRole('radio', { name: format, exact: true }).click();
}

/** Presses “Save file” and gives where the file lies, unpacked where it is a ZIP. */
async function save(page: Page, into = tempFolder()): Promise<string> {
  const [got] = await Promise.all([page.waitForEvent('download'), button(page, 'Save file').click()]);
  return kept(got, into);
}
async function kept(got: Download, into: string): Promise<string> {
  const file = path.join(into, got.suggestedFilename());
  await got.saveAs(file);
  if (!file.endsWith('.zip')) return file;
  const folder = path.join(into, 'unpacked');
  mkdirSync(folder);
  execFileSync('unzip', ['-q', file, '-d', folder]);
  return folder;
}

/** Grey of a picture or of a page of a PDF, by ffmpeg and poppler, at a width. */
function grey(file: string, width: number): Uint8Array {
  let picture = file;
  if (file.endsWith('.pdf')) {
    execFileSync('pdftoppm', ['-r', '200', '-png', '-f', '1', '-l', '1', '-singlefile', file, file.slice(0, -4)]);
    picture = `${file.slice(0, -4)}.png`;
  }
  return new Uint8Array(execFileSync('ffmpeg', ['-v', 'error', '-i', picture, '-vf', `scale=${width}:-1:flags=area`, '-pix_fmt', 'gray', '-f', 'rawvideo', '-'], { maxBuffer: 1 << 28 }));
}

/** Structural similarity (Z. Wang and others, IEEE Transactions on Image Processing 13, 2004) over blocks of 8 by 8. */
function similarity(a: Uint8Array, b: Uint8Array, width: number): number {
  const height = Math.min(a.length, b.length) / width;
  let [sum, count] = [0, 0];
  for (let y = 0; y + 8 <= height; y += 8) {
    for (let x = 0; x + 8 <= width; x += 8) {
      let [ma, mb, aa, bb, ab] = [0, 0, 0, 0, 0];
      for (let i = 0; i < 64; i++) {
        const k = (y + (i >> 3)) * width + x + (i & 7);
        ma += a[k];
        mb += b[k];
        aa += a[k] * a[k];
        bb += b[k] * b[k];
        ab += a[k] * b[k];
      }
      [ma, mb] = [ma / 64, mb / 64];
      const [va, vb, c] = [aa / 64 - ma * ma, bb / 64 - mb * mb, ab / 64 - ma * mb];
      sum += ((2 * ma * mb + 6.5025) * (2 * c + 58.5225)) / ((ma * ma + mb * mb + 6.5025) * (va + vb + 58.5225));
      count++;
    }
  }
  return sum / count;
}

test('typed text, a sticky note and a table are handed on as text: found in PDF by poppler in its own face, the same picture in PDF and SVG, in plain text with its list; a bundle brings it back', async () => {
  const context = await startBrowser({ viewport: { width: 1280, height: 800 } });
  const page = context.pages()[0];
  await page.goto(empty.url);
  await button(page, 'Write without sound').click();
  const sheet = page.getByTestId('page-1');
  await sheet.waitFor();
  await page.keyboard.press('t');
  const box = (await sheet.boundingBox())!;
  await page.mouse.click(box.x + 0.2 * box.width, box.y + 0.3 * box.height);
  await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
  await page.getByLabel('Font', { exact: true }).selectOption('serif');
  await page.getByLabel('Size, points', { exact: true }).selectOption('18');
  await page.keyboard.type('Slack water at the bar, Ægir’s ebb');
  await page.keyboard.press('Enter');
  await page.keyboard.type('1. first the ebb, then the flood, and between the two of them a quarter of an hour in which nothing runs at all');
  await expect.poll(() => page.getByTestId('typed-line').count()).toBeGreaterThan(2);
  await page.keyboard.press('Escape');
  // With a table and a sticky note that is typed on.
  await press(page, 'Add');
  await press(page, 'Sticky note');
  await page.keyboard.press('t');
  const slip = async () => (await inkOnDisk(page)).find((it) => it.kind === 'slip');
  await expect.poll(slip).toBeDefined();
  const at = (await slip())!.box;
  await page.mouse.click(box.x + ((at[0] + 8) * box.width) / 210, box.y + ((at[1] + 8) * box.width) / 210);
  await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
  await page.keyboard.type('Ask the harbour office');
  await page.keyboard.press('Escape');
  await press(page, 'Add');
  await press(page, 'Table');
  await button(page, 'Put it there').click();
  for (const cell of ['Ship', 'Draught', 'Pilot', 'Tern', '4.10']) {
    await page.keyboard.type(cell);
    await page.keyboard.press('Tab');
  }
  await page.keyboard.press('Escape');
  await openSheet(page, 'PDF');
  await expect(page.getByTestId('made-size')).toHaveText(/\.pdf, /);
  const pdf = await save(page);
  execFileSync('qpdf', ['--check', pdf]);
  const words = execFileSync('pdftotext', ['-raw', pdf, '-']).toString().replace(/\s+/g, ' ');
  expect(words).toContain('Slack water at the bar, Ægir’s ebb 1. first the ebb, then the flood, and between');
  expect(words).toContain('Ask the harbour office');
  expect(words).toMatch(/Ship Draught Pilot .*Tern 4\.10/);
  expect(execFileSync('pdffonts', [pdf]).toString()).toMatch(/Literata/);
  await openSheet(page, 'SVG');
  await expect(page.getByTestId('made-size')).toHaveText(/\.svg, /);
  const svg = await save(page);
  const drawing = readFileSync(svg, 'utf8');
  expect(drawing).toMatch(/<text [^>]*font-family="Literata, serif"[^>]*>Slack water at the bar, Ægir’s ebb<\/text>/);
  await openSheet(page, 'PNG');
  await expect(page.getByTestId('made-size')).toHaveText(/\.png, /);
  const png = await save(page);
  const [a, b] = [grey(pdf, 800), grey(png, 800)];
  expect(similarity(a, b, 800)).toBeGreaterThan(0.97);
  await openSheet(page, 'Text');
  await expect(page.getByTestId('made-size')).toHaveText(/\.txt, /);
  const text = readFileSync(await save(page), 'utf8');
  expect(text).toMatch(/Slack water at the bar, Ægir’s ebb\n+1\. first the ebb, then/);
  expect(text).toContain('Ship\tDraught\tPilot\nTern\t4.10\t');
  await openSheet(page, 'Markdown');
  await expect(page.getByTestId('made-size')).toHaveText(/\.(zip|md), /);
  const markdown = await save(page);
  // A ZIP where pictures come along.
  expect(markdown.endsWith('.md') ? readFileSync(markdown, 'utf8') : execFileSync('unzip', ['-p', markdown, '*.md']).toString()).toContain('| Ship | Draught | Pilot |\n| --- | --- | --- |\n| Tern | 4.10 |  |');
  await openSheet(page, 'Bundle');
  await expect(page.getByTestId('made-size')).toHaveText(/\.scrivo, /);
  const bundle = await save(page);
  const { note } = await readBundle(new Uint8Array(readFileSync(bundle)));
  const things = Object.values(note.ink).flat();
  expect(things.map((it) => it.kind).sort()).toEqual(['slip', 'table', 'typed', 'typed', 'typed']);
  const back = things.filter((it) => it.kind === 'typed').filter((it) => !it.on).sort((a, b) => a.n - b.n);
  expect(back.map((it) => [it.text.slice(0, 14), it.list, it.nth, it.looks[0][1].face])).toEqual([['Slack water at', undefined, undefined, 'serif'], ['first the ebb,', 'number', 1, 'serif']]);
  await context.close();
});

test('PDF, PNG, JPEG and SVG of a page are the same picture by programs that know nothing of each other; chosen pages and the last choice hold', async () => {
  const { context, page } = await openTides();
  await openSheet(page, 'PDF');
  // What comes out is drawn from the file itself, page by page.
  await expect(page.locator('.made-picture[data-page="1"]')).toBeVisible();
  await button(page, 'Next page').click();
  await expect(page.locator('.made-picture[data-page="2"]')).toBeVisible();
  await page.getByLabel('Pages to hand on, such as 1-3, 7').fill('1, 9');
  await expect(page.getByText('Name pages from 1 to 2, such as 1-3, 7.')).toBeVisible();
  await expect(button(page, 'Save file')).toBeDisabled();
  await page.getByLabel('Pages to hand on, such as 1-3, 7').fill('1');
  await expect(page.getByTestId('made-size')).toHaveText(/^Tides and the rule of twelfths\.pdf, \d+ kB$/);
  const pdf = await save(page);
  await expect(page.getByText('“Tides and the rule of twelfths.pdf” was handed to the browser as a file.')).toBeVisible();
  execFileSync('qpdf', ['--check', pdf]);
  expect(execFileSync('pdfinfo', [pdf]).toString()).toMatch(/Pages: +1\n/);
  // Printed is the very file that would be saved.
  await openSheet(page, 'PDF');
  // Headless Chromium has no viewer for PDF: what it is asked to show is looked at instead.
  await page.evaluate(() => {
    const blobs = new Map<string, Blob>();
    const address = URL.createObjectURL.bind(URL);
    URL.createObjectURL = (blob: Blob) => {
      const url = address(blob);
      blobs.set(url, blob);
      return url;
    };
    window.open = (url) => {
      const blob = blobs.get(String(url))!;
      void blob.slice(0, 5).text().then((head) => Object.assign(window, { shown: { type: blob.type, head, size: blob.size } }));
      return window;
    };
  });
  await page.getByLabel('Pages to hand on, such as 1-3, 7').fill('1');
  await expect(page.getByTestId('made-size')).toHaveText(/^Tides and the rule of twelfths\.pdf, /);
  await button(page, 'Print').click();
  await expect.poll(() => page.evaluate(() => (window as unknown as { shown?: object }).shown)).toEqual({ type: 'application/pdf', head: '%PDF-', size: statSync(pdf).size });
  await expect(page.getByText('The PDF is in a tab of its own: print it from there.')).toBeVisible();
  const [width, files] = [800, [pdf]];
  for (const format of ['PNG', 'JPEG', 'SVG']) {
    await openSheet(page, format);
    await page.getByLabel('Pages to hand on, such as 1-3, 7').fill('1');
    await expect(page.getByTestId('made-size')).toHaveText(/^Tides and the rule of twelfths\.(png|jpg|svg), /);
    files.push(await save(page));
  }
  // The browser is the one that draws SVG.
  const svg = await context.newPage();
  await svg.setViewportSize({ width: 1588, height: 2246 });
  const drawing = readFileSync(files[3], 'utf8').replace(/^<\?xml[^>]*\?>/, '').replace(/width="210mm" height="297mm"/, 'width="1588" height="2246"');
  await svg.setContent(`<body style="margin:0">${drawing}</body>`);
  files[3] = `${files[3]}.png`;
  await svg.screenshot({ path: files[3] });
  const [first, ...others] = files.map((f) => grey(f, width));
  for (const [i, other] of others.entries()) expect([files[i + 1].slice(-4), similarity(first, other, width) > (files[i + 1].endsWith('.svg.png') ? 0.97 : 0.98)]).toEqual([files[i + 1].slice(-4), true]);
  // The last format is the first one the next time, and a touch in the menu away.
  await button(page, 'What to do with this note').click();
  const again = page.waitForEvent('download');
  await button(page, 'Save as SVG, as last time').click();
  const folder = await kept(await again, tempFolder());
  expect(readdirSync(folder).sort()).toEqual(['Tides and the rule of twelfths 1.svg', 'Tides and the rule of twelfths 2.svg']);
  await context.close();
});

/** A note that was written along with a sound in which tones spell the time. */
async function alongTones(words: number): Promise<{ context: BrowserContext; page: Page; strokes: Awaited<ReturnType<typeof strokesOnDisk>>; stamps: number[] }> {
  const context = await startBrowser({ whole: true });
  const page = context.pages()[0];
  const file = path.join(tempFolder(), 'Ebb and flood.wav');
  writeFileSync(file, wavOf(spellTime(20, 48_000), 48_000));
  await page.goto(empty.url);
  await bringFile(page, file, /of sound/);
  await page.getByTestId('page-1').waitFor();
  const pen = await Pen.on(page);
  await button(page, 'Play').click();
  const box = (await page.getByTestId('page-1').boundingBox())!;
  for (let i = 0; i < words; i++) {
    await page.waitForFunction((s) => document.querySelector('audio')!.currentTime > s, 1.5 + 2 * i);
    await pen.scribble(box.x + 40 + i * 70, box.y + 80);
  }
  if (await button(page, 'Pause').count()) await button(page, 'Pause').click();
  await page.locator('[data-testid="save-state"][data-state="saved"]').waitFor();
  const strokes = (await strokesOnDisk(page)).filter((s) => s.stamp).sort((a, b) => a.wall - b.wall);
  expect(strokes.length).toBe(words);
  return { context, page, strokes, stamps: strokes.map((s) => s.stamp!.at) };
}

test('sound in six kinds of file has its tones where the note has them; the replay page plays the moment of a touched word from disk, without a network, by keys, and without a finding of axe', async () => {
  const { context, page, stamps } = await alongTones(3);
  for (const kind of ['mp3', 'mp4', 'ogg', 'webm', 'wav', 'flac']) {
    await openSheet(page, 'Sound');
    await page.getByLabel('Kind').selectOption(kind);
    const folder = await save(page);
    const sound = readdirSync(folder).find((f) => !/\.(vtt|csv)$/.test(f))!;
    const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', path.join(folder, sound), '-ac', '1', '-ar', '48000', '-f', 'f32le', '-'], { maxBuffer: 1 << 28 });
    const samples = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
    const told = [1000, 9000, 17_000].map((ms) => timeAtStart(samples.subarray(48 * ms, 48 * (ms + 900)), 48_000));
    for (const [i, ms] of [1000, 9000, 17_000].entries()) expect([kind, told[i] !== null && Math.abs(told[i]! - ms) < 4]).toEqual([kind, true]);
    expect(readdirSync(folder).filter((f) => /\.(vtt|csv)$/.test(f))).toHaveLength(2);
  }

  // From the last word a link leads to a moment.
  await button(page, 'Write').click();
  await press(page, 'Lasso');
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await (await Pen.on(page)).stroke([{ x: box.x + 40 + 2 * 70 + 5, y: box.y + 80 }]);
  await page.getByTestId('selection').waitFor();
  await button(page, 'Link').click();
  await page.getByRole('dialog').getByRole('radio', { name: 'Sound' }).or(page.getByRole('dialog').getByRole('button', { name: 'Sound', exact: true })).click();
  await page.getByLabel(/^Moment of the sound/).fill('0:09');
  await button(page, 'Lead there').click();
  await page.getByRole('button', { name: /^Link to / }).waitFor();
  await saved(page);
  await openSheet(page, 'Replay page');
  await expect(page.getByLabel('Text of what comes out')).toContainText('3 words and drawings to touch');
  const file = await save(page);
  const replay = await context.newPage();
  await context.setOffline(true);
  const asked: string[] = [];
  replay.on('request', (r) => asked.push(r.url()));
  await replay.goto(pathToFileURL(file).href);
  await replay.locator('html[data-whole="true"][data-sound="true"]').waitFor();
  await tapSpeaker(replay);
  const words = replay.getByRole('button', { name: /^(Word|Drawing) written at/ });
  await expect(words).toHaveCount(3);
  const heard = async (start: () => Promise<void>): Promise<number | null> => {
    if ((await replay.locator('#play').textContent()) === 'Pause') await button(replay, 'Pause').click();
    await clearSpeaker(replay);
    await start();
    const { samples, rate } = await speaker(replay, 900);
    const first = samples.findIndex((v) => Math.abs(v) > 0.003);
    return timeAtStart(samples.subarray(first), rate);
  };
  for (let i = 0; i < 3; i++) {
    const at = await heard(async () => {
      if (i < 2) return words.nth(i).click();
      // By keys alone: the words are one stop, and arrows go from one to the next.
      await words.nth(0).focus();
      await replay.keyboard.press('ArrowRight');
      await replay.keyboard.press('ArrowRight');
      await replay.keyboard.press('Enter');
    });
    expect(at).not.toBeNull();
    expect(Math.abs(at! - stamps[i])).toBeLessThan(60);
  }
  await expect(replay.locator('.word.now')).toHaveCount(1);
  // The sign after the word, and the list of links that has it by its name: both lead to the moment, and the word still plays its own.
  const links = replay.getByRole('link', { name: /0:09 of the sound/ });
  await expect(links).toHaveCount(2);
  for (let i = 0; i < 2; i++) {
    const sign = links.nth(i).locator('rect');
    const at = await heard(async () => ((await sign.count()) ? sign : links.nth(i)).click());
    expect(at).not.toBeNull();
    expect(Math.abs(at! - 9000)).toBeLessThan(60);
  }
  await button(replay, 'Pause').click();
  // A link to a moment, as the lines of a PDF have it.
  await replay.goto(`${pathToFileURL(file).href}#t=7.5`);
  await expect(replay.locator('#time')).toHaveText(/^0:07 \/ 0:2/);
  await replay.evaluate(AXE);
  const found = (await replay.evaluate(`axe.run(document, { resultTypes: ['violations'] }).then((r) => r.violations.map((v) => v.id + ' ' + v.nodes[0].html.slice(0, 200)))`)) as string[];
  expect(found).toEqual([]);
  expect(asked.filter((u) => !u.startsWith('file:') && !u.startsWith('blob:') && !u.startsWith('data:'))).toEqual([]);
  await context.close();
});

/** How many dark pixels a film shows in a part of its picture, frame by frame at 30 a second, by ffmpeg. */
function darkIn(film: string, [x, y, w, h]: readonly number[]): number[] {
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', film, '-vf', `fps=30:round=down,crop=${w}:${h}:${x}:${y}`, '-pix_fmt', 'gray', '-f', 'rawvideo', '-'], { maxBuffer: 1 << 30 });
  return Array.from({ length: Math.floor(raw.length / (w * h)) }, (_, i) => raw.subarray(i * w * h, (i + 1) * w * h).filter((v) => v < 150).length);
}

test('a film shows each word when it was written, with the sound of that moment, by ffmpeg; faster at its pitch', async () => {
  const { context, page, strokes } = await alongTones(3);
  const made = async (choices: Record<string, string>): Promise<{ file: string; probe: { streams: { codec_type: string; codec_name: string; width?: number; height?: number }[]; format: { duration: string } } }> => {
    await openSheet(page, 'Film');
    for (const [label, value] of Object.entries(choices)) await page.getByLabel(label, { exact: true }).selectOption(value);
    const file = await save(page);
    return { file, probe: JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-show_format', '-of', 'json', file]).toString()) as never };
  };
  const heard = (file: string, from: number, ms: number, speed: number): number | null => {
    const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-ac', '1', '-ar', '48000', '-f', 'f32le', '-'], { maxBuffer: 1 << 28 });
    const samples = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
    return timeAtStart(samples.subarray(48 * from, 48 * (from + ms)), 48_000, speed);
  };
  for (const [as, view, speed] of [['mp4', 'page', 1], ['webm', 'page', 2], ['mp4', 'line', 1]] as const) {
    const { file, probe } = await made({ Kind: as, Seen: view, Speed: String(speed) });
    expect(file.endsWith(`.${as}`)).toBe(true);
    const [video, sound] = ['video', 'audio'].map((t) => probe.streams.find((s) => s.codec_type === t)!);
    expect([video.width, video.height, sound.codec_name]).toEqual([1280, 720, 'opus']);
    expect(video.codec_name).toMatch(as === 'mp4' ? /^(h264|vp9|av1)$/ : /^(vp9|av1|vp8)$/);
    expect(Math.abs(Number(probe.format.duration) - 20 / speed)).toBeLessThan(0.15);
    // Tones stand where the note has them; made faster, they keep their pitch, or nobody could read them.
    for (const ms of [1000, 9000, 15_000]) {
      const told = heard(file, ms / speed, 1200, speed);
      expect([as, speed, ms, told !== null && Math.abs(told - ms) < (speed === 1 ? 4 : 40)]).toEqual([as, speed, ms, true]);
    }
    // A word's first ink is seen at its moment, to two frames of the film (15 a second), and nothing of it before.
    const [k, left] = view === 'page' ? [720 / 297, (1280 - (720 * 210) / 297) / 2] : [1280 / 210, 0];
    for (const { stamp, box, pts } of strokes) {
      const [l, t, r, b] = [left + k * box[0] - 4, k * box[1] - 4, left + k * box[2] + 4, k * box[3] + 4].map(Math.round);
      const dark = darkIn(file, [l, t, r - l, b - t]);
      const first = dark.findIndex((n) => n > 0);
      const seen = (first * 1000) / 30;
      // A machine that others load may hold the pen at its first point: a line begins with the second.
      expect([as, view, seen > stamp!.at / speed - 140, seen < (stamp!.at + unpackPoints(pts).t[1]) / speed + 140, dark.at(-1)! > 25]).toEqual([as, view, true, true, true]);
    }
  }
  await context.close();
});

test('InkML, a bundle and text of four kinds are what they say, read by other programs; a note without sound says so', async () => {
  const { context, page } = await openTides();
  const folder = tempFolder();
  for (const format of ['InkML', 'Bundle', 'Text', 'RTF', 'DOCX']) {
    await openSheet(page, format);
    await expect(page.getByTestId('made-size')).toHaveText(/, /);
    await save(page, folder);
  }
  const file = (end: string) => path.join(folder, `Tides and the rule of twelfths.${end}`);
  const traces = execFileSync('python3', ['-c', `import xml.etree.ElementTree as E,sys;print(len(E.parse(sys.argv[1]).getroot().findall('.//{http://www.w3.org/2003/InkML}trace')))`, file('inkml')]);
  const pages = new Set((await tides(page)).pages.map((p) => p.id));
  expect(Number(traces)).toBe((await strokesOnDisk(page)).filter((s) => pages.has(s.page)).length);
  expect(execFileSync('unzip', ['-t', file('scrivo')]).toString()).toContain('No errors detected');
  expect(readFileSync(file('txt'), 'utf8')).toMatch(/^Tides and the rule of twelfths\n\n.*2026/);
  expect(readFileSync(file('rtf'), 'latin1')).toMatch(/^\{\\rtf1/);
  const { default: mammoth } = (await import('mammoth')) as unknown as { default: { extractRawText(o: { path: string }): Promise<{ value: string }>; convertToHtml(o: { path: string }): Promise<{ value: string }> } };
  expect((await mammoth.extractRawText({ path: file('docx') })).value).toContain('Tides and the rule of twelfths');
  expect((await mammoth.convertToHtml({ path: file('docx') })).value.match(/<img /g)!.length).toBeGreaterThan(3);
  await openSheet(page, 'Markdown');
  await expect(page.getByTestId('made-size')).toHaveText(/Markdown\.zip, /);
  const unpacked = await save(page);
  const text = readFileSync(path.join(unpacked, 'Tides and the rule of twelfths.md'), 'utf8');
  const pictures = [...text.matchAll(/\]\(([^)]+)\)/g)].map((m) => decodeURI(m[1]));
  expect(pictures.length).toBeGreaterThan(3);
  for (const p of pictures) expect(existsSync(path.join(unpacked, p))).toBe(true);
  // What was handed on as ink comes back as pages of the note, each stroke with its moment; and is taken back in one step.
  const before = await strokesOnDisk(page);
  await button(page, 'What to do with this note').click();
  await button(page, 'Bring in').click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles(file('inkml'));
  await expect(page.getByText(new RegExp(`^${Number(traces)} strokes on 2 pages\\. The ink keeps its size\\.$`))).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await expect(page.getByText(/ strokes of “Tides and the rule of twelfths\.inkml” came in\./)).toBeVisible();
  await expect.poll(async () => (await strokesOnDisk(page)).length).toBe(before.length + Number(traces));
  const own = new Set(before.map((s) => s.id));
  const copies = (await strokesOnDisk(page)).filter((s) => !own.has(s.id));
  const moments = (list: typeof before) => list.map((s) => `${s.stamp?.take} ${s.stamp?.at}`).sort();
  expect(moments(copies)).toEqual(moments(before.filter((s) => pages.has(s.page))));
  await button(page, 'Undo').click();
  await expect.poll(async () => (await strokesOnDisk(page)).length).toBe(before.length);
  // Where there is no sound there is none to hand on.
  await button(page, 'Back to Today').click();
  await button(page, 'Write without sound').click();
  await page.getByTestId('page-1').waitFor();
  await openSheet(page, 'Sound');
  await expect(page.getByText('There is no sound in this note.')).toBeVisible();
  await expect(button(page, 'Save file')).toBeDisabled();
  await context.close();
});

test('several notes at once are one ZIP with a page that lists them', async () => {
  const { context, page } = await openTides();
  await page.goto(`${server.url}/library`);
  await page.getByRole('tab', { name: 'All notes' }).click();
  await button(page, 'Select').click();
  for (const title of ['Tides', 'Interview']) await page.getByLabel(new RegExp(`^Choose ${title}`)).check();
  await page.getByRole('toolbar', { name: 'What to do with the chosen notes' }).getByRole('button', { name: 'Hand on' }).click();
  await page.getByRole('radio', { name: 'PDF', exact: true }).click();
  await expect(page.getByTestId('made-size')).toHaveText(/^2 notes PDF\.zip, /);
  const folder = await save(page);
  expect(readdirSync(folder).sort()).toEqual(['Contents.html', 'Interview Aldous Fenwick retired pilot.pdf', 'Tides and the rule of twelfths.pdf']);
  const list = await context.newPage();
  await list.goto(pathToFileURL(path.join(folder, 'Contents.html')).href);
  await expect(list.getByRole('link')).toHaveCount(2);
  await expect(list.getByRole('rowheader', { name: 'Interview: Aldous Fenwick, retired pilot' })).toBeVisible();
  await context.close();
});
