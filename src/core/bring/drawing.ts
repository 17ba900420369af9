/**
 * Drawings (SVG) that come from elsewhere, tamed before anything looks at them: without what runs, moves or leads elsewhere, and counted, since a drawing of a
 * thousand signs can ask for any number of shapes by pointing to its own parts (SVG 2, 5.6: `use`; 13.3: patterns; 13.7: markers; CSS Masking). Plain text in, plain
 * text out: it is done in a worker, without a document.
 */
import { XMLBuilder, XMLParser } from 'fast-xml-parser';

/** A clause why a drawing is not taken. */
export class DrawingError extends Error {
  readonly name = 'DrawingError';
}

/** Signs of its text. */
const MOST_SIGNS = 8 << 20;
/** Shapes that are drawn, those that are pointed to each time they are. */
const MOST_DRAWN = 100_000;
const MOST_DEPTH = 400;
/** What a shape costs that is worked over as a whole picture. */
const FILTER_COST = 2000;

/** What is no drawing: programs, pages of other kinds within it, and what moves. */
const NO_DRAWING = new Set(['script', 'foreignobject', 'iframe', 'object', 'embed', 'audio', 'video', 'animate', 'set', 'animatemotion', 'animatetransform', 'animatecolor', 'handler', 'listener', 'discard']);
/** Drawn only where something points to them. */
const DEFINED = new Set(['defs', 'symbol', 'pattern', 'mask', 'clippath', 'marker', 'filter', 'lineargradient', 'radialgradient', 'title', 'desc', 'metadata', 'style']);
const SHAPES = new Set(['path', 'rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon', 'text', 'tspan', 'textpath', 'image']);

type Attributes = Record<string, string>;
type Raw = Record<string, unknown>;
interface Element {
  readonly name: string;
  readonly raw: Raw;
  readonly attributes: Attributes;
  readonly children: readonly Element[];
}

