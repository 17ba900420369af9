/** Sound: what is heard of a note, or one of its takes. */
import { z } from 'zod';
import { chaptersAsCsv, chaptersAsVtt, type Chapter } from '../../../core/formats/chapters';
import { plainName, type Exporter, type Handed, type Leaving } from '../../../core/formats/exporter';
import { namesOf } from '../../../core/formats/named';
import { timelinePortions } from '../../../core/formats/sound';
import { MARK_WORDS } from '../../../core/review/markWords';
import { momentsOf } from '../../../core/review/moments';
import { clockText } from '../../../core/time/format';
import { timelineLength, toTimeline, type Stretch } from '../../../core/time/timeline';
import { saidBy } from '../../../core/reading/said';
import { soundAs } from '../handing';
import type { SoundFormat } from '../handingWork';
import { begun } from '../packets';
import { saidOfPages } from './shared';

const TYPES: Readonly<Record<SoundFormat, string>> = { webm: 'audio/webm', ogg: 'audio/ogg', mp4: 'audio/mp4', wav: 'audio/wav', mp3: 'audio/mpeg', flac: 'audio/flac' };
const ENDS: Readonly<Record<SoundFormat, string>> = { webm: 'webm', ogg: 'ogg', mp4: 'm4a', wav: 'wav', mp3: 'mp3', flac: 'flac' };

const options = z.object({ what: z.string().default('timeline'), as: z.enum(['mp3', 'mp4', 'ogg', 'webm', 'wav', 'flac']).default('mp3'), chapters: z.boolean().default(true) });
type Options = z.infer<typeof options>;

/** Marks, headings and moments in the sound that is handed on. */
async function chaptersIn(what: Leaving, stretches: readonly Stretch[]): Promise<Chapter[]> {
  const { note } = what;
  const { header } = note;
  const at = (take: string, ms: number): number | null => toTimeline(stretches, { take, at: ms });
  const out: Chapter[] = [];
  for (const mark of header.marks ?? []) {
    const ms = at(mark.take, mark.at);
    if (ms !== null) out.push({ at: ms, kind: 'mark', title: mark.text ? `${MARK_WORDS[mark.kind]}: ${mark.text}` : MARK_WORDS[mark.kind] });
  }
  const said = await saidOfPages(what);
  for (const { title, stamp } of namesOf(note, header.pages, said)) {
    const ms = stamp && at(stamp.take, stamp.at);
    if (ms !== null) out.push({ at: ms, kind: 'heading', title });
  }
  const tags = new Map((header.tags ?? []).map((t) => [t.stroke, t.names]));
  const groupings = await Promise.all(header.pages.map((p) => what.words(p)));
  const moments = momentsOf(Object.values(note.ink), groupings);
  for (const [i, { id, placed }] of moments.entries()) {
    const first = placed.find((s) => s.stamp);
    const ms = first?.stamp ? at(first.stamp.take, first.stamp.at) : null;
    const names = tags.get(id);
    const says = saidBy(said.get(placed[0].page) ?? [], new Set(placed.map((it) => it.id)));
    if (ms !== null) out.push({ at: ms, kind: 'moment', title: names?.join(', ') ?? (says || `Moment ${i + 1}, page ${header.pages.findIndex((p) => p.id === placed[0].page) + 1}`) });
  }
  return out.sort((a, b) => a.at - b.at);
}

export const soundExporter: Exporter<Options> = {
  name: 'Sound',
  use: 'to listen to anywhere',
  extension: 'mp3',
  type: 'audio/mpeg',
  preview: 'sound',
  paged: false,
  slow: () => true,
  options,
  fields: ({ header }) => [
    { key: 'what', is: 'choice', label: 'What', when: 'alone', choices: [{ value: 'timeline', label: `As it is heard, ${clockText(timelineLength(header.timeline))}` }, ...header.takes.map((t) => ({ value: t.id, label: `All of ${t.name}, ${clockText(t.ms)}` }))] },
    {
      key: 'as',
      is: 'choice',
      label: 'Kind',
      choices: [
        { value: 'mp3', label: 'MP3' },
        { value: 'mp4', label: 'MP4, as it was recorded' },
        { value: 'ogg', label: 'Ogg, as it was recorded' },
        { value: 'webm', label: 'WebM, as it was recorded' },
        { value: 'wav', label: 'WAV' },
        { value: 'flac', label: 'FLAC' },
      ],
    },
    { key: 'chapters', is: 'switch', label: 'Marks, headings and moments beside it' },
  ],
  obstacle: ({ header }) => (header.takes.length ? null : 'There is no sound in this note.'),
  async write(what, { what: which, as, chapters }, work) {
    const { header } = what.note;
    const take = header.takes.find((t) => t.id === which);
    const stretches: readonly Stretch[] = take ? [{ take: take.id, from: 0, to: take.ms }] : header.timeline;
    const length = timelineLength(stretches);
    const { next, head } = await begun(timelinePortions(stretches, (id) => what.sound(id)));
    const list = await chaptersIn(what, stretches);
    const name = plainName(take && header.takes.length > 1 ? `${header.title} ${take.name}` : header.title);
    const blob = await soundAs(as, next, head, { title: header.title || name, date: take?.wall ?? header.made, chapters: list }, length, work);
    if (!blob) throw new Error('there is no sound to be found');
    const out: Handed[] = [{ name: `${name}.${ENDS[as]}`, type: TYPES[as], blob: new Blob([blob], { type: TYPES[as] }) }];
    if (!chapters || !list.length) return out;
    return [...out, { name: `${name}.vtt`, type: 'text/vtt', blob: new Blob([chaptersAsVtt(list, length)], { type: 'text/vtt' }) }, { name: `${name}.csv`, type: 'text/csv', blob: new Blob([chaptersAsCsv(list)], { type: 'text/csv' }) }];
  },
};
