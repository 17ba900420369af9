/**
 * The one clock that turns the time of an event into take time.
 *
 * Take time is the time of the sound's own packets in ms since the start of the take, with pauses closed up.
 * Event times are on the time base of `performance.now()`, which `PointerEvent.timeStamp` shares (W3C High Resolution
 * Time: both count from the time origin of the page).
 */

import { PRE_SKIP_MS } from '../audio/opus';

/** A run of sound inside a take, from one start of the recorder to its stop. */
export interface ClockPart {
  /** Event time of take time `at`, in ms. */
  readonly origin: number;
  /** So much longer a ms of sound lasts by the clock of events, as a share of it. */
  readonly drift: number;
  /** Take time of the first sound of the part, in ms. */
  readonly at: number;
  /** Length of the sound in ms; null while the part is still running. */
  readonly ms: number | null;
}

/**
 * The recorder's first packet begins with sound that was in the room this long before `start()`, in ms: the buffers of 10 ms that
 * were on their way then. Starts differ by where in a buffer they fall, by some 6 ms to either side, and by more on a busy machine;
 * so this serves only until the first sound has come. Measured, see docs/decisions/0002-recording-clock.md.
 */
const RECORDER_LEAD_MS = 12 - PRE_SKIP_MS;

/**
 * Sound comes out of the recorder this long after its last sample was in the room, in ms, when nothing is late. Measured likewise, by the times of the packets:
 * what a player gives out at a packet's time is what the encoder took in then, and it comes out of the decoder later by the encoder's delay.
 */
const RECORDER_LAG_MS = 70 - PRE_SKIP_MS;
/** A recorder that gives packets of this length is the one measured. */
const MEASURED_PACKET_MS = 60;
/** By so much its start is off at most, ms: thirty starts beside up to six busy processes lay within 13, one in a test run was 25 off. What lies farther is sound that came late. */
const START_WITHIN_MS = 30;
/**
 * Sound that came so much later than the start of the recorder says is believed only so far, ms: a start that was 27 late, or sound that was late by as much as it
 * likes from the first to the last, is then off by no more than 20.
 */
const LATER_WITHIN_MS = 20 - 13;
/** Sound that came in time comes alike within this many ms; what comes late, comes late anyhow. So it takes two that tell the same to say that a part began later than its recorder was started. */
const ALIKE_MS = 3;
/** The clock of a sound card and that of the machine differ by some ten to some hundred millionths (common practice, no source); by more than this none does. */
const MOST_DRIFT = 500e-6;
/** A drift is looked for in stretches of so many ms, and believed of so many of them, when such a share of them lies this near to its line. */
const STRETCH_MS = 5000;
const ENOUGH_STRETCHES = 8;
const ON_THE_LINE = 0.5;
const LINE_WITHIN_MS = 5;
/** Less than this in all is not worth a line, ms. */
const DRIFT_SHOWS_MS = 8;

/** A coming of sound: `end` ms of packet time, and the event time at which packet time 0 was if this sound was not late. */
export interface Coming {
  readonly end: number;
  readonly zero: number;
}

/** What is known of the running part. */
interface Heard {
  /** Event time of its first sound by the start of the recorder. */
  readonly started: number;
  /** The recorder is the one whose lag was measured; null before sound came. */
  measured: boolean | null;
  /** The two comings that were least late of those that can have been in time, in ms of `zero`. */
  least: number;
  second: number;
  /** Of each stretch of packet time the coming that was least late. */
  readonly floor: Map<number, Coming>;
}

export class TakeClock {
  private parts: ClockPart[] = [];
  /** Between `stopping` and `end`: the length of the last part is the press of the button, not yet that of its sound. */
  private open = false;
  private heard: Heard | null = null;
  /** The latest event that was told a time, and that time: the clock on the screen and stamps never run backwards. */
  private told: { event: number; at: number } | null = null;

  constructor(private readonly lead = RECORDER_LEAD_MS) {}

  /** A recorder was started; `before` is `performance.now()` read just before its `start()`. */
  begin(before: number): void {
    if (this.running || this.open) throw new Error('A part is still running: end it before the next begins.');
    const started = before - this.lead;
    this.parts.push({ origin: started, drift: 0, at: this.length, ms: null });
    this.heard = { started, measured: null, least: Infinity, second: Infinity, floor: new Map() };
  }

  /**
   * Sound of the running part came out of the recorder: at event time `event`, up to `end` ms from its first packet. Sound can come late, on a starved
   * machine by minutes and for as long as it likes, and never early. So a coming is believed only where a clock can be: near the start of the recorder, or on one
   * straight line with most others (a drift: Moon, Skelly and Towsley, "Estimation and removal of clock skew from network delay measurements",
   * INFOCOM 1999). Of those that can have been in time the least late one tells when the part began, better than the start of the recorder does.
   *
   * @param packet length of the recorder's packets, ms: it tells whether it is the one measured. Of another one only its drift is followed.
   */
  came(event: number, end: number, packet: number): void {
    const { heard } = this;
    if (!this.running || !heard) return;
    heard.measured ??= packet === MEASURED_PACKET_MS;
    const coming = { end, zero: event - end - (heard.measured ? RECORDER_LAG_MS : 0) };
    const k = Math.floor(end / STRETCH_MS);
    const known = heard.floor.get(k);
    if (!known || coming.zero < known.zero) heard.floor.set(k, coming);
    if (Math.abs(coming.zero - heard.started) <= START_WITHIN_MS) {
      if (coming.zero < heard.least) [heard.least, heard.second] = [coming.zero, heard.least];
      else if (coming.zero < heard.second) heard.second = coming.zero;
    }
    this.parts[this.parts.length - 1] = { ...this.parts.at(-1)!, ...originOf(heard) };
  }

