/**
 * Learns which spaces part words (`npm run learn`): from text in faces whose words are known (tests/helpers/faces.ts, those that are not kept apart, and the
 * fonts of tests/helpers/hershey.ts). Writes src/core/ink/words/partingWeights.ts. The same at every run.
 */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { FEATURES, measuring, parts } from '../src/core/ink/words/parting';
import type { Network } from '../src/core/ink/words/partingWeights';
import { rowsOf, threadsOf } from '../src/core/ink/words/words';
import { LAYOUTS, LEARNED, someHand, somePage, type HandWord, type WrittenHand } from '../tests/helpers/faces';
import { FONTS, random, writeText } from '../tests/helpers/hershey';

const HIDDEN = 14;
const PAGES = 10;
const ROUNDS = 36;
const RATE = 0.02;
/** Weights stay small, so that what was not seen is judged as what is near it. */
const DECAY = 1e-5;

interface Sample {
  readonly x: Float64Array;
  readonly y: 0 | 1;
}

/** The spaces of a page, with whether they part words. */
function samplesOf(words: readonly Pick<HandWord, 'strokes'>[]): Sample[] {
  const wordOf = new Map(words.flatMap((w, i) => w.strokes.map((s) => [s.id, i] as const)));
  const { rows, page } = rowsOf(threadsOf(words.flatMap((w) => w.strokes)).threads);
  return rows.flatMap((row) => {
    const measure = measuring(row, page);
    // A cluster of two words says nothing of the space beside it.
    const owner = row.clusters.map((c) => {
      const own = new Set(c.items.flatMap((i) => i.ids.map((id) => wordOf.get(id))));
      return own.size === 1 ? [...own][0]! : null;
    });
    return row.spaces.flatMap((_, k): Sample[] => (owner[k] === null || owner[k + 1] === null ? [] : [{ x: measure(k), y: owner[k] === owner[k + 1] ? 0 : 1 }]));
  });
}

/** More varied than the hands it is tested by: what is learned has to hold for letters that nobody drew. */
function widened(face: (typeof LEARNED)[number], seed: number): WrittenHand {
  const rnd = random(seed + 7);
  return { ...someHand(face, random(seed)), tracking: 0.86 + 0.36 * rnd(), space: 0.55 + 0.95 * rnd(), varied: 0.1 + 0.2 * rnd(), drift: 0.12 * rnd(), within: 60 + 140 * rnd(), between: 110 + 300 * rnd() };
}

/** The page whole, and as it stood when a few words were on it. */
function grown(words: readonly Pick<HandWord, 'strokes'>[], seed: number): Sample[] {
  const few = 1 + (seed % 7);
  const from = seed % Math.max(1, words.length - few);
  return [...samplesOf(words), ...samplesOf(words.slice(from, from + few)), ...samplesOf(words.slice(0, 2 * few))];
}

const faceSamples = (faces: readonly (typeof LEARNED)[number][]): Sample[] =>
  faces.flatMap((face) =>
    LAYOUTS.flatMap((layout, l) =>
      Array.from({ length: PAGES }, (_, n) => 2_000_000 + 10_000 * LEARNED.indexOf(face) + 1000 * l + 10 * n).flatMap((seed) => grown(somePage(layout, widened(face, seed), seed), seed / 10 + LEARNED.indexOf(face))),
    ),
  );

function fontSamples(): Sample[] {
  const out: Sample[] = [];
  const text = 'the tide rises by twelfths in six hours buoys to port are red when you come from the sea and green to starboard with a cone on top 4.8 m'.split(' ');
  FONTS.forEach((font, f) => {
    for (let n = 0; n < PAGES; n++) {
      const rnd = random(3_000_000 + 100 * f + n);
      const size = 3 + 5 * rnd();
      const hand = { font, size, slant: 0.5 * rnd() - 0.15, jitter: 0.1 * rnd(), late: rnd(), tracking: 0.95 + 0.12 * rnd(), spacing: 0.95 + 0.4 * rnd() };
      out.push(...grown(writeText(text, hand, { x: 15, y: 25, width: 180, pitch: 2.1 * size, wall: 1e6, seed: 4_000_000 + 100 * f + n }).words, f + n));
    }
  });
  return out;
}

