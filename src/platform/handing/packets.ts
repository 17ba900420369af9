/** What the packets of a sound say of themselves. */
import { opusHead, type Portions } from '../../core/formats/webmFile';

/** Looks at the first packet, and gives all of them nevertheless; `any`: there is one. */
export async function begun(next: Portions): Promise<{ next: Portions; head: Uint8Array; any: boolean }> {
  let first = await next();
  while (first && !first.length) first = await next();
  // RFC 6716, section 3.1: a bit of the first byte says stereo.
  const channels = first && first[0].data[0] & 0x04 ? 2 : 1;
  let given = false;
  return { any: first !== null, head: opusHead(channels), next: async () => (given ? next() : ((given = true), first)) };
}
