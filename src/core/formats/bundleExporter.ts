/** A note as a bundle, with everything in it. */
import { z } from 'zod';
import type { Packer } from './bundle';
import { countPlaced } from '../note/edit';
import { fileName, hasLongSound, type Exporter, type Leaving } from './exporter';

const some = (n: number, one: string, more = `${one}s`): string => `${n} ${n === 1 ? one : more}`;

/** What is in it, in words. */
export const whatIsIn = ({ header, ink }: Leaving['note']): string => {
  const files = header.contents?.length ?? 0;
  return [some(header.pages.length, 'page'), some(countPlaced(ink), 'stroke or thing', 'strokes and things'), ...(header.takes.length ? [some(header.takes.length, 'take')] : []), ...(files ? [some(files, 'picture or file', 'pictures and files')] : [])].join('\n');
};

export const bundleExporter = ({ writeBundle }: Pick<Packer, 'writeBundle'>): Exporter<Record<string, never>> => ({
  name: 'Bundle',
  use: 'everything, for Scrivo elsewhere',
  extension: 'scrivo',
  type: 'application/zip',
  preview: 'text',
  paged: false,
  slow: hasLongSound,
  options: z.strictObject({}),
  fields: () => [],
  async write({ note, takes, heard, contents }) {
    const blob = await writeBundle({ note, takes: await takes(), heard: await heard(), ...(await contents()) });
    return [{ name: fileName(note.header.title, { extension: 'scrivo' }), type: 'application/zip', shown: whatIsIn(note), blob }];
  },
});
