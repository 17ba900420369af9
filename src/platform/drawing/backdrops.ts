/** Pictures behind pages: read and decoded when a page comes into reach, as fine as it is seen and as there is room for, let go with the page. */
import type { Box } from '../../core/ink/stroke';
import type { Page } from '../../core/note/schema';
import { pictureUrl } from '../shownUrl';
import type { Backdrop, Context } from './kindPainter';
import { bytesOfPixels, type PixelRoom } from './pixelRoom';

/** What can lie behind a page; browsers draw these, and none of them runs anything. */
export const BACKDROP_TYPES = 'image/png,image/jpeg,image/webp';
/** Pixels beyond which a picture is refused: a file can claim any size. */
const MOST_PIXELS = 50e6;

/** The picture cannot be shown: a clause. */
export class PictureError extends Error {
  readonly name = 'PictureError';
}

/** Where a picture of `w` by `h` lies on a page: whole, in the middle, mm. */
export function placeOnPage(w: number, h: number, page: Pick<Page, 'w' | 'h'>): Box {
  const k = Math.min(page.w / w, page.h / h);
  const [x, y] = [(page.w - w * k) / 2, (page.h - h * k) / 2];
  return [x, y, x + w * k, y + h * k];
}

/** Width and height in pixels, upright, without decoding it. @throws PictureError */
async function sizeOf(picture: Blob): Promise<{ w: number; h: number }> {
  const url = pictureUrl(picture);
  try {
    const image = new Image();
    await new Promise<void>((resolve, reject) => {
      image.onload = () => resolve();
      image.onerror = () => reject(new PictureError('it is no picture that this browser can show, or it did not arrive whole'));
      image.src = url;
    });
    const [w, h] = [image.naturalWidth, image.naturalHeight];
    if (w * h > MOST_PIXELS) throw new PictureError(`it has ${Math.round((w * h) / 1e6)} megapixels, and ${MOST_PIXELS / 1e6} are the most that a page can have behind it`);
    return { w, h };
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** The picture at a share of its size. @throws PictureError */
async function decoded(picture: Blob, w: number, h: number): Promise<ImageBitmap> {
  try {
    return await createImageBitmap(picture, { resizeWidth: Math.max(1, Math.round(w)), resizeHeight: Math.max(1, Math.round(h)), resizeQuality: 'high' });
  } catch {
    throw new PictureError('it is damaged');
  }
}

/** Halves of the size of a picture that are still as fine as `k` device px per mm of the page. */
function share(w: number, h: number, page: Pick<Page, 'w' | 'h'>, k: number): number {
  const needed = Math.min(1, Math.min(page.w / w, page.h / h) * k);
  return 2 ** -Math.floor(Math.log2(1 / needed));
}

const asBlob = (bytes: Uint8Array): Blob => new Blob([bytes as Uint8Array<ArrayBuffer>]);

/** Checks that bytes are a picture that can be shown. @throws PictureError */
export async function checkPicture(bytes: Uint8Array): Promise<void> {
  const { w, h } = await sizeOf(asBlob(bytes));
  (await decoded(asBlob(bytes), Math.min(w, 64), Math.min(h, 64))).close();
}

/** A picture for a page that is drawn once, at `k` px per mm. @throws PictureError */
export async function decodeFor(page: Pick<Page, 'w' | 'h'>, bytes: Uint8Array, k: number): Promise<ImageBitmap> {
  const blob = asBlob(bytes);
  const { w, h } = await sizeOf(blob);
  const part = share(w, h, page, k);
  return decoded(blob, w * part, h * part);
}

export const backdropOf = (bitmap: ImageBitmap, page: Pick<Page, 'w' | 'h'>): Backdrop => ({
  draw(ctx: Context, [l, t, r, b]: Box): void {
    const [x0, y0, x1, y1] = placeOnPage(bitmap.width, bitmap.height, page);
    const [fl, ft, fr, fb] = [Math.max(l, x0), Math.max(t, y0), Math.min(r, x1), Math.min(b, y1)];
    if (fl >= fr || ft >= fb) return;
    const k = bitmap.width / (x1 - x0);
    ctx.imageSmoothingQuality = 'high';
    ctx.drawImage(bitmap, (fl - x0) * k, (ft - y0) * k, (fr - fl) * k, (fb - ft) * k, fl, ft, fr - fl, fb - ft);
  },
});

interface Entry {
  readonly users: Set<object>;
  blob: Blob | null;
  size: { w: number; h: number } | null;
  bitmap: ImageBitmap | null;
  /** Of its size, as it is and as it was asked for last. */
  share: number;
  asked: number;
  /** When it was drawn last, in a count of its own. */
  drawn: number;
  failed: boolean;
}

export interface BackdropHost {
  /** Null when it is not here, or damaged. */
  read(hash: string): Promise<Uint8Array | null>;
  /** It is there now, or finer than before: pages that have it are to be drawn anew. */
  came(hash: string): void;
  /** It cannot be shown: a clause. */
  failed(why: string): void;
}

export class Backdrops {
  private readonly entries = new Map<string, Entry>();
  private turn = 0;

  constructor(
    private readonly room: PixelRoom,
    private readonly host: BackdropHost,
  ) {}

  /** What is there of the picture behind a page; what is missing of it is fetched. `user` holds it until it lets go. */
  of(user: object, page: Page, k: number): Backdrop | null {
    const hash = page.backdrop?.content;
    if (!hash) return null;
    let entry = this.entries.get(hash);
    if (!entry) this.entries.set(hash, (entry = { users: new Set(), blob: null, size: null, bitmap: null, share: 0, asked: 0, drawn: 0, failed: false }));
    entry.users.add(user);
    entry.drawn = ++this.turn;
    const { size } = entry;
    const wanted = size ? share(size.w, size.h, page, k) : 1;
    if (!entry.failed && (!entry.asked || (size && wanted > entry.asked))) {
      entry.asked = size ? wanted : Number.MIN_VALUE;
      void this.fetch(hash, entry, page, k);
    }
    return entry.bitmap && backdropOf(entry.bitmap, page);
  }

  /** A page is far away, or has another picture. */
  letGo(user: object): void {
    for (const [hash, entry] of this.entries) {
      if (!entry.users.delete(user) || entry.users.size) continue;
      this.drop(entry);
      this.entries.delete(hash);
    }
  }

  private drop(entry: Entry): void {
    if (!entry.bitmap) return;
    this.room.free(bytesOfPixels(entry.bitmap.width, entry.bitmap.height));
    entry.bitmap.close();
    [entry.bitmap, entry.share, entry.asked] = [null, 0, 0];
  }

  private async fetch(hash: string, entry: Entry, page: Page, k: number): Promise<void> {
    try {
      if (!entry.blob) {
        const bytes = await this.host.read(hash);
        if (!bytes) throw new PictureError('it is not on this device, or damaged');
        entry.blob = asBlob(bytes);
      }
      entry.size ??= await sizeOf(entry.blob);
      const { w, h } = entry.size;
      const wanted = Math.max(share(w, h, page, k), entry.asked);
      entry.asked = wanted;
      const at = this.fitting(entry, wanted);
      if (at <= entry.share) return;
      const bitmap = await decoded(entry.blob, w * at, h * at);
      // It may have been let go of meanwhile, or come finer by a later wish.
      if (this.entries.get(hash) !== entry || at <= entry.share) return bitmap.close();
      const { asked } = entry;
      this.drop(entry);
      [entry.bitmap, entry.share, entry.asked] = [bitmap, at, asked];
      this.room.occupy(bytesOfPixels(bitmap.width, bitmap.height));
      this.host.came(hash);
    } catch (e) {
      entry.failed = true;
      this.host.failed(e instanceof Error ? e.message : String(e));
    }
  }

  /** The share of its size that there is room for, at most `wanted`: pictures that were not drawn lately make way first. */
  private fitting(entry: Entry, wanted: number): number {
    const { w, h } = entry.size!;
    const own = entry.bitmap ? bytesOfPixels(entry.bitmap.width, entry.bitmap.height) : 0;
    const others = [...this.entries.values()].filter((e) => e !== entry && e.bitmap).sort((a, b) => a.drawn - b.drawn);
    const bytes = (at: number) => bytesOfPixels(w * at, h * at);
    while (bytes(wanted) > this.room.left + own && others.length && others[0].drawn < entry.drawn - LATELY) this.drop(others.shift()!);
    let at = wanted;
    while (at > LEAST && bytes(at) > this.room.left + own) at /= 2;
    return at;
  }
}

/** Drawings within which a picture counts as in sight. */
const LATELY = 60;
/** Coarser than this share it is of no use; then it takes the room it needs. */
const LEAST = 1 / 16;
