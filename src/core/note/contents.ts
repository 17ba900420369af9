/**
 * What a note needs of pictures and files, which are stored once and named by their hash. Whatever names a hash holds its content: a row in any
 * of its fields, also of a table or field of a later version, and a thing on a page by what its kind says. Nobody counts, so no count can be wrong.
 */
import { kindOf, type Placed } from './kinds/kinds';
import type { Rows } from './tables';

/** SHA-256 in hexadecimal digits. */
const HASH = /(?<![0-9a-f])[0-9a-f]{64}(?![0-9a-f])/g;

export const isHash = (text: string): boolean => text.length === 64 && /^[0-9a-f]+$/.test(text);

const NONE: readonly string[] = [];
const known = new WeakMap<object, readonly string[]>();

/** Hashes in the fields of a value. Values do not change, so each is looked through once. */
export function hashesIn(value: object): readonly string[] {
  let found = known.get(value);
  if (!found) {
    const { ink } = value as { ink?: unknown };
    // A thing that lost against a later change is kept as base64 of its record.
    found = `${JSON.stringify(value)}${typeof ink === 'string' ? decoded(ink) : ''}`.match(HASH) ?? NONE;
    known.set(value, found);
  }
  return found;
}

function decoded(base64: string): string {
  try {
    return atob(base64);
  } catch {
    // Other text under the same name: it names nothing.
    return '';
  }
}

export const contentsOfPlaced = (it: Placed): readonly string[] => kindOf(it).contents?.(it) ?? NONE;

/** Hashes of all that a note points to, each once, in order. */
export function contentsOf(rows: Rows, ink: Readonly<Record<string, readonly Placed[]>>): readonly string[] {
  const all = new Set<string>();
  for (const [table, list] of Object.entries(rows)) {
    for (const [id, { v }] of list) {
      if (!v) continue;
      if (table === 'contents' && isHash(id)) all.add(id);
      for (const hash of hashesIn(v)) all.add(hash);
    }
  }
  for (const list of Object.values(ink)) for (const it of list) for (const hash of contentsOfPlaced(it)) all.add(hash);
  return [...all].sort();
}

/**
 * Hashes of what an edit makes a note point to: of things that this version knows, and of the rows that point to a content (a page to what lies behind it, a take to its film).
 * A hash that somebody wrote in a text is none.
 */
export function pointedTo({ put = [], rows = [] }: { readonly put?: readonly Placed[]; readonly rows?: readonly { readonly v: object | null }[] }): ReadonlySet<string> {
  const fields = rows.flatMap(({ v }) => (v ? [v, ...Object.values(v)] : [])) as ({ readonly content?: unknown } | null | undefined)[];
  const ofRows = fields.flatMap((field) => (typeof field?.content === 'string' && isHash(field.content) ? [field.content] : []));
  return new Set([...put.flatMap((it) => (it.kind === 'unknown' ? [] : contentsOfPlaced(it))), ...ofRows]);
}
