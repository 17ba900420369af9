/**
 * The state of a note: a digest of the versions of all that it is made of. Two copies with the same state are the same, whatever their clocks say and in whatever
 * order they came to it; a change of anything gives another one. The digests of all parts are combined by exclusive or, so that a change of one part costs what
 * that part costs and not what the note does.
 */
import type { Placed } from './kinds/kinds';
import type { Gone, Ink } from './placedInk';
import type { Row, Rows } from './tables';
import type { Version } from './version';

/** Two halves of 32 bits. */
export interface Digest {
  readonly a: number;
  readonly b: number;
}

/** FNV-1a (Fowler, Noll, Vo; RFC 9923) with two offsets, of UTF-16 units. */
function hashed(text: string): Digest {
  let [a, b] = [0x811c9dc5, 0x9747b28c];
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 0x01000193);
    b = Math.imul(b ^ c, 0x01000193);
    b = (b << 5) | (b >>> 27);
  }
  return { a: a >>> 0, b: b >>> 0 };
}

const versionText = (s: Version | null | undefined, without: () => string): string => (s ? `${s[0]}.${s[1]}.${s[2]}.${s[3]}` : without());

/** Adds parts to a digest; a part that is in it already is taken out. */
export class Tally {
  private a: number;
  private b: number;

  constructor({ a, b }: Digest = { a: 0, b: 0 }) {
    [this.a, this.b] = [a, b];
  }

  private turn(text: string): void {
    const { a, b } = hashed(text);
    this.a = (this.a ^ a) >>> 0;
    this.b = (this.b ^ b) >>> 0;
  }

  row(table: string, id: string, row: Row | undefined): void {
    if (row && !row.guessed) this.turn(`${table}/${id} ${versionText(row.s, () => JSON.stringify(row.v))}`);
  }

  placed(it: Placed | undefined): void {
    if (it) this.turn(`${it.page}//${it.id} ${versionText(it.s, () => `${it.kind} ${it.wall} ${it.pts.length} ${it.box.join(' ')}`)}`);
  }

  gone(id: string, trace: Gone | undefined): void {
    if (trace) this.turn(`///${id} ${versionText(trace.s, () => '')}`);
  }

  get digest(): Digest {
    return { a: this.a, b: this.b };
  }
}

export function digestOf(rows: Rows, ink: Ink, gone: ReadonlyMap<string, Gone>): Digest {
  const tally = new Tally();
  for (const [table, list] of Object.entries(rows)) for (const [id, row] of list) tally.row(table, id, row);
  for (const list of Object.values(ink)) for (const it of list) tally.placed(it);
  for (const [id, trace] of gone) tally.gone(id, trace);
  return tally.digest;
}

/** 16 hexadecimal digits. */
export const stateText = ({ a, b }: Digest): string => a.toString(16).padStart(8, '0') + b.toString(16).padStart(8, '0');
