/**
 * Ink as InkML (W3C Recommendation, 20 September 2011), written and read.
 *
 * Written: one trace a stroke with the channels X and Y (1/100 mm), F (0..127) and T (ms since pen-down); a brush a pen; page,
 * stamp, wall clock, version, shape, fill and group as annotations. An area of colour is a trace
 * without a brush, of the kind `area`. Values are written as differences from the point before, with the apostrophe prefix the Recommendation
 * gives for it (section 3.2.1).
 * Read: what is written here, and in general explicit, single-difference and second-difference values, `traceGroup`s and a
 * `traceFormat` with channels in any order. Other elements are passed over.
 */
import { XMLBuilder, XMLParser } from 'fast-xml-parser';
import { PRESSURE_MAX, type Points } from '../ink/points';
import { penKey, PEN_KINDS, type Pen } from '../ink/pen';
import { makeStroke, pointsOf } from '../ink/stroke';
import { areaKind, makeArea } from '../note/kinds/area';
import type { Placed } from '../note/kinds/kinds';
import { own } from '../note/records/inkChunk';
import { extrasSchema, penSchema, type Extras } from '../note/schema';
import type { Past, Version } from '../note/version';

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

export function writeInkml(placed: readonly Placed[]): string {
  const pens = new Map<string, { id: string; pen: Pen }>();
  const brushRef = ({ pen }: { readonly pen: Pen }): string => {
    const key = penKey(pen);
    let brush = pens.get(key);
    if (!brush) pens.set(key, (brush = { id: `pen${pens.size + 1}`, pen }));
    return `#${brush.id}`;
  };
  const traceGroup = placed.flatMap((it): Node[] => {
    // What this program does not know it cannot write as ink: it goes beside it.
    if (it.kind === 'unknown' || it.kind === 'picture') return [];
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
    return [{ annotation, trace: { '@xml:id': `s${it.id}`, ...(it.kind === 'stroke' ? { '@brushRef': brushRef(it) } : {}), '#text': traceOf(pointsOf(it)) } }];
  });
  const brush = [...pens.values()].map(({ id, pen }) => brushOf(id, pen));
  return builder.build({ '?xml': { '@version': '1.0', '@encoding': 'UTF-8' }, ink: { '@xmlns': NAMESPACE, definitions: { context: PAGE, brush }, traceGroup } });
}

export class InkmlError extends Error {
  readonly name = 'InkmlError';
}

