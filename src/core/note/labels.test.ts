import { strokeThrough } from '../../../tests/helpers/ink';
import { around, move } from '../ink/transform';
import { attach, followers } from './anchors';
import { mapPlaced, withGroups, type Placed } from './kinds/kinds';
import { makeTyped, type Typed } from './kinds/typed';
import { labelled, labelledBy, labelOf, labelPlace, labelsAlong, shapeAt, staysLabel } from './labels';
import type { Shape } from '../ink/shapes/shape';
import { pointsAlong } from '../ink/shapes/shape';
import { pointsOf, withPoints, type Stroke } from '../ink/stroke';

const shaped = (shape: Shape, id: string): Stroke => {
  const rough = strokeThrough(Array.from({ length: 40 }, (_, i) => [i, i] as const), { id });
  return { ...withPoints(rough, pointsAlong(shape, pointsOf(rough))), shape };
};
const box = (id: string, x: number, y: number, w = 40, h = 20) => shaped({ name: 'rectangle', at: [[x, y], [x + w, y], [x + w, y + h], [x, y + h]] }, id);
const text = (it: Stroke, words: string): Typed => {
  const place = labelPlace(it as never, 5);
  return labelled(makeTyped({ id: `l-${it.id}`, page: 'p', stamp: null, wall: 1, flow: `f-${it.id}`, n: 0, ...place, text: words, looks: [[words.length, { face: 'sans', size: 12, color: '#16324f' }]], align: 'middle', times: [{ stamp: null, wall: 1, t: Array.from({ length: words.length }, (_, i) => i) }] }), it);
};
const middle = ({ box: [l, t, r, b] }: Pick<Placed, 'box'>) => [(l + r) / 2, (t + b) / 2];

test('a place means the smallest shape around it, or the line it lies at; a frame around a page means none', () => {
  const [outer, inner, frame] = [box('outer', 20, 20, 80, 50), box('inner', 30, 30), box('frame', 5, 5, 190, 200)];
  const line = shaped({ name: 'line', at: [[110, 40], [150, 40]] }, 'line');
  const all = [outer, inner, frame, line];
  expect(shapeAt(all, 50, 40)?.id).toBe('inner');
  expect(shapeAt(all, 90, 60)?.id).toBe('outer');
  expect(shapeAt(all, 130, 41)?.id).toBe('line');
  expect(shapeAt(all, 180, 150)).toBeNull();
  // What was drawn and is no clean shape has no label.
  expect(shapeAt([strokeThrough([[0, 0], [40, 0], [40, 20], [0, 20], [0, 0]])], 20, 10)).toBeNull();
});

test('it stands in the middle of its shape, and above the middle of a line', () => {
  const it = box('a', 30, 30);
  const label = text(it, 'ebb');
  expect(middle(label)[0]).toBeCloseTo(50, 1);
  expect(Math.abs(middle(label)[1] - 40)).toBeLessThan(1.5);
  const line = shaped({ name: 'arrow', at: [[100, 40], [140, 60]], heads: 'end' }, 'line');
  const above = text(line, 'flood');
  expect(middle(above)[0]).toBeCloseTo(120, 1);
  expect(above.box[3]).toBeLessThan(50);
  expect(labelOf([it, label, above], 'a')).toEqual([label]);
});

test('it goes where its shape goes: with it when it is held, with a line that follows shapes, and stays one when it is moved a little', () => {
  const [a, b] = [box('a', 20, 40), box('b', 120, 40)];
  const at = attach({ name: 'arrow', at: [[60, 50], [120, 50]], heads: 'end' }, [a, b]);
  const line = shaped(at, 'line');
  const [onA, onLine] = [text(a, 'pilot'), text(line, 'calls')];
  const all: Placed[] = [a, b, line, onA, onLine];
  expect(withGroups([a], all).map((it) => it.id)).toEqual(['a', 'l-a']);
  // B goes down by 40 mm: the middle of the line that holds on to both by half as much, and its label with it.
  const put = [mapPlaced(b, move(0, 40))];
  const led = [...put, ...followers(put, [a, b, line])];
  const [moved] = labelsAlong(led, all);
  expect(moved.id).toBe('l-line');
  expect(middle(moved)[1] - middle(onLine)[1]).toBeCloseTo(20, 0);
  expect(labelsAlong([...led, moved], all)).toEqual([]);
  expect(staysLabel(mapPlaced(onA, move(3, 2)), all)).toBe(true);
  expect(staysLabel(mapPlaced(onA, move(80, 90)), all)).toBe(false);
  // Of a shape that was turned around its middle the label stays where it is.
  expect(labelsAlong([mapPlaced(a, around(40, 50, 1, 1, 0.5))], all)).toEqual([]);
});

test('what is written in a shape, or at a line between two shapes, is its label; a shape, a mark and what crosses its outline are none', () => {
  const [a, b] = [box('a', 20, 20), box('b', 120, 20)];
  const joined = shaped(attach({ name: 'line', at: [[60, 30], [120, 30]] }, [a, b]), 'line');
  const loose = shaped({ name: 'line', at: [[20, 100], [120, 100]] }, 'loose');
  const all = [a, b, joined, loose];
  const written = (x: number, y: number, w = 8, h = 4) => strokeThrough(Array.from({ length: 9 }, (_, i) => [x + (w * i) / 8, y + (i % 2) * h] as const));
  const of = (it: Placed) => labelledBy(it, all)?.id ?? null;
  expect([of(written(30, 28)), of(written(125, 30)), of(written(85, 24)), of(written(85, 60)), of(written(60, 97))]).toEqual(['a', 'b', 'line', null, null]);
  // Over the outline of a shape it belongs to nothing; a tall drawing at a line is no word.
  expect([of(written(55, 38, 20)), of(written(85, 10, 8, 30))]).toEqual([null, null]);
  const inside = written(30, 28);
  expect([of(shaped({ name: 'circle', at: [[35, 30], [38, 30], [35, 33]] }, 'c')), of({ ...inside, pen: { ...inside.pen, kind: 'highlighter' } }), of({ ...inside, fill: '#f6e3a8' })]).toEqual([null, null, null]);
  // It goes where its shape goes.
  const label = labelled(inside, a);
  const moved = mapPlaced(a, move(10, 50)) as Stroke;
  expect(labelsAlong([moved], [...all, label])[0].box).toEqual(label.box.map((v, i) => v + [10, 50][i % 2]));
});
