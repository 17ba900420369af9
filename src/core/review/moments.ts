/** Moments: bursts of writing, as entries of a list. */
import { unionBox, placedOrder, type Box } from '../ink/stroke';
import type { Placed } from '../note/kinds/kinds';

export interface Moment {
  /** Id of its first stroke: stays the same while that stroke does. */
  readonly id: string;
  readonly page: string;
  readonly placed: readonly Placed[];
  readonly box: Box;
}

/** A pen that rests longer than this, or that goes elsewhere on the page, begins another moment. ms and mm. */
const REST_MS = 4000;
const AWAY_MM = 45;
/** So much fits on a small picture, mm high. */
const HIGH_MM = 40;

/** All ink in order of writing, cut into bursts. */
export function momentsOf(ink: Iterable<readonly Placed[]>): Moment[] {
  const all: Placed[] = [];
  for (const list of ink) all.push(...list);
  all.sort(placedOrder);
  const moments: Moment[] = [];
  let run: Placed[] = [];
  let box: Box = [0, 0, 0, 0];
  let end = 0;
  const close = () => {
    if (run.length) moments.push({ id: run[0].id, page: run[0].page, placed: run, box });
  };
  for (const s of all) {
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
