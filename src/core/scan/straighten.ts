/** A sheet in a photo as it lies flat, and its light evened out. */
import { homography, type Corners } from './homography';
import { blurred, closed, type Pixels } from './image';

const { ceil, floor, max, min } = Math;

export type Ink = 'colour' | 'grey' | 'black';

/** The sheet at `w` by `h` px, upright. */
export function straightened(photo: Pixels, corners: Corners, w: number, h: number): Pixels {
  const to = homography([[0, 0], [w, 0], [w, h], [0, h]], corners);
  const data = new Uint8ClampedArray(4 * w * h);
  const { width, height, data: from } = photo;
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      // Millions of times: without arrays in between.
      const s = to[6] * (x + 0.5) + to[7] * (y + 0.5) + 1;
      const cx = min(width - 1, max(0, (to[0] * (x + 0.5) + to[1] * (y + 0.5) + to[2]) / s - 0.5));
      const cy = min(height - 1, max(0, (to[3] * (x + 0.5) + to[4] * (y + 0.5) + to[5]) / s - 0.5));
      const i = floor(cx);
      const j = floor(cy);
      const fx = cx - i;
      const fy = cy - j;
      const a = 4 * (j * width + i);
      const b = i + 1 < width ? a + 4 : a;
      const c = j + 1 < height ? a + 4 * width : a;
      const d = i + 1 < width ? c + 4 : c;
      const o = 4 * (y * w + x);
      for (let n = 0; n < 3; n++) data[o + n] = (1 - fy) * ((1 - fx) * from[a + n] + fx * from[b + n]) + fy * ((1 - fx) * from[c + n] + fx * from[d + n]) + 0.5;
      data[o + 3] = 255;
    }
  }
  return { width: w, height: h, data };
}

/** The paper behind the writing is looked at so much coarser. */
const COARSE = 12;
/** Half the width of what counts as written or drawn and not as shadow, px of the coarse picture: at 200 dpi areas of 27 mm. */
const WRITING = 9;
/** In no shadow is paper darker than this share of its lightest: what is darker is printed. */
const DARKEST = 0.45;
/** After evening: darker than the first is ink, lighter than the second paper. */
const [INK, PAPER] = [150, 215];

/** Shadows go and the paper turns white, channel by channel, so that colours stay what they are; then as it is wanted. Changes the pixels in place. */
export function evened(sheet: Pixels, ink: Ink): Pixels {
  const { width, height, data } = sheet;
  const [w, h] = [max(1, ceil(width / COARSE)), max(1, ceil(height / COARSE))];
  for (let n = 0; n < 3; n++) {
    const v = new Float32Array(w * h);
    // The lightest of each place, not its mean: writing covers no more than a part of it.
    for (let y = 0; y < height; y++) for (let x = 0, o = 4 * y * width + n; x < width; x++, o += 4) {
      const k = floor(y / COARSE) * w + floor(x / COARSE);
      if (data[o] > v[k]) v[k] = data[o];
    }
    const paper = blurred(closed({ w, h, v }, WRITING), 2).v;
    const least = DARKEST * [...paper].sort((a, b) => a - b)[floor(0.95 * (paper.length - 1))];
    for (let y = 0; y < height; y++) {
      const gy = min(h - 1.001, max(0, (y + 0.5) / COARSE - 0.5));
      const [j, fy] = [floor(gy), gy - floor(gy)];
      const below = min(h - 1, j + 1);
      for (let x = 0, o = 4 * y * width + n; x < width; x++, o += 4) {
        const gx = min(w - 1.001, max(0, (x + 0.5) / COARSE - 0.5));
        const i = floor(gx);
        const fx = gx - i;
        const right = min(w - 1, i + 1);
        const behind = (1 - fy) * ((1 - fx) * paper[j * w + i] + fx * paper[j * w + right]) + fy * ((1 - fx) * paper[below * w + i] + fx * paper[below * w + right]);
        data[o] = (255 * data[o]) / max(24, least, behind) + 0.5;
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
