/** What a file is: made by other programs (ffmpeg, Python's zipfile), and by the first bytes that the standards name where none makes it here. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileKind, HEAD_BYTES, type FileKind } from './fileKind';

let folder = '';
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'scrivo-kinds-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const head = (name: string) => new Uint8Array(readFileSync(path.join(folder, name))).subarray(0, HEAD_BYTES);
const bytes = (...parts: readonly (string | number)[]) => Uint8Array.from(parts.flatMap((p) => (typeof p === 'string' ? [...Buffer.from(p, 'latin1')] : [p])));

test('files of other programs, whatever they are called', () => {
  const sound = ['-f', 'lavfi', '-i', 'sine=duration=0.2'];
  const picture = ['-f', 'lavfi', '-i', 'color=size=16x16:rate=4:duration=1'];
  const made: readonly (readonly [string, readonly string[], FileKind])[] = [
    ['a.png', [...picture, '-frames:v', '1'], 'picture'],
    ['a.jpg', [...picture, '-frames:v', '1'], 'picture'],
    ['a.webp', [...picture, '-frames:v', '1'], 'picture'],
    ['a.gif', picture, 'moving'],
    ['a.wav', sound, 'sound'],
    ['a.mp3', sound, 'sound'],
    ['bare.mp3', [...sound, '-write_xing', '0', '-id3v2_version', '0'], 'sound'],
    ['a.m4a', sound, 'sound'],
    ['a.aac', sound, 'sound'],
    ['a.ogg', [...sound, '-c:a', 'libvorbis'], 'sound'],
    ['a.flac', sound, 'sound'],
    ['a.webm', [...sound, '-c:a', 'libopus'], 'sound'],
    ['a.mkv', [...sound, '-c:a', 'libopus'], 'sound'],
  ];
  for (const [name, args] of made) execFileSync('ffmpeg', ['-v', 'error', ...args, path.join(folder, name)]);
  expect(made.map(([name]) => [name, fileKind(head(name))])).toEqual(made.map(([name, , kind]) => [name, kind]));
  execFileSync('python3', ['-c', 'import sys,zipfile\nwith zipfile.ZipFile(sys.argv[1],"w") as z: z.writestr("note.json","{}")', path.join(folder, 'a.zip')]);
  expect(fileKind(head('a.zip'))).toBe('bundle');
});

test('by the first bytes that their standards name', () => {
  const kinds: readonly (readonly [string, Uint8Array, FileKind | null])[] = [
    // ISO 32000-1, annex H: within the first 1024 bytes.
    ['PDF', bytes('%PDF-1.7\n'), 'pdf'],
    ['PDF behind other bytes', bytes(`${'x'.repeat(1019)}%PDF-`), 'pdf'],
    ['too far behind', bytes(`${'x'.repeat(1020)}%PDF-1.7`), null],
    // ISO/IEC 14496-12, 4.3: the major brand, a version, and others that it is compatible with.
    ['AVIF', bytes(0, 0, 0, 24, 'ftypavif', 0, 0, 0, 0, 'mif1'), 'picture'],
    ['AVIF as a compatible brand', bytes(0, 0, 0, 28, 'ftypmif1', 0, 0, 0, 0, 'miafavif'), 'picture'],
    ['HEIC', bytes(0, 0, 0, 24, 'ftypheic', 0, 0, 0, 0, 'mif1heic'), 'heic'],
    ['MP4', bytes(0, 0, 0, 24, 'ftypisom', 0, 0, 2, 0, 'isomiso2'), 'sound'],
    ['RIFF of something else', bytes('RIFF', 9, 0, 0, 0, 'AVI LIST'), null],
    ['GIF of another version', bytes('GIF88a'), null],
    ['half of PNG', bytes(0x89, 'PNG', 0x0d, 0x0a, 0x1a), null],
    ['SVG', bytes('<?xml version="1.0"?>\n<!-- a chart -->\n<!DOCTYPE svg>\n<svg width="9">'), 'svg'],
    ['SVG with a prefix and a byte order mark', new Uint8Array(Buffer.from('\ufeff  <s:svg xmlns:s="http://www.w3.org/2000/svg">')), 'svg'],
    ['InkML', bytes('<ink xmlns="http://www.w3.org/2003/InkML"/>'), 'ink'],
    ['InkML with an attribute', bytes('<ink id="a">'), 'ink'],
    ['a page of the web with a drawing in it', bytes('<html><svg></svg></html>'), null],
    ['words', bytes('Dear harbour master'), null],
    ['nothing', new Uint8Array(0), null],
  ];
  expect(kinds.map(([name, data]) => [name, fileKind(data)])).toEqual(kinds.map(([name, , kind]) => [name, kind]));
});
