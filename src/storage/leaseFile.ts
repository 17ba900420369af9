/**
 * What holds contents and sound without being a note: the clipboard. A lease is written before what it names can be let go of, and stands for a day: what was cut
 * out of a note can be pasted into another after the first was closed, or deleted for good.
 */
import { z } from 'zod';
import { newId } from '../core/id';
import { JsonRecord } from '../core/record';
import { alone } from './alone';
import { letGoOf } from './contentFile';
import { keys, keysStarting, notesDb, readMany } from './databases';

/** A lease that nobody renews is over after so long, ms. */
const LASTS_MS = 86_400_000;

export interface Lease {
  /** Hashes of pictures and files, and ids of takes. */
  readonly contents: readonly string[];
  readonly takes: readonly string[];
  /** Wall clock at which it was taken, ms. */
  readonly at: number;
}
const record = new JsonRecord<Lease>({ what: 'what the clipboard holds', version: 1, schema: z.looseObject({ contents: z.array(z.string()).max(20_000), takes: z.array(z.string()).max(20_000), at: z.number() }) });

/** This tab's. */
const MINE = newId();

/** What this tab's clipboard held before is let go of, and this is held. Nothing where both are empty. @throws what storage throws */
export async function holdInClipboard(contents: readonly string[], takes: readonly string[], now: number): Promise<void> {
  const key = keys.lease(MINE);
  await alone('contents', async () => {
    const before = await notesDb().getItem(key);
    if (contents.length || takes.length) await notesDb().setItem(key, record.write({ contents, takes, at: now }));
    else if (before !== null) await notesDb().removeMany([key]);
    if (before !== null) await letGoWhatOnly([before]);
  });
}

/** Leases of tabs that are gone for a day. A time that lies ahead was written by a clock that ran ahead. */
export async function endOldLeases(now: number): Promise<void> {
  await alone('contents', async () => {
    const found = await readMany({ getMany: (some) => notesDb().getOpen(some) }, await keysStarting('notes', keys.lease('')));
    const over = [...found].filter(([key, text]) => key !== keys.lease(MINE) && !(Math.abs(now - (read(text)?.at ?? NaN)) < LASTS_MS));
    if (!over.length) return;
    await notesDb().removeMany(over.map(([key]) => key));
    await letGoWhatOnly(over.map(([, text]) => text));
  });
}

function read(text: string): Lease | null {
  try {
    return record.read(text);
  } catch {
    // What it held is named by nothing that can be read.
    return null;
  }
}

async function letGoWhatOnly(texts: readonly string[]): Promise<void> {
  const leases = texts.flatMap((text) => read(text) ?? []);
  await letGoOf([...new Set(leases.flatMap((l) => [...l.contents, ...l.takes]))]);
}
