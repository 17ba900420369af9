/**
 * Room that is kept for when there is none: a record of nothing, in a database of its own, which goes as soon as ink or sound finds the disk full.
 * A browser gives the room of small records back only when it rearranges its files, so that deleting notes alone may help late; a record as large as this
 * one is a file by itself, whose room is back at once.
 */
import { createAsyncStorage, type AsyncStorage } from '@react-native-async-storage/async-storage';
import { textOf } from '../core/note/binaryText';

/** About half an hour of recording (`BYTES_PER_HOUR`, store/storageFigures.ts). */
export const RESERVE_BYTES = 8_000_000;
const KEY = 'reserve';

let opened: AsyncStorage | null = null;
const db = (): AsyncStorage => (opened ??= createAsyncStorage('scrivo-reserve'));

/** So much of it is drawn by lot and then said again: packers look no further back than 64 kB (snappy's format description, section 2). */
const BLOCK = 3 * 65_536;

/** Text that no browser stores in less room than it has. */
function incompressible(): string {
  const bytes = new Uint8Array(BLOCK);
  // Web Cryptography, section 10.1.1: at most 65,536 bytes at a time.
  for (let i = 0; i < BLOCK; i += 65_536) crypto.getRandomValues(bytes.subarray(i, i + 65_536));
  const block = btoa(textOf(bytes));
  return block.repeat(Math.ceil(RESERVE_BYTES / block.length));
}

/** Lays the reserve where there is none. @throws what storage throws. */
export async function layReserve(): Promise<void> {
  if (!(await db().getAllKeys()).includes(KEY)) await db().setItem(KEY, incompressible());
}

let used: () => void = () => undefined;
/** `told` is called when the reserve was let go of. */
export const onReserveUsed = (told: () => void): void => void (used = told);

/** So long after it was let go of a full disk may still be an echo of before: the browser counts what is free now and then, ms. */
const ECHO_MS = 5000;
let goneAt = -Infinity;
let going: Promise<boolean> | null = null;

async function letGo(): Promise<boolean> {
  try {
    if (!(await db().getAllKeys()).includes(KEY)) return false;
    await db().removeItem(KEY);
    goneAt = performance.now();
    used();
    return true;
  } catch {
    // Then it is as if there were none; who asks tells of the full disk.
    return false;
  }
}

/** Lets go of the reserve. Ink and sound find the disk full at nearly the same time: the second to ask gets the same answer. @returns whether there is room of it to wait for. */
export async function letReserveGo(): Promise<boolean> {
  if (performance.now() - goneAt < ECHO_MS) return true;
  return (going ??= letGo().finally(() => (going = null)));
}
