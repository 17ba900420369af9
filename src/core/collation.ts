/**
 * Order of names and words. Not by whatever locale a machine happens to have, in which the same library would stand in another order on another device: by the
 * language of the interface, with numbers by their value.
 */
const ORDER = 'en';

const names = new Intl.Collator(ORDER, { numeric: true, sensitivity: 'base' });
const exact = new Intl.Collator(ORDER, { numeric: true });

/** Of names that people gave: `Take 2` before `Take 10`, capitals and accents no difference unless nothing else is. */
export const compareNames = (a: string, b: string): number => names.compare(a, b) || exact.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0);

/** The same with capitals and accents no difference at all. */
export const compareLoosely = (a: string, b: string): number => names.compare(a, b);
