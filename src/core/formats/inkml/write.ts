/**
 * Ink written as InkML (W3C Recommendation, 20 September 2011): one trace a stroke with the channels X and Y (1/100 mm), F (0..127) and T (ms since pen-down); a brush a pen; page,
 * stamp, wall clock, version, shape, fill and group as annotations. An area of colour is a trace
 * without a brush, of the kind `area`. Values are written as differences from the point before, with the apostrophe prefix the Recommendation
 * gives for it (section 3.2.1).
 */
import { XMLBuilder } from 'fast-xml-parser';
import { xmlText } from '../xmlText';
import { PRESSURE_MAX, type Points } from '../../ink/points';
import { penKey, type Pen } from '../../ink/pen';
import { pointsOf } from '../../ink/stroke';
import type { Placed } from '../../note/kinds/kinds';
import { own } from '../../note/records/inkChunk';
import type { Take } from '../../note/schema';
import type { Said } from '../../reading/said';
import type { Grouping } from '../../ink/words/grouping';

const NAMESPACE = 'http://www.w3.org/2003/InkML';

/** An element: its attributes with an @, its children by their names, its text as `#text`. */
type Node = Record<string, unknown>;

const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true, format: true, indentBy: '' });

/** An annotation; left out when there is nothing to say. */
const note = (type: string, text: string | number | undefined): Node[] => (text === undefined ? [] : [{ '@type': type, '#text': String(text) }]);
const brushProperty = (name: string, value: string | number, units?: string): Node => ({ '@name': name, '@value': value, ...(units ? { '@units': units } : {}) });

/** What the channels of all traces are. */
const PAGE: Node = {
  '@xml:id': 'page',
  inkSource: {
    '@xml:id': 'pen',
    traceFormat: { channel: [{ '@name': 'X', '@type': 'integer' }, { '@name': 'Y', '@type': 'integer' }, { '@name': 'F', '@type': 'integer', '@min': 0, '@max': PRESSURE_MAX }, { '@name': 'T', '@type': 'integer', '@units': 'ms' }] },
    channelProperties: { channelProperty: ['X', 'Y'].map((channel) => ({ '@channel': channel, '@name': 'resolution', '@value': 100, '@units': '1/mm' })) },
  },
};

const brushOf = (id: string, { kind, line, angle, opacity, width, color }: Pen): Node => ({
  '@xml:id': id,
  annotation: [...note('kind', kind), ...note('line', line), ...note('angle', angle)],
  brushProperty: [...(opacity === undefined ? [] : [brushProperty('transparency', Math.round(255 * (1 - opacity)))]), brushProperty('width', width, 'mm'), brushProperty('color', color)],
});

/** The points of a trace as the differences from the point before. */
function traceOf({ n, xy, p, t }: Points): string {
  const points: string[] = [];
  for (let i = 0; i < n; i++) {
    if (i === 0) points.push(`${xy[0]} ${xy[1]} ${p[0]} ${t[0]}`);
    else {
      const d = [xy[2 * i] - xy[2 * i - 2], xy[2 * i + 1] - xy[2 * i - 1], p[i] - p[i - 1], t[i] - t[i - 1]];
      // The prefix is said once: it holds for the values of its channel that follow (section 3.2.1).
      points.push(i === 1 ? d.map((v) => `'${v}`).join(' ') : d.join(' '));
    }
  }
  return points.join(',');
}

/** Traces of a page as they were written: lines, in them words, and what is of neither beside them. */
function grouped(list: readonly Placed[], { words, lines }: Grouping, said: Said, one: (it: Placed) => Node[]): Node[] {
  const says = new Map(said.map((w) => [w.strokes[0], w.text]));
  const byId = new Map(list.map((it) => [it.id, it]));
  const used = new Set<string>();
  const out = lines.map((line): Node => {
    const inner = line.words.map((w): Node => {
      words[w].strokes.forEach((id) => used.add(id));
      return { annotation: [...note('unit', 'word'), ...note('text', says.get(words[w].strokes[0]))], traceGroup: words[w].strokes.flatMap((id) => (byId.has(id) ? one(byId.get(id)!) : [])) };
    });
    return { annotation: note('unit', 'line'), traceGroup: inner };
  });
  return [...out, ...list.filter((it) => !used.has(it.id)).flatMap(one)];
}

/** @param said by page, what of it was read: the text of a word is an annotation of its group. @param groupings words and lines of its pages; with them the traces stand in a group for each line and each word, and each take is a context with the moment it began. */
export function writeInkml(placed: readonly Placed[], groupings: ReadonlyMap<string, Grouping> | null = null, takes: readonly Pick<Take, 'id' | 'name' | 'wall'>[] = [], said: ReadonlyMap<string, Said> = new Map()): string {
  const pens = new Map<string, { id: string; pen: Pen }>();
  const brushRef = ({ pen }: { readonly pen: Pen }): string => {
    const key = penKey(pen);
    let brush = pens.get(key);
    if (!brush) pens.set(key, (brush = { id: `pen${pens.size + 1}`, pen }));
    return `#${brush.id}`;
  };
  const known = new Set(takes.map((t) => t.id));
  const one = (it: Placed): Node[] => {
    // What this program does not know it cannot write as ink: it goes beside it.
    if (it.kind !== 'stroke' && it.kind !== 'area') return [];
    const extras = own(it);
    const annotation = [
      ...note('page', it.page),
      ...note('wall', it.wall),
      ...note('take', it.stamp?.take),
      ...note('at', it.stamp?.at),
      ...note('kind', it.kind === 'stroke' ? undefined : it.kind),
      ...note('version', it.s && JSON.stringify(it.past ? [...it.s, it.past] : it.s)),
      ...note('extras', extras ? JSON.stringify(extras) : undefined),
    ];
    const moment = it.stamp && known.has(it.stamp.take) ? { '@contextRef': `#take-${it.stamp.take}`, '@timeOffset': it.stamp.at, '@duration': it.ms } : {};
    return [{ annotation, trace: { '@xml:id': `s${it.id}`, ...(it.kind === 'stroke' ? { '@brushRef': brushRef(it) } : {}), ...moment, '#text': traceOf(pointsOf(it)) } }];
  };
  const pages = groupings && [...new Set(placed.map((it) => it.page))];
  const traceGroup = pages ? pages.flatMap((page) => grouped(placed.filter((it) => it.page === page), groupings.get(page) ?? { words: [], lines: [], drawings: [] }, said.get(page) ?? [], one)) : placed.flatMap(one);
  const brush = [...pens.values()].map(({ id, pen }) => brushOf(id, pen));
  const moments = takes.length ? { timestamp: takes.map(({ id, wall }) => ({ '@xml:id': `began-${id}`, '@time': wall })) } : {};
  const contexts = takes.map(({ id, name }) => ({ '@xml:id': `take-${id}`, '@contextRef': '#page', '@timestampRef': `#began-${id}`, annotation: note('take', name) }));
  return xmlText(builder.build({ '?xml': { '@version': '1.0', '@encoding': 'UTF-8' }, ink: { '@xmlns': NAMESPACE, definitions: { ...moments, context: [PAGE, ...contexts], brush }, traceGroup } }));
}
