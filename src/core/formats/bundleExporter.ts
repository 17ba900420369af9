/** A note as a bundle, with everything in it. */
import { z } from 'zod';
import type { Packer } from './bundle';
import type { Exporter } from './exporter';

export const bundleExporter = ({ writeBundle }: Pick<Packer, 'writeBundle'>): Exporter<Record<string, never>> => ({
  name: 'Scrivo bundle',
  extension: 'scrivo',
  type: 'application/zip',
  options: z.strictObject({}),
  write: async ({ note, takes, heard, contents }) => writeBundle({ note, takes: await takes(), heard: await heard(), ...(await contents()) }),
});