/** Values of one trace by channel, fully added up. @throws InkmlError on text that is no trace. */
export function traceValues(text: string, channels: number): number[][] {
  const points: number[][] = [];
  const order: (0 | 1 | 2)[] = Array<0 | 1 | 2>(channels).fill(0);
  let last = Array<number>(channels).fill(0);
  let step = Array<number>(channels).fill(0);
  for (const raw of text.split(',')) {
    if (!raw.trim()) continue;
    // "1125 18432", "23'43\"7" and "1-2" are all ways to write values (the grammar of section 3.2.1).
    const tokens = raw.match(/[!'"]?\s*[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?|[TF*?]/g) ?? [];
    if (tokens.length < channels) throw new InkmlError(`A point has ${tokens.length} values where ${channels} are due.`);
    const now = Array<number>(channels);
    const nowStep = Array<number>(channels);
    for (let c = 0; c < channels; c++) {
      const token = tokens[c].replace(/\s+/g, '');
      const prefix = token[0];
      if (prefix === '!') order[c] = 0;
      else if (prefix === "'") order[c] = 1;
      else if (prefix === '"') order[c] = 2;
      const v = token === '*' || token === '?' ? NaN : Number(/[!'"]/.test(prefix) ? token.slice(1) : token);
      if (Number.isNaN(v)) {
        now[c] = last[c] + (token === '*' && order[c] > 0 ? step[c] : 0);
      } else now[c] = order[c] === 0 ? v : order[c] === 1 ? last[c] + v : last[c] + step[c] + v;
      nowStep[c] = now[c] - last[c];
    }
    [last, step] = [now, nowStep];
    points.push(now);
  }
  return points;
}

const list = (v: unknown): Node[] => (Array.isArray(v) ? (v as Node[]) : v === undefined ? [] : [v as Node]);

/** @throws InkmlError when the text is not InkML. Traces without page or id get those of `fallback`. */
export function readInkml(text: string, fallback: { page: string; pen: Pen; id: () => string; wall: number }): Placed[] {
  const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', trimValues: true, parseTagValue: false, htmlEntities: true, isArray: (name) => ['trace', 'traceGroup', 'annotation', 'brush', 'brushProperty', 'channel', 'context', 'channelProperty'].includes(name) });
  let doc: { ink?: Node };
  try {
    doc = parser.parse(text) as { ink?: Node };
  } catch (e) {
    throw new InkmlError('The ink is not XML.', { cause: e });
  }
  if (!doc.ink || typeof doc.ink !== 'object') throw new InkmlError('The file has no ink in it.');
  const ink = doc.ink;
  const definitions = (ink.definitions ?? {}) as Node;
  const source = [...list(definitions.context), ...list(ink.context)].map((c) => c.inkSource as Node | undefined).find(Boolean);
  const format = ((source?.traceFormat ?? definitions.traceFormat ?? ink.traceFormat ?? {}) as Node).channel;
  const names = list(format).map((c) => String(c['@name']));
  if (!names.length) names.push('X', 'Y');
  const [ix, iy, iF, iT] = ['X', 'Y', 'F', 'T'].map((n) => names.indexOf(n));
  if (ix < 0 || iy < 0) throw new InkmlError('The ink has no X and Y.');
  const maxF = Number(list(format).find((c) => c['@name'] === 'F')?.['@max'] ?? PRESSURE_MAX);
  const resolution = list(((source?.channelProperties ?? {}) as Node).channelProperty).find((p) => p['@channel'] === 'X' && p['@name'] === 'resolution');
  // Without a resolution the values are taken as 1/100 mm.
  const perMm = resolution ? Number(resolution['@value']) * (/cm/.test(String(resolution['@units'])) ? 0.1 : /in/.test(String(resolution['@units'])) ? 1 / 25.4 : 1) : 100;

  const pens = new Map<string, Pen>();
  for (const b of [...list(definitions.brush), ...list(ink.brush)]) {
    const get = (n: string) => list(b.brushProperty).find((p) => p['@name'] === n)?.['@value'];
    const note = (type: string) => list(b.annotation).find((a) => a['@type'] === type)?.['#text'];
    const kind = note('kind');
    // Section 4.2.2 names the property and leaves its scale open; written as 0 (full ink) to 255.
    const transparency = Number(get('transparency') ?? 0);
    const look = penSchema.pick({ line: true, angle: true }).safeParse({ line: note('line'), ...(note('angle') === undefined ? {} : { angle: Number(note('angle')) }) });
    const width = Number(get('width'));
    const color = String(get('color') ?? '');
    pens.set(`#${String(b['@xml:id'])}`, {
      kind: PEN_KINDS.find((k) => k === kind) ?? 'ball',
      width: width > 0 ? width : fallback.pen.width,
      color: /^#[0-9a-f]{6}$/i.test(color) ? color : fallback.pen.color,
      ...(transparency > 0 && transparency <= 255 ? { opacity: Math.round(100 * (1 - transparency / 255)) / 100 } : {}),
      ...(look.success && look.data.line ? { line: look.data.line } : {}),
      ...(look.success && look.data.angle !== undefined ? { angle: look.data.angle } : {}),
    });
  }

  const placed: Placed[] = [];
  const walk = (node: Node, notes: Record<string, string>) => {
    for (const a of list(node.annotation)) notes = { ...notes, [String(a['@type'])]: String(a['#text'] ?? '') };
    for (const t of list(node.trace)) {
      const raw = typeof t === 'string' ? t : String(t['#text'] ?? '');
      const values = traceValues(raw, names.length);
      if (!values.length) continue;
      const n = values.length;
      const points: Points = { n, xy: new Int32Array(2 * n), p: new Uint8Array(n), t: new Int32Array(n) };
      values.forEach((v, i) => {
        points.xy[2 * i] = Math.round((v[ix] / perMm) * 100);
        points.xy[2 * i + 1] = Math.round((v[iy] / perMm) * 100);
        points.p[i] = iF < 0 ? 64 : Math.round((Math.min(maxF, Math.max(0, v[iF])) / maxF) * PRESSURE_MAX);
        points.t[i] = iT < 0 ? 8 * i : Math.round(v[iT] - values[0][iT]);
      });
      const id = typeof t === 'string' ? '' : String(t['@xml:id'] ?? '').replace(/^s/, '');
      const at = Number(notes.at);
      const wall = Number(notes.wall ?? NaN);
      const base = {
        id: id || fallback.id(),
        page: notes.page || fallback.page,
        stamp: notes.take && at >= 0 ? { take: notes.take, at } : null,
        wall: Number.isFinite(wall) ? wall : fallback.wall,
        ...readVersion(notes.version),
      };
      const extras = parsed(notes.extras);
      const area = notes.kind === 'area' ? areaKind.schema.safeParse(extras) : null;
      if (area?.success) placed.push(makeArea(points, { ...base, ...(area.data as { fill: string }) }));
      else placed.push(makeStroke(points, { ...base, pen: pens.get(typeof t === 'string' ? '' : String(t['@brushRef'] ?? '')) ?? fallback.pen, ...readExtras(extras) }));
    }
    for (const g of list(node.traceGroup)) walk(g, notes);
  };
  walk(ink, {});
  return placed;
}

function parsed(text: string | undefined): unknown {
  if (!text) return undefined;
  try {
    return JSON.parse(text);
  } catch {
    // Told by what is missing: the ink itself is there.
    return undefined;
  }
}

/** What only some strokes have; what cannot be read costs the stroke its shape, not its ink. */
function readExtras(extras: unknown): Extras {
  const read = extrasSchema.safeParse(extras ?? {});
  return read.success ? (read.data as Extras) : {};
}

function readVersion(text: string | undefined): { s?: Version; past?: Past } {
  const v = parsed(text);
  if (!Array.isArray(v) || typeof v[0] !== 'number' || typeof v[1] !== 'string' || typeof v[2] !== 'number') return {};
  return { s: [v[0], v[1], v[2]], ...(v[3] && typeof v[3] === 'object' ? { past: v[3] as Past } : {}) };
}
