/** A note as text that runs on: its text as text, and handwriting, drawings and pictures as pictures in their place. */
import type { Block, Document } from '../../../core/formats/blocks';
import { plainName, type Leaving, type Work } from '../../../core/formats/exporter';
import { namesOf, tagsOf } from '../../../core/formats/named';
import { growBox, unionBox, type Box } from '../../../core/ink/stroke';
import { coveredBy } from '../../../core/note/kinds/kinds';
import { textsOf } from '../../../core/note/tableEdits';
import type { Page } from '../../../core/note/schema';
import { MARK_WORDS } from '../../../core/review/markWords';
import { timedLines } from '../../../core/review/timedLines';
import { clockText } from '../../../core/time/format';
import { heardAt } from '../../../core/time/heardAt';
import { toTimeline } from '../../../core/time/timeline';
import { pictureOfPart } from '../../drawing/partPicture';
import { saidOfPages } from './shared';
import { PdfFile, sourceOf } from '../../pdf/pdfFile';

/** Lines nearer than this belong together, mm. */
const NEAR_MM = 5;
const AIR_MM = 1.5;
/** 200 pixels to the inch: sharp on paper, and no heavier than a photo. */
const FINE = 200 / 25.4;

/** What stands before lines of lists where text is all there is. */
const LIST_WORDS = { none: () => '', dot: () => '• ', number: (n = 1) => `${n}. `, open: () => '☐ ', done: () => '☑ ' } as const;

interface Row {
  readonly box: Box;
  readonly ms: number | null;
  readonly time?: string;
  readonly text?: string;
  /** What its handwriting says, and whether it goes on from the line above. */
  readonly says?: string;
  readonly goesOn?: boolean;
  readonly table?: { readonly rows: readonly (readonly string[])[]; readonly head: boolean };
  /** A heading of which only the text is there, or one that stands over ink. */
  readonly heading?: { readonly level: 1 | 2 | 3; readonly text: string };
}

/** Text of the page that lies behind, line by line. */
async function printedOn(what: Leaving, page: Page): Promise<string> {
  const { content, leaf, password } = page.backdrop ?? {};
  const bytes = content === undefined ? undefined : (await what.contents()).contents.get(content);
  if (!bytes || leaf === undefined) return '';
  const pdf = await PdfFile.open(sourceOf(new Blob([bytes as Uint8Array<ArrayBuffer>])), password);
  try {
    let text = '';
    for (const part of await pdf.text(leaf)) text += part.text + (part.ends ? '\n' : '');
    return text.replace(/\n{3,}/g, '\n\n').trim();
  } finally {
    pdf.close();
  }
}

