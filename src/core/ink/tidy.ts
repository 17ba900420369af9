/** Tidying: lines of handwriting set level onto the ruling. Letters keep their shape; only whole words are moved and turned. */
import { median } from 'simple-statistics';
import { isDecoration, mapPlaced } from '../note/kinds/kinds';
import { around, move, apply, type Affine } from './transform';
import { pointsOf, type Stroke } from './stroke';
import { groupWords } from './words/words';

export interface Ruling {
  /** From the top edge to the first line, and between lines, mm. */
  readonly top: number;
  readonly spacing: number;
}

/** A line through x, y: y = at + slope x; mm. */
interface Baseline {
  at: number;
  slope: number;
}

/** Steeper than this it is not a line that has drifted, radians. */
const MAX_TURN = 0.2;

/** The strokes in their tidied places; those that are no handwriting are left out. */
export function tidy(strokes: readonly Stroke[], ruling: Ruling): Stroke[] {
  const written = strokes.filter((s) => !isDecoration(s));
  const { words, lines } = groupWords(written);
  const byId = new Map(written.map((s) => [s.id, s]));
  const out: Stroke[] = [];
  let taken = -Infinity;
  for (const line of [...lines].sort((a, b) => a.box[1] - b.box[1] || a.box[0] - b.box[0])) {
    const ofWords = line.words.map((w) => words[w].strokes.flatMap((id) => byId.get(id) ?? []));
    const all = ofWords.flat();
    const base = baselineOf(all, line.body);
    if (!base) continue;
    const [l, , r] = line.box;
    const mid = (l + r) / 2;
    const level = base.at + base.slope * mid;
    let rule = ruling.top + Math.round((level - ruling.top) / ruling.spacing) * ruling.spacing;
    // Two lines never fall on one; columns side by side may.
    if (rule <= taken && !sideBySide(line, lines, ruling)) rule = taken + ruling.spacing;
    taken = Math.max(taken, rule);
    const turn: Affine = around(mid, level, 1, 1, -Math.atan(base.slope));
    for (const word of ofWords) {
      // After the line is level, each word is set by its own foot, a third at most of a small letter away from the line's.
      const feet = word.map((s) => foot(s, turn)).filter((f) => Math.abs(f - level) < 0.35 * line.body).sort((a, b) => a - b);
      const own = feet.length ? feet[Math.floor(feet.length / 2)] : level;
      const down = move(0, rule - own);
      const m: Affine = { ...turn, e: turn.e + down.e, f: turn.f + down.f };
      for (const s of word) out.push(mapPlaced(s, m));
    }
  }
  return out;
}

const sideBySide = (line: { box: readonly number[] }, lines: readonly { box: readonly number[] }[], { spacing }: Ruling): boolean =>
  lines.some((o) => o !== line && Math.abs(o.box[3] - line.box[3]) < spacing / 2 && (o.box[0] > line.box[2] || o.box[2] < line.box[0]));

function foot(s: Stroke, m: Affine): number {
  const { n, xy } = pointsOf(s);
  let low = -Infinity;
  for (let i = 0; i < n; i++) low = Math.max(low, apply(m, xy[2 * i] / 100, xy[2 * i + 1] / 100)[1]);
  return low;
}

/** The line the letters stand on: through the feet of the strokes, those that hang below or float above left out. */
function baselineOf(strokes: readonly Stroke[], body: number): Baseline | null {
  const feet = strokes.filter((s) => s.box[3] - s.box[1] > 0.4 * body).map((s) => lowest(s));
  if (!feet.length) return null;
  // The middle of the slopes between all pairs (P. Sen, 1968) is not moved by a few descenders.
  const slopes: number[] = [];
  for (let i = 0; i < feet.length; i++) for (let k = i + 1; k < feet.length; k++) {
    const dx = feet[k].x - feet[i].x;
    if (Math.abs(dx) > 2 * body) slopes.push((feet[k].y - feet[i].y) / dx);
  }
  const slope = slopes.length ? median(slopes) : 0;
  if (Math.abs(slope) > MAX_TURN) return { at: median(feet.map((f) => f.y)), slope: 0 };
  return { at: median(feet.map((f) => f.y - slope * f.x)), slope };
}

function lowest(s: Stroke): { x: number; y: number } {
  const { n, xy } = pointsOf(s);
  let k = 0;
  for (let i = 1; i < n; i++) if (xy[2 * i + 1] > xy[2 * k + 1]) k = i;
  return { x: xy[2 * k] / 100, y: xy[2 * k + 1] / 100 };
}
