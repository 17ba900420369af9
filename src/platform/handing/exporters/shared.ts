/** What several exporters need: the ink of a page, a page's own box, bytes as an address. */
import { z } from 'zod';
import type { Field, Leaving } from '../../../core/formats/exporter';
import { growBox, unionBox, type Box } from '../../../core/ink/stroke';
import { coveredBy, inSight, type Placed } from '../../../core/note/kinds/kinds';
import { cutFrom, extentOf, sheetsOf, wholePage } from '../../../core/note/board';
import { SIZES } from '../../../core/note/paper';
import { placesOf } from '../../../core/note/links';
import type { NoteHeader, Page, RefTarget } from '../../../core/note/schema';
import type { SvgLink } from '../../../core/formats/svg';
import type { Said } from '../../../core/reading/said';
import { clockText } from '../../../core/time/format';
import { spansOnTimeline } from '../../../core/time/onTimeline';
import { toTimeline } from '../../../core/time/timeline';

/** What a link of a file may lead to. */
export const WEB = /^(https?:\/\/|mailto:)/i;

/** Air around what was chosen, mm. */
const AIR_MM = 2;

/** A page as it is handed on: a board is cut into one sheet or several, and what lies on them is counted from their own corners. */
export interface Shown {
  readonly page: Page;
  readonly placed: readonly Placed[];
  /** What of it is shown. */
  readonly part: Box;
  /** The page of the note, and where the sheet lies on it. */
  readonly of: Page;
  readonly at: Box;
}

/** How boards are handed on, where a note has some. */
export const BOARDS: Field = { key: 'boards', is: 'choice', label: 'Boards', choices: [{ value: 'whole', label: 'One large page' }, { value: 'A4', label: 'Sheets of A4' }, { value: 'US Letter', label: 'Sheets of US Letter' }] };
export const boards = z.enum(['whole', 'A4', 'US Letter']).default('whole');
export const boardsOf = ({ header }: Pick<Leaving['note'], 'header'>): readonly Field[] => (header.pages.some((p) => p.board) ? [BOARDS] : []);

/** What is drawn: what was chosen on a page, or the pages. `second`: with what was written while listening. @throws Error when there is nothing */
export function shownOf({ note, chosen, pages }: Leaving, { second = true, boards: as = 'whole' }: { readonly second?: boolean; readonly boards?: z.infer<typeof boards> } = {}): Shown[] {
  const wanted = (list: readonly Placed[]) => (second ? inSight(list) : inSight(list).filter((it) => !it.second));
  const size = SIZES.get(as);
  if (!chosen.length) {
    return pages.flatMap((of) => {
      const placed = wanted(note.ink[of.id] ?? []);
      const cuts = size ? sheetsOf(of, placed, size) : [wholePage(of, placed)];
      return cuts.map(({ page, placed: here, part }): Shown => ({ page, placed: here, part: [0, 0, page.w, page.h], of, at: part }));
    });
  }
  const of = note.header.pages.find((p) => p.id === chosen[0].page);
  if (!of) throw new Error('nothing is selected');
  const box = growBox(chosen.map(coveredBy).reduce(unionBox), AIR_MM);
  if (!of.board) return [{ page: of, placed: chosen, part: box, of, at: extentOf(of) }];
  const { page, placed } = cutFrom(of, chosen, box);
  return [{ page, placed, part: [0, 0, page.w, page.h], of, at: box }];
}

/** Where links of a page lead that is handed on; `address`: of a page of the file (from 0), or of a moment of its sound (ms of the timeline); null where the file has none. */
export function linksOf(header: NoteHeader, placed: readonly Placed[], shown: readonly Pick<Shown, 'of'>[], address: { readonly page: (index: number) => string; readonly moment?: (ms: number) => string }): SvgLink[] {
  const leadsTo = (to: RefTarget): { readonly href: string; readonly name: string } | null => {
    if (to.is === 'web') return WEB.test(to.url) ? { href: to.url, name: `Link to ${to.url}` } : null;
    if (to.is === 'page') {
      const i = shown.findIndex((s) => s.of.id === to.page);
      return i < 0 ? null : { href: address.page(i), name: `Link to page ${header.pages.findIndex((p) => p.id === to.page) + 1}` };
    }
    const ms = to.is === 'moment' ? toTimeline(header.timeline, to) : null;
    // Other notes lie beside the file, and have no address there.
    return ms !== null && address.moment ? { href: address.moment(ms), name: `Link to ${clockText(ms)} of the sound` } : null;
  };
  return (header.refs ?? []).flatMap((ref) => {
    const to = leadsTo(ref.to);
    return to ? placesOf(ref, placed).map((box) => ({ box, ...to })) : [];
  });
}

/** Bytes as an address that carries them. */
export async function dataUrl(bytes: Uint8Array | Blob, type: string): Promise<string> {
  const blob = bytes instanceof Blob ? bytes : new Blob([bytes as Uint8Array<ArrayBuffer>], { type });
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(new Error('a picture could not be read'));
    reader.readAsDataURL(blob);
  });
}

/** What kind of picture it is, by how it begins (PNG, JPEG, WebP, GIF). */
export const pictureType = (b: Uint8Array): string => (b[0] === 0x89 ? 'image/png' : b[0] === 0xff ? 'image/jpeg' : b[0] === 0x52 ? 'image/webp' : b[0] === 0x47 ? 'image/gif' : 'application/octet-stream');

/** Numbers a page's file where there are several. */
export const numbered = (name: string, i: number, of: number): string => (of === 1 ? name : `${name} ${String(i + 1).padStart(String(of).length, '0')}`);

/** A file of the program itself. @throws Error with a clause when it is not to be had */
export async function ownFile(path: string): Promise<Response> {
  const answer = await fetch(path).catch(() => null);
  if (!answer?.ok) throw new Error('a part of the program is not here; connect to the network, load the page anew and try again');
  return answer;
}

/** Silence shorter than this is no pause, ms; of a longer one so much stays at both ends. */
const [PAUSE_MS, STAYS_MS] = [1200, 250];

/** Pauses of the speaker on the timeline, ms: what is jumped over when they are skipped. */
export async function pausesIn(what: Leaving, length: number): Promise<[number, number][]> {
  const heard = await what.heard();
  const { timeline, takes } = what.note.header;
  // Where nobody listened to all of it, nothing is known to be a pause.
  if (!takes.every((t) => heard.has(t.id))) return [];
  const out: [number, number][] = [];
  let end = 0;
  for (const { from, to } of [...spansOnTimeline(timeline, (take) => heard.get(take)!.speech), { from: length, to: length }]) {
    if (from - end >= PAUSE_MS) out.push([end + STAYS_MS, from - STAYS_MS]);
    end = Math.max(end, to);
  }
  return out;
}

/** What was read of the pages that are handed on, by their ids. */
export async function saidOfPages(what: Leaving): Promise<ReadonlyMap<string, Said>> {
  const out = new Map<string, Said>();
  for (const page of what.note.header.pages) if (what.note.ink[page.id]?.length) out.set(page.id, await what.said(page));
  return out;
}
