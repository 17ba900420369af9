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
import { parting, type PageSpaces, type Row } from './parting';
import { clustersOf, partingAir, spacesOf, type Cluster } from './spaces';
import type { Drawing, Grouping, Line, PlainStroke, Word } from './grouping';
import { bodyHeight, boxOfItems, joinTouching, median, toItem, type Item } from './items';
import { threadLines, type Thread } from './lines';

/** Groups the strokes of one page: strokes of a note, or plain points. Highlighter, and a stroke without points, are passed over; a clean shape is a drawing. What is written on a sticky note is no part of what lies under it. */
export function groupWords(all: readonly (Stroke | PlainStroke)[]): Grouping {
  const by = new Map<string | undefined, (Stroke | PlainStroke)[]>();
  for (const ink of all) {
    const on = 'pts' in ink ? ink.on : undefined;
    const list = by.get(on);
    if (list) list.push(ink);
    else by.set(on, [ink]);
  }
  const sheets = [...by.values()].map(groupSheet);
  return sheets.length === 1 ? sheets[0] : joinedGroupings(sheets);
}

function joinedGroupings(list: readonly Grouping[]): Grouping {
  const [words, lines, drawings]: [Word[], Line[], Drawing[]] = [[], [], []];
  for (const g of list) {
    const [w, l] = [words.length, lines.length];
    words.push(...g.words.map((word) => ({ ...word, line: word.line + l })));
    lines.push(...g.lines.map((line) => ({ ...line, words: line.words.map((i) => i + w) })));
    drawings.push(...g.drawings);
  }
  return { words, lines, drawings };
}

/** One sheet of paper: a page, or a sticky note. */
function groupSheet(all: readonly (Stroke | PlainStroke)[]): Grouping {
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

/** What is written, threaded to lines, and what is drawn. */
export function threadsOf(strokes: readonly (Stroke | PlainStroke)[]): { threads: Thread[]; drawings: Item[][] } {
  const single = strokes.filter((s) => 'pts' in s || s.points.length > 0).map(toItem).sort((a, b) => a.wall - b.wall || (a.ids[0] < b.ids[0] ? -1 : 1));
  if (!single.length) return { threads: [], drawings: [] };
  const items = joinTouching(single);
  const body = bodyHeight(items);
  const { written, drawings } = setDrawingsAside(items, body);
  return { threads: threadLines(written, body), drawings };
}

function groupWritten(strokes: readonly (Stroke | PlainStroke)[]): Grouping {
  const { threads, drawings } = threadsOf(strokes);
  return assemble(threads, drawings);
}

/** Lines of the page with their spaces, and what holds for all of them. */
export function rowsOf(threads: readonly Thread[]): { rows: Row[]; page: PageSpaces } {
  const rows = threads.map((thread): Row => {
    const { clusters, body, ink } = clustersOf(thread);
    return { clusters, body, ink, spaces: spacesOf(clusters, body) };
  });
  const airs = rows.flatMap((r) => r.spaces.map((g) => g.air));
  const usual = partingAir(airs);
  const [low, high] = [airs.filter((v) => v < usual), airs.filter((v) => v >= usual && v < FAR)];
  const rhythm = median(rows.flatMap((r) => r.spaces.filter((g) => g.air < usual && g.away < 3000).map((g) => g.away))) || 150;
  return { rows, page: { usual, rhythm, narrow: median(low), wide: median(high) || 1.6 * usual, airs: airs.sort((a, b) => a - b) } };
}

/** So much air parts columns, in body heights. */
const FAR = 6;

function assemble(threads: Thread[], drawn: Item[][]): Grouping {
  const { rows, page } = rowsOf(threads);
  const words: Word[] = [];
  const lines: Line[] = [];
  const made: { words: { items: Item[]; box: Box }[]; box: Box; body: number }[] = [];
  for (const row of rows) {
    const isParting = parting(row, page);
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
        if (row.spaces[k - 1].air > FAR) closeLine();
        else if (isParting(k - 1)) closeWord();
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
