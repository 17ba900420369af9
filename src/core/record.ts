/** What all stored records have in common: a version, readers that lead older ones up, and one way to say that one cannot be read. */
import type { z } from 'zod';

/** A record that is damaged: a sentence for the user. */
export class RecordError extends Error {
  readonly name = 'RecordError';
}

/** A record that a newer program wrote: neither damaged nor to be written over. */
export class NewerError extends Error {
  readonly name = 'NewerError';
}

export interface RecordKind<T> {
  /** As in “The record of … cannot be read.” */
  readonly what: string;
  readonly version: number;
  readonly schema: z.ZodType;
  /** By version, what leads a record of it up by one. */
  readonly up?: Readonly<Record<number, (old: never) => unknown>>;
  /** Only for the type. */
  readonly of?: T;
}

export interface Read<T> {
  readonly value: T;
  /** Written by a newer program; it can be shown and must not be written over. */
  readonly newer: boolean;
}

/** What is kept is JSON with its version in `v`; fields that this program does not know stay where the schema is a loose one. */
export class JsonRecord<T extends object> {
  constructor(private readonly kind: RecordKind<T>) {}

  get version(): number {
    return this.kind.version;
  }

  /** @throws RecordError when it could not be read again: nothing that cannot be read is written. */
  write(value: T): string {
    const whole = { ...value, v: this.kind.version };
    const parsed = this.kind.schema.safeParse(whole);
    if (!parsed.success) throw new RecordError(`The record of ${this.kind.what} would not be as Scrivo reads it, so it was not written.`, { cause: parsed.error.issues[0] });
    return JSON.stringify(whole);
  }

  /** @throws RecordError when it is damaged, NewerError when a newer program wrote it. */
  read(text: string): T {
    const { value, newer } = this.peek(text);
    if (newer) throw this.tooNew();
    return value;
  }

  /** As `read`, and of a record of a newer program what can be understood of it. */
  peek(text: string): Read<T> {
    return this.check(parseJson(text, this.kind.what));
  }

  check(json: unknown): Read<T> {
    const { what, version, schema, up } = this.kind;
    let v = versionOf(json);
    // From a version that is none no step leads to today's.
    if (!Number.isSafeInteger(v) || v < 1) throw new RecordError(`The record of ${what} is not as Scrivo writes it.`);
    const newer = v > version;
    let raw = json;
    for (; v < version; v++) raw = up?.[v] ? (up[v] as (old: unknown) => unknown)(raw) : raw;
    const parsed = schema.safeParse(raw);
    if (parsed.success) return { value: parsed.data as T, newer };
    if (newer) throw this.tooNew();
    const issue = parsed.error.issues[0];
    throw new RecordError(`The record of ${what} is not as Scrivo writes it.`, { cause: issue });
  }

  private tooNew(): NewerError {
    return new NewerError(`The record of ${this.kind.what} was made by a newer Scrivo. Update Scrivo to change it; until then it is left as it is.`);
  }
}

/** Of parsed JSON; 1 where none is said. */
export const versionOf = (json: unknown): number => {
  const v = typeof json === 'object' && json !== null ? (json as { v?: unknown }).v : undefined;
  return typeof v === 'number' ? v : 1;
};

/** @throws RecordError */
export function parseJson(text: string, what: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new RecordError(`The record of ${what} is not JSON.`);
  }
}

/** A record of a line of JSON and what follows it: bytes as characters 0..255, which browsers keep at a byte each. */
export function splitRecord(text: string): readonly [head: string, tail: string] {
  const end = text.indexOf('\n');
  return end < 0 ? [text, ''] : [text.slice(0, end), text.slice(end + 1)];
}

/** JSON in characters 0..127: one character above 255 would double the bytes of all that stand in the same record. */
export const asciiJson = (value: unknown): string => JSON.stringify(value).replace(/[\u0080-\uffff]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);
