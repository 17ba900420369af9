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
