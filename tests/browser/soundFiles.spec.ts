/** Sound files as takes: every kind keeps its time, told by tones (ITU-T Q.23) that a foreign program encoded and another decodes. */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { bringFile, button, startBrowser, startServer, tempFolder, turn } from '../helpers/app';
import { headersOnDisk, records } from '../helpers/disk';
import { median, spellTime, timeAtStart, wavOf } from '../helpers/dtmf';
import { pageErrors } from '../helpers/tap';

const RATE = 44_100;
/** Of sound in each file, s. */
const LONG = 10;

/** The sound of the open note as the bundle holds it, decoded by ffmpeg to 8 kHz. */
async function soundOf(page: Page, folder: string): Promise<Float32Array> {
  await button(page, 'What to do with this note').click();
  const download = page.waitForEvent('download');
  await button(page, 'Save as a file').click();
  const bundle = path.join(folder, 'copy.scrivo');
  await (await download).saveAs(bundle);
  const name = execFileSync('unzip', ['-Z1', bundle]).toString().split('\n').find((n) => n.endsWith('.webm'))!;
  const webm = path.join(folder, 'copy.webm');
  writeFileSync(webm, execFileSync('unzip', ['-p', bundle, name], { maxBuffer: 1 << 28 }));
  const raw = path.join(folder, 'copy.raw');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', webm, '-ar', String(RATE), '-ac', '1', '-f', 'f32le', raw]);
  const bytes = readFileSync(raw);
  return new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2);
}

