/**
 * Ink read from InkML (W3C Recommendation, 20 September 2011), of this program and of others: several contexts, in definitions or as they come between
 * traces; channels in any order and with units of their own, intermittent ones among them; values explicit or as differences; traces that go on in
 * another; groups and views. Strokes of a pen that is up are no ink. What other elements say is passed over.
 */
import { PRESSURE_MAX, type Points } from '../../ink/points';
import type { Pen } from '../../ink/pen';
import { makeStroke } from '../../ink/stroke';
import { areaKind, makeArea } from '../../note/kinds/area';
import type { Placed } from '../../note/kinds/kinds';
import { extrasSchema, type Extras } from '../../note/schema';
import { pastSchema, versionOfJson, type Past, type Version } from '../../note/version';
import { Definitions, mmPerUnit, paceOf, PLAIN, type Brush, type Channel, type Context } from './contexts';
import { InkmlError, traceValues } from './traceText';
import { named, xmlOf, type Element } from './xml';

const { max, min, round } = Math;

/** A trace with its values in the units of its canvas. */
export interface InkTrace {
  readonly id: string;
  /** Side by side, a value a point. Times are ms since its first point. */
  readonly x: readonly number[];
  readonly y: readonly number[];
  /** 0..1; null where it was not written. */
  readonly force: readonly number[] | null;
  readonly t: readonly number[];
  /** ms since the epoch when it was begun; null where nothing tells. */
  readonly wall: number | null;
  /** `x` and `y` are mm; else of a size that nothing tells. */
  readonly isMm: boolean;
  readonly brush: Brush;
  /** Annotations of the trace and of the groups that it lies in, by their types. */
  readonly notes: Readonly<Record<string, string>>;
}

/** Between two points where nothing tells their pace, ms. */
const USUAL_PACE_MS = 8;
const MOST_TRACES = 500_000;
const MOST_DEPTH = 50;

/** What holds at a place of the file. */
interface Here {
  readonly context: Context;
  readonly brush: Brush | null;
  readonly notes: Readonly<Record<string, string>>;
}

interface Found {
  readonly element: Element;
  readonly here: Here;
  /** Points that a view shows, from and to, the first 1. */
  readonly part: readonly [number, number];
}

const ALL: readonly [number, number] = [1, Infinity];

/** All traces of a file that are ink, in order, with what holds for each. */
function tracesOf(root: Element, definitions: Definitions): Found[] {
  const found: Found[] = [];
  // Views may show views: what is looked at counts, and not what is found.
  let seen = 0;
  const inner = (e: Element, here: Here): Here => {
    const { contextRef, brushRef } = e.attributes;
    const notes = named(e, 'annotation').map((a) => [a.attributes.type ?? '', a.text] as const);
    return {
      context: (contextRef === undefined ? null : definitions.context(contextRef)) ?? here.context,
      brush: definitions.brush(brushRef) ?? here.brush,
      notes: notes.length ? { ...here.notes, ...Object.fromEntries(notes) } : here.notes,
    };
  };
  const walk = (e: Element, from: Here, depth: number, part: readonly [number, number]) => {
    if (depth > MOST_DEPTH || ++seen > MOST_TRACES) throw new InkmlError('The ink is nested too deeply, or has too many traces.');
    const here = inner(e, from);
    if (e.name === 'trace') return void found.push({ element: e, here, part });
    if (e.name === 'traceView') {
      const shown = definitions.element(e.attributes.traceDataRef);
      const range = [Number(e.attributes.from ?? 1), Number(e.attributes.to ?? Infinity)] as const;
      if (shown) walk(shown, here, depth + 1, shown.name === 'trace' && range.every((v) => v >= 1) ? range : ALL);
    }
    let now = here;
    for (const child of e.children) {
      // In the body of the file a context holds for what comes after it (section 4.1.2); definitions show nothing by themselves.
      if (child.name === 'context') now = { ...now, context: definitions.contextOf(child, now.context) };
      else if (['trace', 'traceGroup', 'traceView'].includes(child.name)) walk(child, now, depth + 1, ALL);
    }
  };
  walk(root, { context: definitions.usual(root), brush: null, notes: {} }, 0, ALL);
  return found;
}

