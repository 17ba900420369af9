/** A picture made here, byte for byte: PNG as in ISO/IEC 15948:2004, by Node's own zlib. */
import { crc32, deflateSync } from 'node:zlib';

function chunk(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(data.length);
  sum.writeUInt32BE(crc32(body));
  return Buffer.concat([length, body, sum]);
}

/** `color`: red, green, blue of a pixel. */
export function png(w: number, h: number, color: (x: number, y: number) => readonly [number, number, number]): Buffer {
  const head = Buffer.alloc(13);
  head.writeUInt32BE(w, 0);
  head.writeUInt32BE(h, 4);
  // 8 bits a channel, truecolour, no interlace.
  head.set([8, 2, 0, 0, 0], 8);
  const rows = Buffer.alloc(h * (1 + 3 * w));
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) rows.set(color(x, y), y * (1 + 3 * w) + 1 + 3 * x);
  return Buffer.concat([Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]), chunk('IHDR', head), chunk('IDAT', deflateSync(rows)), chunk('IEND', Buffer.alloc(0))]);
}

/** Quarters of a picture: red, green, blue, yellow, from the left top along the lines. */
export const QUARTERS = [[200, 30, 30], [30, 160, 60], [30, 60, 200], [230, 200, 40]] as const;
export const quarters = (w: number, h: number): Buffer => png(w, h, (x, y) => QUARTERS[(x < w / 2 ? 0 : 1) + (y < h / 2 ? 0 : 2)]);
