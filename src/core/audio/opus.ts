/** What can be read off an Opus packet without decoding it. Source: RFC 6716, section 3.1 (TOC byte) and 3.2 (frame packing). */

/** One encoded packet of a take: take time (or part time) of its first sample in ms, and its bytes. */
export interface Packet {
  readonly t: number;
  readonly data: Uint8Array;
}

const SILK_MS = [10, 20, 40, 60];
const HYBRID_MS = [10, 20];
const CELT_MS = [2.5, 5, 10, 20];

/** Length of an Opus packet in ms; 0 for an empty one. */
export function opusDuration(data: Uint8Array): number {
  if (!data.length) return 0;
  const config = data[0] >> 3;
  const frame = config < 12 ? SILK_MS[config & 3] : config < 16 ? HYBRID_MS[config & 1] : CELT_MS[config & 3];
  const code = data[0] & 3;
  const frames = code === 0 ? 1 : code < 3 ? 2 : data.length > 1 ? data[1] & 63 : 0;
  return frame * frames;
}

/** A packet of 20 ms silence: CELT, full band, mono, one empty frame. It stands where sound was lost. */
export const SILENT_20_MS = new Uint8Array([0xf8, 0xff, 0xfe]);

/** An Opus encoder begins with so much that was not in the room (RFC 7845, section 4.2, as browsers write it), samples at 48 kHz: what was recorded at a moment comes out of a decoder this much later. */
export const PRE_SKIP = 312;
export const PRE_SKIP_MS = PRE_SKIP / 48;
