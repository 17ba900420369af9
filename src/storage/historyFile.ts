/**
 * What can be taken back, kept so that it outlives a reload. A session of the note ends when the note is closed; then its history goes.
 * Each step is a record of its own, written once; one more record says in which order they stand.
 */
import { z } from 'zod';
import { newId } from '../core/id';
import type { Edit, HeaderPatch, Note } from '../core/note/edit';
import { readChunk, writeChunk } from '../core/note/records';
import { headerSchema } from '../core/note/schema';
import { keys, notesDb, readMany } from './databases';

/** Steps that are kept over a reload, each way. */
const KEPT = 300;

const order = z.object({ v: z.literal(1), print: z.string(), undo: z.array(z.string()), redo: z.array(z.string()) });
const stepHead = z.object({
  cut: z.array(z.object({ id: z.string(), page: z.string() })),
  header: headerSchema.pick({ title: true, pages: true, takes: true, timeline: true, changed: true, links: true }).partial().nullable(),
});

export interface History {
  readonly undo: readonly Edit[];
  readonly redo: readonly Edit[];
}

/** Tells whether history and note belong together: which strokes and pages there are, whatever their order. */
function fingerprint({ header, ink }: Note): string {
  let [count, sum] = [0, 0];
  for (const list of Object.values(ink)) {
    for (const { id } of list) {
      count++;
      let hash = 0x811c9dc5;
      for (let i = 0; i < id.length; i++) hash = Math.imul(hash ^ id.charCodeAt(i), 0x01000193);
      sum = (sum + (hash >>> 0)) % 2 ** 48;
    }
  }
  return `${header.pages.length} ${count} ${sum}`;
}

const writeStep = (edit: Edit): string => `${JSON.stringify({ cut: edit.cut ?? [], header: edit.header ?? null })}\n${writeChunk(edit.put ?? [])}`;

/** Null for a step that cannot be read, which costs what is older than it and nothing else. */
function readStep(text: string): Edit | null {
  const end = text.indexOf('\n');
  let head: ReturnType<typeof stepHead.safeParse>;
  let chunk: ReturnType<typeof readChunk>;
  try {
    head = stepHead.safeParse(JSON.parse(text.slice(0, end)));
    chunk = readChunk(text.slice(end + 1));
  } catch {
    return null;
  }
  const { strokes, lost } = chunk;
  if (!head.success || lost) return null;
  const { cut, header } = head.data;
  return { ...(strokes.length ? { put: strokes } : {}), ...(cut.length ? { cut } : {}), ...(header ? { header: header as HeaderPatch } : {}) };
}

export class HistoryFile {
  private names = new Map<Edit, string>();

  constructor(private readonly note: string) {}

  /** The history that fits the note as it is on disk; any other is of no use and goes. */
  async read(note: Note): Promise<History> {
    const none: History = { undo: [], redo: [] };
    try {
      const text = await notesDb().getItem(keys.historyOrder(this.note));
      const parsed = text ? order.safeParse(JSON.parse(text)) : null;
      if (!parsed?.success || parsed.data.print !== fingerprint(note)) {
        await this.clear();
        return none;
      }
      const { undo, redo } = parsed.data;
      const found = await readMany(notesDb(), [...undo, ...redo].map((n) => keys.historyStep(this.note, n)));
      const steps = (list: readonly string[]) => {
        const out: Edit[] = [];
        // From the newest back, up to the first that is missing: a step with a hole after it would not fit.
        for (const name of [...list].reverse()) {
          const step = found.get(keys.historyStep(this.note, name));
          const edit = step === undefined ? null : readStep(step);
          if (!edit) break;
          this.names.set(edit, name);
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
    const name = (edit: Edit): string => {
      let n = this.names.get(edit);
      if (!n) {
        this.names.set(edit, (n = newId()));
        entries[keys.historyStep(this.note, n)] = writeStep(edit);
      }
      return n;
    };
    const [u, r] = [undo.slice(-KEPT).map(name), redo.slice(-KEPT).map(name)];
    entries[keys.historyOrder(this.note)] = JSON.stringify({ v: 1, print: fingerprint(note), undo: u, redo: r });
    const live = new Set([...u, ...r]);
    const gone = [...this.names].filter(([, n]) => !live.has(n));
    for (const [edit] of gone) this.names.delete(edit);
    await notesDb().setMany(entries);
    const stored = gone.filter(([, n]) => !(keys.historyStep(this.note, n) in entries)).map(([, n]) => keys.historyStep(this.note, n));
    if (stored.length) await notesDb().removeMany(stored);
  }

  async clear(): Promise<void> {
    this.names.clear();
    const prefix = keys.historyPrefix(this.note);
    const mine = (await notesDb().getAllKeys()).filter((k) => k.startsWith(prefix));
    if (mine.length) await notesDb().removeMany(mine);
  }
}
