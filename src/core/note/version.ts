/**
 * Versions of what a note is made of, so that two devices can be brought together row by row.
 *
 * `h`: hybrid logical clock (Kulkarni et al., "Logical Physical Clocks", 2014) as one number, ms since the epoch x 4096 plus a counter; it
 * never stands still and never goes back, whatever the wall clock does. `d`: the device. `q`: that device's counter in the note;
 * (d, q) is the identity of a version.
 */
export type Version = readonly [h: number, d: string, q: number];

/** Steps of the counter in a millisecond: ms since the epoch times this stay below 2^53 until the year 2039. */
const STEPS = 4096;

/** What was written less than this long ago is fresh, ms. */
const FRESH_MS = 60_000;

/** The clock after `last`, at the wall clock `now`, ms. */
const nextHybrid = (last: number, now: number): number => Math.max(Math.floor(now * STEPS), last + 1);

/** Order of versions: by clock, device, counter. None at all is the oldest. */
export function compareVersions(a: Version | null | undefined, b: Version | null | undefined): number {
  if (!a || !b) return (a ? 1 : 0) - (b ? 1 : 0);
  return a[0] - b[0] || (a[1] < b[1] ? -1 : a[1] > b[1] ? 1 : 0) || a[2] - b[2];
}

/** By device, the counter of the last version that was known when something was changed. */
export type Past = Readonly<Record<string, number>>;

/** Whether somebody who had `past`, and made version `by`, had seen `version`. */
export const isSeen = (version: Version | null | undefined, by: Version, past: Past | undefined): boolean =>
  !version || (version[1] === by[1] && version[2] <= by[2]) || (past?.[version[1]] ?? -1) >= version[2];

/** What somebody has seen who changes what stands at `version` with its `past`: only devices other than `device` have to be named. */
export function pastOf(version: Version | null | undefined, past: Past | undefined, device: string): Past | undefined {
  // As nearly always: it is one's own, and what was known of others stands.
  if (!version || version[1] === device) {
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
  if (version) know(version[1], version[2]);
  return others ? seen : undefined;
}

/** Who changes a note, and when by the wall clock, ms. */
export interface By {
  readonly device: string;
  readonly now: number;
}

/** The highest clock in a note, and by device its highest counter: the next version exceeds them. */
export interface Seen {
  readonly h: number;
  readonly q: Readonly<Record<string, number>>;
}

export const NOTHING_SEEN: Seen = { h: 0, q: {} };

/** Gives new versions one after another, and takes notice of those that came from elsewhere. */
export class Versions {
  private h: number;
  private readonly q: Record<string, number>;

  constructor(
    seen: Seen,
    private readonly by: By,
  ) {
    this.h = seen.h;
    this.q = { ...seen.q };
  }

  next(): Version {
    const { device, now } = this.by;
    this.h = nextHybrid(this.h, now);
    this.q[device] = (this.q[device] ?? -1) + 1;
    return [this.h, device, this.q[device]];
  }

  /** Of ink just written: the clock of its own pen-up, which a record need not say once more. */
  nextOf(it: { readonly wall: number; readonly ms: number }): Version {
    const fresh = Math.abs(this.by.now - it.wall - it.ms) < FRESH_MS;
    if (fresh && freshHybrid(it) > this.h) this.h = freshHybrid(it) - 1;
    const { device } = this.by;
    this.h = fresh ? this.h + 1 : nextHybrid(this.h, this.by.now);
    this.q[device] = (this.q[device] ?? -1) + 1;
    return [this.h, device, this.q[device]];
  }

  notice(version: Version | null | undefined): void {
    if (!version) return;
    const [h, d, q] = version;
    if (h > this.h) this.h = h;
    if (!(this.q[d] >= q)) this.q[d] = q;
  }

  get seen(): Seen {
    return { h: this.h, q: this.q };
  }
}

/** The clock of ink as it was written: at pen-up. */
export const freshHybrid = ({ wall, ms }: { readonly wall: number; readonly ms: number }): number => Math.floor((wall + ms) * STEPS);
