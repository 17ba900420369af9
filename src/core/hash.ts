/** SHA-256 (FIPS 180-4) in hexadecimal digits. */
import { createSHA256 } from 'hash-wasm';

/** Up to so many bytes at once by the platform's own Web Crypto; what is larger portion by portion, so that it need not be in memory. */
const AT_ONCE = 16 << 20;
const PORTION = 4 << 20;

export async function sha256Hex(content: Uint8Array | Blob): Promise<string> {
  if (content instanceof Blob && content.size > AT_ONCE) {
    const hash = await createSHA256();
    for (let i = 0; i < content.size; i += PORTION) hash.update(new Uint8Array(await content.slice(i, i + PORTION).arrayBuffer()));
    return hash.digest('hex');
  }
  const bytes = content instanceof Blob ? await content.arrayBuffer() : (content as Uint8Array<ArrayBuffer>);
  const digest = await globalThis.crypto.subtle.digest('SHA-256', bytes);
  return [...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join('');
}
