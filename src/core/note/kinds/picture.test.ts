import { readBundle, writeBundle } from '../../formats/bundle';
import { sha256Hex } from '../../hash';
import { inLoop } from '../../ink/lasso';
import { around, move } from '../../ink/transform';
import { contentsOf } from '../contents';
import { applyEdit, noteOf } from '../edit';
import { readInk, writeInk } from '../records/inkChunk';
import { newPage } from '../schema';
import { kindOf, layerOf, mapPlaced } from './kinds';
import { cropped, makePicture, mirrored, outlineOf, pictureKind, sizeOf, uncropped, type Picture } from './picture';

const HASH = 'a'.repeat(64);
const picture = (more: Partial<Picture> = {}): Picture => makePicture({ id: 'p1', page: 'one', stamp: { take: 't', at: 1234.5 }, wall: 1_700_000_000_000, content: HASH, px: [800, 600], m: [80, 0, 0, 60, 20, 30], ...more });

test('it lies where its corners are, however it was moved, turned and mirrored', () => {
  const it = picture();
  expect(it.box).toEqual([20, 30, 100, 90]);
  expect(mapPlaced(it, move(5, -10)).box).toEqual([25, 20, 105, 80]);
  // A quarter turn around its middle changes width and height, and not its size.
  const turned = mapPlaced(it, around(60, 60, 1, 1, Math.PI / 2));
  expect(turned.box.map((v) => Math.round(v))).toEqual([30, 20, 90, 100]);
  expect(sizeOf(turned)).toEqual({ w: expect.closeTo(80, 9) as number, h: expect.closeTo(60, 9) as number });
  expect(outlineOf(turned)[0].map((v) => Math.round(v))).toEqual([90, 20]);
  const mirror = mirrored(it);
  expect(mirror.box).toEqual(it.box);
  expect(outlineOf(mirror)[0]).toEqual([100, 30]);
  expect(mirrored(mirror).m.map((v) => Math.round(v * 1e9) / 1e9)).toEqual(it.m);
});

test('cropped it shows what lay in the loop, wherever it is moved then, and all of it again', () => {
  const it = picture();
  const part = cropped(it, [[40, 40], [80, 40], [80, 70]])!;
  expect(part.crop).toEqual([0.25, 0.16667, 0.75, 0.16667, 0.75, 0.66667]);
  expect(part.box.map((v) => Math.round(v * 100) / 100)).toEqual([40, 40, 80, 70]);
  expect(mapPlaced(part, move(10, 0)).box.map((v) => Math.round(v * 100) / 100)).toEqual([50, 40, 90, 70]);
  // Touched is what is shown: the middle of the loop, and not the corner that was cut off.
  expect(kindOf(part).distance(part, 70, 45)).toBe(0);
  expect(kindOf(part).distance(part, 30, 85)).toBeGreaterThan(5);
  expect(uncropped(part).box).toEqual(it.box);
  expect(cropped(it, [[0, 0], [5, 0], [5, 5]])).toBeNull();
  expect(cropped(it, [[40, 40], [80, 40]])).toBeNull();
});

test('rubbing spares it, a loop takes it whole, and what is locked stays', () => {
  const it = picture();
  expect(pictureKind.isCrossed(it, { x0: 20, y0: 30, x1: 90, y1: 80, radius: 3 })).toBe(false);
  expect(pictureKind.shareIn(it, (x) => x < 60.1)).toBeCloseTo(0.6, 5);
  const loop = [[0, 0], [150, 0], [150, 150], [0, 150]] as const;
  expect(inLoop([it, picture({ id: 'p2', locked: true })], loop).map((p) => p.id)).toEqual(['p1']);
  expect([layerOf(it), layerOf(picture({ over: true }))]).toEqual(['thing', 'over']);
});

test('it comes back from a record and from a bundle with all it has, and holds its content', async () => {
  const it = picture({ crop: [0, 0, 1, 0, 1, 0.5], over: true, locked: true, name: 'Tafel – Ö.jpg', group: 'g', second: true });
  const back = readInk(writeInk([it]));
  expect(back.lost).toBe(0);
  expect(back.placed).toEqual([it]);
  const bytes = new Uint8Array([1, 2, 3, 255, 0]);
  const own = makePicture({ ...it, content: await sha256Hex(bytes) });
  const empty = noteOf({ v: 2, id: 'n', title: 'Chart', made: 1, changed: 1, pages: [newPage('one')], takes: [], timeline: [] });
  const { note } = applyEdit(empty, { put: [own] }, { device: 'd', now: 5 });
  expect(contentsOf(note.rows, note.ink)).toEqual([own.content]);
  expect(note.header.contents).toEqual([own.content]);
  const read = await readBundle(await writeBundle({ note, takes: new Map(), contents: new Map([[own.content, bytes]]) }));
  const [brought] = read.note.ink.one;
  expect(brought).toEqual(note.ink.one[0]);
  expect(read.contents?.get(own.content)).toEqual(bytes);
});

test('one that cannot be read keeps its fields, and is not shown', () => {
  const odd = { ...picture(), px: [0, 600] } as unknown as Picture;
  const [back] = readInk(writeInk([odd])).placed;
  expect(back).toMatchObject({ kind: 'unknown', of: 'picture', fields: { content: HASH, px: [0, 600] } });
  expect(kindOf(back).contents?.(back)).toEqual([HASH]);
});
