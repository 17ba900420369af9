/** What the network said of a word, small enough to be kept with it: of each step the signs that are at all likely. */
import { CLASSES } from './alphabet';
import type { Logs } from './ctc';

/** Likelier ones are kept, as a logarithm; what is not kept counts as this. */
const FLOOR = -8;
/** Of a step. */
const MOST = 7;
/** Steps of the logarithm. */
const FINE = 255 / -FLOOR;

/** Steps first; of each how many signs, then class and logarithm of each. */
export function packLogs({ steps, log }: Logs): Uint8Array {
  const out: number[] = [steps & 255, steps >> 8];
  for (let t = 0; t < steps; t++) {
    const kept: [number, number][] = [];
    for (let c = 0; c < CLASSES; c++) if (log[t * CLASSES + c] > FLOOR) kept.push([c, log[t * CLASSES + c]]);
    kept.sort((a, b) => b[1] - a[1]);
    const some = kept.slice(0, MOST);
    out.push(some.length);
    for (const [c, p] of some) out.push(c, Math.round(Math.min(255, -p * FINE)));
  }
  return Uint8Array.from(out);
}

/** @throws RangeError when they are cut off */
export function unpackLogs(bytes: Uint8Array): Logs {
  const steps = bytes[0] | (bytes[1] << 8);
  const log = new Float32Array(steps * CLASSES).fill(2 * FLOOR);
  let at = 2;
  for (let t = 0; t < steps; t++) {
    const n = bytes[at++];
    if (n === undefined || at + 2 * n > bytes.length) throw new RangeError('what was read of a word is cut off');
    for (let i = 0; i < n; i++, at += 2) if (bytes[at] < CLASSES) log[t * CLASSES + bytes[at]] = -bytes[at + 1] / FINE;
  }
  return { steps, log };
}
