/** A film: the pages as they were written, with what was said. */
import { z } from 'zod';
import { fileName, type Exporter } from '../../../core/formats/exporter';
import { keptOf, stretchesIn } from '../../../core/film/course';
import { timelinePortions } from '../../../core/formats/sound';
import { PRINT } from '../../../core/note/paper';
import { timelineLength } from '../../../core/time/timeline';
import { behind } from '../../drawing/partPicture';
import { filmFrom } from '../handing';
import { begun } from '../packets';
import { pausesIn, shownOf } from './shared';

const SIZES = { wide: [1280, 720], large: [1920, 1080], high: [720, 1280] } as const;
const TYPES = { mp4: 'video/mp4', webm: 'video/webm' } as const;
const options = z.object({
  as: z.enum(['mp4', 'webm']).default('mp4'),
  size: z.enum(['wide', 'large', 'high']).default('wide'),
  view: z.enum(['line', 'page']).default('line'),
  speed: z.enum(['1', '1.25', '1.5', '2']).default('1'),
  pauses: z.boolean().default(false),
  second: z.boolean().default(true),
});
type Options = z.infer<typeof options>;

export const filmExporter: Exporter<Options> = {
  name: 'Film',
  use: 'the note as it was written, with its sound, to watch',
  extension: 'mp4',
  type: 'video/mp4',
  preview: 'text',
  paged: false,
  slow: () => true,
  options,
  fields: () => [
    { key: 'view', is: 'choice', label: 'Seen', choices: [{ value: 'line', label: 'The line that is written' }, { value: 'page', label: 'The whole page' }] },
    { key: 'size', is: 'choice', label: 'Size', choices: [{ value: 'wide', label: '1280 × 720' }, { value: 'large', label: '1920 × 1080' }, { value: 'high', label: '720 × 1280, upright' }] },
    { key: 'speed', is: 'choice', label: 'Speed', choices: [{ value: '1', label: 'As it was' }, { value: '1.25', label: '1.25×' }, { value: '1.5', label: '1.5×' }, { value: '2', label: '2×' }] },
    { key: 'as', is: 'choice', label: 'Kind', choices: [{ value: 'mp4', label: 'MP4' }, { value: 'webm', label: 'WebM' }] },
    { key: 'pauses', is: 'switch', label: 'Pass over pauses' },
    { key: 'second', is: 'switch', label: 'What the second pass added' },
  ],
  obstacle: ({ header }) => (timelineLength(header.timeline) > 0 ? null : 'There is no sound in this note, and so nothing says when it was written.'),
  async write(what, { as, size, view, speed, pauses, second }, work) {
    const { note } = what;
    const { header } = note;
    const { timeline } = header;
    const length = timelineLength(timeline);
    const skips = pauses ? (await pausesIn(what, length)).map(([from, to]) => ({ from, to })) : [];
    const kept = keptOf(length, skips);
    const { next, head, any } = await begun(timelinePortions(stretchesIn(timeline, kept), (take) => what.sound(take)));
    if (!any) throw new Error('there is no sound to be found');
    const [w, h] = SIZES[size];
    let contents: Promise<Awaited<ReturnType<typeof what.contents>>> | null = null;
    const content = async (hash: string) => (await (contents ??= what.contents())).contents.get(hash) ?? null;
    const shown = shownOf({ ...what, chosen: [], pages: header.pages }, { second });
    const blob = await filmFrom(
      { title: header.title || 'Note', date: header.made, pages: shown.map(({ page }) => page), ink: Object.fromEntries(shown.map(({ page, placed }) => [page.id, placed])), timeline, kept, speed: Number(speed), as, w, h, view, desk: PRINT },
      {
        async backdrop(id, k) {
          const page = header.pages.find((p) => p.id === id);
          const bytes = page?.backdrop ? await content(page.backdrop.content) : null;
          return page && bytes ? behind(page, bytes, k) : null;
        },
        content,
        sound: next,
        head,
      },
      work,
    );
    return [{ name: fileName(header.title, { extension: as }), type: TYPES[as], blob: new Blob([blob], { type: TYPES[as] }) }];
  },
};
