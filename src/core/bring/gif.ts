/** Moving pictures (GIF89a specification, CompuServe 1990): what of them is shown, without what else a file can carry. */

const TRAILER = 0x3b;
const EXTENSION = 0x21;
const IMAGE = 0x2c;
const CONTROL = 0xf9;
const APPLICATION = 0xff;
/** How often it goes on from its beginning: the one application extension that is kept. */
const LOOP = 'NETSCAPE2.0';

export interface Gif {
  /** Comments, place data and other extensions are left out. */
  readonly bytes: Uint8Array;
  readonly frames: number;
}

/** Null where it is none, or does not come to its end. */
export function tamedGif(bytes: Uint8Array): Gif | null {
  if (!/^GIF8[79]a$/.test(String.fromCharCode(...bytes.subarray(0, 6))) || bytes.length < 14) return null;
  const tableAt = (flags: number) => (flags & 0x80 ? 3 * 2 ** ((flags & 7) + 1) : 0);
  let at = 13 + tableAt(bytes[10]);
  const kept: Uint8Array[] = [bytes.subarray(0, at)];
  /** The end of the blocks that begin at `from`: each says its length, the last is empty. */
  const blocks = (from: number): number => {
    let i = from;
    while (i < bytes.length && bytes[i] !== 0) i += bytes[i] + 1;
    return i + 1;
  };
  let frames = 0;
  while (at < bytes.length) {
    const from = at;
    if (bytes[at] === TRAILER) {
      kept.push(bytes.subarray(at, at + 1));
      const out = new Uint8Array(kept.reduce((n, p) => n + p.length, 0));
      let to = 0;
      for (const part of kept) {
        out.set(part, to);
        to += part.length;
      }
      return frames > 0 ? { bytes: out, frames } : null;
    }
    if (bytes[at] === EXTENSION) {
      const label = bytes[at + 1];
      at = blocks(at + 2);
      const loops = label === APPLICATION && String.fromCharCode(...bytes.subarray(from + 3, from + 14)) === LOOP;
      if (label === CONTROL || loops) kept.push(bytes.subarray(from, at));
    } else if (bytes[at] === IMAGE) {
      at = blocks(at + 10 + tableAt(bytes[at + 9]) + 1);
      frames++;
      kept.push(bytes.subarray(from, at));
    } else return null;
  }
  return null;
}
