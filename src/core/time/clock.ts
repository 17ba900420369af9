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
/** By so much its start is off at most on a machine that is not starved, ms. */
const START_WITHIN_MS = 40;
/** Sound that came in time comes alike within this many ms; what comes late, comes late anyhow. */
const ALIKE_MS = 3;
/** After so many comings one of them was in time. */
const ENOUGH = 5;
/** So many comings of sound tell the time together: one of them is in time also on a busy machine, and a drift shows. */
const COMINGS = 60;

export class TakeClock {
  private parts: ClockPart[] = [];
  /** Between `stopping` and `end`: the length of the last part is the press of the button, not yet that of its sound. */
  private open = false;
  /** How late sound came in the running part, ms, the last ones. */
  private late: number[] = [];
  /** Comings of the running part so far, and its beginning by the start of the recorder. */
  private comings = 0;
  private started = 0;
  private lag = RECORDER_LAG_MS;

  constructor(private readonly lead = RECORDER_LEAD_MS) {}

  /** A recorder was started; `before` is `performance.now()` read just before its `start()`. */
  begin(before: number): void {
    if (this.running || this.open) throw new Error('A part is still running: end it before the next begins.');
    this.started = before - this.lead;
    this.parts.push({ origin: this.started, at: this.length, ms: null });
    this.late = [];
    this.comings = 0;
  }

  /**
   * Sound of the running part came out of the recorder: at event time `event`, up to `end` ms from its first packet. Sound can come
   * late and never early, so the one that was least late tells when the part began, and better than the start of the recorder does.
   *
   * @param packet length of the recorder's packets, ms: it tells whether it is the one measured. Another one is taken to hold back what its first sounds do.
   */
  came(event: number, end: number, packet: number): void {
    if (!this.running) return;
    const part = this.parts.at(-1)!;
    this.late.push(event - end);
    if (this.late.length > COMINGS) this.late.shift();
    this.comings++;
    const [least, second = Infinity] = [...this.late].sort((a, b) => a - b);
    const isMeasured = packet === MEASURED_PACKET_MS;
    if (isMeasured) this.lag = RECORDER_LAG_MS;
    else if (this.comings <= ENOUGH) this.lag = least - this.started;
    // On a starved machine the first sound can be late itself: far from the start it is believed when other sound came alike.
    const doubtful = isMeasured && this.comings < ENOUGH && least - this.lag - this.started > START_WITHIN_MS && second - least > ALIKE_MS;
    this.parts[this.parts.length - 1] = { ...part, origin: doubtful ? this.started : least - this.lag };
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

  /** Take time in ms of an event, or null when no sound was being recorded then (before the start, in a pause, after the stop). */
  takeTime(event: number): number | null {
    for (let i = this.parts.length - 1; i >= 0; i--) {
      const part = this.parts[i];
      const since = event - part.origin;
      if (since < 0) continue;
      if (part.ms !== null && since > part.ms) return null;
      return part.at + since;
    }
    return null;
  }
}
