/** The reader beside a known reader of print (tesseract.js with its English data; for the development only), on the same words of faces that neither was made by. */
import { createRequire } from 'node:module';
import path from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import type { Trace } from '../../src/core/reading/drawing';
import type { Reader } from '../../src/core/reading/reader';
import { KEPT_APART, someHand, writeHand } from '../helpers/faces';
import { random } from '../helpers/hershey';
import { cer } from '../helpers/textMetrics';
import { ms, row } from './kit';

const TEXTS = ['harbour', 'pilot', 'range', 'springs', 'almanac', 'height', 'current', 'leading', 'lights', 'depth', 'anchor', 'weather'];
/** As a reader of print wants it: letters of some 40 pixels, and white around. */
const [PX_PER_MM, AIR, PEN] = [12, 24, 3];

/** A grey picture as a PNG (W3C Portable Network Graphics, 2003). */
function png(w: number, h: number, px: Uint8Array): Buffer {
  const chunk = (type: string, data: Buffer): Buffer => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc32(body), body.length + 4);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(w, 0);
  head.writeUInt32BE(h, 4);
  head.set([8, 0, 0, 0, 0], 8);
  const rows = Buffer.alloc((w + 1) * h);
  for (let y = 0; y < h; y++) rows.set(px.subarray(y * w, (y + 1) * w), y * (w + 1) + 1);
  return Buffer.concat([Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), chunk('IHDR', head), chunk('IDAT', deflateSync(rows)), chunk('IEND', Buffer.alloc(0))]);
}

/** Black ink on white. */
function pictureOf(strokes: readonly Trace[]): Buffer {
  const all = strokes.flat();
  const [l, t] = [Math.min(...all.map((p) => p[0])), Math.min(...all.map((p) => p[1]))];
  const [w, h] = [Math.ceil((Math.max(...all.map((p) => p[0])) - l) * PX_PER_MM) + 2 * AIR, Math.ceil((Math.max(...all.map((p) => p[1])) - t) * PX_PER_MM) + 2 * AIR];
  const px = new Uint8Array(w * h).fill(255);
  for (const s of strokes) {
    s.forEach(([x, y], i) => {
      const [fx, fy] = i ? s[i - 1] : [x, y];
      const steps = Math.max(1, Math.ceil(Math.hypot(x - fx, y - fy) * PX_PER_MM));
      for (let k = 0; k <= steps; k++) {
        const [cx, cy] = [AIR + (fx + ((x - fx) * k) / steps - l) * PX_PER_MM, AIR + (fy + ((y - fy) * k) / steps - t) * PX_PER_MM];
        for (let dy = -PEN; dy <= PEN; dy++) for (let dx = -PEN; dx <= PEN; dx++) if (dx * dx + dy * dy <= PEN * PEN) px[Math.round(cy + dy) * w + Math.round(cx + dx)] = 0;
      }
    });
  }
  return png(w, h, px);
}

export async function beside(reader: Reader): Promise<void> {
  const words = KEPT_APART.flatMap((face, i) => writeHand(TEXTS, someHand(face, random(70 + i)), { x: 10, y: 20, width: 180, pitch: 14, wall: 0, seed: 70 + i }).words).map((w) => ({ text: w.text, traces: w.strokes.map((s): Trace => s.points.map((p) => [p.x, p.y] as const)) }));
  const score = (read: readonly string[]) => ({
    right: words.filter((w, i) => w.text.toLowerCase() === read[i].toLowerCase()).length / words.length,
    wrong: words.reduce((sum, w, i) => sum + Math.min(1, cer(w.text, read[i].toLowerCase())), 0) / words.length,
  });
  let began = performance.now();
  const ours: string[] = [];
  for (const w of words) ours.push((await reader.read(w.traces)).readings[0]?.text ?? '');
  const [own, ownMs] = [score(ours), (performance.now() - began) / words.length];
  const require = createRequire(__filename);
  const { createWorker } = require('tesseract.js') as typeof import('tesseract.js');
  const data = path.dirname(require.resolve('@tesseract.js-data/eng/package.json'));
  const worker = await createWorker('eng', 1, { langPath: path.join(data, '4.0.0'), cacheMethod: 'none', gzip: true });
  // One word in a picture (page segmentation mode 8).
  await worker.setParameters({ tessedit_pageseg_mode: '8' as never });
  const pictures = words.map((w) => pictureOf(w.traces));
  began = performance.now();
  const theirs: string[] = [];
  for (const p of pictures) theirs.push((await worker.recognize(p)).data.text.trim());
  const [other, otherMs] = [score(theirs), (performance.now() - began) / words.length];
  await worker.terminate();
  const percent = (v: number) => `${(100 * v).toFixed(0)} %`;
  row(`words right, of ${words.length} in ${KEPT_APART.length} faces kept apart`, percent(own.right), `a reader of print ${percent(other.right)}`);
  row('signs wrong', percent(own.wrong), `a reader of print ${percent(other.wrong)}`);
  row('time a word', ms(ownMs), `a reader of print ${ms(otherMs)}`);
}
