/** Open formats against their standards and against other programs. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { zipSync } from 'fflate';
import { fillHoles, opusHead, packetsOfWebm, webmFrom, webmOf } from './webmFile';
import type { Packet } from '../audio/opus';
import { packetsEnd } from '../audio/pieces';
import { PEN_KINDS, penOf } from '../ink/pen';
import { PointBuffer } from '../ink/points';
import { makeStroke, pointsOf, type Stroke } from '../ink/stroke';
import { applyEdit, noteOf } from '../note/edit';
import { newPage } from '../note/schema';
import { BlobFile, bytesOf } from './blobFile';
import type { Heard } from '../audio/heard';
import { BundleError, readBundle, writeBundle, type Bundle } from './bundle';
import { InkmlError, readInkml, traceValues, writeInkml } from './inkml';
import { WebmStream } from './webmStream';

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
const fallback = { page: 'p', pen: { kind: 'ball' as const, color: '#16324f', width: 0.4 }, id: () => 'new', wall: 5 };

describe('InkML (W3C Recommendation, 20 September 2011)', () => {
  test('the difference-encoded trace of section 3.2.1 gives the values its table lists', () => {
    // The Recommendation's own example with X and Y. The values of its table are from memory; the rows before the last two follow from adding up alone,
    // those two show the wildcard: the speed along X stays as it was.
    const values = traceValues(`1125 18432,'23'43,"7"-8,3-5,7 -3,6 2,6 8,3 6,2 4,*5,3 6`, 2);
    expect(values).toEqual([
      [1125, 18432],
      [1148, 18475],
      [1178, 18510],
      [1211, 18540],
      [1251, 18567],
      [1297, 18596],
      [1349, 18633],
      [1404, 18676],
      [1461, 18723],
      [1518, 18775],
      [1578, 18833],
    ]);
  });

  test('a plain trace as in the first example of the Recommendation', () => {
    // Section 1: the opening example writes "hello" as traces of X and Y alone; its first points.
    const text = '<ink xmlns="http://www.w3.org/2003/InkML"><trace>10 0, 9 14, 8 28, 7 42, 6 56, 6 70, 8 84</trace><trace>130 155, 144 159, 158 160</trace></ink>';
    const read = readInkml(text, fallback);
    expect(read).toHaveLength(2);
    expect([...pointsOf(read[0]).xy.slice(0, 6)]).toEqual([10, 0, 9, 14, 8, 28]);
    expect(read[1].page).toBe('p');
  });

  test('strokes come back with points, pressure, times, pens and stamps', () => {
    expect(readInkml(writeInkml(strokes), fallback)).toEqual(strokes);
  });

  test('pens of every kind, shapes, areas and groups come back', () => {
    const shape = { name: 'curve' as const, at: [[10, 10], [20.25, 5], [30, 25], [40.5, 10]] as const, heads: 'end' as const, from: { to: 's0', u: 0.5 } };
    const dressed = PEN_KINDS.map((kind, k) => ({
      ...strokes[k],
      pen: penOf({ kind, color: '#2456a6', width: 0.35, opacity: k % 2 ? 0.4 : 1, line: k % 3 ? 'dotted' : undefined, angle: 25 }),
      ...(k === 1 ? { shape } : {}),
      ...(k === 2 ? { fill: '#f6e3a8' } : {}),
      ...(k > 3 ? { group: 'g' } : {}),
    }));
    expect(readInkml(writeInkml(dressed), fallback)).toEqual(dressed);
  });

  test('what is written is well-formed XML with one trace a stroke', () => {
    const file = path.join(folder, 'ink.inkml');
    writeFileSync(file, writeInkml(strokes));
    const counted = execFileSync('python3', ['-c', `import xml.etree.ElementTree as E,sys;print(len(E.parse(sys.argv[1]).getroot().findall('.//{http://www.w3.org/2003/InkML}trace')))`, file]);
    expect(Number(counted)).toBe(strokes.length);
  });

  test('what is no ink is refused with a sentence', () => {
    for (const bad of ['', 'hello', '<svg/>', '<ink><trace>1</trace></ink>']) expect(() => readInkml(bad, fallback)).toThrow(InkmlError);
  });
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
