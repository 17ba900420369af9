import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { tamedGif } from './gif';

const folder = mkdtempSync(path.join(tmpdir(), 'scrivo-gif-'));
afterAll(() => rmSync(folder, { recursive: true }));
const file = path.join(folder, 'moving.gif');
execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=size=64x48:rate=5:duration=2', file]);
const made = new Uint8Array(readFileSync(file));
/** Of every frame a hash, by ffmpeg. */
const framesOf = (bytes: Uint8Array): string => {
  const copy = path.join(folder, 'copy.gif');
  writeFileSync(copy, bytes);
  return execFileSync('ffmpeg', ['-v', 'error', '-i', copy, '-f', 'framemd5', '-']).toString();
};

test('every frame stays as ffmpeg reads it; comments and foreign extensions go', () => {
  // GIF89a, 24 and 26: a comment, and an extension of some program, before the trailer.
  const text = (s: string) => Buffer.from(s, 'latin1');
  const comment = Buffer.concat([Buffer.from([0x21, 0xfe, 19]), text('North pier, berth 4'), Buffer.from([0])]);
  const foreign = Buffer.concat([Buffer.from([0x21, 0xff, 11]), text('XMP DataXMP'), Buffer.from([5]), text('54.32'), Buffer.from([0])]);
  const laden = Buffer.concat([made.subarray(0, -1), comment, foreign, made.subarray(-1)]);
  const tamed = tamedGif(new Uint8Array(laden))!;
  expect(tamed.frames).toBe(10);
  expect(framesOf(tamed.bytes)).toBe(framesOf(made));
  expect(Buffer.from(tamed.bytes).includes('berth')).toBe(false);
  expect(Buffer.from(tamed.bytes).includes('54.32')).toBe(false);
  // It goes round and round as before.
  expect(Buffer.from(tamed.bytes).includes('NETSCAPE2.0')).toBe(Buffer.from(made).includes('NETSCAPE2.0'));
});

test('what is cut off or no GIF is none', () => {
  for (const n of [0, 5, 13, 40, made.length >> 1, made.length - 1]) expect(tamedGif(made.subarray(0, n))).toBeNull();
  expect(tamedGif(new Uint8Array(100).fill(7))).toBeNull();
  // A block that claims more than there is.
  const long = made.slice();
  long[long.length - 2] = 255;
  expect(tamedGif(long)).toBeNull();
});
