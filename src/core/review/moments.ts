/** Moments: bursts of writing, as entries of a list. */
import { unionBox, placedOrder, type Box } from '../ink/stroke';
import type { Grouping } from '../ink/words/grouping';
import type { Placed } from '../note/kinds/kinds';

export interface Moment {
  /** Id of its first stroke: stays the same while that stroke does. */
  readonly id: string;
  readonly page: string;
  readonly placed: readonly Placed[];
  readonly box: Box;
}

/** A pen that rests longer than this begins another moment; a little less does between lines, more is needed within one. ms. */
const REST_MS = 4000;
const LINE_REST_MS = 3000;
const WITHIN_REST_MS = 8000;
/** A pen that goes so far down the page begins another moment, mm. */
const AWAY_MM = 45;
/** So much fits on a small picture, mm high. */
const HIGH_MM = 40;
/** Ink that joins a word later than this is not of its moment, ms. */
const LATE_MS = 30_000;

/** What is never cut: a word with the dots and bars that came a little later, or a stroke that is of no word. */
interface Unit {
  readonly placed: Placed[];
  readonly line: number | null;
  box: Box;
  end: number;
}

interface Home {
  readonly word: object;
  readonly line: number;
}

/** In which word and line of its page each stroke is. */
function homesOf(groupings: Iterable<Grouping>): ReadonlyMap<string, Home> {
  const homes = new Map<string, Home>();
  for (const { words, lines } of groupings) lines.forEach((line, i) => line.words.forEach((w) => words[w].strokes.forEach((id) => homes.set(id, { word: words[w], line: i }))));
  return homes;
}

function unitsOf(all: readonly Placed[], homes: ReadonlyMap<string, Home>): Unit[] {
  const units: Unit[] = [];
  const open = new Map<object, Unit>();
  for (const s of all) {
    const home = homes.get(s.id);
    const unit = home && open.get(home.word);
    if (unit && s.page === unit.placed[0].page && s.stamp?.take === unit.placed[0].stamp?.take && s.wall - unit.end <= LATE_MS) {
      unit.placed.push(s);
      unit.box = unionBox(unit.box, s.box);
      unit.end = Math.max(unit.end, s.wall + s.ms);
      continue;
    }
    const made: Unit = { placed: [s], line: home?.line ?? null, box: s.box, end: s.wall + s.ms };
    if (home) open.set(home.word, made);
    units.push(made);
  }
  return units;
}

/** All ink in order of writing, cut into bursts: between words where they are known, and rather between lines than within one. */
export function momentsOf(ink: Iterable<readonly Placed[]>, groupings: Iterable<Grouping> = []): Moment[] {
  const all: Placed[] = [];
  for (const list of ink) all.push(...list);
  all.sort(placedOrder);
  const moments: Moment[] = [];
  let run: Unit[] = [];
  let box: Box = [0, 0, 0, 0];
  let end = 0;
  const close = () => {
    if (run.length) moments.push({ id: run[0].placed[0].id, page: run[0].placed[0].page, placed: run.flatMap((u) => u.placed), box });
  };
  for (const unit of unitsOf(all, homesOf(groupings))) {
    const last = run.at(-1);
    const [s] = unit.placed;
    const before = last?.placed[0];
    const grown = last ? unionBox(box, unit.box) : unit.box;
    const sameLine = last?.line != null && last.line === unit.line;
    const rest = last?.line == null || unit.line === null ? REST_MS : sameLine ? WITHIN_REST_MS : LINE_REST_MS;
    const goesOn = before && s.page === before.page && s.wall - end <= rest && s.stamp?.take === before.stamp?.take && (sameLine || grown[3] - grown[1] <= HIGH_MM) && s.box[1] - box[3] < AWAY_MM;
    if (goesOn) {
      run.push(unit);
      box = grown;
    } else {
      close();
      run = [unit];
      box = unit.box;
    }
    end = goesOn ? Math.max(end, unit.end) : unit.end;
  }
  close();
  return moments;
}
