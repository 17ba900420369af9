/** The ink of a note as InkML. */
import { z } from 'zod';
import { placedOrder } from '../../ink/stroke';
import { fileName, type Exporter } from '../exporter';
import { writeInkml } from './write';

export const inkmlExporter: Exporter<Record<string, never>> = {
  name: 'InkML',
  use: 'ink for other programs',
  extension: 'inkml',
  type: 'application/inkml+xml',
  preview: 'text',
  paged: true,
  parts: true,
  options: z.strictObject({}),
  fields: () => [],
  async write({ note, pages, chosen, words, said }) {
    const placed = (chosen.length ? chosen : pages.flatMap((p) => note.ink[p.id] ?? [])).filter((it) => it.kind === 'stroke' || it.kind === 'area');
    if (!placed.length) throw new Error('there is no ink in it');
    const groupings = new Map(await Promise.all((chosen.length ? [] : pages).map(async (p) => [p.id, await words(p)] as const)));
    const texts = new Map(await Promise.all((chosen.length ? [] : pages).map(async (p) => [p.id, await said(p)] as const)));
    const text = writeInkml([...placed].sort(placedOrder), groupings, note.header.takes, texts);
    return [{ name: fileName(note.header.title, { extension: 'inkml' }), type: 'application/inkml+xml', shown: text, blob: new Blob([text], { type: 'application/inkml+xml' }) }];
  },
};