const OPTIONS = { preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', trimValues: false, parseTagValue: false, parseAttributeValue: false, processEntities: true, htmlEntities: true, commentPropName: '#comment', cdataPropName: '#cdata', ignorePiTags: true, ignoreDeclaration: true } as const;
const parser = new XMLParser(OPTIONS);
const builder = new XMLBuilder({ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', suppressEmptyNode: true, cdataPropName: '#cdata', processEntities: true });

const local = (name: string): string => name.replace(/^.*:/, '').toLowerCase();
const nameOf = (raw: Raw): string => Object.keys(raw).find((k) => k !== ':@') ?? '#text';

/** Addresses within the drawing; a picture in it may be its own bytes. */
const isWithin = (value: string): boolean => /^\s*(#|data:image\/(png|jpeg|webp|gif)[;,])/i.test(value);
/** Ids that a value points to by `url(#…)`. */
const pointedTo = (value: string): string[] => [...value.matchAll(/url\(\s*['"]?\s*#([^'")\s]+)/gi)].map((m) => m[1]);
const leadsOut = (value: string): boolean => /url\(\s*['"]?\s*(?!['"]?\s*#)/i.test(value) || /\\/.test(value);

/** Without what is not drawn; null where nothing is left. */
function tamed(raw: Raw, depth: number): { raw: Raw; element: Element | null } | null {
  const name = nameOf(raw);
  if (name === '#text' || name === '#cdata') return { raw, element: null };
  if (name.startsWith('#') || name.startsWith('?')) return null;
  if (depth > MOST_DEPTH) throw new DrawingError('it is nested too deeply');
  if (NO_DRAWING.has(local(name))) return null;
  const attributes: Attributes = {};
  for (const [key, value] of Object.entries((raw[':@'] ?? {}) as Attributes)) {
    const is = local(key);
    const text = String(value);
    const leads = (is === 'href' || is === 'src') && !isWithin(text);
    if (is.startsWith('on') || leads || leadsOut(text) || (is === 'base' && key.includes(':'))) continue;
    attributes[key] = text;
  }
  const inner = raw[name] as Raw[];
  const isStyle = local(name) === 'style';
  const kept = (Array.isArray(inner) ? inner : []).flatMap((child) => {
    const one = tamed(child, depth + 1);
    if (!one) return [];
    return isStyle ? [{ raw: { '#text': tamedStyle(one.raw) }, element: null }] : [one];
  });
  const element: Element = { name: local(name), raw, attributes, children: kept.flatMap((k) => k.element ?? []) };
  const next: Raw = { [name]: kept.map((k) => k.raw), ...(Object.keys(attributes).length ? { ':@': attributes } : {}) };
  return { raw: next, element: { ...element, raw: next } };
}

/** A style sheet without what it would fetch. Escapes could hide anything, and none is needed. */
function tamedStyle(raw: Raw): string {
  const text = raw['#text'] ?? ((raw['#cdata'] as Raw[] | undefined)?.[0] as Raw | undefined)?.['#text'] ?? '';
  return String(text).replaceAll('\\', '').replace(/@import[^;]*;?/gi, '').replace(/url\(\s*['"]?\s*(?!['"]?\s*#)[^)]*\)/gi, 'none');
}

const textIn = (raw: Raw): string => {
  const name = nameOf(raw);
  if (name === '#text') return String(raw['#text']);
  return Array.isArray(raw[name]) ? (raw[name] as Raw[]).map(textIn).join('') : '';
};

/** How many shapes are drawn for an element, all that it points to included. */
function counted(root: Element): number {
  const byId = new Map<string, Element>();
  const sheets: string[] = [];
  let elements = 0;
  const walk = (e: Element): void => {
    elements++;
    const { id } = e.attributes;
    if (id && !byId.has(id)) byId.set(id, e);
    if (e.name === 'style') sheets.push(textIn(e.raw));
    e.children.forEach(walk);
  };
  walk(root);
  const known = new Map<Element, number>();
  const under = new Set<Element>();
  const cost = (e: Element, isAsked: boolean): number => {
    // What is defined is drawn where something points to it.
    if (DEFINED.has(e.name) && !isAsked) return 0;
    if (e.name.endsWith('gradient')) return 1;
    const had = known.get(e);
    if (had !== undefined) return had;
    // What holds itself is not drawn by a browser either.
    if (under.has(e)) return 0;
    under.add(e);
    let sum = SHAPES.has(e.name) ? 1 + (e.attributes.d ?? e.attributes.points ?? '').length / 4000 : 0;
    const target = (id: string) => byId.get(id);
    for (const [key, value] of Object.entries(e.attributes)) {
      const is = local(key);
      if (is === 'href' && value.trim().startsWith('#')) {
        const it = target(value.trim().slice(1));
        if (it) sum += cost(it, true);
      }
      for (const id of pointedTo(value)) {
        const it = target(id);
        if (!it) continue;
        // A marker is drawn at every corner.
        const times = it.name === 'marker' ? Math.max(1, (e.attributes.d ?? e.attributes.points ?? '').split(/[\s,]*[a-zA-Z,\s]+/).length) : 1;
        sum += it.name === 'filter' ? FILTER_COST * Math.max(1, it.children.length) : cost(it, true) * times;
      }
    }
    for (const child of e.children) {
      sum += cost(child, false);
      if (sum > MOST_DRAWN) break;
    }
    under.delete(e);
    known.set(e, sum);
    return sum;
  };
  // A style sheet may have anything drawn by what it points to.
  const bySheet = pointedTo(sheets.join(' ')).flatMap((id) => byId.get(id) ?? []);
  const perElement = bySheet.reduce((sum, e) => sum + (e.name === 'filter' ? FILTER_COST : e.name.endsWith('gradient') ? 0 : cost(e, true)), 0);
  return cost(root, true) + perElement * elements;
}

/** A drawing that may be looked at, as text. @throws DrawingError */
export function tamedDrawing(text: string): string {
  if (text.length > MOST_SIGNS) throw new DrawingError(`it is a drawing (SVG) of ${Math.round(text.length / 1e6)} MB, and ${MOST_SIGNS >> 20} are the most`);
  // Entities of its own can unfold to any size.
  if (/<!ENTITY/i.test(text)) throw new DrawingError('it is a drawing (SVG) with entities of its own, which are not read');
  let all: Raw[];
  try {
    all = parser.parse(text.replace(/^\ufeff/, '')) as Raw[];
  } catch {
    throw new DrawingError('it is a drawing (SVG) that cannot be read');
  }
  const top = all.find((raw) => local(nameOf(raw)) === 'svg');
  const made = top && tamed(top, 0);
  if (!made?.element) throw new DrawingError('it is a drawing (SVG) that cannot be read');
  const drawn = counted(made.element);
  if (!(drawn <= MOST_DRAWN)) throw new DrawingError('it is a drawing (SVG) that asks for too many shapes');
  return builder.build([made.raw]);
}
