/** Bytes as text of characters 0..255 and back. */

export function textOf(bytes: Uint8Array): string {
  let text = '';
  // Function arguments are limited, so it goes in steps; spread they would be gone through one by one.
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode.apply(null, bytes.subarray(i, i + 8192) as unknown as number[]);
  return text;
}

export function binaryOf(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
  return bytes;
}

/** Signs of 16 bits follow, the lower byte first. No record of Scrivo's begins with these two. */
const WIDE = [0xff, 0xfe] as const;

/** Any text as bytes that say it again, sign by sign, damaged or not: one byte for each, two where there are signs beyond 255 (UTF-16LE with its mark, RFC 2781). */
export function bytesOfRecord(text: string): Uint8Array {
  let widest = 0;
  for (let i = 0; i < text.length; i++) widest |= text.charCodeAt(i);
  if (widest <= 255) return binaryOf(text);
  const bytes = new Uint8Array(2 + 2 * text.length);
  bytes.set(WIDE);
  for (let i = 0; i < text.length; i++) [bytes[2 + 2 * i], bytes[3 + 2 * i]] = [text.charCodeAt(i) & 255, text.charCodeAt(i) >> 8];
  return bytes;
}

export function recordOfBytes(bytes: Uint8Array): string {
  if (bytes[0] !== WIDE[0] || bytes[1] !== WIDE[1]) return textOf(bytes);
  const parts: string[] = [];
  for (let i = 2; i + 1 < bytes.length; i += 2) parts.push(String.fromCharCode(bytes[i] | (bytes[i + 1] << 8)));
  return parts.join('');
}
