/** Pictures brought to a sensible size, upright and in the screen's colours, with nothing but their pixels left: away from the thread that answers the hand. */
import { expose, transfer } from 'comlink';
import { tamedDrawing } from '../../core/bring/drawing';
import { tamedGif } from '../../core/bring/gif';

/** The longer side, px: as fine as print on A4. */
const LONGEST = 2560;
/** A file can claim any size. */
const MOST_PIXELS = 120e6;
/** A moving picture of more bytes is shown by its first frame. */
const MOVING_BYTES = 8e6;
/** Pictures of few colours stay exact where that takes no more than this. */
const EXACT_BYTES = 1.5e6;

export interface PictureTaken {
  readonly bytes: Uint8Array;
  readonly w: number;
  readonly h: number;
  /** It moves: what is kept of its file. */
  readonly moves?: Uint8Array;
}

async function decoded(file: Blob): Promise<ImageBitmap> {
  try {
    // The camera's turn (EXIF) is in it, and its colours are those of the screen.
    return await createImageBitmap(file, { imageOrientation: 'from-image', colorSpaceConversion: 'default' });
  } catch {
    throw new Error('it is no picture that this browser can show, or it did not arrive whole');
  }
}

const work = {
  /** A drawing (SVG) that may be looked at. @throws DrawingError */
  tame: async (file: Blob): Promise<string> => tamedDrawing(await file.text()),

  /** @throws Error with a clause */
  async bring(file: Blob): Promise<PictureTaken> {
    const whole = await decoded(file);
    const { width, height } = whole;
    if (width * height > MOST_PIXELS) throw new Error(`it has ${Math.round((width * height) / 1e6)} megapixels, and ${MOST_PIXELS / 1e6} are the most`);
    const k = Math.min(1, LONGEST / Math.max(width, height));
    const [w, h] = [Math.max(1, Math.round(width * k)), Math.max(1, Math.round(height * k))];
    const canvas = new OffscreenCanvas(w, h);
    const ctx = canvas.getContext('2d')!;
    ctx.imageSmoothingQuality = 'high';
    ctx.drawImage(whole, 0, 0, w, h);
    whole.close();
    // Photos are never small when they are kept exactly.
    const isPhoto = new Uint8Array(await file.slice(0, 2).arrayBuffer())[0] === 0xff;
    const exact = isPhoto ? null : await canvas.convertToBlob({ type: 'image/png' });
    // What would fill the disk stays still.
    const gif = file.size <= MOVING_BYTES ? tamedGif(new Uint8Array(await file.arrayBuffer())) : null;
    const moves = gif && gif.frames > 1 && k === 1 ? gif.bytes : undefined;
    const blob = exact && exact.size <= EXACT_BYTES ? exact : await canvas.convertToBlob({ type: 'image/webp', quality: 0.9 });
    const bytes = new Uint8Array(await blob.arrayBuffer());
    return transfer({ bytes, w, h, ...(moves && { moves }) }, [bytes.buffer]);
  },
};
export type PictureWork = typeof work;

expose(work);
