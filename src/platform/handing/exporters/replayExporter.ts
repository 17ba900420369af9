/** A note as one page that plays it back anywhere. */
import { z } from 'zod';
import { fileName, hasLongSound, type Exporter } from '../../../core/formats/exporter';
import { namesOf } from '../../../core/formats/named';
import { sheetMark, writeReplay, type ReplayNote, type ReplayStroke } from '../../../core/formats/replay';
import { timelinePortions } from '../../../core/formats/sound';
import { headsOf, isOpen } from '../../../core/ink/shapes/shape';
import { boxesMeet, makeStroke, type Stroke } from '../../../core/ink/stroke';
import { coveredBy, isStroke, paintOrder, type Placed } from '../../../core/note/kinds/kinds';
import type { Slip } from '../../../core/note/kinds/slip';
import { momentOf, type Typed } from '../../../core/note/kinds/typed';
import { MARK_WORDS } from '../../../core/review/markWords';
import { clockText } from '../../../core/time/format';
import { timelineLength, toTimeline } from '../../../core/time/timeline';
import { pictureOfPart } from '../../drawing/partPicture';
import { soundAs } from '../handing';
import { begun } from '../packets';
import { describe, saidHere } from '../../../core/reading/said';
import { dataUrl, linksOf, ownFile, pausesIn, pictureType, saidOfPages, shownOf } from './shared';

const options = z.object({ sound: z.boolean().default(true), second: z.boolean().default(true) });
type Options = z.infer<typeof options>;

/** Heads of an arrow as strokes that are heard with it. */
function withHeads(it: Stroke): Stroke[] {
  if (!it.shape || !isOpen(it.shape)) return [it];
  const heads = headsOf(it.shape, it.pen.width).map((head, i) => {
    const xy = Int32Array.from(head.flatMap(([x, y]) => [Math.round(100 * x), Math.round(100 * y)]));
    const { shape: _, fill: __, ...rest } = it;
    return makeStroke({ n: 3, xy, p: new Uint8Array(3).fill(64), t: new Int32Array(3) }, { ...rest, id: `${it.id}-${i}`, pen: { ...it.pen, line: undefined } });
  });
  return [it, ...heads];
}