/** Values of a channel; what was left out is what its format says, or what it was before. */
function column(values: readonly (readonly number[])[], i: number, { usual }: Channel): number[] {
  let last = usual ?? 0;
  return values.map((row) => {
    const v = row[i];
    if (Number.isFinite(v)) return (last = v);
    return usual ?? last;
  });
}

/** @throws InkmlError when the text is not InkML. */
export function readTraces(text: string): InkTrace[] {
  const root = xmlOf(text);
  if (root.name !== 'ink') throw new InkmlError('The file has no ink in it.');
  const definitions = new Definitions(root);
  const found = tracesOf(root, definitions);
  const forces = new Map<Channel, number>();
  const out: (InkTrace & { readonly channel: Channel | null })[] = [];
  const ends = new Map<string, number>();
  for (const { element: e, here, part } of found) {
    const { type, continuation, priorRef, id = '', duration, timeOffset } = e.attributes;
    if (type === 'penUp') continue;
    const { context } = here;
    const format = context.format ?? PLAIN;
    const at = (name: string) => format.channels.findIndex((c) => c.name === name);
    const [ix, iy, iF, iT] = ['X', 'Y', 'F', 'T'].map(at);
    if (ix < 0 || iy < 0) throw new InkmlError('The ink has no X and Y.');
    const all = traceValues(e.text, format.channels.length, format.due);
    const values = part === ALL ? all : all.slice(part[0] - 1, part[1]);
    if (!values.length) continue;
    const [mmX, mmY] = [mmPerUnit(format.channels[ix], context.source), mmPerUnit(format.channels[iy], context.source)];
    const isMm = mmX !== null && mmY !== null;
    const sign = (c: Channel) => (c.negative ? -1 : 1);
    let x = column(values, ix, format.channels[ix]).map((v) => v * sign(format.channels[ix]) * (isMm ? mmX : 1));
    let y = column(values, iy, format.channels[iy]).map((v) => v * sign(format.channels[iy]) * (isMm ? mmY : 1));
    if (context.transform) {
      const [a, b, c, d, f, g] = context.transform;
      [x, y] = [x.map((v, i) => a * v + b * y[i] + c), x.map((v, i) => d * v + f * y[i] + g)];
    }
    const F = iF < 0 ? null : format.channels[iF];
    const force = F && column(values, iF, F).map((v) => v - (F.min ?? 0));
    if (F && force) forces.set(F, force.reduce((most, v) => max(most, v), forces.get(F) ?? 0));
    const T = iT < 0 ? null : format.channels[iT];
    const raw = T && column(values, iT, T).map((v) => v * (T.units === 's' ? 1000 : T.units === 'us' ? 0.001 : 1));
    const pace = paceOf(context.source) ?? (Number(duration) > 0 && values.length > 1 ? Number(duration) / (values.length - 1) : USUAL_PACE_MS);
    // Times never fall, whatever a file says.
    let latest = 0;
    const t = values.map((_, i) => (latest = max(latest, raw ? raw[i] - raw[0] : i * pace)));
    const from = T?.respectTo ? definitions.moment(definitions.element(T.respectTo, 'timestamp')) : context.timestamp;
    const offset = Number.isFinite(Number(timeOffset ?? NaN)) ? Number(timeOffset) : raw ? raw[0] : null;
    const trace = { id, x, y, force, t, wall: from === null || offset === null ? null : from + offset, isMm, brush: { ...context.brush, ...here.brush }, notes: here.notes, channel: F };
    // A trace that goes on in another is one stroke (section 3.2.2).
    const before = continuation === 'middle' || continuation === 'end' ? (ends.get((priorRef ?? '').replace(/^#/, '')) ?? (priorRef === undefined ? out.length - 1 : -1)) : -1;
    if (out[before]) {
      out[before] = joined(out[before], trace);
      if (id) ends.set(id, before);
    } else if (out.push(trace) && id) ends.set(id, out.length - 1);
  }
  return out.map(({ channel, ...trace }) => {
    if (!channel || !trace.force) return trace;
    // Without a limit of its own the hardest that was pressed is full force.
    const most = channel.max !== null ? channel.max - (channel.min ?? 0) : channel.units === '%' ? 100 : forces.get(channel)!;
    return { ...trace, force: trace.force.map((v) => (most > 0 ? min(1, max(0, v / most)) : 0.5)) };
  });
}

function joined<T extends InkTrace>(a: T, b: InkTrace): T {
  const gap = a.wall !== null && b.wall !== null ? max(0, b.wall - a.wall) : a.t.at(-1)! + USUAL_PACE_MS;
  const from = max(a.t.at(-1)!, gap);
  return { ...a, x: [...a.x, ...b.x], y: [...a.y, ...b.y], force: a.force && b.force ? [...a.force, ...b.force] : null, t: [...a.t, ...b.t.map((v) => v + from)] };
}

/** Pressure of a pen that tells none, 0..127. */
const EVEN = 64;

/** `toX`, `toY`: from the trace's own values to mm. */
export function pointsOfTrace({ x, y, force, t }: InkTrace, toX: (v: number) => number = Number, toY: (v: number) => number = Number): Points {
  const n = x.length;
  const points: Points = { n, xy: new Int32Array(2 * n), p: new Uint8Array(n), t: new Int32Array(n) };
  for (let i = 0; i < n; i++) {
    points.xy[2 * i] = round(100 * toX(x[i]));
    points.xy[2 * i + 1] = round(100 * toY(y[i]));
    points.p[i] = force ? round(force[i] * PRESSURE_MAX) : EVEN;
    points.t[i] = round(t[i]);
  }
  return points;
}

/** What of a trace this program wrote itself: areas, shapes, fills. */
export function placedOfTrace(points: Points, { notes, brush }: Pick<InkTrace, 'notes' | 'brush'>, base: Omit<Parameters<typeof makeStroke>[1], 'pen'>, pen: Pen): Placed {
  const extras = parsed(notes.extras);
  const area = notes.kind === 'area' ? areaKind.schema.safeParse(extras) : null;
  if (area?.success) return makeArea(points, { ...base, ...(area.data as { fill: string }) });
  return makeStroke(points, { ...base, pen: { ...pen, ...brush }, ...readExtras(extras) });
}

/** The ink of a bundle. Traces without page or id get those of `fallback`; those of no known size count as 1/100 mm. @throws InkmlError when the text is not InkML. */
export function readInkml(text: string, fallback: { page: string; pen: Pen; id: () => string; wall: number }): Placed[] {
  return readTraces(text).map((trace) => {
    const { notes, isMm } = trace;
    const mm = (v: number) => (isMm ? v : v / 100);
    const at = Number(notes.at);
    const wall = Number(notes.wall ?? NaN);
    const base = {
      id: trace.id.replace(/^s/, '') || fallback.id(),
      page: notes.page || fallback.page,
      stamp: notes.take && at >= 0 ? { take: notes.take, at } : null,
      wall: Number.isFinite(wall) ? wall : fallback.wall,
      ...readVersion(notes.version),
    };
    return placedOfTrace(pointsOfTrace(trace, mm, mm), trace, base, fallback.pen);
  });
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
  if (!Array.isArray(v)) return {};
  // Of today it has four parts, before 2026-12 three; then what was known before it.
  const long = typeof v[1] === 'number' ? 4 : 3;
  const [s, past] = [versionOfJson(v.slice(0, long)), pastSchema.safeParse(v[long])];
  return s ? { s, ...(past.success ? { past: past.data } : {}) } : {};
}
