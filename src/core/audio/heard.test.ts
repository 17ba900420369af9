import * as fc from 'fast-check';
import { RecordError } from '../record';
import { readHeard, writeHeard } from './heard';

const spans = fc.array(fc.tuple(fc.integer({ min: 1, max: 9000 }), fc.integer({ min: 1, max: 9000 }))).map((steps) => {
  let at = 0;
  return steps.map(([silence, speech]) => ({ from: (at += silence), to: (at += speech) }));
});

test('what is known of a take is read as it was written', () => {
  fc.assert(
    fc.property(spans, fc.uint8Array({ maxLength: 400 }), fc.constantFrom('levels' as const, 'model' as const), fc.integer({ min: 0, max: 7_200_000 }), (speech, levels, by, ms) => {
      expect(readHeard(writeHeard({ ms, by, speech, levels }))).toEqual({ ms, by, speech, levels });
    }),
  );
});

test('a damaged record is told from a whole one', () => {
  for (const text of ['', 'x', '{}\n', '{"v":1,"ms":5,"by":"ear","edges":[]}\n', '{"v":2,"ms":5,"by":"model","edges":[]}\n']) expect(() => readHeard(text)).toThrow(RecordError);
});
