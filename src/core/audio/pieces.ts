/**
 * The sound of a take in records of five seconds each. Piece k holds the packets whose take time lies in
 * [k * 5000, (k + 1) * 5000) ms, so that a moment is found without a table. A piece is written again while it grows.
 *
 * A record is a line of JSON about the packets, a line feed, and their bytes as characters 0..255.
 */
import { z } from 'zod';
import { binaryOf, textOf } from '../note/binaryText';
import { RecordError } from '../record';
import { opusDuration, type Packet } from './opus';

export const PIECE_MS = 5000;
export const pieceOf = (at: number): number => Math.floor(at / PIECE_MS);

const pieceHead = z.object({
  v: z.literal(1),
  /** Take time of the first packet, then the steps to each next one, ms. */
  t: z.array(z.number()),
  /** Bytes of each packet. */
  size: z.array(z.number().int().min(0).max(65_536)),
});

export function writePiece(packets: readonly Packet[]): string {
  const t = packets.map((p, i) => (i ? p.t - packets[i - 1].t : p.t));
  const head = JSON.stringify({ v: 1, t: t.map((x) => Math.round(x * 100) / 100), size: packets.map((p) => p.data.length) });
  return `${head}\n${packets.map((p) => textOf(p.data)).join('')}`;
}

/** @throws RecordError when the record cannot be read. */
export function readPiece(text: string): Packet[] {
  const end = text.indexOf('\n');
  let json: unknown;
  try {
    json = JSON.parse(text.slice(0, Math.max(0, end)));
  } catch {
    throw new RecordError('A record of sound is not readable.');
  }
  const head = pieceHead.safeParse(json);
  if (!head.success || head.data.t.length !== head.data.size.length) throw new RecordError('A record of sound is not readable.');
  const { t, size } = head.data;
  // One buffer for all: hundreds of small ones cost several times their bytes.
  const bytes = binaryOf(text.slice(end + 1));
  const packets: Packet[] = [];
  let [time, pos] = [0, 0];
  for (let i = 0; i < t.length; i++) {
    time = i ? time + t[i] : t[i];
    packets.push({ t: time, data: bytes.subarray(pos, pos + size[i]) });
    pos += size[i];
  }
  if (pos > bytes.length) throw new RecordError('A record of sound ends early.');
  return packets;
}

/** Take time at which the last packet ends, ms; 0 without packets. */
export const packetsEnd = (packets: readonly Packet[]): number => {
  const last = packets.at(-1);
  return last ? last.t + opusDuration(last.data) : 0;
};
