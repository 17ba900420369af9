/** Paper in photos: its corners found, straightened, its light evened out, away from the thread that answers the hand. */
import { expose, transfer } from 'comlink';
import { FINE_PX, findSheet } from '../../core/scan/corners';
import { likelyShape, shapeOf, type Corners } from '../../core/scan/homography';
import type { Pixels } from '../../core/scan/image';
import { evened, straightened, type Ink } from '../../core/scan/straighten';

/** The longer side of a photo as it is worked on, px: one of 12 megapixels is read as it is, which costs less than making it smaller. */
const LONGEST = 4100;
/** A4 at 200 dpi: as fine as a fax of the better kind, and as writing is read. */
const LONG_SIDE_PX = 2339;

/** Grain of a camera packs no tighter as WebP, and takes it half a second; black on clean white does, by half. */
const KEPT_AS: Readonly<Record<Ink, ImageEncodeOptions>> = { colour: { type: 'image/jpeg', quality: 0.8 }, grey: { type: 'image/jpeg', quality: 0.8 }, black: { type: 'image/webp', quality: 0.7 } };

async function decoded(file: Blob): Promise<ImageBitmap> {
  try {
    return await createImageBitmap(file, { imageOrientation: 'from-image' });
  } catch {
    throw new Error('it is no picture that this browser can show, or it did not arrive whole');
  }
}

/** The part of it that lies within a box of shares (left, top, right, bottom); all of it at most `longest` px. */
function pixelsOf(bitmap: ImageBitmap, longest: number, [l, t, r, b]: readonly number[] = [0, 0, 1, 1]): Pixels {
  const k = Math.min(1, longest / Math.max(bitmap.width, bitmap.height));
  const [w, h] = [Math.round(bitmap.width * k), Math.round(bitmap.height * k)];
  const [x, y] = [Math.floor(l * w), Math.floor(t * h)];
  const canvas = new OffscreenCanvas(Math.max(1, Math.ceil(r * w) - x), Math.max(1, Math.ceil(b * h) - y));
  const ctx = canvas.getContext('2d', { willReadFrequently: true })!;
  ctx.imageSmoothingQuality = 'medium';
  ctx.drawImage(bitmap, -x, -y, w, h);
  return ctx.getImageData(0, 0, canvas.width, canvas.height);
}

export interface Found {
  /** Shares of the photo's width and height; null where no sheet was found that can be trusted. */
  readonly corners: Corners | null;
  readonly w: number;
  readonly h: number;
}

export interface Scanned {
  readonly bytes: Uint8Array;
  readonly w: number;
  readonly h: number;
}

/** The photo that was looked at last: it is straightened next. */
let last: { file: Blob; bitmap: ImageBitmap } | null = null;

function forget(): void {
  last?.bitmap.close();
  last = null;
}

async function photoOf(file: Blob): Promise<ImageBitmap> {
  // Files lose their identity on the way here: their size and kind tell them apart well enough for one that was just looked at.
  if (last && last.file.size === file.size && last.file.type === file.type) return last.bitmap;
  const bitmap = await decoded(file);
  forget();
  last = { file, bitmap };
  return bitmap;
}

const work = {
  async find(file: Blob): Promise<Found> {
    forget();
    const bitmap = await photoOf(file);
    // As fine as corners are fitted: the browser makes it small quicker than anybody here.
    const small = pixelsOf(bitmap, FINE_PX);
    const found = findSheet(small);
    const share = found?.map(([x, y]) => [Math.min(1, Math.max(0, x / small.width)), Math.min(1, Math.max(0, y / small.height))] as const);
    return { corners: (share as unknown as Corners | undefined) ?? null, w: bitmap.width, h: bitmap.height };
  },

  /** `corners`: shares of the photo. */
  async straighten(file: Blob, corners: Corners, ink: Ink): Promise<Scanned> {
    const bitmap = await photoOf(file);
    const k = Math.min(1, LONGEST / Math.max(bitmap.width, bitmap.height));
    const [width, height] = [Math.round(bitmap.width * k), Math.round(bitmap.height * k)];
    const whole = corners.map(([x, y]) => [x * width, y * height] as const) as unknown as Corners;
    const shape = likelyShape(shapeOf(whole, width, height));
    // Of the photo only what the sheet lies on is read.
    const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
    const [l, t, r, b] = [Math.max(0, Math.min(...xs)), Math.max(0, Math.min(...ys)), Math.min(1, Math.max(...xs)), Math.min(1, Math.max(...ys))];
    const photo = pixelsOf(bitmap, LONGEST, [l, t, r, b]);
    const at = whole.map(([x, y]) => [x - Math.floor(l * width), y - Math.floor(t * height)] as const) as unknown as Corners;
    const [w, h] = shape < 1 ? [Math.round(LONG_SIDE_PX * shape), LONG_SIDE_PX] : [LONG_SIDE_PX, Math.round(LONG_SIDE_PX / shape)];
    const flat = evened(straightened(photo, at, w, h), ink);
    const canvas = new OffscreenCanvas(w, h);
    canvas.getContext('2d')!.putImageData(new ImageData(flat.data as Uint8ClampedArray<ArrayBuffer>, w, h), 0, 0);
    const blob = await canvas.convertToBlob(KEPT_AS[ink]);
    // The pixels go at once, and not when the browser finds the time.
    canvas.width = canvas.height = 0;
    const bytes = new Uint8Array(await blob.arrayBuffer());
    return transfer({ bytes, w, h }, [bytes.buffer]);
  },
};
export type ScanWork = typeof work;

expose(work);