test('WAV, MP3, M4A, Ogg, WebM, FLAC and the sound of an MP4 film keep their time', async () => {
  test.setTimeout(180_000);
  const folder = tempFolder();
  const wav = path.join(folder, 'tides.wav');
  writeFileSync(wav, wavOf(spellTime(LONG, RATE), RATE));
  const made: Record<string, string[]> = {
    wav: [],
    mp3: ['-c:a', 'libmp3lame', '-b:a', '96k'],
    m4a: ['-c:a', 'aac', '-b:a', '96k', '-ac', '2'],
    ogg: ['-c:a', 'libvorbis', '-ac', '2'],
    opus: ['-c:a', 'libopus', '-b:a', '48k'],
    webm: ['-c:a', 'libopus', '-b:a', '48k'],
    flac: ['-c:a', 'flac'],
    mp4: ['-f', 'lavfi', '-i', `testsrc2=size=320x240:rate=10:duration=${LONG}`, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-shortest'],
  };
  for (const [kind, args] of Object.entries(made)) if (args.length) execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', wav, ...args, path.join(folder, `tides.${kind}`)]);
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  for (const kind of Object.keys(made)) {
    const file = path.join(folder, `tides.${kind}`);
    await bringFile(page, file, /of sound\. It becomes a take/);
    await page.getByTestId('page-1').waitFor();
    await expect(page.getByText('Press Play and write along: the pen writes while the sound plays.')).toBeVisible();
    const long = Number(execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', file]).toString());
    const id = new URL(page.url()).pathname.split('/').at(-1)!;
    const take = (await headersOnDisk(page)).find((h) => h.id === id)!.takes[0];
    expect(Math.abs(take.ms - 1000 * long), `${kind}: ${take.ms} ms of ${long} s`).toBeLessThan(150);
    expect(take).toMatchObject({ brought: true, state: 'done', name: 'tides' });
    const sound = await soundOf(page, folder);
    const off: number[] = [];
    for (let at = 1; at < LONG - 1.4; at += 0.7) {
      const from = Math.round(at * RATE);
      const told = timeAtStart(sound.subarray(from, from + Math.round(0.7 * RATE)), RATE);
      if (told !== null) off.push(told - at * 1000);
    }
    console.log(`${kind}: ${off.length} told, off by ${median(off.map(Math.abs)).toFixed(1)} ms, at most ${Math.max(...off.map(Math.abs)).toFixed(1)} ms`);
    expect(off.length, `${kind}: places that tell their time`).toBeGreaterThanOrEqual(9);
    expect(median(off.map(Math.abs)), kind).toBeLessThanOrEqual(5);
    await button(page, 'Back to Today').click();
    await page.getByRole('button', { name: 'Bring in', exact: true }).waitFor();
  }
  // What is no sound is told, and leaves nothing behind.
  const pieces = async () => Object.keys(await records(page, 'scrivo-sound')).filter((k) => !k.startsWith('heard/')).sort();
  const before = await pieces();
  const whole = readFileSync(path.join(folder, 'tides.mp3'));
  const silent = path.join(folder, 'silent.mp4');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=10:duration=2', '-pix_fmt', 'yuv420p', silent]);
  for (const [name, buffer] of [['film without sound.mp4', readFileSync(silent)], ['noise.ogg', Buffer.concat([Buffer.from('OggS'), Buffer.from(Array.from({ length: 5000 }, (_, i) => (i * 7919) % 256))])], ['cut.flac', readFileSync(path.join(folder, 'tides.flac')).subarray(0, 20)]] as const) {
    await page.getByRole('button', { name: 'Bring in', exact: true }).click();
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
    await chooser.setFiles({ name, mimeType: 'audio/mpeg', buffer });
    await expect(page.getByRole('alert').filter({ hasText: /cannot be brought in/ })).toBeVisible();
    await button(page, 'Leave it out').click();
  }
  // Cut short, what is there comes in.
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  expect(await pieces()).toEqual(before);
  await chooser.setFiles({ name: 'half.mp3', mimeType: 'audio/mpeg', buffer: whole.subarray(0, whole.length >> 1) });
  await page.getByRole('dialog').getByText(/of sound\. It becomes a take/).waitFor();
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
  await page.getByTestId('page-1').waitFor();
  const half = (await headersOnDisk(page)).find((h) => h.title === 'half')!.takes[0];
  expect(Math.abs(half.ms - 500 * LONG)).toBeLessThan(200);
  expect(Object.keys(await records(page, 'scrivo')).filter((k) => k.startsWith('gone/'))).toEqual([]);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('a film keeps its picture: in a small window, in step with the sound, moved by keys, put away and shown again', async () => {
  const folder = tempFolder();
  const wav = path.join(folder, 'film.wav');
  const film = path.join(folder, 'harbour.mp4');
  writeFileSync(wav, wavOf(spellTime(40, RATE), RATE));
  // Its brightness tells the time: 40 at the beginning, 4 more with every second.
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=gray:s=96x64:r=25:d=40,geq=lum=40+4*T:cb=128:cr=128', '-i', wav, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-color_range', 'pc', '-g', '25', '-c:a', 'aac', '-shortest', film]);
  const server = await startServer();
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await bringFile(page, film, /of sound\. It becomes a take/);
  await page.getByTestId('page-1').waitFor();
  // Kept as it came.
  const header = (await headersOnDisk(page)).find((h) => h.title === 'harbour')!;
  const hash = createHash('sha256').update(readFileSync(film)).digest('hex');
  expect(header.takes[0].film!.content).toBe(hash);
  expect(header.contents).toContain(hash);
  const shown = page.getByRole('region', { name: 'Film' });
  await shown.locator('video').waitFor();
  /** What the picture says less what the timeline says, s; ITU-R BT.601 in full range: grey is its luminance. */
  const apart = () =>
    page.evaluate(() => {
      const video = document.querySelector<HTMLVideoElement>('.film video')!;
      const ctx = new OffscreenCanvas(8, 8).getContext('2d')!;
      ctx.drawImage(video, 0, 0, 8, 8);
      const [grey] = ctx.getImageData(4, 4, 1, 1).data;
      const now = document.querySelector('audio')!.currentTime;
      return video.readyState < 2 ? 99 : (grey - 40) / 4 - now;
    });
  await page.getByRole('slider', { name: 'Playback position' }).fill('20000');
  await expect.poll(async () => Math.abs(await apart())).toBeLessThan(0.6);
  await button(page, 'Play').click();
  await page.waitForFunction(() => document.querySelector('audio')!.currentTime > 23);
  await expect.poll(async () => Math.abs(await apart())).toBeLessThan(0.6);
  await button(page, 'Pause').click();
  expect(await shown.locator('video').evaluate((v) => (v as HTMLVideoElement).muted)).toBe(true);
  // It is moved aside, put away, and comes back.
  const x = (await shown.boundingBox())!.x;
  await shown.getByRole('button', { name: /^Move the film/ }).focus();
  await page.keyboard.press('ArrowLeft');
  await expect.poll(async () => (await shown.boundingBox())!.x).toBeLessThan(x - 20);
  await shown.getByRole('button', { name: 'Put the film away' }).click();
  await expect(shown).toHaveCount(0);
  await turn(page, 'Show the film');
  await shown.locator('video').waitFor();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('what is stopped while it comes in, or killed, leaves nothing', async () => {
  const folder = tempFolder();
  const long = path.join(folder, 'long.mp3');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=frequency=300:sample_rate=16000:duration=1800', '-c:a', 'libmp3lame', '-b:a', '32k', long]);
  const server = await startServer();
  let context = await startBrowser({ profile: folder });
  let page = context.pages()[0];
  await page.goto(server.url);
  const pieces = async () => Object.keys(await records(page, 'scrivo-sound')).length;
  const notes = async () => Object.keys(await records(page, 'scrivo')).filter((k) => /^(note|rows|ink|extent|gone)\//.test(k));
  await bringFile(page, long, /of sound\. It becomes a take/);
  const work = page.getByRole('status', { name: 'Work under way' });
  await work.waitFor();
  await expect.poll(pieces).toBeGreaterThan(3);
  expect(await notes()).not.toEqual([]);
  await work.getByRole('button', { name: /^Bringing in/ }).click();
  await page.getByRole('button', { name: /^Stop: Bringing in/ }).click();
  await expect(page.getByText('“long.mp3” was not brought in; nothing of it was kept.')).toBeVisible();
  expect(await pieces()).toBe(0);
  expect(await notes()).toEqual([]);
  // The same, and the program ends in between: the next start clears up.
  await bringFile(page, long, /of sound\. It becomes a take/);
  await expect.poll(pieces).toBeGreaterThan(3);
  execFileSync('pkill', ['-9', '-f', `user-data-dir=${folder}`]);
  await context.close().catch(() => undefined);
  context = await startBrowser({ profile: folder });
  page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: 'Bring in', exact: true }).waitFor();
  await expect.poll(notes).toEqual([]);
  await expect.poll(pieces).toBe(0);
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});
