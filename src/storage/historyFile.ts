/**
 * What can be taken back, kept so that it outlives a reload. A session of the note ends when the note is closed; then its history goes.
 * Each step is a record of its own, written once; one more record says in which order they stand.
 */
import { z } from 'zod';
import { newId } from '../core/id';
import type { Edit, Note } from '../core/note/edit';
import { readInk, writeInk } from '../core/note/records/inkChunk';
import { asciiJson, JsonRecord, splitRecord } from '../core/record';
import { keys, keysStarting, notesDb, readMany } from './databases';

/** Steps that are kept over a reload, each way, and the bytes they may take together. */
const KEPT = 300;
const KEPT_BYTES = 8 << 20;

interface Order {
  readonly print: string;
  readonly undo: readonly string[];
  readonly redo: readonly string[];
}
const order = new JsonRecord<Order>({ what: 'what can be taken back', version: 2, schema: z.looseObject({ print: z.string(), undo: z.array(z.string()), redo: z.array(z.string()) }) });
const rowPut = z.object({ table: z.string(), id: z.string(), v: z.record(z.string(), z.unknown()).nullable() });
const step = new JsonRecord<{ cut: { id: string; page: string }[]; rows: z.infer<typeof rowPut>[] }>({
  what: 'a step that can be taken back', version: 2,
  schema: z.looseObject({ cut: z.array(z.object({ id: z.string(), page: z.string() })), rows: z.array(rowPut) }),
});

export interface History {
  readonly undo: readonly Edit[];
  readonly redo: readonly Edit[];
}

/** Tells whether history and note belong together: every change gives the note another state. */
const fingerprint = ({ header }: Note): string => `${header.id} ${header.state}`;

export const writeStep = ({ put, cut = [], rows = [] }: Edit): string => {
  const head = { v: step.version, cut: cut.map(({ id, page }) => ({ id, page })), rows: rows.map(({ table, id, v }) => ({ table, id, v })) };
  return `${asciiJson(head)}\n${writeInk(put ?? [])}`;
};

/** Null for a step that cannot be read, which costs what is older than it and nothing else. */
export function readStep(text: string): Edit | null {
  const [top, ink] = splitRecord(text);
  try {
    const { cut, rows } = step.read(top);
    const { placed, lost } = readInk(ink);
    return lost ? null : { ...(placed.length ? { put: placed } : {}), ...(cut.length ? { cut } : {}), ...(rows.length ? { rows } : {}) };
  } catch {
    return null;
  }
}

export class HistoryFile {
  private names = new Map<Edit, string>();
  private readonly sizes = new WeakMap<Edit, number>();

  /** @param bytes that the steps of one way may take together. */
  constructor(
    private readonly note: string,
    private readonly bytes = KEPT_BYTES,
  ) {}

  /** The history that fits the note as it is on disk; any other is of no use and goes. */
  async read(note: Note): Promise<History> {
    const none: History = { undo: [], redo: [] };
    try {
      const text = await notesDb().getItem(keys.historyOrder(this.note));
      const kept = text ? order.read(text) : null;
      if (kept?.print !== fingerprint(note)) {
        await this.clear();
        return none;
      }
      const { undo, redo } = kept;
      const found = await readMany(notesDb(), [...undo, ...redo].map((n) => keys.historyStep(this.note, n)));
      const steps = (list: readonly string[]) => {
        const out: Edit[] = [];
        // From the newest back, up to the first that is missing: a step with a hole after it would not fit.
        for (const name of [...list].reverse()) {
          const one = found.get(keys.historyStep(this.note, name));
          const edit = one === undefined ? null : readStep(one);
          if (!edit) break;
          this.names.set(edit, name);
          this.sizes.set(edit, one!.length);
          out.unshift(edit);
        }
        return out;
      };
      return { undo: steps(undo), redo: steps(redo) };
    } catch {
      // A history that cannot be read is a comfort lost, and no reason not to open the note.
      return none;
    }
  }

  /** @throws what storage throws. */
  async write({ undo, redo }: History, note: Note): Promise<void> {
    const entries: Record<string, string> = {};
    /** Their names, the newest ones that find room; what is older than one that does not is of no use without it. */
    const named = (steps: readonly Edit[]): string[] => {
      const out: string[] = [];
      let room = this.bytes;
      for (const edit of steps.slice(-KEPT).reverse()) {
        const known = this.names.get(edit);
        const text = known || this.sizes.has(edit) ? null : writeStep(edit);
        if (text !== null) this.sizes.set(edit, text.length);
        room -= this.sizes.get(edit)!;
        if (room < 0) break;
        const n = known ?? newId();
        if (!known) {
          this.names.set(edit, n);
          entries[keys.historyStep(this.note, n)] = text ?? writeStep(edit);
        }
        out.unshift(n);
      }
      return out;
    };
    const [u, r] = [named(undo), named(redo)];
    entries[keys.historyOrder(this.note)] = order.write({ print: fingerprint(note), undo: u, redo: r });
    const live = new Set([...u, ...r]);
    const gone = [...this.names].filter(([, n]) => !live.has(n));
    for (const [edit] of gone) this.names.delete(edit);
    await notesDb().setMany(entries);
    const stored = gone.filter(([, n]) => !(keys.historyStep(this.note, n) in entries)).map(([, n]) => keys.historyStep(this.note, n));
    if (stored.length) await notesDb().removeMany(stored);
  }

  async clear(): Promise<void> {
    this.names.clear();
    const mine = await keysStarting('notes', keys.historyPrefix(this.note));
    if (mine.length) await notesDb().removeMany(mine);
  }
}
