/** Reading handwriting and looking for it: the network and the words in Node, and a search over as many words as a student writes in a week and in years. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { groupWords } from '../../src/core/ink/words/words';
import { strokesOf } from '../../src/core/note/kinds/kinds';
import { textOf } from '../../src/core/note/binaryText';
import { readings } from '../../src/core/reading/decoding';
import type { Logs } from '../../src/core/reading/ctc';
import type { Trace } from '../../src/core/reading/drawing';
import { Lexicon, wordsOf } from '../../src/core/reading/lexicon';
import { MODEL } from '../../src/core/reading/model';
import { writePageText } from '../../src/core/reading/pageText';
import { packLogs } from '../../src/core/reading/posteriors';
import { traceOfStroke } from '../../src/core/reading/readWords';
import { queryOf, searchable, searchWords, wordsIn, type SearchWord } from '../../src/core/reading/search';
import { readerInNode } from '../helpers/readerInNode';
import { likesOf, shapeOf } from '../../src/core/reading/shape';
import { atMost, demo, ms, row, timed } from './kit';
import { beside } from './readingBeside';

export async function reading(): Promise<void> {
  console.log('-- reading, in Node');
  const made = timed(() => new Lexicon(wordsOf(readFileSync(path.join(__dirname, '../../public/reading/english.txt'), 'utf8'))), 0);
  row('the tree of words, once', ms(made.ms));
  const reader = await readerInNode(made.value);
  const words = Object.values(demo.note.ink).flatMap((list) => {
    const by = new Map(strokesOf(list).map((s) => [s.id, s]));
    return groupWords(strokesOf(list)).words.map((w): Trace[] => w.strokes.map((id) => traceOfStroke(by.get(id)!)));
  });
  const logs: Logs[] = [];
  const began = performance.now();
  for (const word of words) logs.push(await reader.logsOf(word));
  row('the network, a word', ms((performance.now() - began) / words.length));
  const decoded = timed(() => logs.map((l) => readings(l, made.value)), 0);
  row('words of the list, a word', ms(decoded.ms / words.length));
  const packed = logs.map((l) => textOf(packLogs(l)));
  const plain = logs.map((l) => textOf(new Uint8Array(l.log.buffer)));
  const bytes = packed.reduce((n, t) => n + t.length, 0) / packed.length;
  row('bytes kept of a word', bytes.toFixed(0), `as the network gives them ${(plain.reduce((n, t) => n + t.length, 0) / plain.length).toFixed(0)}`, atMost(bytes, 1024, 'at most 1 KB'));
  const some = logs.map((_, i): SearchWord => {
    const [best, ...others] = decoded.value[i].map((r) => wordsIn(r.text).join(' '));
    return searchable({ text: best ?? '', others, sure: decoded.value[i].map((r) => r.confidence), logs: packed[i] });
  });
  for (const [count, limit] of [[2000, 50], [200_000, 300]] as const) {
    const list = Array.from({ length: count }, (_, i) => some[i % some.length]);
    const took = timed(() => searchWords(list, queryOf('curve almanac')).length);
    const other = timed(() => list.filter((w) => w.text.includes('curve')).length);
    row(`searching ${count.toLocaleString('en')} words`, ms(took.ms), `the text alone, by letters ${ms(other.ms)}`, atMost(took.ms, limit, `under ${limit} ms`));
  }
  // What is kept of a page, with the list of all that can be looked for.
  const text = writePageText({ model: MODEL, words: Object.fromEntries(packed.map((log, i) => [`word${i}`, { readings: decoded.value[i], logs: log }])), list: packed.map((_, i) => ({ key: `word${i}`, shown: some[i].text, box: [20, 30, 40, 36], id: `stroke-${i}-of-a-note`, line: i >> 3, stamp: { take: 'take-of-a-note', at: 1000 * i } })) });
  row('index on disk, bytes a word', (text.length / packed.length).toFixed(0), '', atMost(text.length / packed.length, 1024, 'at most 1 KB'));
  const shapes = words.map((w) => shapeOf(w));
  const many = Array.from({ length: 2000 }, (_, i) => shapes[i % shapes.length]);
  const likes = timed(() => likesOf(shapes.find((s) => s !== null)!, many).length);
  row('searching 2,000 words by writing', ms(likes.ms), '', atMost(likes.ms, 300, 'under 300 ms'));
  await beside(reader);
}
