/** Pictures of files, made ready in a worker. */
import { asleep, awake, isAsleep } from '../asleep';
import { WorkerCall } from '../worker';
import type { PictureTaken, PictureWork } from './picture.worker';

const worker = new WorkerCall<PictureWork>(() => new Worker(new URL('./picture.worker', window.location.href)));

/** The longer side of a drawing that has no size of its own, px. */
const DRAWING_PX = 2048;

/** What is no drawing: programs, and pages of other kinds within it. */
const NO_DRAWING = 'script, foreignObject, iframe, object, embed, audio, video, animate, set, animateMotion, animateTransform';

/** A drawing without what runs, moves or leads elsewhere. @throws Error with a clause */
function tame(text: string): string {
  // Its own style sheet is kept by another name meanwhile: the page that looks at it applies none but its own.
  const dom = new DOMParser().parseFromString(asleep(text).replace(/(<\/?)style\b/g, '$1kept-style'), 'image/svg+xml');
  if (dom.querySelector('parsererror') || dom.documentElement.localName !== 'svg') throw new Error('it is a drawing (SVG) that cannot be read');
  for (const el of dom.querySelectorAll(NO_DRAWING)) el.remove();
  for (const el of dom.querySelectorAll('*')) {
    for (const { name, value } of [...el.attributes]) {
      const leads = /^(xlink:)?(href|src)$/i.test(name) && !/^\s*(#|data:image\/(png|jpeg|webp|gif))/i.test(value);
      if (isAsleep(name) || leads || /url\(\s*['"]?\s*(?!['"]?#)/i.test(value)) el.removeAttribute(name);
    }
    if (el.localName === 'kept-style') el.textContent = (el.textContent ?? '').replace(/@import[^;]*;?/gi, '').replace(/url\(\s*['"]?(?!#)[^)]*\)/gi, 'none');
  }
  return awake(new XMLSerializer().serializeToString(dom)).replace(/(<\/?)kept-style\b/g, '$1style');
}

/** A drawing (SVG) as pixels. As an image it runs nothing and fetches nothing (SVG 2, 2.7: secure static mode), whatever is left in it. */
async function drawn(file: Blob): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([tame(await file.text())], { type: 'image/svg+xml' }));
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

/** @throws Error with a clause */
export const pictureOfFile = async (file: Blob, isDrawing: boolean): Promise<PictureTaken> => {
  const pixels = isDrawing ? await drawn(file) : file;
  return worker.call((w) => w.bring(pixels));
};
