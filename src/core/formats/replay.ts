/**
 * The replay page: one HTML file with ink, things, sound and a small player, which opens from disk without a network and runs no code but its own, by its own
 * policy (W3C, Content Security Policy 3). Sound and ink stand in it byte for byte: the page is of the character set windows-1252, in which every byte is one
 * character, and the few that a page cannot hold are said by two.
 */
import type { Pen } from '../ink/pen';
import type { Stroke } from '../ink/stroke';
import { writeSvg, type SvgOptions, type SvgPage } from './svg';
import { clockText } from '../time/format';

export interface ReplayStroke {
  readonly stroke: Stroke;
  /** Of the pages, from 0. */
  readonly page: number;
  /** ms of the sound; null without. */
  readonly at: number | null;
  /** Of the words, from 0; null for what is of none. */
  readonly word: number | null;
}

export interface ReplayNote {
  readonly title: string;
  /** When it was made, in words. */
  readonly made: string;
  readonly pages: readonly SvgPage[];
  readonly pictures: SvgOptions['pictures'];
  readonly strokes: readonly ReplayStroke[];
  readonly words: readonly { readonly page: number; readonly name: string }[];
  /** Where one can go by name: headings and marks, with their moment in the sound, ms. */
  readonly places: readonly { readonly kind: 'heading' | 'mark'; readonly name: string; readonly ms: number }[];
  /** Runs of the sound in which nobody speaks, ms. */
  readonly pauses: readonly (readonly [number, number])[];
  /** Length of the sound, ms. */
  readonly length: number;
  /** When something is heard, and each letter of a typed line, ms of the sound. */
  readonly heard: NonNullable<SvgOptions['heard']>;
  /** Ids of strokes that lie under something, and stand in the page as it does. */
  readonly still: ReadonlySet<string>;
  /** None where none was recorded, or none is wanted. */
  readonly sound: Blob | null;
}

/** The player's own text; both are plain ASCII. */
export interface Player {
  readonly script: string;
  readonly style: string;
}

const sign = (text: string): string => text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!).replace(/[^\x20-\x7e\n]/gu, (c) => `&#${c.codePointAt(0)};`);
/** JSON in ASCII that ends no script element. */
const json = (value: unknown): string => JSON.stringify(value).replace(/[<>&]|[^\x20-\x7e]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);

/** Bytes that the text of an element cannot hold as they are (HTML, 13.2.3.5 and 13.2.5.4), and the sign that says so. */
const UNFIT = new Set([0x00, 0x0d, 0x3c, 0x3d]);

/** Bytes as they stand in the page. */
export function asCharacters(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length * 2);
  let n = 0;
  for (const b of bytes) {
    if (UNFIT.has(b)) {
      out[n++] = 0x3d;
      out[n++] = (b + 64) & 255;
    } else out[n++] = b;
  }
  return out.slice(0, n);
}

/** How half the width goes with the pressure: `radiusAt` at the pace of a hand. */
function looksOf({ kind, color, width, opacity = 1, line }: Pen) {
  const [a, b] = kind === 'ball' ? [0.92, 0.16] : kind === 'fountain' ? [0.35, 1.3] : kind === 'brush' ? [0.15, 1.7] : kind === 'pencil' ? [0.7, 0.6] : kind === 'chisel' ? [0.6, 0] : [1, 0];
  return { color, width, opacity: kind === 'pencil' ? 0.87 * opacity : opacity, a, b, dash: line === 'dashed' ? [4 * width, 3 * width] : line === 'dotted' ? [0, 2.5 * width] : [], under: kind === 'highlighter' };
}

const hashOf = async (text: string): Promise<string> => `'sha256-${btoa(String.fromCharCode(...new Uint8Array(await globalThis.crypto.subtle.digest('SHA-256', new TextEncoder().encode(text)))))}'`;

/** The name of a page within the file. */
export const sheetMark = (index: number): string => `sheet-${index + 1}`;

/** So much of the sound is put into its characters at a time. */
const PORTION = 1 << 20;

