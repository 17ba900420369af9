/**
 * What the values of traces mean, as InkML says it (W3C Recommendation, 20 September 2011, sections 3.1, 3.3, 4 and 6): channels with their units, the
 * resolution of the device, where times count from, pens, and how a device lies on the canvas.
 */
import { PEN_KINDS, type Pen, type PenKind } from '../../ink/pen';
import { penSchema } from '../../note/schema';
import { first, named, type Element } from './xml';

export interface Channel {
  readonly name: string;
  readonly min: number | null;
  readonly max: number | null;
  readonly units: string;
  /** It grows to the left, or upwards. */
  readonly negative: boolean;
  /** What stands for a value that is left out. */
  readonly usual: number | null;
  readonly respectTo: string | null;
}

export interface Format {
  readonly channels: readonly Channel[];
  /** So many of them stand in every point. */
  readonly due: number;
}

export interface Context {
  readonly format: Format | null;
  /** The device. */
  readonly source: Element | null;
  /** ms since the epoch. */
  readonly timestamp: number | null;
  readonly brush: Brush | null;
  /** To the canvas: x' = a x + b y + c, y' = d x + e y + f. */
  readonly transform: readonly number[] | null;
}

/** What a brush says of the pen; the rest is that of whoever reads. */
export type Brush = Partial<Pen>;

const plain = (name: string): Channel => ({ name, min: null, max: null, units: '', negative: false, usual: null, respectTo: null });
/** Section 3.1: without a trace format there are X and Y alone. */
export const PLAIN: Format = { channels: [plain('X'), plain('Y')], due: 2 };
const BARE: Context = { format: null, source: null, timestamp: null, brush: null, transform: null };

