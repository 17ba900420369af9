/** What a file is, by what stands in it: names and types lie. */

export type FileKind = 'pdf' | 'picture' | 'moving' | 'heic' | 'svg' | 'sound' | 'bundle' | 'ink';

/** So many bytes of its beginning tell. */
export const HEAD_BYTES = 4096;

const text = (head: Uint8Array, from: number, to: number): string => String.fromCharCode(...head.subarray(from, to));
const starts = (head: Uint8Array, ...bytes: readonly number[]): boolean => bytes.every((b, i) => head[i] === b);

/** Brands of the ISO base media file format (ISO/IEC 14496-12, 4.3) that are pictures: AVIF and HEIF (ISO/IEC 23008-12). */
const HEIF = /^(hei[cxms]|hev[cx]|mif1|msf1)$/;

/**
 * By its first bytes; null for what nobody here reads. PDF: ISO 32000-1, 7.5.2 (readers take the header anywhere in the first 1024 bytes, Annex H); PNG:
 * ISO/IEC 15948, 5.2; GIF89a; JPEG: ISO/IEC 10918-1, B.1.1.3; WebP and WAVE: RIFF; Ogg: RFC 3533, 6; FLAC: RFC 9639, 8; Matroska: RFC 8794, 11.2.1; MP3:
 * ID3v2 or ISO/IEC 11172-3, 2.4.1.3; SVG and InkML by their root element.
 */
export function fileKind(head: Uint8Array): FileKind | null {
  if (text(head, 0, 1024).includes('%PDF-')) return 'pdf';
  if (starts(head, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'picture';
  if (starts(head, 0xff, 0xd8, 0xff)) return 'picture';
  if (/^GIF8[79]a$/.test(text(head, 0, 6))) return 'moving';
  if (text(head, 0, 4) === 'RIFF') return text(head, 8, 12) === 'WEBP' ? 'picture' : text(head, 8, 12) === 'WAVE' ? 'sound' : null;
  if (text(head, 4, 8) === 'ftyp') {
    const brands = [text(head, 8, 12), ...Array.from({ length: 16 }, (_, i) => text(head, 16 + 4 * i, 20 + 4 * i))];
    if (brands.some((b) => b === 'avif' || b === 'avis')) return 'picture';
    return HEIF.test(brands[0]) ? 'heic' : 'sound';
  }
  if (['OggS', 'fLaC'].includes(text(head, 0, 4)) || text(head, 0, 3) === 'ID3' || starts(head, 0x1a, 0x45, 0xdf, 0xa3)) return 'sound';
  // Layers 1 to 3 of MPEG audio, and AAC in ADTS (ISO/IEC 13818-7, 6.2).
  if (head[0] === 0xff && (head[1] & 0xe0) === 0xe0) return 'sound';
  if (starts(head, 0x50, 0x4b, 3, 4)) return 'bundle';
  const start = new TextDecoder('utf-8').decode(head.subarray(0, HEAD_BYTES)).replace(/^\uFEFF/, '');
  const root = /^\s*(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*|<!DOCTYPE[^>]*>\s*)*<(?:\w+:)?(svg|ink)[\s>]/i.exec(start)?.[1].toLowerCase();
  return root === 'svg' || root === 'ink' ? root : null;
}
