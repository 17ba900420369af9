/** A note as DOCX (ISO/IEC 29500), by the package docx. */
import { Document, HeadingLevel, ImageRun, Packer, Paragraph, Table, TableCell, TableRow, TextRun, WidthType } from 'docx';
import type { Block, Document as Blocks } from '../../core/formats/blocks';
import { xmlText } from '../../core/formats/xmlText';

/** 96 px to the inch, as the package counts pictures. */
const PX = 96 / 25.4;
/** Between the margins of a page, mm. */
const WIDE_MM = 160;
const LEVELS = [HeadingLevel.HEADING_1, HeadingLevel.HEADING_2, HeadingLevel.HEADING_3];

const broken = (text: string, bold: boolean): TextRun[] => text.split('\n').map((t, i) => new TextRun({ text: xmlText(t), bold, ...(i ? { break: 1 } : {}) }));

function paragraphs(b: Block): (Paragraph | Table)[] {
  if (b.is !== 'table') return [paragraph(b)];
  const rows = b.rows.map((row, r) => new TableRow({ tableHeader: b.head && r === 0, children: row.map((text) => new TableCell({ children: [new Paragraph({ children: broken(text, b.head && r === 0) })] })) }));
  return [...(b.time ? [new Paragraph({ children: [new TextRun({ text: `[${b.time}]`, color: '5D6B78' })] })] : []), new Table({ rows, width: { size: 100, type: WidthType.PERCENTAGE } }), new Paragraph({})];
}

function paragraph(b: Exclude<Block, { is: 'table' }>): Paragraph {
  const time = b.time ? [new TextRun({ text: `[${b.time}] `, color: '5D6B78' })] : [];
  if (b.is === 'heading') return new Paragraph({ heading: LEVELS[b.level - 1], children: [...time, new TextRun(xmlText(b.text))] });
  if (b.is === 'picture') {
    const k = Math.min(1, WIDE_MM / b.w) * PX;
    return new Paragraph({ spacing: { after: 120 }, children: [...time, new ImageRun({ type: 'png', data: b.png, transformation: { width: b.w * k, height: b.h * k }, altText: { name: b.name, title: xmlText(b.alt), description: xmlText(b.alt) } })] });
  }
  return new Paragraph({ spacing: { after: 120 }, children: [...time, ...broken(b.text, b.is === 'mark')] });
}

export const docxOf = ({ title, made, tags, blocks }: Blocks): Promise<Blob> =>
  Packer.toBlob(
    new Document({
      title: xmlText(title),
      creator: 'Scrivo',
      keywords: tags.join(', '),
      sections: [{ children: [new Paragraph({ heading: HeadingLevel.TITLE, children: [new TextRun(xmlText(title))] }), new Paragraph({ children: [new TextRun({ text: made + (tags.length ? ` · ${tags.map(xmlText).join(', ')}` : ''), italics: true })] }), ...blocks.flatMap(paragraphs)] }],
    }),
  );
