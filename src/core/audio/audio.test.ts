import { levelOf, meterShare, MicrophoneWatch } from './level';
import { opusDuration, SILENT_20_MS } from './opus';

test('packet lengths as RFC 6716 gives them (table 2 and section 3.2)', () => {
  const toc = (config: number, code: number) => (config << 3) | code;
  // One frame a packet: SILK 10, 20, 40, 60 ms; hybrid 10, 20; CELT 2.5, 5, 10, 20.
  expect([0, 1, 2, 3].map((c) => opusDuration(Uint8Array.of(toc(c, 0))))).toEqual([10, 20, 40, 60]);
  expect([12, 13].map((c) => opusDuration(Uint8Array.of(toc(c, 0))))).toEqual([10, 20]);
  expect([28, 29, 30, 31].map((c) => opusDuration(Uint8Array.of(toc(c, 0))))).toEqual([2.5, 5, 10, 20]);
  // Codes 1 and 2 are two frames, code 3 says how many.
  expect(opusDuration(Uint8Array.of(toc(31, 1)))).toBe(40);
  expect(opusDuration(Uint8Array.of(toc(31, 3), 3))).toBe(60);
  expect(opusDuration(new Uint8Array(0))).toBe(0);
  expect(opusDuration(SILENT_20_MS)).toBe(20);
});

test('levels in dBFS: a full sine is 3.01 dB below full scale', () => {
  // RMS of a sine is its peak over the root of two.
  const sine = Float32Array.from({ length: 48_000 }, (_, i) => Math.sin((2 * Math.PI * 480 * i) / 48_000));
  const { peak, rms } = levelOf(sine);
  expect(peak).toBeCloseTo(1, 5);
  expect(rms).toBeCloseTo(-3.0103, 3);
  expect(levelOf(new Float32Array(100)).rms).toBe(-Infinity);
  expect([meterShare(-60), meterShare(-30), meterShare(0), meterShare(-Infinity)]).toEqual([0, 0.5, 1, 0]);
});

test('says that a microphone is silent, clipping, or good again', () => {
  const watch = new MicrophoneWatch();
  const feed = (level: { peak: number; rms: number }, from: number, to: number) => {
    let state = 'good';
    for (let t = from; t <= to; t += 100) state = watch.add(level, t);
    return state;
  };
  const [speech, nothing, loud] = [{ peak: 0.3, rms: -25 }, { peak: 0, rms: -Infinity }, { peak: 1, rms: -3 }];
  expect(feed(speech, 0, 5000)).toBe('good');
  expect(feed(nothing, 5100, 7900)).toBe('good');
  expect(feed(nothing, 8000, 8200)).toBe('silent');
  expect(feed(speech, 8300, 8300)).toBe('good');
  expect(feed(loud, 8400, 9400)).toBe('clipping');
  expect(feed(speech, 9500, 13_000)).toBe('good');
  // A quiet voice far from the microphone is not called silent within seconds, and only after long.
  const quiet = { peak: 0.0008, rms: -74 };
  expect(feed(quiet, 13_100, 20_000)).toBe('good');
  expect(feed(quiet, 20_100, 25_000)).toBe('silent');
});