/** Gradient descent by single samples (Adam; D. P. Kingma and J. Ba, 2015), the rate falling to nothing. */
function learned(samples: readonly Sample[]): Network {
  const rnd = random(5);
  const n = HIDDEN * (FEATURES + 1) + HIDDEN + 1;
  const w = Float64Array.from({ length: n }, () => (rnd() + rnd() - 1) * 0.4);
  const [m, v, g] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  const out = HIDDEN * (FEATURES + 1);
  const order = samples.map((_, i) => i);
  const BATCH = 32;
  let step = 0;
  for (let round = 0; round < ROUNDS; round++) {
    for (let i = order.length - 1; i > 0; i--) {
      const k = Math.floor(rnd() * (i + 1));
      [order[i], order[k]] = [order[k], order[i]];
    }
    const rate = RATE * 0.5 * (1 + Math.cos((Math.PI * round) / ROUNDS));
    for (let from = 0; from < order.length; from += BATCH) {
      g.fill(0);
      const some = order.slice(from, from + BATCH);
      for (const i of some) {
        const { x, y } = samples[i];
        const h = new Float64Array(HIDDEN);
        let sum = w[out + HIDDEN];
        for (let k = 0; k < HIDDEN; k++) {
          const at = k * (FEATURES + 1);
          let a = w[at + FEATURES];
          for (let f = 0; f < FEATURES; f++) a += w[at + f] * x[f];
          h[k] = Math.tanh(a);
          sum += w[out + k] * h[k];
        }
        const error = 1 / (1 + Math.exp(-sum)) - y;
        g[out + HIDDEN] += error;
        for (let k = 0; k < HIDDEN; k++) {
          g[out + k] += error * h[k];
          const back = error * w[out + k] * (1 - h[k] * h[k]);
          const at = k * (FEATURES + 1);
          for (let f = 0; f < FEATURES; f++) g[at + f] += back * x[f];
          g[at + FEATURES] += back;
        }
      }
      step++;
      const [c1, c2] = [1 - 0.9 ** step, 1 - 0.999 ** step];
      for (let k = 0; k < n; k++) {
        const d = g[k] / some.length + DECAY * w[k];
        m[k] = 0.9 * m[k] + 0.1 * d;
        v[k] = 0.999 * v[k] + 0.001 * d * d;
        w[k] -= (rate * (m[k] / c1)) / (Math.sqrt(v[k] / c2) + 1e-8);
      }
    }
  }
  const row = (from: number, length: number) => [...w.subarray(from, from + length)].map((value) => Number(value.toFixed(4)));
  return { hidden: Array.from({ length: HIDDEN }, (_, k) => row(k * (FEATURES + 1), FEATURES + 1)), out: row(out, HIDDEN + 1) };
}

const wrongOf = (samples: readonly Sample[], network: Network): string => {
  const wrong = samples.filter(({ x, y }) => parts(x, network) > 0.5 !== (y === 1)).length;
  return `${samples.length} spaces, ${samples.filter((s) => s.y).length} of them between words: ${((100 * wrong) / samples.length).toFixed(2)} % told wrong`;
};

// With `--hold` each third of the faces is left out in turn, and says how well is judged what was not seen; nothing is written.
if (process.argv.includes('--hold')) {
  const fonts = fontSamples();
  const each = LEARNED.map((face) => faceSamples([face]));
  for (let part = 0; part < 3; part++) {
    const network = learned([...each.filter((_, f) => f % 3 !== part).flat(), ...fonts]);
    console.log(`left out ${LEARNED.filter((_, f) => f % 3 === part).join(', ')}: ${wrongOf(each.filter((_, f) => f % 3 === part).flat(), network)}`);
  }
} else {
  const samples = [...faceSamples(LEARNED), ...fontSamples()];
  const network = learned(samples);
  console.log(wrongOf(samples, network));
  const text = `/** Written by \`npm run learn\` (scripts/learn.ts); not by hand. */
/** Of one hidden layer: weights of each hidden unit with its bias last, then those of the output. */
export interface Network {
  readonly hidden: readonly (readonly number[])[];
  readonly out: readonly number[];
}

export const WEIGHTS: Network = {
  hidden: [
${network.hidden.map((r) => `    [${r.join(', ')}],`).join('\n')}
  ],
  out: [${network.out.join(', ')}],
};
`;
  writeFileSync(path.join(__dirname, '../src/core/ink/words/partingWeights.ts'), text);
}
