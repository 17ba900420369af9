/** The kinds of things that lie on a page, and what is the same for all of them. */
import { growBox, placedOrder, pointsOf, type Box, type PlacedBase, type Stroke } from '../../ink/stroke';
import type { Rub } from '../../ink/erase';
import type { Affine } from '../../ink/transform';
import { areaKind, type Area } from './area';
import { axesKind, type Axes } from './axes';
import type { Block, Figure } from './drawn';
import { LAYERS, type Kind, type Layer } from './kind';
import { pictureKind, type Picture } from './picture';
import { covers, slipKind, type Slip } from './slip';
import { solidKind, type Solid } from './solid';
import { strokeKind } from './stroke';
import { holdsPlace, tableKind, type Table } from './table';
import { typedKind, type Typed } from './typed';
import { unknownKind, type Unknown } from './unknown';
import { placedSchema } from '../schema';
import type { Look } from '../../text/faces';

export type Placed = Stroke | Area | Axes | Picture | Slip | Solid | Table | Typed | Unknown;

export const KINDS: { readonly [K in Placed['kind']]: Kind<Extract<Placed, { kind: K }>> } = { stroke: strokeKind, area: areaKind, axes: axesKind, picture: pictureKind, slip: slipKind, solid: solidKind, table: tableKind, typed: typedKind, unknown: unknownKind };

/** A thing that was read, by its kind and its fields; null when this program cannot read it. */
export function readPlaced(of: string, base: Omit<PlacedBase, 'box' | 'ms'>, fields: Readonly<Record<string, unknown>>): Placed | null {
  const read = (KINDS as Readonly<Record<string, Kind | undefined>>)[of]?.read;
  return read && placedSchema.safeParse(fields).success ? (read(base, fields) as Placed | null) : null;
}

export const kindOf = (it: Placed): Kind => KINDS[it.kind] as unknown as Kind;
export const isStroke = (it: Placed): it is Stroke => it.kind === 'stroke';
export const strokesOf = (list: readonly Placed[]): readonly Stroke[] => (list.every(isStroke) ? list : list.filter(isStroke));

const DEPTH = Object.fromEntries(LAYERS.map((l, i) => [l, i])) as Record<Layer, number>;
export const layerOf = (it: Placed): Layer => kindOf(it).layer(it);
export const liftOf = (it: PlacedBase): number => it.lift ?? 0;
/** Order of drawing: what was put back first, what was brought forward last; of one lift layer by layer, in each by time. */
export const paintOrder = (a: Placed, b: Placed): number => liftOf(a) - liftOf(b) || DEPTH[layerOf(a)] - DEPTH[layerOf(b)] || placedOrder(a, b);
/** What newly comes onto the page may be put on top of what is drawn; what lies lower, or below one of those `near` it, has its place drawn anew. */
export const liesOnTop = (it: Placed, near: readonly Placed[]): boolean => DEPTH[layerOf(it)] >= DEPTH.ink && !near.some((other) => liftOf(other) > liftOf(it));

/** What lies on a page in the order of drawing; highlighter that lies together comes together, since it is drawn as one. */
export function drawingOrder(placed: readonly Placed[]): (Placed | readonly Stroke[])[] {
  const out: (Placed | Stroke[])[] = [];
  let light: Stroke[] | null = null;
  for (const it of [...placed].sort(paintOrder)) {
    if (!isStroke(it) || layerOf(it) !== 'under') {
      light = null;
      out.push(it);
    } else if (light && liftOf(light[0]) === liftOf(it)) light.push(it);
    else out.push((light = [it]));
  }
  return out;
}
export const isTogether = (it: Placed | readonly Stroke[]): it is readonly Stroke[] => Array.isArray(it);

/** Lies under what is written and drawn, and makes way for it where both are touched. */
export const isGround = (it: Placed): boolean => it.kind === 'picture' || GROUND.has(layerOf(it));
const GROUND: ReadonlySet<Layer> = new Set(['slip', 'area', 'thing']);
/** Stays where it is, whatever is taken hold of. */
export const isLocked = (it: Placed): boolean => it.locked === true;

const figures = new WeakMap<Placed, readonly Figure[]>();
const blocks = new WeakMap<Placed, readonly Block[]>();

/** What it looks like; worked out once. */
export function figuresOf(it: Placed): readonly Figure[] {
  let list = figures.get(it);
  if (!list) figures.set(it, (list = kindOf(it).figures?.(it) ?? []));
  return list;
}

/** Text that stands in it; laid out once. */
export function textIn(it: Placed): readonly Block[] {
  let list = blocks.get(it);
  if (!list) blocks.set(it, (list = kindOf(it).blocks?.(it) ?? []));
  return list;
}

export const isDecoration = (it: Placed): boolean => kindOf(it).isDecoration(it);
/** What a thing covers with all that reaches beyond its box, mm. */
export const coveredBy = (it: Placed): Box => growBox(it.box, kindOf(it).reach(it));
export const distanceTo = (it: Placed, x: number, y: number): number => kindOf(it).distance(it, x, y);
export const isCrossed = (it: Placed, rub: Rub): boolean => kindOf(it).isCrossed(it, rub);
export const rubbed = (it: Placed, rub: Rub, id: () => string): Placed[] | null => kindOf(it).rubbed(it, rub, id) as Placed[] | null;
export const keepDraft = (it: Placed): Placed => kindOf(it).kept(it) as Placed;

/** The same thing elsewhere on its page, or on another. */
export function mapPlaced<T extends Placed>(it: T, m: Affine, page?: string): T {
  const mapped = kindOf(it).map(it, m) as T;
  return page === undefined || page === mapped.page ? mapped : (Object.freeze({ ...mapped, page }) as unknown as T);
}

