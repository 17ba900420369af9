/** Text that was pasted, as it is set on a page: lines of a width, see-through, in print's fineness. */

const PX_PER_MM = 300 / 25.4;
/** 12 points (1 pt = 25.4 / 72 mm), and the distance of its lines. */
const SIZE_MM = (12 * 25.4) / 72;
const LINE_MM = 1.35 * SIZE_MM;
const FONT = '"Atkinson Hyperlegible", sans-serif';
const AIR_MM = 1;

export interface TextLook {
  readonly color: string;
  /** Underlined, as an address is. */
  readonly link: boolean;
  /** The longest line, mm. */
  readonly width: number;
}

/** Lines no longer than `most` by `measure`; a word that is longer is broken. */
export function brokenInto(text: string, most: number, measure: (line: string) => number): string[] {
  const out: string[] = [];
  for (const part of text.split('\n')) {
    let line = '';
    for (const word of part.trimEnd().split(/\s+/)) {
      const longer = line ? `${line} ${word}` : word;
      if (measure(longer) <= most) {
        line = longer;
        continue;
      }
      if (line) out.push(line);
      line = '';
      for (const letter of word) {
        if (line && measure(line + letter) > most) {
          out.push(line);
          line = '';
        }
        line += letter;
      }
    }
    out.push(line);
  }
  return out;
}

/** Its PNG, and its width and height, mm. @throws Error with a clause */
export async function pictureOfText(text: string, { color, link, width }: TextLook): Promise<{ bytes: Uint8Array; w: number; h: number }> {
  const canvas = document.createElement('canvas');
  const ctx = canvas.getContext('2d')!;
  const font = `${SIZE_MM * PX_PER_MM}px ${FONT}`;
  await document.fonts.load(font);
  ctx.font = font;
  const lines = brokenInto(text, (width - 2 * AIR_MM) * PX_PER_MM, (line) => ctx.measureText(line).width);
  const w = Math.max(...lines.map((line) => ctx.measureText(line).width)) / PX_PER_MM + 2 * AIR_MM;
  const h = lines.length * LINE_MM + 2 * AIR_MM;
  [canvas.width, canvas.height] = [Math.ceil(w * PX_PER_MM), Math.ceil(h * PX_PER_MM)];
  ctx.font = font;
  ctx.fillStyle = color;
  lines.forEach((line, i) => {
    const y = (AIR_MM + i * LINE_MM + SIZE_MM) * PX_PER_MM;
    ctx.fillText(line, AIR_MM * PX_PER_MM, y);
    if (link) ctx.fillRect(AIR_MM * PX_PER_MM, y + 0.5 * PX_PER_MM, ctx.measureText(line).width, 0.25 * PX_PER_MM);
  });
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('this browser cannot draw so much text');
  return { bytes: new Uint8Array(await blob.arrayBuffer()), w, h };
}
