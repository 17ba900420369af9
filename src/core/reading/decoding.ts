/** What a word most likely says: words of the lexicon, with the signs that stand at words, numbers, and free text where it is much more likely than any of them. */
import { ALPHABET, CLASSES, classOf, FOLD } from './alphabet';
import { BLANK, classesOf, foldedLogs, greedy, logAdd, logOf, stepsOf, type Logs } from './ctc';
import type { Lexicon } from './lexicon';

/** How much more likely free text has to be for each of its words, as a logarithm. */
export const MARGIN = 8;
/** Beginnings that are followed at a time. */
const BEAM = 24;
/** Signs less likely than this are not followed, as a logarithm. */
const UNLIKELY = -9;

export interface Reading {
  readonly text: string;
  /** 0 to 1: how much of what was considered this is. */
  readonly confidence: number;
}

const setOf = (signs: string): Uint8Array => {
  const out = new Uint8Array(CLASSES);
  for (const sign of signs) out[classOf(sign)!] = 1;
  return out;
};
const LEAD = setOf(`("'-*#>[<+`);
const TRAIL = setOf(`.,;:!?)"'-]/&+=%`);
/** After these another word begins. */
const AGAIN = setOf(` -/&+='"(.:@_`);
const SPACE = classOf(' ')!;
const DIGIT = setOf('0123456789');
const IN_NUMBER = setOf('0123456789.,:/%+-=()€$£°× ');
const NUMBER_END = setOf('0123456789%°)');
const LETTER = setOf('abcdefghijklmnopqrstuvwxyz');
const APOSTROPHE = classOf("'")!;
const S = classOf('s')!;

/** What a sign costs that stands by itself, as in a sum, and a letter that does and is no word: a cross is a plus rather than a t, and gains by it (common practice, no source). */
const ALONE = new Float64Array(CLASSES).fill(-Infinity);
for (const [sign, cost] of [['+', 1.5], ['=', 0], ['&', -0.5], ['%', -0.5], ['/', -0.5], ['<', -0.5], ['>', -0.5], ['-', -2]] as const) ALONE[classOf(sign)!] = cost;
const [LONE_LETTER, WORDS] = [-1.5, setOf('aio')];

/** What a sign before or after a word costs, another word joined to it or after a space, and each sign of a number. */
const [SIGN, JOINED, SPACED, OF_NUMBER] = [-0.9, -2.5, -0.5, -0.25];

type Phase = 'lead' | 'word' | 'trail' | 'number' | 'genitive';

interface Beginning {
  readonly before: Beginning | null;
  readonly cls: number;
  readonly phase: Phase;
  /** Of the lexicon. */
  readonly node: number;
  /** What its signs cost so far, and the words it has behind it. */
  readonly cost: number;
  next: Map<number, Beginning> | null;
  /** Logarithms: it ends in a blank, or in its last sign; now, and in the step that is being worked out. */
  pb: number;
  pn: number;
  nb: number;
  nn: number;
  seen: number;
}

const NEVER = -1e30;

