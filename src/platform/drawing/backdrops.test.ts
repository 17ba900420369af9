/** Pictures behind pages and the room for pixels, with a browser that only counts. */
import type { Page } from '../../core/note/schema';
import { NEW_PAPER } from '../../core/note/schema';
import { Backdrops, placeOnPage } from './backdrops';
import { bytesOfPixels, PixelRoom } from './pixelRoom';

/** Width and height of the one picture there is. */
const [W, H] = [4000, 3000];
let open: { width: number; height: number; closed: boolean }[] = [];
const wait = () => new Promise<void>((resolve) => setImmediate(resolve));
const settled = async () => {
  for (let i = 0; i < 12; i++) await wait();
};
const pixels = () => open.filter((b) => !b.closed).reduce((sum, b) => sum + bytesOfPixels(b.width, b.height), 0);

beforeEach(() => {
  open = [];
  Object.assign(globalThis, {
    Image: class {
      naturalWidth = W;
      naturalHeight = H;
      onload: () => void = () => undefined;
      set src(_: string) {
        setImmediate(() => this.onload());
      }
    },
    createImageBitmap: async (_: Blob, { resizeWidth, resizeHeight }: { resizeWidth: number; resizeHeight: number }) => {
      const bitmap = { width: resizeWidth, height: resizeHeight, closed: false, close: () => void (bitmap.closed = true) };
      open.push(bitmap);
      return bitmap;
    },
  });
  URL.createObjectURL = () => 'blob:there';
  URL.revokeObjectURL = () => undefined;
});

const pageWith = (content: string): Page => ({ id: content, w: 210, h: 297, paper: NEW_PAPER, backdrop: { content } });
function made(most: number) {
  const told = { came: [] as string[], failed: [] as string[] };
  const room = new PixelRoom(most);
  const backdrops = new Backdrops(room, { read: (hash) => Promise.resolve(hash === 'missing' ? null : new Uint8Array(9)), came: (hash) => told.came.push(hash), failed: (why) => told.failed.push(why) });
  return { room, backdrops, told };
}

/** Device px per mm at which the picture, 210 mm across, is seen pixel for pixel. */
const FULL = W / 210;

test('a picture lies whole and in the middle of its page', () => {
  const rounded = (...given: Parameters<typeof placeOnPage>) => placeOnPage(...given).map((v) => Math.round(1e6 * v) / 1e6);
  expect(rounded(1200, 600, { w: 210, h: 297 })).toEqual([0, 96, 210, 201]);
  expect(rounded(600, 1200, { w: 210, h: 297 })).toEqual([30.75, 0, 179.25, 297]);
});

test('it is decoded as fine as it is seen, finer when that changes, and never twice for the same', async () => {
  const { backdrops, told } = made(1e9);
  const user = {};
  expect(backdrops.of(user, pageWith('a'), FULL / 5)).toBeNull();
  await settled();
  expect(backdrops.of(user, pageWith('a'), FULL / 5)).not.toBeNull();
  expect(backdrops.of(user, pageWith('a'), FULL / 7)).not.toBeNull();
  await settled();
  expect(open.map((b) => b.width)).toEqual([W / 4]);
  backdrops.of(user, pageWith('a'), FULL * 3);
  await settled();
  expect(open.map((b) => [b.width, b.closed])).toEqual([[W / 4, true], [W, false]]);
  expect(told).toEqual({ came: ['a', 'a'], failed: [] });
});

test('tiles and pictures share one room: what was not drawn lately makes way, then a picture is coarser', async () => {
  const full = bytesOfPixels(W, H);
  const { room, backdrops } = made(2.4 * full);
  const [a, b, c] = [{}, {}, {}];
  for (const [user, name] of [[a, 'a'], [b, 'b']] as const) {
    backdrops.of(user, pageWith(name), FULL);
    await settled();
  }
  expect([pixels(), room.left]).toEqual([2 * full, 2.4 * full - 2 * full]);
  // Both in sight: the third is halved.
  for (const [user, name] of [[a, 'a'], [b, 'b'], [c, 'c']] as const) backdrops.of(user, pageWith(name), FULL);
  await settled();
  expect(pixels()).toBe(2.25 * full);
  // Tiles take their room; only one picture is still being drawn.
  room.occupy(full);
  backdrops.letGo(c);
  for (let i = 0; i < 100; i++) backdrops.of(a, pageWith('a'), FULL);
  backdrops.of(c, pageWith('c'), FULL);
  await settled();
  expect(open.filter((x) => !x.closed).length).toBe(2);
  expect(pixels() + full).toBeLessThanOrEqual(2.4 * full);
  for (const user of [a, b, c]) backdrops.letGo(user);
  expect([pixels(), room.left]).toEqual([0, 1.4 * full]);
});

test('what was let go while it was on its way is closed, and what is missing is told once', async () => {
  const { room, backdrops, told } = made(1e9);
  const user = {};
  backdrops.of(user, pageWith('a'), FULL);
  backdrops.letGo(user);
  await settled();
  expect([pixels(), room.left, told.came]).toEqual([0, 1e9, []]);
  for (let i = 0; i < 3; i++) {
    backdrops.of(user, pageWith('missing'), FULL);
    await settled();
  }
  expect(told.failed).toEqual(['it is not on this device, or damaged']);
});
