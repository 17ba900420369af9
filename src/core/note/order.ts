/** Keys that give an order: between any two there is room for another, so that moving one changes one row. */
import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing';

/** Coin tosses that keep two devices from choosing the same key between the same neighbours. */
const JITTER = 4;

/**
 * A key between two others; null for the ends. Equal or crossed neighbours, as two devices can leave them, are no place: the caller steps to
 * the next different one (`orderAt`).
 */
export function keyBetween(before: string | null, after: string | null, random: () => number = Math.random): string {
  let [low, high] = [before, after];
  let key = generateKeyBetween(low, high);
  for (let i = 0; i < JITTER; i++) {
    if (random() < 0.5) low = key;
    else high = key;
    key = generateKeyBetween(low, high);
  }
  return key;
}

/** Plain keys for a list that has none yet: the same on every device. */
export const firstKeys = (count: number): string[] => generateNKeysBetween(null, null, count);

interface Ordered {
  readonly id: string;
  readonly order: string;
}

/** By order, ties by id, in code units: the same on every device. */
export const inOrder = (a: Ordered, b: Ordered): number => (a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

/** `count` keys, ascending, for a place before the entry at `at` of a list in order. */
export function orderAt(list: readonly Ordered[], at: number, count = 1, random: () => number = Math.random): string[] {
  let before = at > 0 ? list[Math.min(at, list.length) - 1].order : null;
  // Neighbours with the same key have no room between them: what is put there comes after all of them.
  let next = at;
  while (next < list.length && before !== null && list[next].order <= before) next++;
  const after = next < list.length ? list[next].order : null;
  const keys: string[] = [];
  for (let i = 0; i < count; i++) keys.push((before = keyBetween(before, after, random)));
  return keys;
}
