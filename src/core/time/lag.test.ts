/** Generated notes whose lag is known: each of some phrases is answered by a burst of writing after the lag; others have nothing to do with it. */
import { seeded } from '../../../tests/helpers/speech';
import { estimateLag, onsetsOf } from './lag';

/** Phrases of 2 to 8 s with silences of 0.4 to 3 s between; `unrelated`: share of the writing that begins at any time. */
function note(lag: number, unrelated: number, seed: number, phrases = 120): { speech: number[]; writing: number[] } {
  const random = seeded(seed);
  const bell = () => random() + random() + random() - 1.5;
  const speech: number[] = [];
  const writing: number[] = [];
  let t = 2000;
  for (let i = 0; i < phrases; i++) {
    speech.push(t);
    // Not every phrase is worth a note, and no writer is a clock.
    if (random() < 0.6) writing.push(t + lag + 500 * bell());
    t += 2000 + 6000 * random() + 400 + 2600 * random();
  }
  const related = writing.length;
  for (let i = 0; i < (related * unrelated) / (1 - unrelated); i++) writing.push(random() * t);
  return { speech, writing: writing.filter((w) => w > 0).sort((a, b) => a - b) };
}

test('lags from 0.5 to 6 s are found within 0.4 s when 40 % of the writing is unrelated', () => {
  let worst = 0;
  for (let lag = 500; lag <= 6000; lag += 500) {
    for (const seed of [1, 2, 3]) {
      const { speech, writing } = note(lag, 0.4, seed * 1000 + lag);
      const found = estimateLag(speech, writing);
      expect(found).not.toBeNull();
      worst = Math.max(worst, Math.abs(found!.ms - lag));
    }
  }
  console.log(`worst of 36 notes: ${worst} ms off`);
  expect(worst).toBeLessThanOrEqual(400);
});

test('too little writing, or writing without any tie to the speech, gives no lag', () => {
  const { speech } = note(2000, 0, 5);
  expect(estimateLag(speech, [4000, 9000])).toBeNull();
  const random = seeded(9);
  const loose = Array.from({ length: 150 }, () => random() * 700_000).sort((a, b) => a - b);
  expect(estimateLag(speech, loose)).toBeNull();
});

test('six beginnings of writing tell a lag, five do not; where each answers at once to the same it is told to the ms', () => {
  // Speech at uneven distances, so that none comes up twice.
  const speech = [1000, 13_700, 29_100, 41_900, 57_300, 74_900, 90_500];
  const writing = speech.slice(0, 6).map((t) => t + 2500);
  expect(estimateLag(speech, writing)!.ms).toBe(2500);
  expect(estimateLag(speech, writing.slice(0, 5))).toBeNull();
  expect(estimateLag(speech.slice(0, 1), writing)).toBeNull();
  // At both ends of what is looked at.
  expect(estimateLag(speech, speech.map((t) => t + 7900))!.ms).toBeGreaterThan(7600);
  expect(estimateLag(speech, speech.map((t) => t + 100))!.ms).toBeLessThan(400);
  expect(estimateLag(speech, speech.map((t) => t + 9600))).toBeNull();
});

test('onsets are what comes after a rest', () => {
  expect(onsetsOf([{ from: 0, to: 100 }, { from: 200, to: 300 }, { from: 1500, to: 1600 }], 1000)).toEqual([0, 1500]);
});
