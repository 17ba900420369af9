/** Open formats against their standards and against other programs. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import Ajv from 'ajv';
import { unzipSync, zipSync } from 'fflate';
import { bundleJsonSchema } from './bundleSchema';
import { fillHoles, opusHead, packetsOfWebm, webmFrom, webmOf } from './webmFile';
import type { Packet } from '../audio/opus';
import { packetsEnd } from '../audio/pieces';
import { PointBuffer } from '../ink/points';
import { makeStroke, type Stroke } from '../ink/stroke';
import { applyEdit, noteOf } from '../note/edit';
import { newPage } from '../note/schema';
import { BlobFile, bytesOf } from './blobFile';
import type { Heard } from '../audio/heard';
import { BundleError, readBundle, writeBundle, type Bundle } from './bundle';
import { WebmStream } from './webmStream';

const ROOT = path.resolve(__dirname, '../../..');
let folder = '';
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'scrivo-formats-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const strokes: Stroke[] = Array.from({ length: 12 }, (_, k) => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 25; i++) buffer.add(20 + k * 6 + i * 0.13, 40 + 2 * Math.sin(i / 3), 0.2 + 0.02 * i, i * 8);
  return makeStroke(buffer.points(), { id: `s${k}`, page: 'p1', pen: k % 2 ? { kind: 'fountain', color: '#14665b', width: 0.5 } : { kind: 'felt', color: '#b5382a', width: 0.7 }, stamp: k % 3 ? { take: 'take1', at: 1000.5 * k } : null, wall: 1_700_000_000_000 + 900 * k });
});

/** A second of sound by ffmpeg's own encoder, as WebM. */
function foreignWebm(seconds: number): Uint8Array {
  const file = path.join(folder, `tone${seconds}.webm`);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `sine=frequency=440:duration=${seconds}`, '-c:a', 'libopus', '-b:a', '32k', file]);
  return new Uint8Array(readFileSync(file));
}

describe('WebM', () => {
  test('read in pieces of any size, the stream gives the packets a full reader gives', async () => {
    const bytes = foreignWebm(3);
    const reference = await packetsOfWebm(bytes);
    for (const size of [1, 7, 500, bytes.length]) {
      const stream = new WebmStream();
      const packets: Packet[] = [];
      for (let i = 0; i < bytes.length; i += size) packets.push(...stream.push(bytes.subarray(i, i + size)));
      expect(stream.codec).toBe('A_OPUS');
      expect(packets.map((p) => p.data)).toEqual(reference.map((p) => p.data));
      // The full reader takes the codec's delay off the first time stamp; the recorder's own times are the block times.
      packets.forEach((p, i) => expect(Math.abs(p.t - reference[i].t)).toBeLessThan(8));
    }
  });

  test('what is not WebM is refused', () => {
    expect(() => new WebmStream().push(new TextEncoder().encode('\0 this is no sound'))).toThrow('not WebM');
  });

  test('what is written has the length and the time stamps it should, by ffprobe', async () => {
    const packets = await packetsOfWebm(foreignWebm(4));
    // A second lost in the middle: what comes after keeps its time.
    const torn = packets.filter((p) => p.t < 1500 || p.t >= 2500).map((p) => ({ ...p, t: p.t - packets[0].t }));
    const file = path.join(folder, 'torn.webm');
    writeFileSync(file, await webmOf(fillHoles(torn, 0), opusHead(1)));
    const probe = execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', file]).toString().trim().split('\n').map((l) => parseFloat(l) * 1000);
    for (const p of torn) expect(probe.some((t) => Math.abs(t - p.t) < 8)).toBe(true);
    for (let i = 1; i < probe.length; i++) expect(probe[i] - probe[i - 1]).toBeLessThan(41);
    // A piece of five seconds whose end was lost is silent up to its end, so that the next one follows without a gap.
    const padded = fillHoles(torn.filter((p) => p.t < 1000), 0, 5000);
    expect(packetsEnd(padded)).toBeGreaterThan(4980);
    expect(packetsEnd(padded)).toBeLessThanOrEqual(5000);
    const codec = execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=codec_name,sample_rate', '-of', 'csv=p=0', file]).toString().trim();
    expect(codec).toBe('opus,48000');
    expect(packetsEnd(torn)).toBeGreaterThan(3900);
  });
});

