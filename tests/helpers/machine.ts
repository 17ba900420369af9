/**
 * Tells a starved machine from an error. On a virtual machine whose host is busy the processors are taken away for tens of ms again and again, and then a microphone
 * loses sound and a player stops, whatever the application does. The kernel counts that time (proc(5), `/proc/stat`, steal), apart from everything that runs here.
 */
import { readFileSync } from 'node:fs';
import { test } from '@playwright/test';
import { closeAll } from './app';

/** More of its time than this share is not taken from a machine on which sound is whole: 0.0005 was seen where all of it was, 0.1 to 0.4 where it was torn. */
const STARVED = 0.02;
/** A test that failed on a starved machine is begun so often in all. */
const TRIES = 3;
/** So long it is waited for the machine, and tests are begun anew, all together, ms: the whole has its time too. */
const PATIENCE_MS = 420_000;
/** So often the machine is looked at while it is waited for, ms. */
const LOOK_MS = 5000;

/** Share of the processors' time that others took since this was called; 0 where the system does not say. */
export function takenByOthers(): () => number {
  const read = (): { all: number; steal: number } => {
    try {
      const [first] = readFileSync('/proc/stat', 'utf8').split('\n');
      // user, nice, system, idle, iowait, irq, softirq, steal; what guests use is in user already.
      const ticks = first.trim().split(/\s+/).slice(1, 9).map(Number);
      return { all: ticks.reduce((sum, n) => sum + n, 0), steal: ticks[7] };
    } catch {
      // Not Linux: nothing is known, and every failure is one.
      return { all: 0, steal: 0 };
    }
  };
  const before = read();
  return () => {
    const now = read();
    return now.all > before.all ? (now.steal - before.steal) / (now.all - before.all) : 0;
  };
}

/** What failed is nothing that a starved machine could do: it counts wherever it is seen. */
export class NotByLoad extends Error {
  readonly name = 'NotByLoad';
}

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;

/** Of the patience, ms. */
let spent = 0;

/** Waits until nobody takes time of the machine any more. @returns false when patience is over. */
async function calm(): Promise<boolean> {
  for (; spent < PATIENCE_MS; spent += LOOK_MS) {
    const taken = takenByOthers();
    await new Promise((r) => setTimeout(r, LOOK_MS));
    if (taken() < STARVED) return true;
  }
  return false;
}

/** Ends with an error what is not done in time; it is left to itself then. */
async function within(ms: number, body: () => Promise<void>): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => (timer = setTimeout(() => reject(new Error(`Not done within ${ms / 1000} s.`)), ms)));
  const done = body();
  // What fails in it after that, since its browser was closed, tells nothing.
  done.catch(() => undefined);
  await Promise.race([done, late]).finally(() => clearTimeout(timer));
}

/**
 * A test of what is heard, or of how things go on in time. A failure counts where the machine had its time, and where no load explains it (`NotByLoad`); else the test is begun anew when it has, and
 * is not told (skipped, with the figures) when that never comes. `timeout`: of one try, ms.
 */
export const wholeSound =
  (body: () => Promise<void>, timeout = 180_000) =>
  async (): Promise<void> => {
    // Closing the browsers of a try takes its time too.
    test.setTimeout(TRIES * (timeout + 30_000) + PATIENCE_MS);
    for (let n = 1; ; n++) {
      const taken = takenByOthers();
      const began = Date.now();
      try {
        await within(timeout, body);
        return;
      } catch (e) {
        const share = taken();
        await closeAll();
        if (share < STARVED || e instanceof NotByLoad) throw e;
        console.log(`  starved: others took ${percent(share)} of the machine's time during this test, which failed: ${(e as Error).message.split('\n').slice(0, 4).join(' ')}`);
        if (n === TRIES || !(await calm())) test.skip(true, `Not told: the machine was starved ${n} times, last of ${percent(share)} of its time.`);
        spent += Date.now() - began;
      }
    }
  };
