import * as fc from 'fast-check';
import { lineUnder, TakeClock, type Coming } from './clock';
import { clockText, spokenTime } from './format';
import { fromTimeline, playFrom, timelineLength, toTimeline, type Timeline } from './timeline';

describe('the clock of a take', () => {
  test('counts from the first sound, and pauses are closed up', () => {
    const clock = new TakeClock(6);
    expect(clock.takeTime(100)).toBeNull();
    clock.begin(1000);
    expect(clock.takeTime(993)).toBeNull();
    expect(clock.takeTime(994)).toBe(0);
    expect(clock.takeTime(3000)).toBe(2006);
    clock.stopping(5000);
    expect(clock.takeTime(5400)).toBeNull();
    clock.end(4010);
    expect(clock.length).toBe(4010);
    clock.begin(9000);
    expect(clock.takeTime(9000)).toBe(4010 + 6);
    // An event of the first part that is handled late still gets the first part's time.
    expect(clock.takeTime(2000)).toBe(1006);
    // In the pause nothing was recorded.
    expect(clock.takeTime(7000)).toBeNull();
  });

  test('a part whose sound ended before the button was pressed gives no time beyond its sound', () => {
    const clock = new TakeClock(0);
    clock.begin(0);
    clock.stopping(5000);
    clock.end(4800);
    expect(clock.takeTime(4800)).toBe(4800);
    expect(clock.takeTime(4900)).toBeNull();
  });

  test('sound that comes tells the start better than the start of the recorder, by the one that was least late', () => {
    const clock = new TakeClock(12);
    clock.begin(1000);
    expect(clock.takeTime(2000)).toBe(1012);
    // The part began at 975, not at 988: its sound up to 960 ms comes 63.5 ms after it was in the room, that is at 1998.5.
    clock.came(1998.5 + 20, 960, 60);
    // Nor does one that may be late itself.
    expect(clock.takeTime(3000)).toBe(2012);
    clock.came(3018.5, 1980, 60);
    expect(clock.takeTime(3000)).toBe(2025);
    // A busy machine hands sound over late: that moves nothing.
    for (let s = 3; s < 30; s++) clock.came(975 + 63.5 + s * 1020 + (s % 7) * 90, s * 1020, 60);
    expect(clock.takeTime(20_000)).toBe(20_000 - 975);
    clock.stopping(40_000);
    clock.came(40_001, 39_900, 60);
    clock.end(39_010);
    clock.begin(50_000);
    expect(clock.takeTime(50_000)).toBe(39_010 + 12);
    expect(clock.takeTime(20_000)).toBe(20_000 - 975);
  });

  test('a recorder that holds sound back otherwise is told by its first sounds, and a drift of its clock is followed', () => {
    const clock = new TakeClock(12);
    clock.begin(0);
    // 300 ms late, and its clock runs slow by 50 millionths: 360 ms in two hours.
    const DRIFT = 50e-6;
    for (let s = 1; s <= 7200; s++) clock.came(s * 1000 - 12 + 300, s * 1000 * (1 - DRIFT), 20);
    const now = 7_200_000;
    expect(Math.abs(clock.takeTime(now)! - (now + 12) * (1 - DRIFT))).toBeLessThan(5);
  });

  test('first sound that comes late on a starved machine moves nothing, whether the next is in time or late as well', () => {
    // The part begins at 990 and its sound comes 63.5 ms after it was in the room: seen with the browser held still for 55 ms as the first sound came.
    const cameAt = (end: number, late: number) => [990 + end + 63.5 + late, end, 60] as const;
    const clock = new TakeClock(12);
    clock.begin(1000);
    clock.came(...cameAt(960, 55));
    expect(clock.takeTime(2000)).toBe(1012);
    clock.came(...cameAt(1980, 140));
    expect(clock.takeTime(3000)).toBe(2012);
    clock.came(...cameAt(3000, 0));
    clock.came(...cameAt(4020, 80));
    clock.came(...cameAt(5040, 1));
    expect(clock.takeTime(6000)).toBe(5010);
  });

  test('sound that is late from the first to the last moves nothing: no start is off by so much', () => {
    for (const late of [100, 112, 1000, 100_000]) {
      const clock = new TakeClock(12);
      clock.begin(1000);
      for (let s = 1; s <= 600; s++) clock.came(988 + s * 1020 + 63.5 + late, s * 1020, 60);
      expect(clock.takeTime(3000)).toBe(2012);
    }
  });

  test('a backlog of two minutes that stays for half an hour is no drift', () => {
    const clock = new TakeClock(12);
    clock.begin(1000);
    for (let s = 1; s <= 2400; s++) clock.came(988 + s * 1020 + 63.5 + (s > 600 ? 129_000 : 0), s * 1020, 60);
    expect(clock.takeTime(2_400_000)).toBe(2_400_000 - 988);
    expect(clock.momentOf(300_000)).toBe(300_000 - 988);
  });

  /** How late sound comes, by second of the recording, in s. */
  const patterns: Record<string, fc.Arbitrary<(s: number) => number>> = {
    'late all the time': fc.double({ min: 0.1, max: 100, noNaN: true }).map((d) => () => d),
    'late all the time by less than starts differ': fc.double({ min: 0, max: 0.1, noNaN: true }).map((d) => () => d),
    'late from some moment on': fc.tuple(fc.double({ min: 0.1, max: 100, noNaN: true }), fc.nat(600)).map(([d, from]) => (s) => (s < from ? 0 : d)),
    'in bursts': fc.array(fc.tuple(fc.nat(40), fc.double({ min: 0.1, max: 20, noNaN: true })), { minLength: 5, maxLength: 40 }).map((list) => (s) => (list[s % list.length][0] < 20 ? list[s % list.length][1] : 0)),
    'after one stall': fc.tuple(fc.nat(600), fc.double({ min: 0.1, max: 100, noNaN: true })).map(([from, d]) => (s) => Math.max(0, s >= from && s < from + d ? from + d - s : 0)),
    'after the stop': fc.nat(600).map((from) => (s) => (s < from ? 0 : 100_000)),
    'more and more': fc.tuple(fc.nat(300), fc.double({ min: 0.01, max: 1, noNaN: true })).map(([from, d]) => (s) => Math.max(0, s - from) * d),
  };

  test.each(Object.entries(patterns))('however sound is late (%s), no stamp is off by more than 20 ms, and none runs backwards', (_, pattern) => {
    fc.assert(
      fc.property(pattern, fc.integer({ min: 20, max: 620 }), fc.integer({ min: -13, max: 13 }), fc.array(fc.double({ min: 0.5, max: 1, noNaN: true }), { minLength: 5, maxLength: 50 }), (late, seconds, off, times) => {
        const clock = new TakeClock(12);
        clock.begin(1000);
        const zero = 988 + off;
        const comings: { event: number; end: number }[] = [];
        for (let s = 0; s < seconds; s++) {
          const end = (s + 1) * 1020;
          comings.push({ end, event: Math.max(comings.at(-1)?.event ?? 0, zero + end + 63.5 + late(s) * 1000) });
        }
        const stop = zero + seconds * 1020;
        // Half of what is written comes in the second half, where what is late has been late for long.
        const events = [...times, ...times.map((t) => 1 - t)].map((t) => 1001 + t * (stop - 1001 - 70)).sort((a, b) => a - b);
        let [k, before] = [0, -1];
        for (const event of events) {
          for (; k < comings.length && comings[k].event <= event; k++) clock.came(comings[k].event, comings[k].end, 60);
          const at = clock.takeTime(event)!;
          expect(at).toBeGreaterThanOrEqual(before);
          expect(Math.abs(at - Math.max(0, event - zero))).toBeLessThanOrEqual(20);
          before = at;
        }
        clock.stopping(stop);
        clock.end(seconds * 1020);
        for (const event of events) if (event - zero < seconds * 1020) expect(Math.abs(clock.momentOf(event)! - (event - zero))).toBeLessThanOrEqual(20);
      }),
      { numRuns: 100 },
    );
  });

  test('a sound card whose clock drifts is followed, at once or once it shows, also where sound comes late now and then', () => {
    fc.assert(
      fc.property(fc.integer({ min: -300, max: 300 }), fc.constantFrom(60, 20), fc.array(fc.tuple(fc.nat(9), fc.integer({ min: 100, max: 3000 })), { minLength: 20, maxLength: 60 }), (ppm, packet, late) => {
        const drift = ppm / 1e6;
        const clock = new TakeClock(12);
        clock.begin(1000);
        const seconds = 900;
        let [last, inTime] = [0, 0];
        for (let s = 1; s <= seconds; s++) {
          const [often, by] = late[s % late.length];
          last = Math.max(last, 988 + s * 1020 * (1 + drift) + 63.5 + (often < 3 ? by : 0));
          clock.came(last, s * 1020, packet);
          if (last - 988 - s * 1020 * (1 + drift) - 63.5 < 1) inTime++;
        }
        fc.pre(inTime > seconds * 0.6);
        for (const share of [0.1, 0.5, 0.99]) {
          const at = seconds * 1020 * share;
          expect(Math.abs(clock.momentOf(988 + at * (1 + drift))! - at)).toBeLessThan(20);
        }
      }),
      { numRuns: 40 },
    );
  });

  test('of two events the later one never gets the earlier time, also when it is learnt that the part began later', () => {
    const clock = new TakeClock(12);
    clock.begin(1000);
    expect(clock.takeTime(5000)).toBe(4012);
    for (const end of [1020, 2040]) clock.came(1003 + end + 63.5, end, 60);
    // 15 ms later, of which 7 are believed.
    expect(clock.momentOf(5001)).toBe(4006);
    expect([clock.takeTime(5001), clock.takeTime(4000), clock.takeTime(5100)]).toEqual([4012, 3005, 4105]);
    clock.stopping(9000);
    clock.end(7900);
    // The sound ended before the button was pressed; what was told beyond it is taken back.
    expect(clock.momentOf(8990)).toBeNull();
    clock.begin(20_000);
    expect(clock.takeTime(20_100)).toBe(8012);
  });

  test('until sound has come the start of the recorder tells: 12 ms before it, less what an Opus encoder begins with (312 samples at 48 kHz, RFC 7845)', () => {
    const clock = new TakeClock();
    clock.begin(1000);
    expect(clock.momentOf(1000)).toBeCloseTo(12 - 312 / 48, 9);
    expect(clock.momentOf(1000 - (12 - 312 / 48))).toBe(0);
  });

  test('a part stands where it was begun when the next has begun, and there are as many as were begun', () => {
    const clock = new TakeClock(0);
    clock.begin(0);
    clock.stopping(5000);
    clock.end(4800);
    clock.begin(9000);
    clock.stopping(9500);
    clock.end(-3);
    expect(clock.begins).toEqual([{ at: 0, event: 0 }, { at: 4800, event: 9000 }]);
    expect(clock.length).toBe(4800);
    expect(clock.momentOf(9000)).toBe(4800);
    expect(clock.momentOf(9001)).toBeNull();
  });

  // The reference tries every line through two comings: of those that have none below them the one that is nearest to all together.
  test('the line under what comes is the nearest of all that have nothing below them', () => {
    const lineByTrial = (comings: readonly Coming[]) => {
      let best: { zero: number; drift: number; far: number } | null = null;
      for (const a of comings) {
        for (const b of comings) {
          if (b.end <= a.end) continue;
          const drift = (b.zero - a.zero) / (b.end - a.end);
          const zero = a.zero - drift * a.end;
          const above = comings.map((p) => p.zero - zero - drift * p.end);
          if (above.some((d) => d < -1e-9)) continue;
          const far = above.reduce((sum, d) => sum + d, 0);
          if (!best || far < best.far - 1e-9) best = { zero, drift, far };
        }
      }
      return best;
    };
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 400 }), { minLength: 8, maxLength: 14 }), fc.integer({ min: -400, max: 400 }), fc.double({ min: 1000, max: 9000, noNaN: true }), (late, ppm, step) => {
        // Every other one is on time, give or take 4 ms; ends are uneven, and come in any order.
        const comings = late.map((l, i) => ({ end: step * i + (l % 7) * 30, zero: 50 + (ppm / 1e6) * step * i + (i % 2 ? l : l / 100) }));
        const told = lineUnder([...comings].reverse());
        if (!told) return;
        const best = lineByTrial(comings)!;
        const far = comings.reduce((sum, p) => sum + p.zero - told.zero - told.drift * p.end, 0);
        for (const p of comings) expect(p.zero - told.zero - told.drift * p.end).toBeGreaterThan(-1e-6);
        expect(far).toBeLessThan(best.far + 1e-6);
      }),
      { numRuns: 400 },
    );
    // Seven tell nothing, eight on a line do; where it shows by less than 8 ms it is none, and where half of them lie off it neither.
    const onLine = (n: number, drift: number, off = 0) => Array.from({ length: n }, (_, i) => ({ end: 5000 * i, zero: drift * 5000 * i + (i > 0 && i < off + 1 ? 40 : 0) }));
    expect(lineUnder(onLine(7, 300e-6))).toBeNull();
    expect(lineUnder(onLine(8, 300e-6))!.drift).toBeCloseTo(300e-6, 12);
    expect(lineUnder(onLine(8, 300e-6))!.zero).toBeCloseTo(0, 9);
    expect(lineUnder(onLine(9, 190e-6))).toBeNull();
    expect(lineUnder(onLine(9, 210e-6))).not.toBeNull();
    expect(lineUnder(onLine(10, 300e-6, 5))).not.toBeNull();
    expect(lineUnder(onLine(10, 300e-6, 6))).toBeNull();
  });

  test('two parts cannot run at once, and none can end that has not begun', () => {
    const clock = new TakeClock();
    expect(() => clock.end(1)).toThrow('No part');
    clock.begin(0);
    expect(() => clock.begin(1)).toThrow('still running');
    clock.stopping(10);
    expect(() => clock.begin(20)).toThrow('still running');
  });
});

