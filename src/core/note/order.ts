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

/** The plain key after another one; null for the first. */
export const keyAfter = (last: string | null): string => generateKeyBetween(last, null);

/** Plain keys for a list that has none yet: the same on every device. */
export const firstKeys = (count: number): string[] => generateNKeysBetween(null, null, count);

interface Ordered {
  readonly id: string;
  readonly order: string;
}

/** Whether something can be put beside a key: what a file has can look like one and be none. */
export function isKey(key: string): boolean {
  try {
    generateKeyBetween(key, null);
    return true;
  } catch {
    return false;
  }
}

/** By `fractional-indexing` a key begins with a letter that says how many digits of it count whole. */
const wholeLength = (head: string): number => (head >= 'a' ? head.charCodeAt(0) - 95 : 92 - head.charCodeAt(0));

/** A key at about the place of one that is none; the same on every device. */
export function asKey(key: string): string {
  if (isKey(key)) return key;
  const letters = key.replace(/[^0-9A-Za-z]/g, '').replace(/^\d+/, '') || 'a0';
  const whole = wholeLength(letters[0]);
  const made = (letters.slice(0, whole).padEnd(whole, '0') + letters.slice(whole)).replace(/0+$/, (zeros, at: number) => zeros.slice(0, Math.max(0, whole - at)));
  return isKey(made) ? made : 'a0';
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
