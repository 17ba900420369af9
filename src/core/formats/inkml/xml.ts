/** XML as a tree in the order it was written, without prefixes of names: a context holds for the traces after it. */
import { XMLParser } from 'fast-xml-parser';
import { InkmlError } from './traceText';

type Raw = Record<string, unknown>;

export interface Element {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly Element[];
  /** What stands in it beside its children. */
  readonly text: string;
}

// Characters by their numbers are among what the package calls entities of HTML.
const parser = new XMLParser({ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', removeNSPrefix: true, trimValues: true, parseTagValue: false, parseAttributeValue: false, htmlEntities: true });

/** Ink is nested a few elements deep. */
const MOST_DEPTH = 200;

function elements(raw: readonly Raw[], depth = 0): Element[] {
  if (depth > MOST_DEPTH) throw new InkmlError('The ink is nested too deeply, or has too many traces.');
  return raw.flatMap((node): Element[] => {
    const name = Object.keys(node).find((k) => k !== ':@');
    if (name === undefined || name.startsWith('?') || name === '#text') return [];
    const inner = node[name] as Raw[];
    const text = inner.map((c) => (typeof c['#text'] === 'string' ? c['#text'] : '')).join('');
    return [{ name, attributes: (node[':@'] ?? {}) as Record<string, string>, children: elements(inner, depth + 1), text }];
  });
}

/** The root element. @throws InkmlError */
export function xmlOf(text: string): Element {
  // Entities of its own can unfold to any size; ink needs none.
  if (/<!(?:DOCTYPE[^>]*\[|ENTITY)/i.test(text)) throw new InkmlError('The ink declares entities of its own, which are not read.');
  let parsed: Raw[];
  try {
    parsed = parser.parse(text) as Raw[];
  } catch (e) {
    throw new InkmlError('The ink is not XML.', { cause: e });
  }
  const root = elements(parsed)[0];
  if (!root) throw new InkmlError('The ink is not XML.');
  return root;
}

export const named = (e: Element | undefined, name: string): Element[] => e?.children.filter((c) => c.name === name) ?? [];
export const first = (e: Element | undefined, name: string): Element | undefined => e?.children.find((c) => c.name === name);
