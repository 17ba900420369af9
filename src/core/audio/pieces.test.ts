import { RecordError } from '../record';
import { packetsEnd, pieceOf, readPiece, writePiece } from './pieces';

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