/** Lengths, mm (section 3.1.1 and common units beside them). */
const LENGTHS: Readonly<Record<string, number>> = { m: 1000, cm: 10, mm: 1, um: 0.001, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6, himetric: 0.01 };
const number = (text: string | undefined): number | null => (text !== undefined && text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : null);
const idOf = (reference: string | undefined): string => (reference ?? '').replace(/^#/, '');

const channelOf = ({ attributes: a }: Element): Channel => ({ name: a.name ?? '', min: number(a.min), max: number(a.max), units: a.units ?? '', negative: a.orientation === '-ve', usual: number(a.default), respectTo: a.respectTo ? idOf(a.respectTo) : null });

function formatOf(e: Element): Format {
  const regular = named(e, 'channel').map(channelOf);
  const others = named(e, 'intermittentChannels').flatMap((i) => named(i, 'channel').map(channelOf));
  return regular.length ? { channels: [...regular, ...others], due: regular.length } : { channels: [...PLAIN.channels, ...others], due: 2 };
}

/** #rgb, #rrggbb, or as the first of those with an opacity behind it. */
function colorOf(text: string | undefined): string | undefined {
  const short = /^#([0-9a-f])([0-9a-f])([0-9a-f])$/i.exec(text ?? '');
  if (short) return `#${short.slice(1).map((d) => d + d).join('')}`.toLowerCase();
  return /^#[0-9a-f]{6}(?:[0-9a-f]{2})?$/i.test(text ?? '') ? text!.slice(0, 7) : undefined;
}

/** Widths beyond which a pen is none, mm. */
const WIDTHS = [0.05, 20] as const;

function brushOf(e: Element, inherited: Brush): Brush {
  const property = (name: string) => named(e, 'brushProperty').find((p) => p.attributes.name === name)?.attributes;
  const note = (type: string) => named(e, 'annotation').find((a) => a.attributes.type === type)?.text;
  const look = penSchema.pick({ line: true, angle: true }).safeParse({ line: note('line'), ...(note('angle') === undefined ? {} : { angle: Number(note('angle')) }) });
  const width = property('width');
  const mm = (number(width?.value) ?? 0) * (LENGTHS[width?.units ?? 'mm'] ?? 0);
  const color = colorOf(property('color')?.value);
  // Section 4.2.2 names the property and leaves its scale open; written here as 0 (full ink) to 255.
  const transparency = number(property('transparency')?.value) ?? 0;
  const kind = PEN_KINDS.find((k) => k === note('kind')) ?? ((property('rasterOp')?.value === 'maskPen' ? 'highlighter' : undefined) satisfies PenKind | undefined);
  return {
    ...inherited,
    ...(kind ? { kind } : {}),
    ...(mm > 0 ? { width: Math.min(WIDTHS[1], Math.max(WIDTHS[0], mm)) } : {}),
    ...(color ? { color } : {}),
    ...(transparency > 0 && transparency <= 255 ? { opacity: Math.round(100 * (1 - transparency / 255)) / 100 } : {}),
    ...(look.success && look.data.line ? { line: look.data.line } : {}),
    ...(look.success && look.data.angle !== undefined ? { angle: look.data.angle } : {}),
  };
}

/** Millimetres a unit of a channel, where they can be told. */
export function mmPerUnit({ name, units }: Channel, source: Element | null): number | null {
  if (units in LENGTHS) return LENGTHS[units];
  const resolution = named(first(source ?? undefined, 'channelProperties'), 'channelProperty').find((p) => p.attributes.channel === name && p.attributes.name === 'resolution')?.attributes;
  const value = number(resolution?.value);
  if (value === null || value <= 0) return null;
  // Values a length, such as 1/cm; or a length a value.
  const per = /^1\s*\/\s*(\w+)$/.exec(resolution?.units ?? '');
  if (per) return per[1] in LENGTHS ? LENGTHS[per[1]] / value : null;
  return (resolution?.units ?? '') in LENGTHS ? value * LENGTHS[resolution!.units] : null;
}

/** ms between two points where no times were written. */
export function paceOf(source: Element | null): number | null {
  const rate = number(first(source ?? undefined, 'sampleRate')?.attributes.value);
  return rate !== null && rate > 0 ? 1000 / rate : null;
}

/** All that a file defines, by its ids. */
export class Definitions {
  private readonly byId = new Map<string, Element>();
  private readonly contexts = new Map<string, Context>();

  constructor(root: Element) {
    const walk = (e: Element) => {
      if (e.attributes.id && !this.byId.has(e.attributes.id)) this.byId.set(e.attributes.id, e);
      e.children.forEach(walk);
    };
    walk(root);
  }

  element(reference: string | undefined, name?: string): Element | undefined {
    const found = reference === undefined ? undefined : this.byId.get(idOf(reference));
    return name === undefined || found?.name === name ? found : undefined;
  }

  brush(reference: string | undefined, seen = 0): Brush | null {
    const e = this.element(reference, 'brush');
    // A brush may build on another, and a hostile file on itself.
    return e && seen < 20 ? brushOf(e, this.brush(e.attributes.brushRef, seen + 1) ?? {}) : null;
  }

  /** ms since the epoch of a moment (section 4.4). */
  moment(e: Element | undefined, seen = 0): number | null {
    if (!e || seen > 20) return null;
    const { time, timeString, timestampRef, timeOffset } = e.attributes;
    const said = timeString === undefined ? NaN : Date.parse(timeString);
    const from = number(time) ?? (Number.isNaN(said) ? null : said) ?? this.moment(this.element(timestampRef, 'timestamp'), seen + 1);
    return from === null ? null : from + (number(timeOffset) ?? 0);
  }

  /** A context by its reference. */
  context(reference: string | undefined, seen = 0): Context | null {
    const id = idOf(reference);
    const known = this.contexts.get(id);
    if (known) return known;
    const e = this.element(reference, 'context');
    if (!e || seen > 20) return null;
    const made = this.contextOf(e, BARE, seen);
    this.contexts.set(id, made);
    return made;
  }

  /** What a context element says, on top of what it refers to, on top of what held before it. */
  contextOf(e: Element, before: Context, seen = 0): Context {
    const base = this.context(e.attributes.contextRef, seen + 1) ?? before;
    const own = (name: string, reference: string) => first(e, name) ?? this.element(e.attributes[reference], name);
    const source = own('inkSource', 'inkSourceRef');
    const format = own('traceFormat', 'traceFormatRef') ?? first(source, 'traceFormat') ?? this.element(source?.attributes.traceFormatRef, 'traceFormat');
    const brush = first(e, 'brush');
    const transform = own('canvasTransform', 'canvasTransformRef');
    const mapping = first(transform, 'mapping') ?? this.element(transform?.attributes.mappingRef, 'mapping');
    return {
      format: format ? formatOf(format) : base.format,
      source: source ?? base.source,
      timestamp: this.moment(own('timestamp', 'timestampRef')) ?? base.timestamp,
      brush: (brush ? brushOf(brush, {}) : this.brush(e.attributes.brushRef)) ?? base.brush,
      transform: affine(first(mapping, 'affine')?.text) ?? base.transform,
    };
  }

  /** What holds where nothing is said: the file's own first format, as some say it without a context. */
  usual(root: Element): Context {
    const anywhere = (name: string) => first(first(root, 'definitions'), name) ?? first(root, name);
    const byName = this.context('#DefaultContext');
    if (byName) return byName;
    const source = anywhere('inkSource') ?? null;
    const format = anywhere('traceFormat') ?? first(source ?? undefined, 'traceFormat');
    const only = named(first(root, 'definitions'), 'context');
    const base: Context = { ...BARE, source, format: format ? formatOf(format) : null };
    return format || !only.length ? base : this.contextOf(only[0], base);
  }
}

/** "a b c, d e f" (section 6.2). */
function affine(text: string | undefined): number[] | null {
  const rows = (text ?? '').split(',').map((row) => row.trim().split(/\s+/).map(Number));
  return rows.length === 2 && rows.every((r) => r.length === 3 && r.every(Number.isFinite)) ? rows.flat() : null;
}
