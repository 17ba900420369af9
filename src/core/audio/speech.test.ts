/** Held against generated speech whose phrase times are known (tests/helpers/speech.ts), clean and with white noise at 10 dB. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { RATE, spokenSound, type Spoken } from '../../../tests/helpers/speech';
import { LEVEL_MS, levelByte, levelDbfs, Levels, pausesOf, skipsOf, speechByBoth, speechByEnergy, speechByModel, sumOf, type Span } from './speech';

const EDGE_MS = 150;

const meet = (a: Span, b: Span) => Math.max(0, Math.min(a.to, b.to) - Math.max(a.from, b.from));

/** Share of the true pauses of a second and more that were found with both edges right, and the share of speech that skipping them costs. */
function judge({ samples, phrases }: Spoken, speech: readonly Span[]): { found: number; skipped: number; worst: number } {
  const length = (samples.length / RATE) * 1000;
  const wanted = pausesOf(phrases, length, 1000).filter((p) => p.from > 0 && p.to < length);
  const got = pausesOf(speech, length, 1);
  let worst = 0;
  const hits = wanted.filter((w) => {
    const best = got.reduce((b, g) => (meet(g, w) > meet(b, w) ? g : b), got[0]);
    const off = Math.max(Math.abs(best.from - w.from), Math.abs(best.to - w.to));
    if (off <= EDGE_MS) worst = Math.max(worst, off);
    return off <= EDGE_MS;
  });
  const skips = skipsOf(speech, length, 800);
  const lost = skips.reduce((s, k) => s + phrases.reduce((t, p) => t + meet(k, p), 0), 0);
  return { found: hits.length / wanted.length, skipped: lost / sumOf(phrases), worst };
}

function levelsOf({ samples }: Spoken): Uint8Array {
  const levels = new Levels();
  // In portions of odd length, as a decoder gives them.
  for (let i = 0; i < samples.length; i += 2881) levels.add(samples.subarray(i, i + 2881), RATE, (i / RATE) * 1000);
  return levels.bytes();
}

function modelSpeech({ samples }: Spoken): Span[] {
  const script = path.resolve('tests/helpers/modelSpeech.ts');
  const out = execFileSync(process.execPath, ['--import', 'tsx', script], { input: Buffer.from(samples.buffer), maxBuffer: 1 << 26 });
  return speechByModel(JSON.parse(String(out)) as number[]);
}

describe.each([
  ['clean', null],
  ['with noise at 10 dB', 10],
] as const)('speech that is known, %s', (name, snr) => {
  const spoken = spokenSound(60, 350, 5000, 7, snr);
  const byEnergy = speechByEnergy(levelsOf(spoken));
  let byModel: Span[];
  beforeAll(() => {
    byModel = modelSpeech(spoken);
  }, 120_000);

  test('the model, with the edges of the levels, finds 95 % of pauses of 1 s and more, edges within 150 ms, and skips at most 1 % of speech', () => {
    const { found, skipped, worst } = judge(spoken, speechByBoth(byModel, byEnergy, (spoken.samples.length / RATE) * 1000));
    console.log(`model, ${name}: ${(100 * found).toFixed(1)} % of pauses found, worst edge ${worst.toFixed(0)} ms, ${(100 * skipped).toFixed(2)} % of speech skipped`);
    expect(found).toBeGreaterThanOrEqual(0.95);
    expect(skipped).toBeLessThanOrEqual(0.01);
  });

  test('levels alone find nearly as many, and agree with the model', () => {
    const { found, skipped } = judge(spoken, byEnergy);
    const shared = byEnergy.reduce((s, a) => s + byModel.reduce((t, b) => t + meet(a, b), 0), 0);
    const agree = (2 * shared) / (sumOf(byEnergy) + sumOf(byModel));
    console.log(`levels, ${name}: ${(100 * found).toFixed(1)} % of pauses found, ${(100 * skipped).toFixed(2)} % of speech skipped, agreement with the model ${agree.toFixed(3)}`);
    expect(found).toBeGreaterThanOrEqual(0.85);
    expect(skipped).toBeLessThanOrEqual(0.01);
    expect(agree).toBeGreaterThanOrEqual(0.95);
  });
});

test('levels are dBFS of slots of 20 ms, whatever portions the sound comes in', () => {
  // A sine of amplitude 0.5 has a root mean square of 0.5 / sqrt 2: -9.03 dBFS.
  const sine = Float32Array.from({ length: 4800 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 1000 * i) / RATE));
  for (const portion of [4800, 960, 313]) {
    const levels = new Levels();
    for (let i = 0; i < sine.length; i += portion) levels.add(sine.subarray(i, i + portion), RATE, 1000 + (i / RATE) * 1000);
    const bytes = levels.bytes();
    expect(bytes.length).toBe(1100 / LEVEL_MS);
    expect([...bytes.slice(0, 50)]).toEqual(new Array(50).fill(0));
    for (const b of bytes.slice(50)) expect(levelDbfs(b)).toBeCloseTo(-9, 0);
  }
  expect(levelByte(-Infinity)).toBe(0);
  expect(levelByte(0)).toBe(200);
});

test('where the model hears nobody in a whole take, what stands out by its level stays', () => {
  const tones = [{ from: 1000, to: 3000 }];
  expect(speechByBoth([], tones, 5000)).toEqual(tones);
  expect(speechByBoth([{ from: 4000, to: 4500 }], tones, 5000)).toEqual([{ from: 4000, to: 4500 }]);
});

test('silence and nothing at all are no speech; a pause at either end is skipped to the end', () => {
  expect(speechByEnergy(new Uint8Array(0))).toEqual([]);
  expect(speechByEnergy(new Uint8Array(500).fill(40))).toEqual([]);
  expect(speechByModel([])).toEqual([]);
  expect(pausesOf([], 5000, 1000)).toEqual([{ from: 0, to: 5000 }]);
  expect(skipsOf([{ from: 3000, to: 4000 }], 9000, 1000)).toEqual([
    { from: 0, to: 2820 },
    { from: 4180, to: 9000 },
  ]);
});
