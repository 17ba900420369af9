/** Words of one hand that look alike. */
import { someHand, writeHand, type KEPT_APART } from '../../../tests/helpers/faces';
import { random } from '../../../tests/helpers/hershey';
import { averagePrecision } from '../../../tests/helpers/textMetrics';
import { likesOf, LIKE, SAME, shapeDistance, shapeOf, type Shape } from './shape';

/** One that lifts the pen, and one that joins. All six faces kept apart gave 360 of 360 nearest, 346 near enough to be the same, and no other taken for it. */
const HANDS = ['kalam', 'cedarville-cursive'] as const satisfies readonly (typeof KEPT_APART)[number][];
const TEXTS = ['buoy', 'tide', 'harbour', 'pilot', 'chart', 'ebb', 'flood', 'neap', 'spring', 'bell', 'fog', 'starboard', 'cutter', 'lead', 'lines', 'depth', 'draught', 'keel', 'anchor', 'lights'];

/** Each word three times in one hand, at other places of the page: every letter varies as a hand does. */
function hand(face: (typeof KEPT_APART)[number], seed: number): { text: string; shape: Shape }[] {
  const one = { ...someHand(face, random(seed)), drift: 0.05 };
  return writeHand([...TEXTS, ...TEXTS, ...TEXTS], one, { x: 10, y: 20, width: 180, pitch: 12, wall: 0, seed }).words.flatMap((w) => {
    const shape = shapeOf(w.strokes.map((s) => s.points.map((p) => [p.x, p.y] as const)));
    return shape ? [{ text: w.text, shape }] : [];
  });
}

test('the same word of the same hand is nearest, another is not taken for it', () => {
  let [first, asked, like, same, wrongly, precision] = [0, 0, 0, 0, 0, 0];
  for (const [i, face] of HANDS.entries()) {
    const words = hand(face, 40 + i);
    words.forEach(({ text, shape }, k) => {
      const others = words.filter((_, n) => n !== k);
      const found = likesOf(shape, others.map((w) => w.shape), Infinity);
      asked++;
      precision += averagePrecision(found.map((f) => others[f.index].text === text), 2);
      first += Number(others[found[0].index].text === text);
      like += Number(found.some((f) => f.distance <= LIKE && others[f.index].text === text));
      same += Number(found.some((f) => f.distance <= SAME && others[f.index].text === text));
      wrongly += Number(found.some((f) => f.distance <= SAME && others[f.index].text !== text));
    });
  }
  console.log(`${asked} words of two hands: nearest is the same word ${first}, found as a like ${like}, as the same ${same}, another taken for the same ${wrongly}; mean average precision ${(precision / asked).toFixed(3)}`);
  expect(asked).toBe(120);
  expect(precision / asked).toBeGreaterThan(0.95);
  expect(first / asked).toBeGreaterThan(0.95);
  expect(like / asked).toBeGreaterThan(0.9);
  expect(wrongly / asked).toBeLessThan(0.01);
});

test('average precision: three of ten are relevant, in the first, third and sixth place (worked out by hand from the definition)', () => {
  expect(averagePrecision([true, false, true, false, false, true, false], 3)).toBeCloseTo((1 + 2 / 3 + 3 / 6) / 3, 12);
  // One that was not found counts.
  expect(averagePrecision([true, false], 2)).toBe(0.5);
});

test('place and size do not matter, the order in which dots are set neither', () => {
  const strokes = [[[0, 0], [1, 4], [2, 0], [4, 3]], [[1, -1], [1.2, -1.1]], [[5, 0], [6, 4]]] as [number, number][][];
  const shape = shapeOf(strokes)!;
  const moved = shapeOf([strokes[0], strokes[2], strokes[1]].map((s) => s.map(([x, y]) => [7 + 3 * x, 3 * y - 9] as [number, number])))!;
  expect(shapeDistance(shape, moved)).toBeCloseTo(0, 5);
  expect(shapeOf([[[1, 1]]])).toBeNull();
  expect(shapeOf([])).toBeNull();
});