describe('sound that is written in portions', () => {
  test('is the file that is written at once, seekable, with its length, whatever the portions are; holes between them are silent', async () => {
    const all = await packetsOfWebm(foreignWebm(30));
    const packets = all.filter((p) => p.t < 9000 || p.t >= 11_000).map((p) => ({ ...p, t: p.t - all[0].t }));
    const whole = await webmOf(fillHoles(packets, packets[0].t), opusHead(2));
    for (const size of [7, 451, packets.length]) {
      let k = 0;
      const blob = await webmFrom(() => Promise.resolve(k >= packets.length ? null : packets.slice(k, (k += size))), opusHead(2));
      expect(await packetsOfWebm(await bytesOf(blob!))).toEqual(await packetsOfWebm(whole));
      const file = path.join(folder, `portions${size}.webm`);
      writeFileSync(file, await bytesOf(blob!));
      const length = Number(execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', file]).toString());
      expect(Math.abs(length - 30)).toBeLessThan(0.1);
    }
    expect(await webmFrom(() => Promise.resolve(null), opusHead(2))).toBeNull();
    // A piece that says it lies where another does is left out, and costs nothing of the rest.
    const parts = [packets.slice(0, 200), packets.slice(50, 150), packets.slice(200)];
    const damaged = await webmFrom(() => Promise.resolve(parts.shift() ?? null), opusHead(2));
    expect(await packetsOfWebm(await bytesOf(damaged!))).toEqual(await packetsOfWebm(whole));
  });

  test('a file in blobs holds what was written last at each place', async () => {
    // Against a plain array of bytes, written in the same way.
    const plain = new Uint8Array(400);
    const file = new BlobFile();
    file.write(plain.slice(), 0);
    let seed = 5;
    const random = (n: number): number => (seed = (seed * 48_271) % 2_147_483_647) % n;
    for (let k = 1; k < 200; k++) {
      const [at, n] = [random(390), 1 + random(10)];
      const data = new Uint8Array(n).fill(k);
      plain.set(data, at);
      file.write(data, at);
    }
    expect(await bytesOf(file.blob('x'))).toEqual(plain);
    file.write(new Uint8Array(3), 500);
    expect(() => file.blob('x')).toThrow('missing');
  });
});

describe('bundle', () => {
  const header = { v: 1 as const, id: 'n1', title: 'Tides & buoys', made: 1_700_000_000_000, changed: 1_700_000_100_000, pages: [newPage('p1')], takes: [{ id: 'take1', name: 'Take 1', wall: 1, ms: 3000, state: 'done' as const, parts: [{ at: 0, wall: 1 }] }], timeline: [{ take: 'take1', from: 0, to: 3000 }] };
  const { note } = applyEdit(noteOf(header), { put: strokes });

  test('comes back the same, and `unzip -t` finds nothing wrong with it', async () => {
    const takes = new Map([['take1', foreignWebm(3)]]);
    const bytes = await bytesOf(await writeBundle({ note, takes }));
    const file = path.join(folder, 'note.scrivo');
    writeFileSync(file, bytes);
    expect(execFileSync('unzip', ['-t', file]).toString()).toContain('No errors detected');
    const read = await readBundle(bytes);
    expect(read.note).toEqual(note);
    expect(read.takes.get('take1')).toEqual(takes.get('take1'));
  });

  test('holds what docs/bundle.schema.json says, by a validator of JSON Schema (draft 7), in the demo notes and here', async () => {
    const schema = JSON.parse(readFileSync(path.join(ROOT, 'docs/bundle.schema.json'), 'utf8')) as object;
    // Written by scripts/schema.ts from the schemas the program itself reads by.
    expect(schema).toEqual(JSON.parse(JSON.stringify(bundleJsonSchema())));
    const validate = new Ajv({ schemaId: 'auto' }).compile(schema);
    const jsonOf = (bytes: Uint8Array) => JSON.parse(new TextDecoder().decode(unzipSync(bytes)['note.json'])) as Record<string, unknown>;
    const notes = path.join(ROOT, 'demo/notes');
    const bundles = readdirSync(notes).filter((n) => n.endsWith('.scrivo')).map((n) => new Uint8Array(readFileSync(path.join(notes, n))));
    expect(bundles.length).toBeGreaterThan(2);
    for (const bundle of [...bundles, await bytesOf(await writeBundle({ note, takes: new Map() }))]) {
      expect([validate(jsonOf(bundle)), validate.errors]).toEqual([true, null]);
    }
    const bad = jsonOf(bundles[0]);
    expect(validate({ ...bad, pages: [] })).toBe(false);
    expect(validate({ ...bad, timeline: [{ take: 1 }] })).toBe(false);
  });

  test('what was found in its sound goes along; what does not fit the take is found anew', async () => {
    const takes = new Map([['take1', foreignWebm(3)]]);
    const heard: Heard = { ms: 3000, by: 'model', speech: [{ from: 400, to: 1200 }, { from: 1500, to: 2900 }], levels: Uint8Array.from({ length: 150 }, (_, i) => i) };
    const read = await readBundle(await bytesOf(await writeBundle({ note, takes, heard: new Map([['take1', heard]]) })));
    expect(read.heard).toEqual(new Map([['take1', heard]]));
    expect([...read.others.keys()]).toEqual([]);
    for (const wrong of [{ ...heard, ms: 9000 }, { ...heard, speech: [heard.speech[1], heard.speech[0]] }, { ...heard, speech: [{ from: 0, to: 99_000 }] }, { ...heard, levels: new Uint8Array(9) }]) {
      expect((await readBundle(await bytesOf(await writeBundle({ note, takes, heard: new Map([['take1', wrong]]) })))).heard.size).toBe(0);
    }
  });

  test('a small file that would fill the memory is refused before it does: one large file in it, many that are large together, very many', async () => {
    const files = { 'note.json': new TextEncoder().encode('{}') };
    /** A ZIP whose directory says that its files, but the note, have so many bytes (APPNOTE 4.3.12: at 24 of each entry). What it says is asked before anything is unpacked. */
    const claiming = (names: readonly string[], size: number): Uint8Array => {
      const bytes = zipSync({ ...files, ...Object.fromEntries(names.map((n) => [n, new Uint8Array(9)])) }, { level: 6 });
      const view = new DataView(bytes.buffer, bytes.byteOffset);
      for (let i = 0, n = 0; i < bytes.length - 4; i++) if (view.getUint32(i, true) === 0x02014b50 && n++ > 0) view.setUint32(i + 24, size, true);
      return bytes;
    };
    const bombs = {
      'large text': claiming(['ink.inkml'], 140 << 20),
      'large together': claiming(Array.from({ length: 5 }, (_, i) => `contents/${i}`), 60 << 20),
      'very many': zipSync({ ...files, ...Object.fromEntries(Array.from({ length: 20_001 }, (_, i) => [`x${i}`, new Uint8Array(1)])) }, { level: 0 }),
    };
    for (const [name, bytes] of Object.entries(bombs)) {
      const error = await readBundle(bytes).then(() => null, (e: unknown) => e);
      expect([name, error instanceof BundleError, (error as Error).message]).toEqual([name, true, expect.stringMatching(/Nothing was changed/)]);
    }
    // One file fewer is read, to find that its note is none.
    const most = zipSync({ ...files, ...Object.fromEntries(Array.from({ length: 19_999 }, (_, i) => [`x${i}`, new Uint8Array(1)])) }, { level: 0 });
    await expect(readBundle(most)).rejects.not.toThrow(/no more than 20000/);
  });

  test('cut short, flipped, or something else altogether: a sentence and nothing worse', async () => {
    const takes = new Map([['take1', foreignWebm(3)]]);
    const bytes = await bytesOf(await writeBundle({ note, takes }));
    for (const bad of [new Uint8Array(0), bytes.slice(0, 200), bytes.slice(0, -30), zipSync({ 'other.txt': new Uint8Array(3) })]) await expect(readBundle(bad)).rejects.toBeInstanceOf(BundleError);
    for (let i = 0; i < bytes.length; i += 97) {
      const flipped = bytes.slice();
      flipped[i] ^= 0x5a;
      let read: Bundle;
      try {
        read = await readBundle(flipped);
      } catch (e) {
        expect(['BundleError', 'RecordError']).toContain((e as Error).name);
        continue;
      }
      // A bit of what ZIP itself says of a file, such as its time, costs nothing of what is in it.
      expect([i, read.note, read.takes.get('take1')]).toEqual([i, note, takes.get('take1')]);
    }
  });
});
