/** Where what stands in a stretch of sound: for players that show chapters, as WebVTT (W3C) and as a table (RFC 4180). */
import { writeCsv } from './csv';

export interface Chapter {
  /** ms of the sound that is handed on. */
  readonly at: number;
  readonly kind: 'heading' | 'mark' | 'moment';
  readonly title: string;
}

/** So long a last one lasts that has no end, ms. */
const LAST_MS = 5000;
const ONE_LINE = /[\r\n]+/g;

const clock = (ms: number): string => {
  const whole = Math.round(ms);
  const part = (v: number, width: number) => String(v).padStart(width, '0');
  return `${part(Math.floor(whole / 3_600_000), 2)}:${part(Math.floor(whole / 60_000) % 60, 2)}:${part(Math.floor(whole / 1000) % 60, 2)}.${part(whole % 1000, 3)}`;
};

/** In order, and each at a moment of its own: of several at one moment the first stands. */
export function inOrder(chapters: readonly Chapter[]): Chapter[] {
  const sorted = [...chapters].sort((a, b) => a.at - b.at);
  return sorted.filter((c, i) => i === 0 || Math.round(c.at) > Math.round(sorted[i - 1].at));
}

/** `length` of the sound, ms. */
export function chaptersAsVtt(chapters: readonly Chapter[], length: number): string {
  const list = inOrder(chapters);
  const cues = list.map(({ at, title }, i) => {
    const end = Math.max(at + 1, list[i + 1]?.at ?? (length > at ? length : at + LAST_MS));
    // Section 4.1: a cue's text may have neither an arrow nor signs that begin markup.
    const text = title.replace(ONE_LINE, ' ').replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
    return `${i + 1}\n${clock(at)} --> ${clock(end)}\n${text}\n`;
  });
  return `WEBVTT\n\n${cues.join('\n')}`;
}

/** Seconds with thousandths, so that a table can reckon with them. */
export function chaptersAsCsv(chapters: readonly Chapter[]): string {
  const rows = [...chapters].sort((a, b) => a.at - b.at).map(({ at, kind, title }) => [(at / 1000).toFixed(3), clock(at), kind, title]);
  return writeCsv([['seconds', 'time', 'kind', 'title'], ...rows]);
}

/** As comments of an Ogg file (the chapter extension of Vorbis comments, wiki.xiph.org/Chapter_Extension). */
export function chaptersAsComments(chapters: readonly Chapter[]): Record<string, string> {
  const out: Record<string, string> = {};
  inOrder(chapters).slice(0, 999).forEach(({ at, title }, i) => {
    const key = `CHAPTER${String(i + 1).padStart(3, '0')}`;
    out[key] = clock(at);
    out[`${key}NAME`] = title.replace(ONE_LINE, ' ');
  });
  return out;
}

const box = (type: string, ...parts: readonly Uint8Array[]): Uint8Array => {
  const length = 8 + parts.reduce((n, p) => n + p.length, 0);
  const out = new Uint8Array(length);
  new DataView(out.buffer).setUint32(0, length);
  out.set(new TextEncoder().encode(type), 4);
  let at = 8;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
};

/** Into an MP4 whose `moov` box stands at its end: a list of chapters in its user data (`chpl`, as ffmpeg's `mov.c` reads it: common practice, no standard). */
export async function withMp4Chapters(mp4: Blob, chapters: readonly Chapter[]): Promise<Blob> {
  const list = inOrder(chapters).slice(0, 255);
  if (!list.length) return mp4;
  let [at, moov, size] = [0, -1, 0];
  while (at + 8 <= mp4.size) {
    const head = new DataView(await mp4.slice(at, at + 16).arrayBuffer());
    size = head.getUint32(0) === 1 ? Number(head.getBigUint64(8)) : head.getUint32(0) || mp4.size - at;
    if (head.getUint32(4) === 0x6d6f6f76) moov = at;
    if (size < 8) break;
    at += size;
  }
  // One that stands before the sound would move it: such a file stays without.
  if (moov < 0 || moov + size !== mp4.size) return mp4;
  const entries = list.map(({ at: ms, title }) => {
    const text = new TextEncoder().encode(title.replace(ONE_LINE, ' ')).slice(0, 255);
    const entry = new Uint8Array(9 + text.length);
    const view = new DataView(entry.buffer);
    view.setBigUint64(0, BigInt(Math.round(ms)) * 10_000n);
    view.setUint8(8, text.length);
    entry.set(text, 9);
    return entry;
  });
  const head = Uint8Array.of(1, 0, 0, 0, 0, 0, 0, 0, list.length);
  const chpl = box('chpl', head, ...entries);
  const old = new Uint8Array(await mp4.slice(moov).arrayBuffer());
  const inner = boxesOf(old.subarray(8));
  const user = inner.find((b) => b.type === 'udta');
  const rest = inner.filter((b) => b !== user).map((b) => b.bytes);
  return new Blob([mp4.slice(0, moov), box('moov', ...rest, box('udta', ...(user ? [user.bytes.subarray(8)] : []), chpl)) as Uint8Array<ArrayBuffer>], { type: mp4.type });
}

function boxesOf(bytes: Uint8Array): { type: string; bytes: Uint8Array }[] {
  const out: { type: string; bytes: Uint8Array }[] = [];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 0; at + 8 <= bytes.length; ) {
    const size = Math.max(8, view.getUint32(at));
    out.push({ type: String.fromCharCode(...bytes.subarray(at + 4, at + 8)), bytes: bytes.subarray(at, at + size) });
    at += size;
  }
  return out;
}
