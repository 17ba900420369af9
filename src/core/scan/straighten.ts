/** A sheet in a photo as it lies flat, and its light evened out. */
import { homography, type Corners } from './homography';
import { blurred, closed, type Pixels } from './image';

const { ceil, floor, imul, max, min } = Math;
/** Of a pixel as one number: its bytes are red, green, blue and opacity, the first the lowest. */
const OPAQUE = 0xff000000 | 0;

export type Ink = 'colour' | 'grey' | 'black';

/** Between two pixels, red and blue at once and green at once: `f` of 256 of the way from `a` to `b`. Opacity is left behind. */
const redBlue = (a: number, b: number, f: number): number => ((imul(a & 0xff00ff, 256 - f) + imul(b & 0xff00ff, f)) >>> 8) & 0xff00ff;
const green = (a: number, b: number, f: number): number => ((imul(a & 0xff00, 256 - f) + imul(b & 0xff00, f)) >>> 8) & 0xff00;

/** The sheet at `w` by `h` px, upright. */
export function straightened(photo: Pixels, corners: Corners, w: number, h: number): Pixels {
  const [a, b, c, d, e, f, g, i] = homography([[0, 0], [w, 0], [w, h], [0, h]], corners);
  const { width, height, data } = photo;
  const from = new Int32Array(data.buffer, data.byteOffset, width * height);
  const to = new Int32Array(w * h);
  const [right, bottom] = [width - 1, height - 1];
  // Millions of times: whole pixels at once, and places counted in 256ths.
  for (let y = 0, o = 0; y < h; y++) {
    const [across, down, below] = [b * (y + 0.5) + c, e * (y + 0.5) + f, i * (y + 0.5) + 1];
    for (let x = 0; x < w; x++, o++) {
      const u = x + 0.5;
      const s = 1 / (g * u + below);
      const cx = min(right, max(0, (a * u + across) * s - 0.5));
      const cy = min(bottom, max(0, (d * u + down) * s - 0.5));
      const px = cx | 0;
      const py = cy | 0;
      const fx = ((cx - px) * 256) | 0;
      const fy = ((cy - py) * 256) | 0;
      const at = py * width + px;
      const beside = px < right ? 1 : 0;
      const under = at + (py < bottom ? width : 0);
      const p = from[at];
      const q = from[at + beside];
      const r = from[under];
      const t = from[under + beside];
      to[o] = redBlue(redBlue(p, q, fx), redBlue(r, t, fx), fy) | green(green(p, q, fx), green(r, t, fx), fy) | OPAQUE;
    }
  }
  return { width: w, height: h, data: new Uint8ClampedArray(to.buffer) };
}

/** The paper behind the writing is looked at so much coarser. */
const COARSE = 12;
/** Half the width of what counts as written or drawn and not as shadow, px of the coarse picture: at 200 dpi areas of 27 mm. */
const WRITING = 9;
/** In no shadow is paper darker than this share of its lightest: what is darker is printed. */
const DARKEST = 0.45;
/** After evening: darker than the first is ink, lighter than the second paper. */
const [INK, PAPER] = [150, 215];

/** The value below which a share of all of them lies. */
function quantileOf(v: Float32Array, share: number): number {
  const counts = new Uint32Array(256);
  for (const x of v) counts[floor(min(255, max(0, x)))]++;
  let left = share * (v.length - 1);
  let k = 0;
  while (k < 255 && left >= counts[k]) left -= counts[k++];
  return k;
}

/** The lightest of each place of the coarse picture, not its mean: writing covers no more than a part of it. One picture for red, green and blue. */
function lightest({ width, height, data }: Pixels, w: number, h: number): Float32Array[] {
  const out = [0, 1, 2].map(() => new Float32Array(w * h));
  const [r, g, b] = out;
  for (let y = 0; y < height; y++) {
    const row = floor(y / COARSE) * w;
    for (let x = 0, o = 4 * y * width; x < width; ) {
      const k = row + floor(x / COARSE);
      const end = min(width, x + COARSE - (x % COARSE));
      let [mr, mg, mb] = [r[k], g[k], b[k]];
      for (; x < end; x++, o += 4) {
        if (data[o] > mr) mr = data[o];
        if (data[o + 1] > mg) mg = data[o + 1];
        if (data[o + 2] > mb) mb = data[o + 2];
      }
      r[k] = mr;
      g[k] = mg;
      b[k] = mb;
    }
  }
  return out;
}

/** Shadows go and the paper turns white, channel by channel, so that colours stay what they are; then as it is wanted. Changes the pixels in place. */
export function evened(sheet: Pixels, ink: Ink): Pixels {
  const { width, height, data } = sheet;
  const [w, h] = [max(1, ceil(width / COARSE)), max(1, ceil(height / COARSE))];
  const gains = lightest(sheet, w, h).map((v) => {
    const paper = blurred(closed({ w, h, v }, WRITING), 2).v;
    const least = max(24, DARKEST * quantileOf(paper, 0.95));
    return paper.map((behind) => 255 / max(behind, least));
  });
  const [reds, greens, blues] = gains.map(() => new Float32Array(w + 2));
  for (let y = 0, o = 0; y < height; y++) {
    // What a row of the sheet is to be multiplied by, at every place of the coarse picture and once beyond its ends; between them it changes evenly.
    const at = min(h - 1, max(0, (y + 0.5) / COARSE - 0.5));
    const [j, below, fy] = [floor(at), min(h - 1, floor(at) + 1), at - floor(at)];
    for (const [n, row] of [reds, greens, blues].entries()) {
      const gain = gains[n];
      for (let i = 0; i < w; i++) row[i + 1] = (1 - fy) * gain[j * w + i] + fy * gain[below * w + i];
      [row[0], row[w + 1]] = [row[1], row[w]];
    }
    for (let i = 0, x = 0; x < width; i++) {
      const end = min(width, COARSE * i + COARSE / 2);
      const [dr, dg, db] = [(reds[i + 1] - reds[i]) / COARSE, (greens[i + 1] - greens[i]) / COARSE, (blues[i + 1] - blues[i]) / COARSE];
      // From the middle of the place before to the middle of this one.
      const since = x + 0.5 - (COARSE * i - COARSE / 2);
      let [r, g, b] = [reds[i] + since * dr, greens[i] + since * dg, blues[i] + since * db];
      for (; x < end; x++, o += 4) {
        data[o] = data[o] * r;
        data[o + 1] = data[o + 1] * g;
        data[o + 2] = data[o + 2] * b;
        r += dr;
        g += dg;
        b += db;
      }
    }
  }
  if (ink === 'colour') return sheet;
  for (let o = 0; o < data.length; o += 4) {
    let v = 0.299 * data[o] + 0.587 * data[o + 1] + 0.114 * data[o + 2];
    if (ink === 'black') v = 255 * min(1, max(0, (v - INK) / (PAPER - INK)));
    data[o] = data[o + 1] = data[o + 2] = v;
  }
  return sheet;
}
