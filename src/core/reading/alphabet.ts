/** The signs that the reader knows (`tools/handwriting/alphabet.py` has the same). Class 0 of the network is “nothing”, class i + 1 is `ALPHABET[i]`. */
const PLAIN = `abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789 .,;:!?'"()-+=/&%`;
const MORE = '@#$£€°*_<>[]×';
const ACCENTED = 'àáâäãåæçèéêëìíîïñòóôöõøùúûüßÀÁÂÄÅÆÇÈÉÊÑÓÔÖØÚÜ';
export const ALPHABET: readonly string[] = [...`${PLAIN}${MORE}${ACCENTED}`];
export const CLASSES = ALPHABET.length + 1;

const index = new Map(ALPHABET.map((c, i) => [c, i + 1]));
/** Class of a sign; undefined for one that is not read. */
export const classOf = (sign: string): number | undefined => index.get(sign);

/** Without accents and capitals, as words are looked for. */
export const folded = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/ß/g, 'ss')
    .replace(/æ/g, 'ae')
    .replace(/ø/g, 'o')
    .replace(/[‘’]/g, "'");

/** For each class: the small letter without accent that it is written as, as a class; 0 stays 0. */
export const FOLD: Uint8Array = Uint8Array.from([0, ...ALPHABET.map((c, i) => classOf(folded(c)) ?? i + 1)]);
