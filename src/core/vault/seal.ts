/**
 * Records that cannot be read without the key: AES-256 in Galois/Counter Mode (NIST SP 800-38D) through Web Crypto.
 *   sealed record   MAGIC, one character for how the text was made bytes, then 12 bytes of nonce, the ciphertext and 16 bytes of tag
 * The name of a record is authenticated with it: a record that was put in another's place does not open.
 */
import { binaryOf, textOf } from '../note/binaryText';

/** 96 random bits: NIST SP 800-38D, 8.2.2, allows 2^32 of them under one key. */
const NONCE_BYTES = 12;
const MAGIC = 'scrivo-sealed-1 ';
/** Text whose characters are all below 256 is one byte a character; any other is UTF-8. */
const [BYTES, UTF8] = ['b', 'u'];

/** Sealed bytes do not open: another key, another name, or they were changed. */
export class SealError extends Error {
  readonly name = 'SealError';
}

const KEY = { name: 'AES-GCM', length: 256 } as const;
type Bytes = Uint8Array<ArrayBuffer>;

/** A new random key of 256 bits, as bytes. */
export const newKeyBytes = (): Bytes => globalThis.crypto.getRandomValues(new Uint8Array(32));

/** @throws RangeError when there are not 32 bytes. */
export async function importKey(bytes: Uint8Array): Promise<CryptoKey> {
  if (bytes.length !== 32) throw new RangeError(`A key has 32 bytes, not ${bytes.length}.`);
  return globalThis.crypto.subtle.importKey('raw', bytes as Bytes, KEY, false, ['encrypt', 'decrypt']);
}

/** Ciphertext and tag. `nonce`: 12 bytes that were never used with this key before. */
export async function encrypt(key: CryptoKey, nonce: Uint8Array, name: Uint8Array, plain: Uint8Array): Promise<Bytes> {
  return new Uint8Array(await globalThis.crypto.subtle.encrypt({ name: 'AES-GCM', iv: nonce as Bytes, additionalData: name as Bytes, tagLength: 128 }, key, plain as Bytes));
}

/** Nonce, ciphertext and tag in one. */
export async function sealBytes(key: CryptoKey, name: string, plain: Uint8Array): Promise<Bytes> {
  const nonce = globalThis.crypto.getRandomValues(new Uint8Array(NONCE_BYTES));
  const body = await encrypt(key, nonce, new TextEncoder().encode(name), plain);
  const all = new Uint8Array(NONCE_BYTES + body.length);
  all.set(nonce);
  all.set(body, NONCE_BYTES);
  return all;
}

/** @throws SealError */
export async function openBytes(key: CryptoKey, name: string, sealed: Uint8Array): Promise<Bytes> {
  try {
    const algorithm = { name: 'AES-GCM', iv: sealed.subarray(0, NONCE_BYTES) as Bytes, additionalData: new TextEncoder().encode(name), tagLength: 128 };
    return new Uint8Array(await globalThis.crypto.subtle.decrypt(algorithm, key, sealed.subarray(NONCE_BYTES) as Bytes));
  } catch {
    throw new SealError('What is sealed does not open with this key.');
  }
}

/**
 * What is too large to be in memory as a whole, sealed portion by portion: each by itself, under a name that says which it is and
 * whether it is the last, so that none can be left out, put in another's place or cut off (the way of the STREAM construction: Hoang,
 * Reyhanitabar, Rogaway and Vizár, Online Authenticated-Encryption and its Nonce-Reuse Misuse-Resistance, CRYPTO 2015).
 */
const portionName = (name: string, i: number, last: boolean): string => `${name}/${i}${last ? '/last' : ''}`;
const OVERHEAD = NONCE_BYTES + 16;

async function* byPortion(content: Blob, size: number): AsyncGenerator<{ bytes: Bytes; i: number; last: boolean }> {
  for (let at = 0, i = 0; i === 0 || at < content.size; at += size, i++) yield { bytes: new Uint8Array(await content.slice(at, at + size).arrayBuffer()), i, last: at + size >= content.size };
}

/** `portion`: bytes of the open text that are sealed at a time. */
export async function sealPortions(key: CryptoKey, name: string, content: Blob, portion: number): Promise<Blob> {
  const sealed: Blob[] = [];
  for await (const { bytes, i, last } of byPortion(content, portion)) sealed.push(new Blob([await sealBytes(key, portionName(name, i, last), bytes)]));
  return new Blob(sealed);
}

/** @throws SealError */
export async function openPortions(key: CryptoKey, name: string, sealed: Blob, portion: number): Promise<Blob> {
  const open: Blob[] = [];
  for await (const { bytes, i, last } of byPortion(sealed, portion + OVERHEAD)) open.push(new Blob([await openBytes(key, portionName(name, i, last), bytes)]));
  return new Blob(open);
}

export const isSealed = (text: string): boolean => text.startsWith(MAGIC);

function bytesOf(text: string): { how: string; bytes: Uint8Array } {
  for (let i = 0; i < text.length; i++) if (text.charCodeAt(i) > 255) return { how: UTF8, bytes: new TextEncoder().encode(text) };
  return { how: BYTES, bytes: binaryOf(text) };
}

/** Seals the text of a record under its name; the result has one byte a character. */
export async function sealText(key: CryptoKey, name: string, text: string): Promise<string> {
  const { how, bytes } = bytesOf(text);
  return MAGIC + how + textOf(await sealBytes(key, name + how, bytes));
}

/** @throws SealError also when the text is not sealed at all. */
export async function openText(key: CryptoKey, name: string, sealed: string): Promise<string> {
  if (!isSealed(sealed)) throw new SealError('This record is not sealed.');
  const how = sealed.charAt(MAGIC.length);
  const bytes = await openBytes(key, name + how, binaryOf(sealed.slice(MAGIC.length + 1)));
  return how === UTF8 ? new TextDecoder().decode(bytes) : textOf(bytes);
}