export const replayExporter: Exporter<Options> = {
  name: 'Replay page',
  use: 'one file that plays the note in any browser',
  extension: 'html',
  type: 'text/html',
  preview: 'text',
  paged: true,
  slow: hasLongSound,
  options,
  fields: ({ header }) => (header.takes.length ? [{ key: 'sound', is: 'switch', label: 'With its sound' }, { key: 'second', is: 'switch', label: 'What the second pass added' }] : []),
  async write(what, chosen, work) {
    const { note } = what;
    const { header } = note;
    const { timeline } = header;
    const shown = shownOf({ ...what, chosen: [] }, { second: chosen.second });
    const length = timelineLength(timeline);
    let sound: Blob | null = null;
    if (chosen.sound && header.takes.length) {
      const { next, head } = await begun(timelinePortions(timeline, (take) => what.sound(take)));
      sound = await soundAs('mp4', next, head, { title: header.title, date: header.made, chapters: [] }, length, work);
      if (sound) sound = new Blob([sound], { type: 'audio/mp4' });
    }
    const { contents } = await what.contents();
    const pictures = new Map<string, string>();
    const strokes: ReplayStroke[] = [];
    const words: { page: number; name: string }[] = [];
    const still = new Set<string>();
    const pages: ReplayNote['pages'][number][] = [];
    for (const [n, { page, placed, of }] of shown.entries()) {
      work.signal.throwIfAborted();
      for (const it of placed) {
        const bytes = it.kind === 'picture' && !pictures.has(it.content) ? contents.get(it.content) : undefined;
        if (it.kind === 'picture' && bytes) pictures.set(it.content, await dataUrl(bytes, pictureType(bytes)));
      }
      const behind = page.backdrop ? await dataUrl(await pictureOfPart({ page: { ...page, paper: { ...page.paper, kind: 'plain' } }, placed: [], part: [0, 0, page.w, page.h], paper: true, contents: () => what.contents() }, 150 / 25.4), 'image/png') : null;
      const slips = placed.filter((it): it is Slip => it.kind === 'slip');
      const hidden = slips.length ? placed.filter((it): it is Stroke => isStroke(it) && slips.some((s) => paintOrder(s, it) > 0 && boxesMeet(s.box, coveredBy(it)))) : [];
      for (const it of hidden) still.add(it.id);
      const filled = placed.flatMap((it): Placed[] => (isStroke(it) && it.fill ? [{ ...it, kind: 'area', fill: it.fill }] : []));
      const read = saidHere(await what.said(of), placed);
      pages.push({ page, says: describe(read), placed: [...filled, ...placed.filter((it) => !isStroke(it) || still.has(it.id))], behind, links: linksOf(header, placed, shown, { page: (i) => `#${sheetMark(i)}`, ...(sound ? { moment: (ms) => `#t=${(ms / 1000).toFixed(1)}` } : {}) }) });
      const grouping = await what.words(of);
      const wordOf = new Map<string, number>();
      const said = new Map(read.flatMap((w) => w.strokes.map((id) => [id, w.text] as const)));
      const ordered = [...grouping.lines.flatMap((l) => l.words.map((w) => ({ strokes: grouping.words[w].strokes, what: 'Word' }))), ...grouping.drawings.map((d) => ({ strokes: d.strokes, what: 'Drawing' }))];
      const written = placed.filter((it): it is Stroke => isStroke(it) && !still.has(it.id));
      const here = new Map(written.map((s) => [s.id, s]));
      for (const { strokes: ids, what: kind } of ordered) {
        const own = ids.flatMap((id) => here.get(id) ?? []);
        if (!own.length) continue;
        const times = own.flatMap((s) => toTimeline(timeline, s.stamp) ?? []);
        for (const s of own) wordOf.set(s.id, words.length);
        const says = kind === 'Word' ? said.get(own[0].id) : undefined;
        words.push({ page: n, name: times.length ? `${says ? `“${says}”` : kind} written at ${clockText(Math.min(...times))}, page ${n + 1}: play from here` : `${says ? `“${says}”` : kind} written without sound, page ${n + 1}` });
      }
      for (const s of written.sort((a, b) => a.wall - b.wall)) for (const part of withHeads(s)) strokes.push({ stroke: part, page: n, at: toTimeline(timeline, s.stamp), word: wordOf.get(s.id) ?? null });
    }
    const places = [
      ...namesOf(note, what.pages, await saidOfPages(what)).flatMap(({ title, stamp }) => {
        const ms = toTimeline(timeline, stamp);
        return ms === null ? [] : [{ kind: 'heading' as const, name: title, ms }];
      }),
      ...(header.marks ?? []).flatMap((m) => {
        const ms = toTimeline(timeline, m);
        return ms === null ? [] : [{ kind: 'mark' as const, name: m.text ? `${MARK_WORDS[m.kind]}: ${m.text}` : MARK_WORDS[m.kind], ms }];
      }),
    ].sort((a, b) => a.ms - b.ms);
    const made = new Date(header.made).toLocaleDateString('en', { dateStyle: 'long' });
    const [script, style] = await Promise.all(['/replay/player.js', '/replay/player.css'].map(async (f) => (await ownFile(f)).text()));
    const blob = await writeReplay({ title: header.title || 'Note', made, still, heard: (it, letter) => toTimeline(timeline, letter === undefined ? it.stamp : momentOf(it as Typed, letter).stamp), pages, pictures, strokes, words, places: sound ? places : [], pauses: sound ? await pausesIn(what, length) : [], length, sound }, { script, style });
    const is = [`${pages.length === 1 ? '1 page' : `${pages.length} pages`}, ${words.length} words and drawings to touch`, sound ? `${clockText(length)} of sound` : 'without sound', ...places.map((p) => `${clockText(p.ms)} ${p.name}`)];
    return [{ name: fileName(header.title, { extension: 'html' }), type: 'text/html', shown: is.join('\n'), blob }];
  },
};
