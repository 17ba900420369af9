/** The course of films: times by arithmetic, the camera by what must be in sight. */
import * as fc from 'fast-check';
import type { Box } from '../ink/stroke';
import { timelineLength } from '../time/timeline';
import { Camera, Course, keptOf, stretchesIn } from './course';

const TIMELINE = [
  { take: 'a', from: 1000, to: 11_000 },
  { take: 'b', from: 0, to: 5000 },
];

test('what is passed over is heard of no take, and the film is as long as what is left at its speed', () => {
  const kept = keptOf(15_000, [
    { from: 0, to: 500 },
    { from: 9000, to: 12_000 },
  ]);
  expect(kept).toEqual([
    { from: 500, to: 9000 },
    { from: 12_000, to: 15_000 },
  ]);
  expect(stretchesIn(TIMELINE, kept)).toEqual([
    { take: 'a', from: 1500, to: 10_000 },
    { take: 'b', from: 2000, to: 5000 },
  ]);
  const course = new Course(kept, 2);
  expect(course.length).toBe(5750);
  expect([0, 1000, 4249, 4250, 5750, 99_999].map((t) => course.at(t))).toEqual([500, 2500, 8998, 12_000, 15_000, 15_000]);
  expect(new Course([], 1).at(5)).toBe(0);
});

test('sound and picture run for the same time, whatever is passed over (fast-check)', () => {
  const cuts = fc.uniqueArray(fc.integer({ min: 0, max: 15_000 }), { maxLength: 8 }).map((list) => [...list].sort((a, b) => a - b));
  fc.assert(
    fc.property(cuts, fc.constantFrom(1, 1.25, 1.5, 2), (at, speed) => {
      const skips = at.flatMap((from, i) => (i % 2 === 0 && i + 1 < at.length ? [{ from, to: at[i + 1] }] : []));
      const kept = keptOf(15_000, skips);
      const course = new Course(kept, speed);
      expect(timelineLength(stretchesIn(TIMELINE, kept)) / speed).toBeCloseTo(course.length, 6);
      let last = -1;
      for (let t = 0; t <= course.length; t += 97) {
        const now = course.at(t);
        expect(now).toBeGreaterThanOrEqual(last);
        expect(skips.some((s) => now > s.from && now < s.to)).toBe(false);
        last = now;
      }
    }),
  );
});

test('what is being written comes into sight within a second, and nothing beside the page is seen', () => {
  const frame = { w: 1280, h: 720 };
  const page = { w: 1280, h: 1810 };
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 1230 }), fc.integer({ min: 0, max: 1770 })), { minLength: 1, maxLength: 6 }), (places) => {
      const camera = new Camera(frame, page);
      for (const [x, y] of places) {
        const box: Box = [x, y, x + 50, y + 40];
        camera.follow(box);
        // A second of film, and all but the last pixels of the way.
        for (let i = 0; i < 15; i++) camera.step();
        const isSeen = (air: number): boolean => {
          const [px, py] = camera.place;
          return x + px >= -air && x + 50 + px <= frame.w + air && y + py >= -air && y + 40 + py <= frame.h + air;
        };
        expect(isSeen(12)).toBe(true);
        for (let i = 0; i < 60; i++) camera.step();
        expect([isSeen(0), camera.step()]).toEqual([true, false]);
        const [px, py] = camera.place;
        expect([px <= 0, px >= frame.w - page.w, py <= 0, py >= frame.h - page.h]).toEqual([true, true, true, true]);
      }
    }),
  );
  // A page that fits stands in the middle.
  expect(new Camera(frame, { w: 509, h: 720 }).place).toEqual([386, 0]);
});