/** @param pictures handwriting and drawings are drawn; without, their places are only named. @param asText handwriting of which every word was read is text. @param times what was written with sound says when. */
export async function blocksOf(what: Leaving, { times, pictures, asText }: { times: boolean; pictures: boolean; asText: boolean }, work: Work): Promise<Document> {
  const { note, pages } = what;
  const { header } = note;
  const names = namesOf(note, pages, await saidOfPages(what));
  const blocks: Block[] = [];
  let drawn = 0;
  const marks = (header.marks ?? []).flatMap((m) => {
    const ms = toTimeline(header.timeline, m);
    return ms === null ? [] : [{ ms, text: m.text ? `${MARK_WORDS[m.kind]}: ${m.text}` : MARK_WORDS[m.kind] }];
  });
  marks.sort((a, b) => a.ms - b.ms);
  const marksUpTo = (ms: number): void => {
    for (; marks.length && marks[0].ms <= ms; marks.shift()) blocks.push({ is: 'mark', text: marks[0].text, ...(times ? { time: clockText(marks[0].ms) } : {}) });
  };
  for (const [n, page] of pages.entries()) {
    work.signal.throwIfAborted();
    const printed = await printedOn(what, page);
    if (printed) blocks.push({ is: 'text', text: printed });
    const all = note.ink[page.id] ?? [];
    const said = await what.said(page);
    const begins = new Set(said.flatMap((w) => (w.begins ? w.strokes : [])));
    // A heading of ink stands as such already.
    const heads = new Set((header.headings ?? []).flatMap((h) => (asText && h.page === page.id ? h.strokes : [])));
    const lines = timedLines(note, page, await what.words(page), said).filter((l) => !l.typed && !(l.whole && l.ids.every((id) => heads.has(id))));
    const rows: Row[] = lines.map(({ box, heard, ids, text, whole }) => ({
      box, ms: heard?.ms ?? null, ...(heard ? { time: heard.text } : {}), ...(text ? { says: text } : {}), ...(asText && whole ? { text, goesOn: !ids.some((id) => begins.has(id)) } : {}),
    }));
    for (const it of all) {
      if (it.kind !== 'picture' && it.kind !== 'typed' && it.kind !== 'table' && it.kind !== 'solid' && it.kind !== 'axes') continue;
      const heard = heardAt(note, it);
      if (it.kind === 'solid' || it.kind === 'axes') {
        rows.push({ box: it.box, ms: heard?.ms ?? null, ...(heard ? { time: heard.text } : {}) });
        continue;
      }
      // A table that is only written on is a picture, as handwriting is.
      const cells = it.kind === 'table' ? textsOf(it) : null;
      if (it.kind === 'table') {
        rows.push({ box: it.box, ms: heard?.ms ?? null, ...(heard ? { time: heard.text } : {}), ...(cells!.some((row) => row.some(Boolean)) ? { table: { rows: cells!, head: it.head === true } } : {}) });
        continue;
      }
      rows.push({ box: it.box, ms: heard?.ms ?? null, ...(heard ? { time: heard.text } : {}), ...(it.text ? { text: it.kind === 'typed' ? `${LIST_WORDS[it.list ?? 'none'](it.nth)}${it.text}` : it.text } : {}) });
    }
    for (const h of names) if (h.page === n) rows.push({ box: [0, h.y - 0.01, 0, h.y - 0.01], ms: null, heading: { level: h.level, text: h.title } });
    rows.sort((a, b) => a.box[1] - b.box[1]);
    let open: { box: Box; row: Row; says: string[] } | null = null;
    /** The text of handwriting that a line may go on. */
    let hand = null as Extract<Block, { is: 'text' }> | null;
    const close = async (): Promise<void> => {
      if (!open) return;
      const { box, row, says } = open;
      open = null;
      const time = times && row.time ? { time: row.time } : {};
      const part = growBox(box, AIR_MM);
      const alt = `Handwriting on page ${header.pages.findIndex((p) => p.id === page.id) + 1}${row.time ? `, from ${row.time}` : ''}${says.length ? `: ${says.join(' ')}` : ''}`;
      drawn++;
      const within = all.filter((it) => meets(coveredBy(it), part));
      const png = pictures ? new Uint8Array(await (await pictureOfPart({ page, placed: within, part, paper: false, contents: () => what.contents() }, FINE)).arrayBuffer()) : new Uint8Array(0);
      blocks.push({ is: 'picture', name: `${plainName(header.title)} ${String(drawn).padStart(3, '0')}.png`, png, w: part[2] - part[0], h: part[3] - part[1], alt, ...time });
    };
    for (const row of rows) {
      if (row.heading || row.text || row.table) await close();
      if (row.heading) blocks.push({ is: 'heading', ...row.heading });
      else if (row.table) blocks.push({ is: 'table', ...row.table, ...(times && row.time ? { time: row.time } : {}) });
      else if (row.text && row.goesOn && blocks.at(-1) === hand && hand) {
        hand = { ...hand, text: `${hand.text}\n${row.text}` };
        blocks[blocks.length - 1] = hand;
      } else if (row.text && row.goesOn !== undefined) {
        if (row.ms !== null) marksUpTo(row.ms);
        hand = { is: 'text', text: row.text, ...(times && row.time ? { time: row.time } : {}) };
        blocks.push(hand);
      } else if (row.text) blocks.push({ is: 'text', text: row.text, ...(times && row.time ? { time: row.time } : {}) });
      else if (open && row.box[1] <= (open as { box: Box }).box[3] + NEAR_MM && !(marks.length && row.ms !== null && marks[0].ms < row.ms)) open = { box: unionBox((open as { box: Box }).box, row.box), row: (open as { row: Row }).row, says: [...(open as { says: string[] }).says, ...(row.says ? [row.says] : [])] };
      else {
        await close();
        if (row.ms !== null) marksUpTo(row.ms);
        open = { box: row.box, row, says: row.says ? [row.says] : [] };
      }
    }
    await close();
    work.progress((n + 1) / pages.length);
  }
  marksUpTo(Infinity);
  return { title: header.title || 'Note', made: new Date(header.made).toLocaleDateString('en', { dateStyle: 'long' }), tags: tagsOf(header), blocks };
}

const meets = (a: Box, b: Box): boolean => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];