/** Texts and how likely they are with what is known of words, likeliest first. */
function likely(lexicon: Lexicon, logs: Logs): { classes: number[]; score: number }[] {
  const { steps, log } = logs;
  const make = (before: Beginning | null, cls: number, phase: Phase, node: number, cost: number): Beginning => ({ before, cls, phase, node, cost, next: null, pb: NEVER, pn: NEVER, nb: NEVER, nn: NEVER, seen: -1 });
  const root = make(null, BLANK, 'lead', 0, 0);
  root.pb = 0;
  let beam = [root];
  /** What it would be worth if the best word ended it. */
  const hope = (b: Beginning): number => b.cost + (b.phase === 'word' || b.phase === 'lead' ? lexicon.best(b.node) : 0);
  const worth = (b: Beginning): number => (b.before === root && ALONE[b.cls] > -Infinity ? ALONE[b.cls] : b.phase === 'word' ? b.cost + lexicon.weight(b.node) + (b.before === root && !WORDS[b.cls] ? LONE_LETTER : 0) : b.phase === 'lead' || (b.phase === 'number' && !NUMBER_END[b.cls]) ? -Infinity : b.cost);
  for (let t = 0; t < steps; t++) {
    const row = t * CLASSES;
    const now: Beginning[] = [];
    const reach = (b: Beginning): Beginning => {
      if (b.seen !== t) {
        [b.seen, b.nb, b.nn] = [t, NEVER, NEVER];
        now.push(b);
      }
      return b;
    };
    for (const b of beam) {
      const all = logAdd(b.pb, b.pn);
      const same = reach(b);
      same.nb = logAdd(same.nb, all + log[row + BLANK]);
      if (b.cls !== BLANK) same.nn = logAdd(same.nn, b.pn + log[row + b.cls]);
      const on = (cls: number, phase: Phase, node: number, cost: number): void => {
        const p = log[row + cls];
        if (p < UNLIKELY) return;
        b.next ??= new Map();
        let to = b.next.get(cls);
        if (!to) b.next.set(cls, (to = make(b, cls, phase, node, cost)));
        const was = reach(to);
        was.nn = logAdd(was.nn, (cls === b.cls ? b.pb : all) + p);
      };
      const word = (from: number, cost: number) => lexicon.each(from, (child, cls) => on(cls, 'word', child, cost));
      if (b.phase === 'word') word(b.node, b.cost);
      if (b.phase === 'lead') {
        word(0, b.cost);
        for (let c = 1; c < CLASSES; c++) {
          if (log[row + c] < UNLIKELY) continue;
          if (LEAD[c]) on(c, 'lead', 0, b.cost + SIGN);
          else if (DIGIT[c] || ((b === root) && IN_NUMBER[c] && c !== SPACE)) on(c, 'number', 0, b.cost + OF_NUMBER);
        }
      }
      if (b.phase === 'number') {
        for (let c = 1; c < CLASSES; c++) {
          if (log[row + c] < UNLIKELY) continue;
          if (IN_NUMBER[c]) on(c, 'number', 0, b.cost + OF_NUMBER);
          else if (TRAIL[c] && NUMBER_END[b.cls]) on(c, 'trail', 0, b.cost + SIGN);
        }
        // Units and the like.
        if (NUMBER_END[b.cls] || b.cls === SPACE) word(0, b.cost + JOINED);
      }
      const ended = b.phase === 'word' ? lexicon.weight(b.node) : b.phase === 'trail' || b.phase === 'genitive' ? 0 : -Infinity;
      if (ended > -Infinity) {
        const cost = b.cost + ended;
        for (let c = 1; c < CLASSES; c++) {
          if (log[row + c] < UNLIKELY || b.next?.get(c)?.phase === 'word') continue;
          if (TRAIL[c]) on(c, 'trail', 0, cost + SIGN);
          else if (c === SPACE) on(c, 'trail', 0, cost + SPACED);
        }
        if (b.phase === 'trail') {
          if (b.cls === APOSTROPHE) on(S, 'genitive', 0, cost);
          if (AGAIN[b.cls]) {
            lexicon.each(0, (child, cls) => {
              if (!(b.cls === APOSTROPHE && cls === S)) on(cls, 'word', child, cost + (b.cls === SPACE ? 0 : JOINED));
            });
            for (let c = 1; c < CLASSES; c++) if (DIGIT[c] && log[row + c] >= UNLIKELY) on(c, 'number', 0, cost + OF_NUMBER);
          }
        }
      }
    }
    for (const b of now) [b.pb, b.pn] = [b.nb, b.nn];
    if (now.length > BEAM) now.sort((a, b) => logAdd(b.pb, b.pn) + hope(b) - (logAdd(a.pb, a.pn) + hope(a)));
    beam = now.slice(0, BEAM);
  }
  return beam
    .flatMap((b) => {
      const score = logAdd(b.pb, b.pn) + worth(b);
      if (!(score > NEVER / 2)) return [];
      const classes: number[] = [];
      for (let it: Beginning | null = b; it?.before; it = it.before) classes.unshift(it.cls);
      return [{ classes, score }];
    })
    .sort((a, b) => b.score - a.score);
}

/** Capitals and accents as they are written: a word is small, begins with a capital, or is all in capitals. */
function dressed(logs: Logs, small: Logs, classes: readonly number[]): string {
  const steps = stepsOf(small, classes);
  const forms = classes.map((cls, i) => {
    let [low, up, lowP, upP] = [cls, -1, -Infinity, -Infinity];
    for (let c = 1; c < CLASSES; c++) {
      if (FOLD[c] !== cls) continue;
      const p = logs.log[steps[i] * CLASSES + c];
      const isUp = ALPHABET[c - 1] !== ALPHABET[c - 1].toLowerCase();
      if (isUp && p > upP) [up, upP] = [c, p];
      if (!isUp && p > lowP) [low, lowP] = [c, p];
    }
    return { low, up, gain: up < 0 ? 0 : Math.max(-6, Math.min(6, upP - lowP)) };
  });
  let out = '';
  for (let i = 0; i < forms.length; ) {
    if (!LETTER[classes[i]]) {
      out += ALPHABET[forms[i++].low - 1];
      continue;
    }
    let end = i;
    while (end < forms.length && LETTER[classes[end]]) end++;
    const run = forms.slice(i, end);
    const title = run[0].gain;
    const upper = run.reduce((sum, f) => sum + f.gain, 0);
    // All in capitals only where more than one letter says so.
    const as = run.length > 1 && upper > Math.max(0, title) ? 'upper' : title > 0 ? 'title' : 'small';
    run.forEach((f, k) => (out += ALPHABET[(f.up > 0 && (as === 'upper' || (as === 'title' && k === 0)) ? f.up : f.low) - 1]));
    i = end;
  }
  return out;
}

/** The best readings, likeliest first; the first `most` of them. Empty where nothing is read. */
export function readings(logs: Logs, lexicon: Lexicon | null, most = 5, margin = MARGIN): Reading[] {
  const small = foldedLogs(logs);
  const free = greedy(logs).trim();
  const all = new Map<string, number>();
  const offer = (text: string, score: number) => text && score > (all.get(text) ?? -Infinity) && all.set(text, score);
  if (lexicon) for (const { classes, score } of likely(lexicon, small).slice(0, most)) offer(dressed(logs, small, classes), score);
  const classes = classesOf(free);
  if (free && classes) {
    const score = logOf(small, classes.map((c) => FOLD[c])) - (lexicon ? margin * free.split(' ').length : 0);
    offer(free, score);
  }
  const list = [...all].sort((a, b) => b[1] - a[1]).slice(0, most);
  const whole = list.reduce((sum, [, score]) => logAdd(sum, score), NEVER);
  return list.map(([text, score]) => ({ text, confidence: Math.exp(score - whole) }));
}
