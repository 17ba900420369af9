import { TakeClock } from './clock';
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
    expect(clock.takeTime(3000)).toBe(3000 - 995);
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
    expect(clock.takeTime(4000)).toBe(3010);
    clock.came(...cameAt(4020, 80));
    expect(clock.takeTime(5000)).toBe(4010);
  });

  test('a recorder that began late itself is believed as soon as its sound comes steadily', () => {
    const clock = new TakeClock(12);
    clock.begin(1000);
    const cameAt = (end: number, late: number) => [1100 + end + 63.5 + late, end, 60] as const;
    clock.came(...cameAt(960, 0));
    clock.came(...cameAt(1980, 1));
    expect(clock.takeTime(3000)).toBe(1900);
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
