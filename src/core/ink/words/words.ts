/**
 * Strokes into lines and words, by place and by time; what is drawn stays a drawing.
 *
 * Lengths are in mm. The unit of judgement is the body height of the writing nearby, so that large and small hands, and both on
 * one page, are treated alike. Steps: set large strokes aside as drawings; thread the others onto lines in the order they were
 * written; undo the slant of each line; find where along the line there is air; decide which air separates words from how the
 * spaces of the page fall into narrow and wide, helped by how long the pen was away.
 */
import { boxesMeet, growBox, isDecorative, unionBox, type Box, type Stroke } from '../stroke';
import { setDrawingsAside } from './drawings';
import { clustersOf, partingAir, spacesOf, type Cluster } from './spaces';
import type { Drawing, Grouping, Line, PlainStroke, Word } from './grouping';
import { bodyHeight, boxOfItems, joinTouching, median, toItem, type Item } from './items';
import { threadLines, type Thread } from './lines';

/** Groups the strokes of one page: strokes of a note, or plain points. Highlighter, and a stroke without points, are passed over; a clean shape is a drawing. */
export function groupWords(all: readonly (Stroke | PlainStroke)[]): Grouping {
  const shapes = all.filter((ink): ink is Stroke => 'pts' in ink && isDecorative(ink) && ink.pen.kind !== 'highlighter');
  const grouping = groupWritten(all.filter((s) => !('pts' in s && isDecorative(s))));
  return shapes.length ? { ...grouping, drawings: withShapes(grouping.drawings, shapes) } : grouping;
}

/** Shapes join the drawings they touch and each other. */
function withShapes(drawings: readonly Drawing[], shapes: readonly Stroke[]): Drawing[] {
  let out: Drawing[] = [...drawings];
  for (const s of shapes) {
    const near = out.filter((d) => boxesMeet(growBox(d.box, 1), s.box));
    const whole = { strokes: [...near.flatMap((d) => d.strokes), s.id], box: near.map((d) => d.box).reduce(unionBox, s.box) };
    out = [...out.filter((d) => !near.includes(d)), whole];
  }
  return out;
}

function groupWritten(strokes: readonly (Stroke | PlainStroke)[]): Grouping {
  const single = strokes.filter((s) => 'pts' in s || s.points.length > 0).map(toItem).sort((a, b) => a.wall - b.wall || (a.ids[0] < b.ids[0] ? -1 : 1));
  if (!single.length) return { words: [], lines: [], drawings: [] };
  const items = joinTouching(single);
  const body = bodyHeight(items);
  const { written, drawings } = setDrawingsAside(items, body);
  const threads = threadLines(written, body);
  return assemble(threads, drawings);
}

function assemble(threads: Thread[], drawn: Item[][]): Grouping {
  const rows = threads.map((thread) => {
    const { clusters, body } = clustersOf(thread);
    return { clusters, body, spaces: spacesOf(clusters, body) };
  });
  const usual = partingAir(rows.flatMap((r) => r.spaces.map((g) => g.air)));
  const rhythm = median(rows.flatMap((r) => r.spaces.filter((g) => g.air < usual && g.away < 3000).map((g) => g.away))) || 150;

  const words: Word[] = [];
  const lines: Line[] = [];
  const made: { words: { items: Item[]; box: Box }[]; box: Box; body: number }[] = [];
  for (const row of rows) {
    const own = partingAir(row.spaces.map((g) => g.air));
    const limit = row.spaces.length >= 16 ? 0.6 * usual + 0.4 * own : usual;
    let word: Cluster[] = [];
    let line: { items: Item[]; box: Box }[] = [];
    const closeWord = () => {
      const items = word.flatMap((c) => c.items).sort((a, b) => a.wall - b.wall);
      if (items.length) line.push({ items, box: boxOfItems(items) });
      word = [];
    };
    const closeLine = () => {
      closeWord();
      if (line.length) made.push({ words: line, box: line.map((w) => w.box).reduce(unionBox), body: row.body });
      line = [];
    };
    row.clusters.forEach((cluster, k) => {
      if (k > 0) {
        const space = row.spaces[k - 1];
        // A pen that was away longer than its rhythm makes a space count for more, one that wrote straight on for less.
        const pause = space.away / rhythm;
        let bar = limit;
        if (space.away > 8000 && space.air > 0.25) bar = Math.min(bar, 0.55 * limit);
        else if (pause > 4) bar *= 0.85;
        else if (pause < 1.2) bar *= 1.08;
        if (space.air > 6) closeLine();
        else if (space.air > bar) closeWord();
      }
      word.push(cluster);
    });
    closeLine();
  }
  made.sort((a, b) => a.box[1] + a.box[3] - (b.box[1] + b.box[3]) || a.box[0] - b.box[0]);
  made.forEach((m, line) => {
    lines.push({ words: m.words.map((_, k) => words.length + k), box: m.box, body: m.body });
    for (const w of m.words) words.push({ strokes: w.items.flatMap((i) => i.ids), box: w.box, line });
  });
  const drawings = drawn.map((items) => {
    items.sort((a, b) => a.wall - b.wall);
    return { strokes: items.flatMap((i) => i.ids), box: boxOfItems(items) };
  });
  return { words, lines, drawings };
}
