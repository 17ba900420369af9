/** Speech that ran on while nothing was written. All times are ms of the timeline. */
import { sumOf, type Span } from '../audio/speech';

export interface Gap extends Span {
  /** How much of it is speech, ms. */
  readonly speech: number;
}

export interface Coverage {
  readonly gaps: readonly Gap[];
  /** Share of speech that was written along with, 0..1; 1 without speech. */
  readonly share: number;
}

/** Long speech is looked at in parts of at most this, ms. */
const PART_MS = 9000;
/** A pen that rests so long has stopped writing, ms. */
const REST_MS = 1500;
/** Who begins to write this long before their usual lag is up is still writing about it, ms. */
const EARLY_MS = 700;
/** A part is covered when writing runs along with this share of it, or begins in it and runs on for a while. */
const SHARE = 0.5;
const BEGUN_MS = 300;
/** Neighbouring parts make one gap unless something was written between them, or so much silence lies there, ms. */
const JOIN_MS = 5000;
/** Shorter silences of the pen are how people write, ms. */
const SHORTEST_MS = 5000;

/** The length of a gap as it is shown, spoken and listed: whole seconds, in ms. */
export const gapLength = ({ from, to }: Span): number => 1000 * Math.round((to - from) / 1000);

/** Runs of writing: strokes joined over rests of the pen. */
export function burstsOf(writing: readonly Span[], rest = REST_MS): Span[] {
  const bursts: { from: number; to: number }[] = [];
  for (const s of writing) {
    const last = bursts.at(-1);
    if (last && s.from - last.to <= rest) last.to = Math.max(last.to, s.to);
    else bursts.push({ from: s.from, to: s.to });
  }
  return bursts;
}

function partsOf(speech: readonly Span[]): Span[] {
  return speech.flatMap(({ from, to }) => {
    const n = Math.max(1, Math.ceil((to - from) / PART_MS));
    return Array.from({ length: n }, (_, i) => ({ from: from + ((to - from) * i) / n, to: from + ((to - from) * (i + 1)) / n }));
  });
}

/**
 * @param speech runs of speech, ascending.
 * @param writing strokes as spans, ascending by `from`.
 * @param lag how long after hearing this writer writes, ms.
 * @param least a gap has at least so much speech, ms; nothing under 5 s is one.
 * @param settled stretches where nothing is needed.
 */
export function coverageOf(speech: readonly Span[], writing: readonly Span[], lag: number, least = 2500, settled: readonly Span[] = []): Coverage {
  const bursts = burstsOf(writing).map((b) => ({ from: b.from - lag, to: b.to - lag }));
  let first = 0;
  let covered = 0;
  const writtenBetween = (from: number, to: number): boolean => {
    for (let i = Math.min(first, bursts.length - 1); i >= 0 && bursts[i].to > from; i--) if (bursts[i].from < to) return true;
    return false;
  };
  const gaps: { from: number; to: number; speech: number }[] = [];
  let open = false;
  for (const part of partsOf(speech)) {
    while (first < bursts.length && bursts[first].to < part.from - EARLY_MS) first++;
    let along = 0;
    let begun = false;
    for (let i = first; i < bursts.length && bursts[i].from < part.to; i++) {
      along += Math.max(0, Math.min(bursts[i].to, part.to) - Math.max(bursts[i].from, part.from));
      // What begins just before the part is about it as well; what begins at its very end is early for the next one.
      if (bursts[i].from >= part.from - EARLY_MS && bursts[i].from < Math.max(part.from + BEGUN_MS, part.to - EARLY_MS) && bursts[i].to - Math.max(bursts[i].from, part.from) >= BEGUN_MS) begun = true;
    }
    const length = part.to - part.from;
    if (begun || along >= SHARE * length) {
      covered += length;
      open = false;
      continue;
    }
    covered += Math.min(length, along);
    const last = gaps.at(-1);
    // A pen that rests the whole time makes one gap, whatever the speaker's pauses.
    const rests = last !== undefined && !writtenBetween(last.to, part.from);
    if (last && (rests || (open && part.from - last.to < JOIN_MS))) {
      last.to = part.to;
      last.speech += length;
    } else gaps.push({ ...part, speech: length });
    open = true;
  }
  const spoken = sumOf(speech);
  const isSettled = (g: Span) => settled.some((s) => Math.min(g.to, s.to) - Math.max(g.from, s.from) >= 0.6 * (g.to - g.from));
  return { gaps: gaps.filter((g) => g.speech >= least && g.to - g.from >= SHORTEST_MS && !isSettled(g)), share: spoken > 0 ? covered / spoken : 1 };
}
