/** Random global ids: 128 bits, 22 characters of base64url, so that records made on two devices never meet by chance. */
const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_';

/** `random` fills the array with random bytes; by default the platform's own source (Web Crypto, also in Node). */
export function newId(random: (bytes: Uint8Array<ArrayBuffer>) => void = (b) => globalThis.crypto.getRandomValues(b)): string {
  const bytes = new Uint8Array(22);
  random(bytes);
  let id = '';
  for (const b of bytes) id += ALPHABET[b & 63];
  return id;
}
