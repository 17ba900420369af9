/** Which tab writes a note: one holds its lock, the others follow. */
import { makeTabLocks, type Locks } from './tabLocks';

type Message =
  | { readonly kind: 'written'; readonly note: string; readonly keys: readonly string[] }
  | { readonly kind: 'please'; readonly note: string }
  | { readonly kind: 'busy'; readonly note: string }
  /** It is no longer open there. */
  | { readonly kind: 'left'; readonly note: string }
  | { readonly kind: 'library' }
  | { readonly kind: 'settings' }
  | { readonly kind: 'templates' }
  /** Lock at once. */
  | { readonly kind: 'lock' };

let opened: BroadcastChannel | null = null;
/** Opened when first needed: an open channel keeps a program alive that only borrows the code around it. */
const channel = (): BroadcastChannel | null => (typeof BroadcastChannel === 'undefined' ? null : (opened ??= new BroadcastChannel('scrivo')));

export const tell = (message: Message): void => channel()?.postMessage(message);

export function onTold(listener: (message: Message) => void): () => void {
  const handler = (e: MessageEvent<Message>) => listener(e.data);
  channel()?.addEventListener('message', handler);
  return () => channel()?.removeEventListener('message', handler);
}

/** `release` lets go; what it gives is kept when somebody else can hold it. */
export interface Held {
  /** The note that is held. */
  readonly note: string;
  readonly release: () => Promise<void>;
}

/**
 * Who writes a note holds its lock. Whoever shows it keeps that for as long as it pleases them, and says so by a second lock, so that a change of a
 * stored note, which is over in a moment, is told from a tab that has the note open: that moment is waited for.
 */
const lockOf = (note: string) => `scrivo/note/${note}`;
const shownLockOf = (note: string) => `scrivo/shown/${note}`;
/** How long a change of a stored note may take before who waits for it goes on without, ms. */
const CHANGE_MS = 10_000;

/** Without locks there is no telling tabs apart; one tab works as ever. */
const own = makeTabLocks();
const locks = (): Locks => globalThis.navigator?.locks ?? own;

/** Lets go of what was taken; null when it is taken already (and `wait` is not given, or runs out). */
function take(name: string, wait?: AbortSignal): Promise<(() => Promise<void>) | null> {
  return new Promise((resolve, reject) => {
    const options = wait ? { signal: wait } : { ifAvailable: true };
    const over: Promise<void> = locks()
      .request(name, options, (lock) => {
        if (!lock) {
          resolve(null);
          return undefined;
        }
        return new Promise<void>((end) => resolve(() => (end(), over)));
      })
      .then(() => undefined, (e: unknown) => (e instanceof DOMException && (e.name === 'AbortError' || e.name === 'TimeoutError') ? resolve(null) : reject(e)));
  });
}

async function heldBy(prefix: string): Promise<Set<string>> {
  const { held = [] } = await locks().query();
  return new Set(held.flatMap((l) => (l.name?.startsWith(prefix) ? [l.name.slice(prefix.length)] : [])));
}

const heldAs = (note: string, release: (() => Promise<void>) | null): Held | null => release && { note, release };

/** Holds a note that nothing holds; null otherwise. */
export const holdIfFree = async (note: string): Promise<Held | null> => heldAs(note, await take(lockOf(note)));

/** Holds a stored note for a change of it, when the one under way is over; null when it is open somewhere. */
export async function holdToChange(note: string): Promise<Held | null> {
  const free = await holdIfFree(note);
  if (free || (await heldBy(shownLockOf(''))).has(note)) return free;
  return heldAs(note, await take(lockOf(note), AbortSignal.timeout(CHANGE_MS)));
}

/** Holds a note that is open, when the change under way is over; null when another tab has it open (and `wait` is not given, or runs out). */
export async function holdToShow(note: string, wait?: AbortSignal): Promise<Held | null> {
  const shown = await take(shownLockOf(note), wait);
  if (!shown) return null;
  let held: Awaited<ReturnType<typeof take>> = null;
  try {
    held = await take(lockOf(note), AbortSignal.timeout(CHANGE_MS));
  } finally {
    if (!held) await shown();
  }
  return heldAs(note, held && (async () => void (await Promise.all([held(), shown()]))));
}

/** Notes that are held right now. */
export const heldNotes = (): Promise<Set<string>> => heldBy(lockOf(''));

const workLockOf = (what: string) => `scrivo/work/${what}`;
/** Says to all tabs that this work is under way, until what it gives is called; null when another says so already. */
export const beginWork = (what: string): Promise<(() => Promise<void>) | null> => take(workLockOf(what));
/** Whether this work is under way in any tab. */
export const isUnderWay = async (what: string): Promise<boolean> => (await heldBy(workLockOf(''))).has(what);