describe('the timeline', () => {
  // Stretches of two takes, cut and moved: b 10..20 s, a 0..5 s, a 8..9 s.
  const timeline: Timeline = [
    { take: 'b', from: 10_000, to: 20_000 },
    { take: 'a', from: 0, to: 5000 },
    { take: 'a', from: 8000, to: 9000 },
  ];

  test('finds the position of a moment, and the moment of a position', () => {
    expect(timelineLength(timeline)).toBe(16_000);
    expect(toTimeline(timeline, { take: 'a', at: 2500 })).toBe(12_500);
    expect(toTimeline(timeline, { take: 'a', at: 8500 })).toBe(15_500);
    expect(toTimeline(timeline, { take: 'b', at: 10_000 })).toBe(0);
    for (let at = 0; at < 16_000; at += 250) expect(toTimeline(timeline, fromTimeline(timeline, at))).toBe(at);
  });

  test('a moment that was cut out is unheard, and so is ink without a stamp', () => {
    expect(toTimeline(timeline, { take: 'a', at: 6500 })).toBeNull();
    expect(toTimeline(timeline, { take: 'b', at: 3000 })).toBeNull();
    expect(toTimeline(timeline, null)).toBeNull();
    expect(fromTimeline([], 0)).toBeNull();
  });

  test('a stroke dated just past the last packet belongs to the end', () => {
    expect(toTimeline([{ take: 'a', from: 0, to: 5000 }], { take: 'a', at: 5150 })).toBe(5000);
    expect(toTimeline([{ take: 'a', from: 0, to: 5000 }], { take: 'a', at: 5600 })).toBeNull();
  });

  test('the lead-in does not reach into the stretch before', () => {
    expect(playFrom(timeline, { take: 'a', at: 3000 }, 2000)).toBe(11_000);
    expect(playFrom(timeline, { take: 'a', at: 1000 }, 2000)).toBe(10_000);
    expect(playFrom(timeline, { take: 'b', at: 10_500 }, 2000)).toBe(0);
    expect(playFrom(timeline, { take: 'c', at: 0 }, 2000)).toBeNull();
  });
});

test('times in words and figures', () => {
  expect([0, 59_999, 60_000, 3_727_000].map(clockText)).toEqual(['0:00', '0:59', '1:00', '1:02:07']);
  expect(spokenTime(3_727_000)).toBe('1 hour 2 minutes 7 seconds');
  expect(spokenTime(61_000)).toBe('1 minute 1 second');
  expect(spokenTime(0)).toBe('0 seconds');
});
