/** Pictures of files, made ready in a worker. */
import { WorkerCall } from '../worker';
import type { PictureTaken, PictureWork } from './picture.worker';

const worker = new WorkerCall<PictureWork>(() => new Worker(new URL('./picture.worker', window.location.href)));

/** The longer side of a drawing that has no size of its own, px. */
const DRAWING_PX = 2048;

/** A drawing that is not tamed by then is given up, ms: one of a megabyte takes a tenth of a second. */
const TAME_MS = 10_000;

/** A drawing (SVG) as pixels. It was counted and tamed in a worker before; as an image it runs nothing and fetches nothing (SVG 2, 2.7: secure static mode), whatever is left in it. */
async function drawn(file: Blob): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([await worker.call((w) => w.tame(file), TAME_MS)], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    await new Promise<void>((resolve, reject) => {
      image.onload = () => resolve();
      image.onerror = () => reject(new Error('it is a drawing (SVG) that cannot be read'));
      image.src = url;
    });
    const [w, h] = [image.naturalWidth || 300, image.naturalHeight || 150];
    const k = DRAWING_PX / Math.max(w, h);
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [Math.max(1, Math.round(w * k)), Math.max(1, Math.round(h * k))];
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
    if (!blob) throw new Error('it is a drawing (SVG) that cannot be read');
    return blob;
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** What is shown of a file before it is brought in: its pixels, and nothing of a drawing but those. @throws Error with a clause */
export const pixelsOf = (file: Blob, isDrawing: boolean): Promise<Blob> => (isDrawing ? drawn(file) : Promise.resolve(file));

/** @throws Error with a clause */
export const pictureOfFile = async (file: Blob, isDrawing: boolean): Promise<PictureTaken> => {
  const pixels = await pixelsOf(file, isDrawing);
  return worker.call((w) => w.bring(pixels));
};