/** What has to be drawn anew where something takes the place of what it was. */
export function changedBoxes(before: Placed, after: Placed): readonly Box[] {
  const some = before.kind === after.kind ? kindOf(after).changed?.(before, after) : null;
  return some ? some.map((box) => growBox(box, kindOf(after).reach(after))) : [coveredBy(before), coveredBy(after)];
}

/** Text in it as it looks, piece by piece: whoever draws it needs these letters. */
export const lettersIn = (it: Placed): readonly { readonly look: Look; readonly text: string }[] => (it.kind === 'typed' ? it.looks.map(([, look]) => ({ look, text: it.text })) : textIn(it).flatMap(({ lines }) => lines.flatMap((l) => l.pieces)));

/** Ids with those of all that lies on them, and on that. */
function withRiders(ids: Set<string>, all: readonly PlacedBase[]): Set<string> {
  for (let size = -1; size !== ids.size; ) {
    size = ids.size;
    for (const it of all) if (it.on !== undefined && ids.has(it.on)) ids.add(it.id);
  }
  return ids;
}

/** With something comes its whole group, and what lies on it. */
export function withGroups<T extends PlacedBase>(chosen: readonly T[], all: readonly T[]): T[] {
  const groups = new Set(chosen.flatMap((s) => s.group ?? []));
  const ids = new Set(chosen.map((s) => s.id));
  if (groups.size) for (const s of all) if (s.group !== undefined && groups.has(s.group)) ids.add(s.id);
  const before = ids.size;
  withRiders(ids, all);
  return groups.size || ids.size > before ? all.filter((s) => ids.has(s.id)) : [...chosen];
}

const seen = new WeakMap<readonly Placed[], readonly Placed[]>();

/** Without what lies on sticky notes that are folded; the same list where there are none. */
export function inSight(all: readonly Placed[]): readonly Placed[] {
  let list = seen.get(all);
  if (!list) {
    const folded = all.flatMap((it) => (it.kind === 'slip' && it.folded ? [it.id] : []));
    const hidden = folded.length ? withRiders(new Set(folded), all) : null;
    seen.set(all, (list = hidden ? all.filter((it) => !hidden.has(it.id) || folded.includes(it.id)) : all));
  }
  return list;
}

/** The uppermost sticky note at a place of a page, mm; null where there is none. */
export function slipAt(all: readonly Placed[], x: number, y: number): Slip | null {
  let found: Slip | null = null;
  for (const it of all) if (it.kind === 'slip' && (!found || paintOrder(it, found) > 0) && covers(it, x, y)) found = it;
  return found;
}

/** Without what a sticky note hides at a place of the page, mm. */
export function uncoveredAt<T extends Placed>(list: readonly T[], x: number, y: number): T[] {
  const slip = slipAt(list, x, y);
  return slip ? list.filter((it) => paintOrder(it, slip) >= 0) : [...list];
}

/** The place by which something belongs to a sticky note: where the pen came down for ink, else its middle; mm. */
function holdOf(it: Placed): readonly [number, number] {
  const { n, xy } = isStroke(it) ? pointsOf(it) : { n: 0, xy: [0, 0] };
  return n ? [xy[0] / 100, xy[1] / 100] : [(it.box[0] + it.box[2]) / 2, (it.box[1] + it.box[3]) / 2];
}

/** What carries others: sticky notes, and tables. */
export type Carrier = Slip | Table;
export const isCarrier = (it: Placed): it is Carrier => it.kind === 'slip' || it.kind === 'table';

/** The uppermost sticky note or table at a place of a page, mm. */
function carrierAt(all: readonly Placed[], x: number, y: number): Carrier | null {
  let found: Carrier | null = null;
  for (const it of all) if (isCarrier(it) && (!found || paintOrder(it, found) > 0) && (it.kind === 'slip' ? covers(it, x, y) : holdsPlace(it, x, y))) found = it;
  return found?.kind === 'slip' && found.folded ? null : found;
}

/** Things as they belong to what they now lie on, `all` being all that is on their page: to the sticky note or table under them, or to none. A table can lie on a sticky note, no sticky note on anything. */
export function settled(placed: readonly Placed[], all: readonly Placed[]): Placed[] {
  if (!all.some(isCarrier)) return placed.map((it) => (it.on === undefined ? it : laidOn(it, null)));
  const slips = all.filter((it) => it.kind === 'slip');
  return placed.map((it) => (it.kind === 'slip' || it.kind === 'unknown' ? it : laidOn(it, carrierAt(it.kind === 'table' ? slips : all, ...holdOf(it)))));
}

/** Something on a sticky note or table, or on none; of what was brought forward by hand that stays. */
export function laidOn<T extends Placed>(it: T, carrier: Carrier | null): T {
  if (it.on === carrier?.id && (!carrier || liftOf(it) === liftOf(carrier))) return it;
  const { on, lift, ...plain } = it;
  const own = on === undefined && lift !== undefined ? { lift } : {};
  return Object.freeze(carrier ? { ...plain, on: carrier.id, ...(liftOf(carrier) ? { lift: liftOf(carrier) } : {}) } : { ...plain, ...own }) as unknown as T;
}

/** Above all that was lifted on a page. */
export const topLift = (all: readonly Placed[]): number => all.reduce((top, it) => Math.max(top, liftOf(it)), 0);
export const lowestLift = (all: readonly Placed[]): number => all.reduce((low, it) => Math.min(low, liftOf(it)), 0);
