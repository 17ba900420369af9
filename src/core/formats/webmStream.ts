/**
 * Reads a WebM recording while it is still being made: bytes in as they come, Opus packets with their times out.
 *
 * Only what a recorder writes is understood: one Opus track, simple blocks without lacing. Source: the Matroska element
 * registry, RFC 9559 (element ids, EBML sizes, SimpleBlock layout in section 10).
 */
import type { Packet } from '../audio/opus';

const ENTER = new Set([
  0x18538067, // Segment
  0x1549a966, // Info
  0x1654ae6b, // Tracks
  0xae, // TrackEntry
  0x1f43b675, // Cluster
  0xa0, // BlockGroup
]);
const TIMESTAMP_SCALE = 0x2ad7b1;
const CODEC_ID = 0x86;
const CLUSTER_TIMESTAMP = 0xe7;
const SIMPLE_BLOCK = 0xa3;
const BLOCK = 0xa1;

export class WebmStream {
  private rest = new Uint8Array(0);
  private scale = 1e6;
  private cluster = 0;
  codec: string | null = null;

  /** Times in ms as the file has them. @throws Error when the bytes are not WebM as a recorder writes it. */
  push(bytes: Uint8Array): Packet[] {
    const buffer = new Uint8Array(this.rest.length + bytes.length);
    buffer.set(this.rest);
    buffer.set(bytes, this.rest.length);
    const packets: Packet[] = [];
    let pos = 0;
    for (;;) {
      const id = vint(buffer, pos, true);
      if (!id) break;
      const size = vint(buffer, pos + id.length, false);
      if (!size) break;
      const body = pos + id.length + size.length;
      if (ENTER.has(id.value)) {
        pos = body;
        continue;
      }
      if (size.unknown) throw new Error(`The recording has an element of unknown length (${id.value.toString(16)}).`);
      if (size.value > 1 << 24) throw new Error(`The recording has an element of ${size.value} bytes.`);
      if (body + size.value > buffer.length) break;
      this.element(id.value, buffer.subarray(body, body + size.value), packets);
      pos = body + size.value;
    }
    this.rest = buffer.slice(pos);
    return packets;
  }

  private element(id: number, data: Uint8Array, packets: Packet[]): void {
    const uint = () => data.reduce((v, b) => v * 256 + b, 0);
    switch (id) {
      case TIMESTAMP_SCALE:
        this.scale = uint();
        break;
      case CODEC_ID:
        this.codec = String.fromCharCode(...data);
        break;
      case CLUSTER_TIMESTAMP:
        this.cluster = uint();
        break;
      case SIMPLE_BLOCK:
      case BLOCK: {
        const track = vint(data, 0, false);
        if (!track || data.length < track.length + 3) throw new Error('The recording has a block without a head.');
        const at = track.length;
        const relative = ((data[at] << 8) | data[at + 1]) << 16 >> 16;
        if (data[at + 2] & 0x06) throw new Error('The recording has laced blocks, which a recorder does not write.');
        packets.push({ t: ((this.cluster + relative) * this.scale) / 1e6, data: data.slice(at + 3) });
      }
    }
  }
}

/** A variable-length integer (RFC 8794, section 4): with its marker bit as element id, without as size. Null when bytes are missing. */
function vint(b: Uint8Array, pos: number, keepMarker: boolean): { value: number; length: number; unknown: boolean } | null {
  if (pos >= b.length) return null;
  const length = Math.clz32(b[pos]) - 23;
  if (length > 8) throw new Error('The recording is not WebM.');
  if (pos + length > b.length) return null;
  let value = keepMarker ? b[pos] : b[pos] & (0xff >> length);
  let ones = (b[pos] & (0xff >> length)) === 0xff >> length;
  for (let i = 1; i < length; i++) {
    value = value * 256 + b[pos + i];
    ones &&= b[pos + i] === 0xff;
  }
  return { value, length, unknown: ones && !keepMarker };
}
