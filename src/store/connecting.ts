/** How selected lines run between the shapes they hold on to. */
import { endsOf, isOpen, type Shape } from '../core/ink/shapes/shape';
import { reshaped } from '../core/ink/stroke';
import { lineThrough } from '../core/note/anchors';
import { strokesOf } from '../core/note/kinds/kinds';
import { change } from './change';
import { say } from './messages';
import { selected, withFollowers } from './tools';
import type { Thunk } from './thunk';

/** Straight from where it was set; straight between the sides that lie nearest; or in level and upright runs that go round what stands between. */
export type Course = 'set' | 'sides' | 'bent';

export const courseOf = (shape: Shape): Course => (shape.name === 'elbow' ? 'bent' : shape.sides ? 'sides' : 'set');

function running({ sides: _, ...shape }: Shape, course: Course): Shape {
  if (course === 'bent') return { ...shape, name: 'elbow', at: endsOf(shape) };
  const straight: Shape = shape.name === 'elbow' ? { ...shape, name: shape.heads ? 'arrow' : 'line', at: endsOf(shape) } : shape;
  return course === 'sides' ? { ...straight, sides: true } : straight;
}

export const setCourse =
  (course: Course): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const lines = strokesOf(selected(state)).filter((s) => s.shape && isOpen(s.shape));
    if (!lines.length) return;
    if (course === 'sides' && !lines.some(({ shape }) => shape!.from || shape!.to)) return dispatch(say('tool', 'info', 'This line holds on to no shape. Draw it from one shape to another, or pull its ends there.'));
    const page = lines[0].page;
    const all = strokesOf(state.note.note?.ink[page] ?? []);
    const put = lines.map((s) => reshaped(s, lineThrough(running(s.shape!, course), all)));
    dispatch(change({ put: withFollowers(state, page, put) }));
  };
