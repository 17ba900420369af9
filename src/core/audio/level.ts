/** Loudness of a short run of samples, and what it says about a microphone. Samples are -1..1, levels in dBFS. */

export interface Level {
  readonly peak: number;
  /** Root mean square in dBFS, -Infinity for digital silence. */
  readonly rms: number;
}

export function levelOf(samples: ArrayLike<number>): Level {
  let [peak, sum] = [0, 0];
  for (let i = 0; i < samples.length; i++) {
    const v = Math.abs(samples[i]);
    if (v > peak) peak = v;
    sum += v * v;
  }
  return { peak, rms: samples.length ? 10 * Math.log10(sum / samples.length) : -Infinity };
}

/** dBFS to 0..1 of a meter that shows 60 dB. */
export const meterShare = (dbfs: number): number => Math.min(1, Math.max(0, (dbfs + 60) / 60));

/** `none`: no sound comes at all, not even silence. */
export type MicrophoneState = 'good' | 'silent' | 'clipping' | 'none';

/** Below this nothing at all comes in, as from a muted microphone; below the second there may be a quiet voice or a pause, which is given longer. */
const NOTHING_DBFS = -85;
const NOTHING_AFTER_MS = 3000;
const SILENT_DBFS = -70;
const SILENT_AFTER_MS = 12_000;
/** A sample this near full scale has been cut off. */
const CLIPPED = 0.985;
const CLIPPING_SHARE = 0.15;
const WINDOW_MS = 3000;

/** Watches levels over time and says when the microphone is silent or clipping. */
export class MicrophoneWatch {
  private soundAt: number | null = null;
  private anythingAt: number | null = null;
  private recent: { at: number; clipped: boolean }[] = [];

  /** `now` in ms on any steady clock. */
  add(level: Level, now: number): MicrophoneState {
    this.soundAt ??= now;
    this.anythingAt ??= now;
    if (level.rms > SILENT_DBFS) this.soundAt = now;
    if (level.rms > NOTHING_DBFS) this.anythingAt = now;
    this.recent.push({ at: now, clipped: level.peak >= CLIPPED });
    while (this.recent[0].at < now - WINDOW_MS) this.recent.shift();
    if (now - this.soundAt >= SILENT_AFTER_MS || now - this.anythingAt >= NOTHING_AFTER_MS) return 'silent';
    const clipped = this.recent.filter((r) => r.clipped).length;
    return clipped >= 3 && clipped / this.recent.length > CLIPPING_SHARE ? 'clipping' : 'good';
  }
}
