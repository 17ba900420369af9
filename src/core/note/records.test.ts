import { writePiece, packetsEnd, pieceOf, readPiece } from '../audio/pieces';
import { PEN_KINDS, penOf } from '../ink/pen';
import { PointBuffer } from '../ink/points';
import { makeStroke } from '../ink/stroke';
import { readChunk, readHeader, RecordError, writeChunk, writeHeader } from './records';
import { newPage } from './schema';

const strokes = Array.from({ length: 5 }, (_, k) => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 20; i++) buffer.add(k + i * 0.7, 10 + (i % 5), 0.1 * (i % 10), i * 9);
  return makeStroke(buffer.points(), { id: `s${k}`, page: 'p', pen: { kind: 'fountain', color: '#14665b', width: 0.5 }, stamp: k ? { take: 't', at: k * 1000.5 } : null, wall: 1_000_000 + k });
});

test('ink comes back from its record byte for byte', () => {
  expect(readChunk(writeChunk(strokes))).toEqual({ strokes, lost: 0 });
  // Characters 0..255 only: kept at one byte each.
  expect([...writeChunk(strokes)].every((c) => c.charCodeAt(0) < 256)).toBe(true);
});

test('pens of every kind, shapes, areas and groups come back from their record', () => {
  const shape = { name: 'arrow' as const, at: [[10, 10], [50.5, 30.25]] as const, heads: 'both' as const, from: { to: 's0', u: 0.25 }, to: { to: 's1', u: 0.75 } };
  const dressed = PEN_KINDS.map((kind, k) => ({
    ...strokes[k % strokes.length],
    id: `d${k}`,
    pen: penOf({ kind, color: '#2456a6', width: 0.35, opacity: k % 2 ? 0.4 : 1, line: k % 3 ? 'dashed' : undefined, angle: 25 }),
    ...(k === 1 ? { shape } : {}),
    ...(k === 2 ? { fill: '#f6e3a8' } : {}),
    ...(k > 3 ? { group: 'g' } : {}),
  }));
  expect(readChunk(writeChunk(dressed))).toEqual({ strokes: dressed, lost: 0 });
});

test('one damaged stroke is left out and the others are read', () => {
  const text = writeChunk(strokes);
  const damaged = text.replace('"s2"', '""');
  expect(readChunk(damaged)).toEqual({ strokes: strokes.filter((s) => s.id !== 's2'), lost: 1 });
  // The end is missing: what it held is lost, the rest is not.
  expect(readChunk(text.slice(0, -3)).strokes).toEqual(strokes.slice(0, 4));
});

test('what is no record at all is refused with a sentence', () => {
  for (const bad of ['', 'x', '{}', '{"v":2,"strokes":[]}\n', '{"v":1,"wall":0,"pages":[],"pens":[],"takes":[],"strokes":[["a"]]}\n']) expect(() => readChunk(bad)).toThrow(RecordError);
  for (const bad of ['', '[]', '{"v":1}']) expect(() => readHeader(bad)).toThrow(RecordError);
});

test('a header comes back, and one with a foreign field or a wrong number does not slip through', () => {
  const header = { v: 1 as const, id: 'n', title: 'Tides', made: 1, changed: 2, pages: [newPage('p')], takes: [], timeline: [] };
  expect(readHeader(writeHeader(header))).toEqual(header);
  expect(() => readHeader(JSON.stringify({ ...header, pages: [] }))).toThrow(RecordError);
  expect(() => readHeader(JSON.stringify({ ...header, timeline: [{ take: 't', from: -1, to: 2 }] }))).toThrow(RecordError);
});

test('sound comes back from its record, and lies in the piece its time says', () => {
  // TOC byte 0x58: SILK, 60 ms, mono, one frame (RFC 6716, table 2).
  const packets = Array.from({ length: 84 }, (_, i) => ({ t: 5000 + 60 * i, data: Uint8Array.from([0x58, i, 255 - i, 0, 10, 13]) }));
  expect(readPiece(writePiece(packets))).toEqual(packets);
  expect(pieceOf(4999.9)).toBe(0);
  expect(pieceOf(5000)).toBe(1);
  expect(packetsEnd(packets)).toBe(5000 + 60 * 84);
  expect(() => readPiece(writePiece(packets).slice(0, -1))).toThrow(RecordError);
  expect(() => readPiece('nonsense')).toThrow(RecordError);
});
