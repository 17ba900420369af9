/** Notes as text: Markdown, plain text, RTF, DOCX. */
import { z } from 'zod';
import { asMarkdown, asPlainText, asRtf, type Document } from '../../../core/formats/blocks';
import { plainName, type Exporter, type Field, type Handed, type Leaving } from '../../../core/formats/exporter';
import { docxOf } from '../handing';
import { blocksOf } from './blocksOf';

const options = z.object({ times: z.boolean().default(false), read: z.boolean().default(false) });
type Options = z.infer<typeof options>;

interface Kind {
  readonly name: string;
  readonly use: string;
  readonly extension: string;
  readonly type: string;
  readonly pictures: boolean;
  file(document: Document, name: string, work: { signal: AbortSignal; progress(share: number): void }): Promise<readonly Handed[]>;
}

const exporter = ({ name, use, extension, type, pictures, file }: Kind): Exporter<Options> => ({
  name,
  use,
  extension,
  type,
  preview: 'text',
  paged: true,
  options,
  fields: ({ header }: Leaving['note']): readonly Field[] => [
    ...(header.takes.length ? [{ key: 'times', is: 'switch', label: 'When it was written' } as const] : []),
    // Where there are no pictures it is always so.
    ...(pictures ? [{ key: 'read', is: 'switch', label: 'Handwriting as text, where all of a line was read' } as const] : []),
  ],
  write: async (what, { times, read }, work) => file(await blocksOf(what, { times, pictures, asText: read || !pictures }, work), plainName(what.note.header.title), work),
});

const text = (name: string, content: string, type: string, shown = content): Handed => ({ name, type, shown, blob: new Blob([content], { type: `${type};charset=utf-8` }) });

export const markdownExporter = exporter({
  name: 'Markdown',
  use: 'text with pictures beside it',
  extension: 'md',
  type: 'text/markdown',
  pictures: true,
  async file(document, name) {
    const folder = `${name} pictures`;
    const pictures = document.blocks.flatMap((b): Handed[] => (b.is === 'picture' ? [{ name: `${folder}/${b.name}`, type: 'image/png', blob: new Blob([b.png as Uint8Array<ArrayBuffer>], { type: 'image/png' }) }] : []));
    return [text(`${name}.md`, asMarkdown(document, folder), 'text/markdown'), ...pictures];
  },
});

export const textExporter = exporter({ name: 'Text', use: 'plain text', extension: 'txt', type: 'text/plain', pictures: false, file: async (document, name) => [text(`${name}.txt`, asPlainText(document), 'text/plain')] });

export const rtfExporter = exporter({ name: 'RTF', use: 'for most word processors', extension: 'rtf', type: 'application/rtf', pictures: true, file: async (document, name) => [text(`${name}.rtf`, asRtf(document), 'application/rtf', asPlainText(document))] });

const DOCX = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
export const docxExporter = exporter({ name: 'DOCX', use: 'for word processors', extension: 'docx', type: DOCX, pictures: true, file: async (document, name, work) => [{ name: `${name}.docx`, type: DOCX, shown: asPlainText(document), blob: new Blob([await docxOf(document, work)], { type: DOCX }) }] });
