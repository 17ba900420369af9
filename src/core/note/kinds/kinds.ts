/** The kinds of things that lie on a page, and what is the same for all of them. */
import { growBox, placedOrder, type Box, type PlacedBase, type Stroke } from '../../ink/stroke';
import type { Rub } from '../../ink/erase';
import type { Affine } from '../../ink/transform';
import { areaKind, type Area } from './area';
import { LAYERS, type Kind, type Layer } from './kind';
import { pictureKind, type Picture } from './picture';
import { strokeKind } from './stroke';
import { typedKind, type Typed } from './typed';
import { unknownKind, type Unknown } from './unknown';

export type Placed = Stroke | Area | Picture | Typed | Unknown;

export const KINDS: { readonly [K in Placed['kind']]: Kind<Extract<Placed, { kind: K }>> } = { stroke: strokeKind, area: areaKind, picture: pictureKind, typed: typedKind, unknown: unknownKind };

export const kindOf = (it: Placed): Kind => KINDS[it.kind] as unknown as Kind;
export const isStroke = (it: Placed): it is Stroke => it.kind === 'stroke';
export const strokesOf = (list: readonly Placed[]): readonly Stroke[] => (list.every(isStroke) ? list : list.filter(isStroke));

const DEPTH = Object.fromEntries(LAYERS.map((l, i) => [l, i])) as Record<Layer, number>;
export const layerOf = (it: Placed): Layer => kindOf(it).layer(it);
/** Order of drawing: layer by layer, in each by time. */
export const paintOrder = (a: Placed, b: Placed): number => DEPTH[layerOf(a)] - DEPTH[layerOf(b)] || placedOrder(a, b);
/** What newly comes onto the page may be put on top of what is drawn; what lies lower has its place drawn anew. */
export const liesOnTop = (it: Placed): boolean => DEPTH[layerOf(it)] >= DEPTH.ink;

/** Lies under what is written and drawn, and makes way for it where both are touched. */
export const isGround = (it: Placed): boolean => it.kind === 'picture' || layerOf(it) === 'area';
/** Stays where it is, whatever is taken hold of. */
export const isLocked = (it: Placed): boolean => it.kind === 'picture' && it.locked === true;

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

/** With something comes its whole group. */
export function withGroups<T extends PlacedBase>(chosen: readonly T[], all: readonly T[]): T[] {
  const groups = new Set(chosen.flatMap((s) => s.group ?? []));
  if (!groups.size) return [...chosen];
  const ids = new Set(chosen.map((s) => s.id));
  return all.filter((s) => ids.has(s.id) || (s.group !== undefined && groups.has(s.group)));
}
