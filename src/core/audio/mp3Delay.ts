/**
 * Samples at the start of an MP3 that encoder and decoder put there. The encoder writes its own into the tag that stands in the first frame (Xing or Info,
 * extended by LAME; common practice, no standard); the decoder's are 529 (the delay of its filter bank, as LAME's documentation counts it, from memory).
 */
const DECODER_DELAY = 529;

const text = (b: Uint8Array, at: number, n: number): string => String.fromCharCode(...b.subarray(at, at + n));

/** `head`: the beginning of the file, some kilobytes beyond what comes before its first frame. 0 where it does not say. */
export function mp3Delay(head: Uint8Array): number {
  let frame = 0;
  // ID3v2.4, 3.1: ten bytes, of which the last four give the size in seven bits each.
  if (text(head, 0, 3) === 'ID3') frame = 10 + ((head[6] << 21) | (head[7] << 14) | (head[8] << 7) | head[9]);
  for (let at = frame; at < Math.min(head.length - 144, frame + 64); at++) {
    if (!['Xing', 'Info'].includes(text(head, at, 4))) continue;
    const flags = head[at + 7];
    // After the fields that the flags name: frames, bytes, table, quality.
    const lame = at + 8 + (flags & 1 ? 4 : 0) + (flags & 2 ? 4 : 0) + (flags & 4 ? 100 : 0) + (flags & 8 ? 4 : 0);
    if (!/^(LAME|Lavc|Lavf|L3\.9)/.test(text(head, lame, 4))) return 0;
    return ((head[lame + 21] << 4) | (head[lame + 22] >> 4)) + DECODER_DELAY;
  }
  return 0;
}
