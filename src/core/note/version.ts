/**
 * Versions of what a note is made of, so that two devices can be brought together row by row.
 *
 * `ms` and `n`: hybrid logical clock (Kulkarni et al., "Logical Physical Clocks", 2014): ms since the epoch, and a counter of what was changed within one; together
 * they never stand still and never go back, whatever the wall clock does. `d`: the device. `q`: that device's counter in the note; (d, q) is the identity of a version.
 */
import { z } from 'zod';
import { LAST_MS } from './limits';

export type Version = readonly [ms: number, n: number, d: string, q: number];

/** What was written less than this long ago is fresh, ms. */
const FRESH_MS = 60_000;

/** A clock that is so far ahead of one's own is not believed, ms: what one changes oneself is not dated by it, save where it changes what was dated so. */
export const FAR_AHEAD_MS = 86_400_000;

const isLater = (ms: number, n: number, than: { readonly ms: number; readonly n: number }): boolean => ms > than.ms || (ms === than.ms && n > than.n);

/** Order of versions: by clock, device, counter. None at all is the oldest. */
export function compareVersions(a: Version | null | undefined, b: Version | null | undefined): number {
  if (!a || !b) return (a ? 1 : 0) - (b ? 1 : 0);
  return a[0] - b[0] || a[1] - b[1] || (a[2] < b[2] ? -1 : a[2] > b[2] ? 1 : 0) || a[3] - b[3];
}

const isCounter = (n: unknown): n is number => Number.isSafeInteger(n) && (n as number) >= 0;
const isMs = (ms: unknown): ms is number => typeof ms === 'number' && ms >= 0 && ms <= LAST_MS;
const isDevice = (d: unknown): d is string => typeof d === 'string' && d.length <= 64;
export const pastSchema = z.record(z.string().max(64), z.number().refine(isCounter));

/** Before 2026-12 the clock was one number: ms times this plus the counter. */
const STEPS = 4096;

/** A version as files have it, of today or with its clock as one number; undefined for what is none. No schema: it is asked for every stroke. */
export function versionOfJson(json: unknown): Version | undefined {
  if (!Array.isArray(json)) return undefined;
  const [a, b, c, d] = json as unknown[];
  if (json.length === 4) return isMs(a) && isCounter(b) && isDevice(c) && isCounter(d) ? [a, b, c, d] : undefined;
  return json.length === 3 && typeof a === 'number' && isMs(a / STEPS) && isDevice(b) && isCounter(c) ? ofHybrid(a, b, c) : undefined;
}

/** Of a clock that is one number. */
export const ofHybrid = (h: number, d: string, q: number): Version => {
  const ms = Math.floor(h / STEPS);
  return [ms, Math.floor(h - ms * STEPS), d, q];
};

/** By device, the counter of the last version that was known when something was changed. */
export type Past = Readonly<Record<string, number>>;

/** Whether somebody who had `past`, and made version `by`, had seen `version`. */
export const isSeen = (version: Version | null | undefined, by: Version, past: Past | undefined): boolean =>
  !version || (version[2] === by[2] && version[3] <= by[3]) || (past?.[version[2]] ?? -1) >= version[3];

/** What somebody has seen who changes what stands at `version` with its `past`: only devices other than `device` have to be named. */
export function pastOf(version: Version | null | undefined, past: Past | undefined, device: string): Past | undefined {
  // As nearly always: it is one's own, and what was known of others stands.
  if (!version || version[2] === device) {
    if (!past || !(device in past)) return past;
  }
  // Named one by one: an object that loses a field is slow ever after, and this is asked for thousands of strokes at a time.
  const seen: Record<string, number> = {};
  let others = 0;
  const know = (d: string, q: number): void => {
    if (d === device) return;
    others++;
    seen[d] = Math.max(seen[d] ?? -1, q);
  };
  for (const d in past) know(d, past[d]);
  if (version) know(version[2], version[3]);
  return others ? seen : undefined;
}

/** Who changes a note, and when by the wall clock, ms. */
export interface By {
  readonly device: string;
  readonly now: number;
}

/** The highest clock in a note, and by device its highest counter: the next version exceeds them. */
export interface Seen {
  readonly ms: number;
  readonly n: number;
  readonly q: Readonly<Record<string, number>>;
}

export const NOTHING_SEEN: Seen = { ms: 0, n: 0, q: {} };

/** Gives new versions one after another, and takes notice of those that came from elsewhere. */
export class Versions {
  ms: number;
  n: number;
  private readonly q: Record<string, number>;

  constructor(
    seen: Seen,
    private readonly by: By,
  ) {
    const isFar = by.device !== '' && seen.ms > by.now + FAR_AHEAD_MS;
    [this.ms, this.n] = isFar ? [0, 0] : [seen.ms, seen.n];
    this.q = { ...seen.q };
  }

  /** @param over what it takes the place of: it is later than that in any case. */
  next(over?: Version | null): Version {
    return this.give(Math.floor(this.by.now), over);
  }

  /** Of ink just written: the clock of its own pen-up, which a record need not say once more. */
  nextOf(it: { readonly wall: number; readonly ms: number }, over?: Version | null): Version {
    const isFresh = Math.abs(this.by.now - it.wall - it.ms) < FRESH_MS;
    return this.give(isFresh ? freshMs(it) : Math.floor(this.by.now), over);
  }

  private give(at: number, over?: Version | null): Version {
    const { device, now } = this.by;
    const last: { readonly ms: number; readonly n: number } = over && isLater(over[0], over[1], this) ? { ms: over[0], n: over[1] } : this;
    const [ms, n] = at > last.ms ? [at, 0] : [last.ms, last.n + 1];
    if (ms <= now + FAR_AHEAD_MS) [this.ms, this.n] = [ms, n];
    this.q[device] = (this.q[device] ?? -1) + 1;
    return [ms, n, device, this.q[device]];
  }

  notice(version: Version | null | undefined): void {
    if (!version) return;
    const [ms, n, d, q] = version;
    if (isLater(ms, n, this)) [this.ms, this.n] = [ms, n];
    if (!(this.q[d] >= q)) this.q[d] = q;
  }

  get seen(): Seen {
    return { ms: this.ms, n: this.n, q: this.q };
  }
}

/** The clock of ink as it was written: at pen-up. */
export const freshMs = ({ wall, ms }: { readonly wall: number; readonly ms: number }): number => Math.floor(wall + ms);

/** The same where the clock is one number. */
export const freshHybrid = ({ wall, ms }: { readonly wall: number; readonly ms: number }): number => Math.floor((wall + ms) * STEPS);
