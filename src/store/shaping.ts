/** What selected shapes become: lines that run otherwise between the shapes they hold on to, and solids of closed shapes. */
import { endsOf, isOpen, type Shape } from '../core/ink/shapes/shape';
import { reshaped } from '../core/ink/stroke';
import { lineThrough } from '../core/note/anchors';
import { makeSolid, solidOver, type Solid, type SolidName } from '../core/note/kinds/solid';
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

/** Selected closed shapes, or other solids, as solids. */
export const setSolid =
  (solid: SolidName): Thunk =>
  (dispatch, getState) => {
    const chosen = selected(getState());
    const put = chosen.flatMap((it): Solid[] => {
      const { id, page, stamp, wall, second, on, lift, group } = it;
      const rest = { id, page, stamp, wall, ...(second ? { second } : {}), ...(on === undefined ? {} : { on }), ...(lift === undefined ? {} : { lift }), ...(group === undefined ? {} : { group }) };
      if (it.kind === 'solid') return [makeSolid({ ...it, solid })];
      if (it.kind !== 'stroke' || !it.shape || isOpen(it.shape)) return [];
      return [solidOver(it.shape, solid, { ...rest, color: it.pen.color, width: it.pen.width, ...(it.fill ? { fill: it.fill } : {}) })];
    });
    if (put.length) dispatch(change({ put }));
  };
