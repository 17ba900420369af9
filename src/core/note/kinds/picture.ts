/** A picture on a page: moved, scaled, turned, mirrored and cropped without its content being touched. */
import { z } from 'zod';
import { insidePolygon } from '../../ink/polygon';
import { apply, around } from '../../ink/transform';
import { distanceToBox, type Box, type PlacedBase } from '../../ink/stroke';
import { affineOf, matrixBy, type Matrix } from './drawn';
import { takenWhole, type Kind } from './kind';

export interface Picture extends PlacedBase {
  readonly kind: 'picture';
  /** Hash of its content. */
  readonly content: string;
  /** Hash of the picture that moves, of which `content` is the first frame. */
  readonly moves?: string;
  /** It moves no more. */
  readonly held?: boolean;
  /** Width and height of all of it, px. */
  readonly px: readonly [number, number];
  /** From the unit square (its upper left corner is 0, 0) to mm of the page. */
  readonly m: Matrix;
  /** What of it is shown: corners of a closed loop in its unit square, u and v in turn; all of it without. */
  readonly crop?: readonly number[];
  /** It lies over the ink instead of under it. */
  readonly over?: boolean;
  /** What the file was called. */
  readonly name?: string;
  /** What stands in it, where it was set from text. */
  readonly text?: string;
  /** No points. */
  readonly pts: Uint8Array;
}

const NO_POINTS = new Uint8Array(0);
const unit = z.number().min(-1).max(2);
const finite = z.number().min(-1e6).max(1e6);

const schema = z.looseObject({
  content: z.string().regex(/^[0-9a-f]{64}$/),
  moves: z.string().regex(/^[0-9a-f]{64}$/).optional(),
  held: z.boolean().optional(),
  px: z.tuple([z.number().int().min(1).max(100_000), z.number().int().min(1).max(100_000)]),
  m: z.tuple([finite, finite, finite, finite, finite, finite]),
  crop: z.array(unit).min(6).max(2000).refine((c) => c.length % 2 === 0).optional(),
  over: z.boolean().optional(),
  name: z.string().max(300).optional(),
  text: z.string().max(20_000).optional(),
});

const WHOLE = [0, 0, 1, 0, 1, 1, 0, 1];

/** Corners of what is shown, mm. */
export function outlineOf({ m, crop = WHOLE }: Pick<Picture, 'm' | 'crop'>): [number, number][] {
  const to = affineOf(m);
  return Array.from({ length: crop.length / 2 }, (_, i) => apply(to, crop[2 * i], crop[2 * i + 1]));
}

function boxOf(it: Pick<Picture, 'm' | 'crop'>): Box {
  const corners = outlineOf(it);
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

export const makePicture = (it: Omit<Picture, 'kind' | 'pts' | 'box' | 'ms'>): Picture => Object.freeze({ ...it, kind: 'picture', pts: NO_POINTS, box: boxOf(it), ms: 0 });

/** Width and height of all of it as it lies on the page, mm, however it is turned. */
export const sizeOf = ({ m: [a, b, c, d] }: Pick<Picture, 'm'>): { w: number; h: number } => ({ w: Math.hypot(a, b), h: Math.hypot(c, d) });

/** Mirrored left to right, in its place. */
export function mirrored(it: Picture): Picture {
  const [x, y] = [(it.box[0] + it.box[2]) / 2, (it.box[1] + it.box[3]) / 2];
  return pictureKind.map(it, around(x, y, -1, 1, 0));
}

/** Only what lies within a loop (mm of the page) is shown; null when nothing of it does. */
export function cropped(it: Picture, loop: readonly (readonly [number, number])[]): Picture | null {
  const [a, b, c, d, e, f] = it.m;
  const det = a * d - b * c;
  if (!det || loop.length < 3) return null;
  const step = Math.max(1, Math.floor(loop.length / 400));
  const crop: number[] = [];
  for (let i = 0; i < loop.length; i += step) {
    const [x, y] = [loop[i][0] - e, loop[i][1] - f];
    const clamp = (v: number) => Math.round(Math.min(1, Math.max(0, v)) * 1e5) / 1e5;
    crop.push(clamp((d * x - c * y) / det), clamp((a * y - b * x) / det));
  }
  const [us, vs] = [crop.filter((_, i) => i % 2 === 0), crop.filter((_, i) => i % 2 === 1)];
  if (Math.max(...us) - Math.min(...us) < 0.005 || Math.max(...vs) - Math.min(...vs) < 0.005) return null;
  return makePicture({ ...it, crop });
}

/** All of it is shown again. */
export const uncropped = ({ crop: _, ...it }: Picture): Picture => makePicture(it);

const isWithin = (it: Picture, x: number, y: number): boolean => insidePolygon(outlineOf(it), x, y);

export const pictureKind: Kind<Picture> = {
  schema,
  layer: ({ over }) => (over ? 'over' : 'thing'),
  reach: () => 0,
  distance: (it, x, y) => (isWithin(it, x, y) ? 0 : Math.max(0.01, distanceToBox(it.box, x, y))),
  ...takenWhole,
  map: (it, m) => makePicture({ ...it, m: matrixBy(it.m, m) }),
  read(base, fields) {
    const known = schema.safeParse(fields);
    return known.success ? makePicture({ ...base, ...(known.data as unknown as Omit<Picture, keyof PlacedBase | 'kind' | 'pts'>) }) : null;
  },
  contents: ({ content, moves }) => (moves === undefined ? [content] : [content, moves]),
  isDecoration: () => true,
};
