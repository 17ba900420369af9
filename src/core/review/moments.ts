/** Moments: bursts of writing, as entries of a list. */
import { unionBox, strokeOrder, type Box, type Stroke } from '../ink/stroke';

export interface Moment {
  /** Id of its first stroke: stays the same while that stroke does. */
  readonly id: string;
  readonly page: string;
  readonly strokes: readonly Stroke[];
  readonly box: Box;
}

/** A pen that rests longer than this, or that goes elsewhere on the page, begins another moment. ms and mm. */
const REST_MS = 4000;
const AWAY_MM = 45;
/** So much fits on a small picture, mm high. */
const HIGH_MM = 40;

/** All ink in order of writing, cut into bursts. */
export function momentsOf(ink: Iterable<readonly Stroke[]>): Moment[] {
  const strokes: Stroke[] = [];
  for (const list of ink) strokes.push(...list);
  strokes.sort(strokeOrder);
  const moments: Moment[] = [];
  let run: Stroke[] = [];
  let box: Box = [0, 0, 0, 0];
  let end = 0;
  const close = () => {
    if (run.length) moments.push({ id: run[0].id, page: run[0].page, strokes: run, box });
  };
  for (const s of strokes) {
    const last = run.at(-1);
    const grown = last ? unionBox(box, s.box) : s.box;
    const goesOn = last && s.page === last.page && s.wall - end <= REST_MS && s.stamp?.take === last.stamp?.take && grown[3] - grown[1] <= HIGH_MM && s.box[1] - box[3] < AWAY_MM;
    if (goesOn) {
      run.push(s);
      box = grown;
    } else {
      close();
      run = [s];
      box = s.box;
    }
    end = s.wall + s.ms;
  }
  close();
  return moments;
}
