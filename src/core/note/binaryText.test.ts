/** Text as bytes and back. What is UTF-16 is judged by Node's own decoder. */
import fc from 'fast-check';
import { binaryOf, bytesOfRecord, recordOfBytes, textOf } from './binaryText';

const narrow = fc.array(fc.integer({ min: 0, max: 255 })).map((list) => String.fromCharCode(...list));
/** Any signs of 16 bits, halves of pairs too: a damaged record can have them. */
const any = fc.array(fc.integer({ min: 0, max: 0xffff })).map((list) => String.fromCharCode(...list));

test('any text comes back sign by sign; one byte for each sign where that is enough', () => {
  fc.assert(
    fc.property(fc.oneof(narrow, any, fc.string({ unit: 'grapheme' })), (text) => {
      fc.pre(!text.startsWith('\u00ff\u00fe'));
      expect(recordOfBytes(bytesOfRecord(text))).toBe(text);
    }),
  );
  fc.assert(fc.property(narrow, (text) => expect([bytesOfRecord(text).length, textOf(binaryOf(text))]).toEqual([text.length, text])));
  const wide = '{"title":"Łódź 水 😀"}';
  expect(new TextDecoder('utf-16le').decode(bytesOfRecord(wide))).toBe(wide);
  expect(bytesOfRecord('{"title":"Ebb"}')).toEqual(new Uint8Array(Buffer.from('{"title":"Ebb"}')));
});
