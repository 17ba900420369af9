/** Packets as WebM: for the player piece by piece, and for a file to hand on. */
import { ALL_FORMATS, BufferSource, BufferTarget, EncodedAudioPacketSource, EncodedPacket, EncodedPacketSink, Input, Output, StreamTarget, WebMOutputFormat, type MetadataTags, type OutputFormat, type StreamTargetChunk } from 'mediabunny';
import { BlobFile } from './blobFile';
import { opusDuration, PRE_SKIP, SILENT_20_MS, type Packet } from '../audio/opus';
import { packetsEnd } from '../audio/pieces';

/** OpusHead, RFC 7845 section 5.1: version 1, channels, pre-skip 312 samples, 48 kHz, no gain, mapping family 0. */
export function opusHead(channels: 1 | 2): Uint8Array {
  const head = new Uint8Array(19);
  head.set(new TextEncoder().encode('OpusHead'));
  const view = new DataView(head.buffer);
  view.setUint8(8, 1);
  view.setUint8(9, channels);
  view.setUint16(10, PRE_SKIP, true);
  view.setUint32(12, 48_000, true);
  return head;
}

/**
 * Where sound was lost, silence stands in, so that everything after it keeps its time. Times in ms; filled from `from`, and up to
 * `to` where that is given. A rest of less than 20 ms stays open.
 */
export function fillHoles(packets: readonly Packet[], from: number, to = -Infinity): Packet[] {
  const out: Packet[] = [];
  let end = from;
  const silence = (until: number) => {
    for (; until - end >= 20; end += 20) out.push({ t: end, data: SILENT_20_MS });
  };
  for (const p of packets) {
    silence(p.t);
    out.push(p);
    end = p.t + opusDuration(p.data);
  }
  silence(to);
  return out;
}

/** Starts a file; gives the way to add packets, whose times are ms in it. */
async function begin(output: Output, head: Uint8Array): Promise<(packets: readonly Packet[]) => Promise<void>> {
  const source = new EncodedAudioPacketSource('opus');
  output.addAudioTrack(source);
  await output.start();
  const meta = { decoderConfig: { codec: 'opus', numberOfChannels: head[9], sampleRate: 48_000, description: head } };
  return async (packets) => {
    for (const p of packets) await source.add(new EncodedPacket(p.data, 'key', p.t / 1000, opusDuration(p.data) / 1000), meta);
  };
}

/** Packets whose times are ms in the file to be. */
export async function webmOf(packets: readonly Packet[], head: Uint8Array): Promise<Uint8Array> {
  const output = new Output({ format: new WebMOutputFormat(), target: new BufferTarget() });
  const add = await begin(output, head);
  await add(packets);
  await output.finalize();
  return new Uint8Array(output.target.buffer!);
}

/** Times of packets are rounded. */
const OVERLAP_MS = 1;
/** Bytes that are written at a time. */
const CHUNK = 1 << 20;

/** Sound in portions, null after the last. */
export type Portions = () => Promise<readonly Packet[] | null>;

/** Sound as WebM. Null when there is none. */
export const webmFrom = (next: Portions, head: Uint8Array): Promise<Blob | null> => soundFrom(next, head, new WebMOutputFormat());

/** An output whose bytes are never in memory all at once; `blob` when it is finished. */
export function outputToBlob(format: OutputFormat): { output: Output; blob: () => Blob } {
  const file = new BlobFile();
  const writable = new WritableStream<StreamTargetChunk>({ write: ({ data, position }) => file.write(data, position) });
  return { output: new Output({ format, target: new StreamTarget(writable, { chunked: true, chunkSize: CHUNK }) }), blob: () => file.blob(format.mimeType) };
}

/** Packets as a file of a kind that takes them as they are, with silence where some was lost: hours of it are never in memory. Null when there is none. */
export async function soundFrom(next: Portions, head: Uint8Array, format: OutputFormat, tags: MetadataTags = {}): Promise<Blob | null> {
  const { output, blob } = outputToBlob(format);
  output.setMetadataTags(tags);
  const add = await begin(output, head);
  const whole = wholePortions(next);
  let any = false;
  for (let packets = await whole(); packets; packets = await whole()) {
    await add(packets);
    any = true;
  }
  if (!any) {
    await output.cancel();
    return null;
  }
  await output.finalize();
  return blob();
}

/** The same portions in order and without holes. */
export function wholePortions(next: Portions): Portions {
  let end: number | null = null;
  return async () => {
    for (let packets = await next(); packets; packets = await next()) {
      const inOrder: Packet[] = [];
      let last: number | null = end;
      for (const p of packets) {
        // Sound that lies over what came before it can only be damaged: it must not cost the rest.
        if (last !== null && p.t < last - OVERLAP_MS) continue;
        inOrder.push(p);
        last = p.t + opusDuration(p.data);
      }
      if (!inOrder.length) continue;
      const filled = fillHoles(inOrder, end ?? inOrder[0].t);
      end = packetsEnd(inOrder);
      return filled;
    }
    return null;
  };
}

/** The Opus packets of a sound file with their times in ms. @throws Error with a sentence when there are none to be had. */
export async function packetsOfWebm(bytes: Uint8Array): Promise<Packet[]> {
  const input = new Input({ source: new BufferSource(bytes), formats: ALL_FORMATS });
  const track = await input.getPrimaryAudioTrack();
  if (!track || track.codec !== 'opus') throw new Error('The sound in this file is not Opus.');
  const packets: Packet[] = [];
  for await (const p of new EncodedPacketSink(track).packets()) packets.push({ t: Math.round(p.timestamp * 1e6) / 1000, data: p.data });
  return packets;
}
