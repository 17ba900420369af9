/** Paper in photos: its corners found, straightened, its light evened out, away from the thread that answers the hand. */
import { expose, transfer } from 'comlink';
import { findSheet } from '../../core/scan/corners';
import { likelyShape, shapeOf, type Corners } from '../../core/scan/homography';
import type { Pixels } from '../../core/scan/image';
import { evened, straightened, type Ink } from '../../core/scan/straighten';

/** The longer side of a photo as it is worked on, px: a sheet that fills it has more than 200 dpi. */
const LONGEST = 3400;
/** A4 at 200 dpi: as fine as a fax of the better kind, and as writing is read. */
const LONG_SIDE_PX = 2339;

async function pixelsOf(file: Blob, longest: number): Promise<{ photo: Pixels; k: number }> {
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
  } catch {
    throw new Error('it is no picture that this browser can show, or it did not arrive whole');
  }
  const k = Math.min(1, longest / Math.max(bitmap.width, bitmap.height));
  const canvas = new OffscreenCanvas(Math.round(bitmap.width * k), Math.round(bitmap.height * k));
  const ctx = canvas.getContext('2d', { willReadFrequently: true })!;
  ctx.imageSmoothingQuality = 'high';
  ctx.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  bitmap.close();
  return { photo: ctx.getImageData(0, 0, canvas.width, canvas.height), k };
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
let last: { file: Blob; photo: Pixels } | null = null;

async function photoOf(file: Blob): Promise<Pixels> {
  // Files lose their identity on the way here: their size and kind tell them apart well enough for one that was just looked at.
  if (last && last.file.size === file.size && last.file.type === file.type) return last.photo;
  const { photo } = await pixelsOf(file, LONGEST);
  last = { file, photo };
  return photo;
}

const work = {
  async find(file: Blob): Promise<Found> {
    last = null;
    const photo = await photoOf(file);
    const found = findSheet(photo);
    const share = found?.map(([x, y]) => [Math.min(1, Math.max(0, x / photo.width)), Math.min(1, Math.max(0, y / photo.height))] as const);
    return { corners: (share as unknown as Corners | undefined) ?? null, w: photo.width, h: photo.height };
  },

  /** `corners`: shares of the photo. */
  async straighten(file: Blob, corners: Corners, ink: Ink): Promise<Scanned> {
    const photo = await photoOf(file);
    const at = corners.map(([x, y]) => [x * photo.width, y * photo.height] as const) as unknown as Corners;
    const shape = likelyShape(shapeOf(at, photo.width, photo.height));
    const [w, h] = shape < 1 ? [Math.round(LONG_SIDE_PX * shape), LONG_SIDE_PX] : [LONG_SIDE_PX, Math.round(LONG_SIDE_PX / shape)];
    const flat = evened(straightened(photo, at, w, h), ink);
    const canvas = new OffscreenCanvas(w, h);
    canvas.getContext('2d')!.putImageData(new ImageData(flat.data as Uint8ClampedArray<ArrayBuffer>, w, h), 0, 0);
    const blob = await canvas.convertToBlob({ type: 'image/webp', quality: ink === 'black' ? 0.7 : 0.85 });
    const bytes = new Uint8Array(await blob.arrayBuffer());
    return transfer({ bytes, w, h }, [bytes.buffer]);
  },

  forget(): Promise<void> {
    last = null;
    return Promise.resolve();
  },
};
export type ScanWork = typeof work;

expose(work);