export async function writeReplay(what: ReplayNote, { script, style }: Player): Promise<Blob> {
  const pens = new Map<string, { i: number; pen: Pen }>();
  const penOf = (pen: Pen): number => {
    const key = JSON.stringify(pen);
    const known = pens.get(key) ?? { i: pens.size, pen };
    pens.set(key, known);
    return known.i;
  };
  const strokes = what.strokes.map(({ stroke, page, at, word }) => [page, penOf(stroke.pen), at === null ? -1 : Math.round(at), stroke.second ? 1 : 0, word ?? -1]);
  const data = { length: Math.round(what.length), pens: [...pens.values()].map(({ pen }) => looksOf(pen)), strokes, words: what.words.map((w) => [w.page, w.name]), pauses: what.pauses.map(([a, b]) => [Math.round(a), Math.round(b)]), type: what.sound?.type ?? '' };
  const ink = asCharacters(joined(what.strokes.map(({ stroke }) => stroke.pts)));
  const pages = what.pages.map((page, i) => {
    // Without the strokes, which the player draws; what else lies on the page stands in it.
    const svg = writeSvg([{ ...page, placed: page.placed.filter((it) => it.kind !== 'stroke' || what.still.has(it.id)) }], { paper: true, title: `Page ${i + 1}`, pictures: what.pictures, ...(what.sound ? { heard: what.heard } : {}) }).replace(/^<\?xml[^>]*\?>/, '');
    return `<section class="page" id="${sheetMark(i)}" aria-label="Page ${i + 1}">${svg.replace(/[^\x20-\x7e\n]/gu, (c) => `&#${c.codePointAt(0)};`)}</section>`;
  });
  const list = (kind: 'heading' | 'mark', name: string): string => {
    const some = what.places.filter((p) => p.kind === kind);
    return some.length ? `<h2>${name}</h2><ul>${some.map((p) => `<li><button type="button" data-ms="${Math.round(p.ms)}">${sign(p.name)}, ${clockText(p.ms)}</button></li>`).join('')}</ul>` : '';
  };
  const links = what.pages.flatMap(({ links: some = [] }) => some);
  const leading = links.length ? `<h2>Links</h2><ul>${links.map(({ href, name }) => `<li><a href="${sign(href)}"${href.startsWith('#') ? '' : ' target="_blank" rel="noopener"'}>${sign(name)}</a></li>`).join('')}</ul>` : '';
  const policy = `default-src 'none'; script-src ${await hashOf(script)}; style-src ${await hashOf(style)}; img-src data:; media-src blob:; base-uri 'none'; form-action 'none'`;
  const speeds = [0.5, 0.75, 1, 1.25, 1.5, 2, 3].map((v) => `<option value="${v}"${v === 1 ? ' selected' : ''}>${v}x</option>`).join('');
  const second = what.strokes.some(({ stroke }) => stroke.second);
  const head = `<!doctype html>
<html lang="en">
<head>
<meta charset="windows-1252">
<meta http-equiv="Content-Security-Policy" content="${policy}">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${sign(what.title)}</title>
<style>${style}</style>
</head>
<body>
<header><h1>${sign(what.title)}</h1><p>${sign(what.made)}. ${what.sound ? 'Touch a word to hear what was said then.' : 'Without sound.'}</p></header>
<nav aria-label="Places">${list('heading', 'Headings')}${list('mark', 'Marks')}${leading}</nav>
<main>
${pages.join('\n')}
</main>
<footer id="deck" aria-label="Playing"${what.sound ? '' : ' hidden'}><div>
<input id="seek" type="range" min="0" max="${Math.round(what.length)}" step="100" value="0" aria-label="Position">
<button type="button" id="play">Play</button>
<button type="button" id="back">Back 10 s</button>
<button type="button" id="forward">On 10 s</button>
<span id="time" role="status">0:00</span>
<label>Speed <select id="speed">${speeds}</select></label>
<label${what.pauses.length ? '' : ' hidden'}><input type="checkbox" id="skip">Skip pauses</label>
<label${second ? '' : ' hidden'}><input type="checkbox" id="second" checked>Second pass</label>
<label><input type="checkbox" id="follow" checked>Follow</label>
</div></footer>
<audio id="sound" preload="auto"></audio>
<script type="application/json" id="data">${json(data)}</script>
<script type="application/octet-stream" id="ink">`;
  // The player before the sound: what is written is there before all of the sound was read.
  const parts: BlobPart[] = [head, ink as Uint8Array<ArrayBuffer>, `</script>\n<script>${script}</script>\n<noscript>To play, this page needs scripts to be allowed; its pages can be read without.</noscript>\n`];
  if (what.sound) {
    parts.push('<script type="application/octet-stream" id="bytes">');
    for (let i = 0; i < what.sound.size; i += PORTION) parts.push(asCharacters(new Uint8Array(await what.sound.slice(i, i + PORTION).arrayBuffer())) as Uint8Array<ArrayBuffer>);
    parts.push('</script>\n');
  }
  parts.push('</body>\n</html>\n');
  return new Blob(parts, { type: 'text/html' });
}

function joined(list: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(list.reduce((n, b) => n + b.length, 0));
  let at = 0;
  for (const b of list) {
    out.set(b, at);
    at += b.length;
  }
  return out;
}
