/** Numbers as they are typed into tables, and their exact sums (package `big.js`: decimal, without the errors of binary fractions). */
import { compareLoosely } from '../../collation';
import { Big } from 'big.js';

/** Signs and units around a number: currency, percent, a unit of up to a few letters; and the kinds of minus that keyboards and word processors write. */
const NUMBER = /^\s*(?:[\p{Sc}]\s?)?([+\-−–]?)\s?(?:[\p{Sc}]\s?)?(\d[\d.,'’\u00a0\u202f ]*|[.,]\d+)\s?(?:[\p{Sc}%‰°]|[\p{L}/²³°]{1,6})?\s*$/u;

/** Signs of a number with all that stands around it, at most. */
const LONGEST = 60;

interface Read {
  readonly value: Big;
  /** How many digits stand behind its decimal sign, and whether that is a comma. */
  readonly places: number;
  readonly comma: boolean;
}

/** Null for what is no number. With both signs the last one is decimal; one alone is decimal, except a comma (or one of several) with three digits behind each. */
function read(given: string): Read | null {
  // No number is so long, and looking for one in a long row of spaces would take for ever.
  const text = given.length < LONGEST ? given.trim() : '';
  const found = NUMBER.exec(text);
  if (!found) return null;
  const digits = found[2].trim().replace(/['’\u00a0\u202f ]/g, '');
  const [dot, comma] = [digits.lastIndexOf('.'), digits.lastIndexOf(',')];
  let decimal = -1;
  if (dot >= 0 && comma >= 0) decimal = Math.max(dot, comma);
  else if (dot >= 0) decimal = digits.indexOf('.') === dot ? dot : -1;
  else if (comma >= 0) decimal = digits.indexOf(',') === comma && !/^\d{1,3},\d{3}$/.test(digits) ? comma : -1;
  const grouped = decimal < 0 ? digits : digits.slice(0, decimal);
  const rest = decimal < 0 ? '' : digits.slice(decimal + 1);
  // Thousands: the last group has three digits, those before it two (as in India) or three.
  if ((/[.,]/.test(grouped) && !/^\d{1,3}([.,]\d{2,3})*[.,]\d{3}$/.test(grouped)) || /[.,]/.test(rest) || (decimal >= 0 && !rest)) return null;
  const whole = grouped.replace(/[.,]/g, '');
  return { value: new Big(`${found[1] && found[1] !== '+' ? '-' : ''}${whole || '0'}${rest ? `.${rest}` : ''}`), places: rest.length, comma: decimal >= 0 && digits[decimal] === ',' };
}

export const isNumber = (text: string): boolean => text.length < 40 && read(text) !== null;

/** As a plain decimal; null for what is no number. */
export const numberOf = (text: string): string | null => read(text)?.value.toFixed() ?? null;

/** Exact, with as many decimal places as the longest of them has; what is no number counts nothing. Empty without any number. */
export function sumText(texts: readonly string[]): string {
  const all = texts.flatMap((t) => read(t) ?? []);
  if (!all.length) return '';
  const places = Math.max(...all.map((n) => n.places));
  const text = all.reduce((sum, n) => sum.plus(n.value), new Big(0)).toFixed(places);
  return all.filter((n) => n.comma).length > all.filter((n) => n.places && !n.comma).length ? text.replace('.', ',') : text;
}

/** Order of two cells: numbers by their value and before words, words as a dictionary has them, what is empty last. */
export function compareCells(a: string, b: string): number {
  if (!a || !b) return a ? -1 : b ? 1 : 0;
  const [x, y] = [read(a), read(b)];
  if (x && y) return x.value.cmp(y.value);
  if (x || y) return x ? -1 : 1;
  return compareLoosely(a, b);
}
