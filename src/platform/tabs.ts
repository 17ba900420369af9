/** Which tab writes a note: one holds its lock, the others follow. */

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
const lockName = (note: string) => `scrivo/note/${note}`;

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

/** Holds the note for writing until released; null when another tab holds it (and `wait` is not given, or runs out). */
export function holdNote(note: string, wait?: AbortSignal): Promise<Held | null> {
  // Without locks there is no telling tabs apart; one tab works as ever.
  if (!navigator.locks) return Promise.resolve({ note, release: () => Promise.resolve() });
  return new Promise((resolve, reject) => {
    const options = wait ? { signal: wait } : { ifAvailable: true };
    const over: Promise<void> = navigator.locks
      .request(lockName(note), options, (lock) => {
        if (!lock) {
          resolve(null);
          return undefined;
        }
        return new Promise<void>((end) => resolve({ note, release: () => (end(), over) }));
      })
      .then(() => undefined, (e: unknown) => (e instanceof DOMException && (e.name === 'AbortError' || e.name === 'TimeoutError') ? resolve(null) : reject(e)));
  });
}

/** Notes that some tab holds right now. */
export async function heldNotes(): Promise<Set<string>> {
  if (!navigator.locks) return new Set();
  const prefix = lockName('');
  const { held = [] } = await navigator.locks.query();
  return new Set(held.flatMap((l) => (l.name?.startsWith(prefix) ? [l.name.slice(prefix.length)] : [])));
}
