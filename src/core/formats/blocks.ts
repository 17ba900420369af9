/** A note as text that runs on: what its text formats are made from. */

export type Block =
  | { readonly is: 'heading'; readonly level: 1 | 2 | 3; readonly text: string; readonly time?: string }
  | { readonly is: 'text'; readonly text: string; readonly time?: string }
  | { readonly is: 'mark'; readonly text: string; readonly time?: string }
  /** Rows of cells, all as long as the first; `head`: the first names what stands below it. */
  | { readonly is: 'table'; readonly rows: readonly (readonly string[])[]; readonly head: boolean; readonly time?: string }
  /** Handwriting, drawings and pictures in their place. mm. */
  | { readonly is: 'picture'; readonly name: string; readonly png: Uint8Array; readonly w: number; readonly h: number; readonly alt: string; readonly time?: string };

export interface Document {
  readonly title: string;
  /** When it was made, in words. */
  readonly made: string;
  readonly tags: readonly string[];
  readonly blocks: readonly Block[];
}

const timed = ({ time }: Block): string => (time ? `[${time}] ` : '');

/** What begins a line or a word of Markdown is said plainly (CommonMark 0.31, section 2.4: backslash escapes). */
const plain = (text: string): string => text.replace(/[\\`*_{}[\]<>#|~]/g, '\\$&').replace(/^(\s*)([-+]|\d+[.)])(?=\s)/gm, '$1\\$2');

/** `folder`: where its pictures lie beside it. */
export function asMarkdown({ title, made, tags, blocks }: Document, folder: string): string {
  const parts = [`# ${plain(title)}`, made + (tags.length ? ` · ${tags.map(plain).join(', ')}` : '')];
  for (const b of blocks) {
    if (b.is === 'heading') parts.push(`${'#'.repeat(b.level + 1)} ${timed(b)}${plain(b.text)}`);
    else if (b.is === 'mark') parts.push(`> ${timed(b)}**${plain(b.text)}**`);
    else if (b.is === 'text') parts.push(b.text.split('\n').map((line, i) => (i ? '' : timed(b)) + plain(line)).join('  \n'));
    else if (b.is === 'table') parts.push(`${b.time ? `${timed(b)}\n\n` : ''}${markdownTable(b)}`);
    else parts.push(`${b.time ? `${timed(b)}\n\n` : ''}![${plain(b.alt)}](${encodeURI(`${folder}/${b.name}`)})`);
  }
  return `${parts.join('\n\n')}\n`;
}

/** Tables of GitHub Flavored Markdown 0.29, section 4.10: a header row is needed, and may be empty. */
function markdownTable({ rows, head }: Extract<Block, { is: 'table' }>): string {
  const line = (cells: readonly string[]) => `| ${cells.map((text) => plain(text).replaceAll('\n', '<br>')).join(' | ')} |`;
  const [first, ...rest] = head ? rows : [rows[0].map(() => ''), ...rows];
  return [line(first), `|${first.map(() => ' --- |').join('')}`, ...rest.map(line)].join('\n');
}

export function asPlainText({ title, made, tags, blocks }: Document): string {
  const parts = [title, made + (tags.length ? ` · ${tags.join(', ')}` : '')];
  for (const b of blocks) parts.push(b.is === 'table' ? `${timed(b)}${b.time ? '\n' : ''}${b.rows.map((row) => row.map((t) => t.replaceAll('\n', ' ')).join('\t')).join('\n')}` : b.is === 'picture' ? `${timed(b)}(${b.alt})` : b.is === 'heading' ? `${timed(b)}${b.text}\n${'-'.repeat(Math.min(72, [...b.text].length))}` : `${timed(b)}${b.text}`);
  return `${parts.join('\n\n')}\n`;
}

/** Text in RTF 1.9.1: what is not ASCII as `\uN` with nothing in its stead, signs of its own with a backslash. */
export function rtfText(text: string): string {
  let out = '';
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === 0x0a) out += '\\line ';
    else if (c === 0x09) out += '\\tab ';
    else if (c === 0x5c || c === 0x7b || c === 0x7d) out += `\\${text[i]}`;
    else if (c < 0x20) continue;
    else if (c < 0x7f) out += text[i];
    // A signed number of 16 bits; what lies beyond is two of them, as in UTF-16.
    else out += `\\u${c > 0x7fff ? c - 0x10000 : c} `;
  }
  return out;
}

/** To the mm: twentieths of a point. */
const TWIPS = (72 / 25.4) * 20;
/** Between the margins of a page, mm. */
const WIDE_MM = 165;

export function asRtf({ title, made, tags, blocks }: Document): string {
  const out = ['{\\rtf1\\ansi\\ansicpg1252\\uc0\\deff0{\\fonttbl{\\f0\\fswiss Atkinson Hyperlegible;}{\\f1\\froman Literata;}}', `{\\info{\\title ${rtfText(title)}}{\\keywords ${rtfText(tags.join(', '))}}}`, '\\paperw11906\\paperh16838\\margl1247\\margr1247'];
  const par = (look: string, text: string) => out.push(`{\\pard\\sa120 ${look}${text}\\par}`);
  par('\\f1\\fs40\\b ', rtfText(title));
  par('\\f0\\fs20\\i ', rtfText(made + (tags.length ? ` · ${tags.join(', ')}` : '')));
  for (const b of blocks) {
    if (b.is === 'heading') par(`\\outlinelevel${b.level - 1}\\f1\\b\\fs${[0, 32, 28, 24][b.level]} `, rtfText(timed(b) + b.text));
    else if (b.is === 'text') par('\\f0\\fs22 ', rtfText(timed(b) + b.text));
    else if (b.is === 'mark') par('\\f0\\fs22\\b ', rtfText(timed(b) + b.text));
    else if (b.is === 'table') {
      if (b.time) par('\\f0\\fs18 ', rtfText(b.time));
      const wide = Math.round((WIDE_MM * TWIPS) / b.rows[0].length);
      const borders = ['t', 'l', 'b', 'r'].map((side) => `\\clbrdr${side}\\brdrs\\brdrw10`).join('');
      b.rows.forEach((row, r) => out.push(`{\\trowd\\trgaph80${row.map((_, i) => `${borders}\\cellx${wide * (i + 1)}`).join('')}\n${row.map((text) => `\\pard\\intbl\\f0\\fs20${b.head && r === 0 ? '\\b' : ''} ${rtfText(text)}\\cell`).join('\n')}\\row}`));
      out.push('{\\pard\\par}');
    } else {
      const k = Math.min(1, WIDE_MM / b.w);
      const hex = Array.from(b.png, (v) => v.toString(16).padStart(2, '0')).join('').replace(/(.{128})/g, '$1\n');
      if (b.time) par('\\f0\\fs18 ', rtfText(b.time));
      out.push(`{\\pard\\sa120{\\pict\\pngblip\\picwgoal${Math.round(b.w * k * TWIPS)}\\pichgoal${Math.round(b.h * k * TWIPS)}\n${hex}}\\par}`);
    }
  }
  return `${out.join('\n')}}`;
}