  /** Pause or Stop was pressed: events from now on have no take time, though the last packets are still on their way. */
  stopping(event: number): void {
    if (this.running) this.end(event - this.parts.at(-1)!.origin);
    this.open = true;
  }

  /** The recorder stopped; `ms` is the end of its last packet, in ms from its first. */
  end(ms: number): void {
    const last = this.parts.at(-1);
    if (!last || (last.ms !== null && !this.open)) throw new Error('No part is running.');
    this.open = false;
    // A part whose sound ended before the button was pressed gives back what it promised.
    this.told = null;
    this.parts[this.parts.length - 1] = { ...last, ms: Math.max(0, ms) };
  }

  get running(): boolean {
    return this.parts.length > 0 && this.parts.at(-1)!.ms === null;
  }

  /** Take time at which the running part began, or at which the next one will, in ms. */
  get length(): number {
    const last = this.parts.at(-1);
    return last ? last.at + (last.ms ?? 0) : 0;
  }

  /** By part, its take time and the event time of its first sound, ms. */
  get begins(): readonly { readonly at: number; readonly event: number }[] {
    return this.parts.map(({ at, origin }) => ({ at, event: origin }));
  }

  /**
   * Take time in ms of an event as it is known by now, or null when no sound was being recorded then (before the start, in a pause, after the stop). What
   * `takeTime` said of it while sound was late may be off by some ms, and is mended by this when the part has ended.
   */
  momentOf(event: number): number | null {
    for (let i = this.parts.length - 1; i >= 0; i--) {
      const part = this.parts[i];
      const since = (event - part.origin) / (1 + part.drift);
      if (since < 0) continue;
      if (part.ms !== null && since > part.ms) return null;
      return part.at + since;
    }
    return null;
  }

  /** As `momentOf`, for what happens now: of two events the later one never gets the earlier time, whatever was learnt in between. */
  takeTime(event: number): number | null {
    const at = this.momentOf(event);
    if (at === null) return null;
    const { told } = this;
    if (told && event < told.event) return Math.min(at, told.at);
    this.told = { event, at: Math.max(at, told?.at ?? 0) };
    return this.told.at;
  }
}

/** Where the first sound of a part was, and the drift, by what came so far. */
function originOf({ started, measured, least, second, floor }: Heard): Pick<ClockPart, 'origin' | 'drift'> {
  const line = lineUnder([...floor.values()]);
  if (line && Math.abs(line.drift) <= MOST_DRIFT) {
    // All of it may be late alike.
    return { origin: measured && Math.abs(line.zero - started) <= START_WITHIN_MS ? Math.min(line.zero, started + LATER_WITHIN_MS) : started, drift: line.drift };
  }
  const isSure = measured && (least <= started || second - least <= ALIKE_MS);
  return { origin: isSure ? Math.min(least, started + LATER_WITHIN_MS) : started, drift: 0 };
}

/** The line below all comings and as near to them as can be, when there is a drift to be seen and most of them lie on it; null otherwise. */
export function lineUnder(comings: readonly Coming[]): { readonly zero: number; readonly drift: number } | null {
  if (comings.length < ENOUGH_STRETCHES) return null;
  // The lower half of the hull (A. M. Andrew, Information Processing Letters 9, 1979).
  const hull: Coming[] = [];
  for (const p of [...comings].sort((a, b) => a.end - b.end)) {
    while (hull.length > 1 && (hull.at(-1)!.end - hull.at(-2)!.end) * (p.zero - hull.at(-2)!.zero) <= (hull.at(-1)!.zero - hull.at(-2)!.zero) * (p.end - hull.at(-2)!.end)) hull.pop();
    hull.push(p);
  }
  // Of all lines below them the one over their middle has the least distance to all together.
  const middle = comings.reduce((sum, p) => sum + p.end, 0) / comings.length;
  const right = Math.max(1, hull.findIndex((p) => p.end >= middle));
  const [a, b] = [hull[right - 1], hull[right]];
  if (!b || b.end === a.end) return null;
  const drift = (b.zero - a.zero) / (b.end - a.end);
  const zero = a.zero - drift * a.end;
  if (Math.abs(drift) * hull.at(-1)!.end < DRIFT_SHOWS_MS) return null;
  const near = comings.filter((p) => p.zero - zero - drift * p.end <= LINE_WITHIN_MS).length;
  return near >= comings.length * ON_THE_LINE ? { zero, drift } : null;
}
