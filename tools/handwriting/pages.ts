/** Whole pages through the application's own word finder and reader, in the six faces that neither was made by: `npx tsx tools/handwriting/pages.ts`. A word is right when it was found as it was written and says what it says. */
import { readFileSync } from 'node:fs';
import { groupWords } from '../../src/core/ink/words/words';
import { readings } from '../../src/core/reading/decoding';
import { Lexicon, wordsOf } from '../../src/core/reading/lexicon';
import { KEPT_APART, LAYOUTS, someHand, somePage } from '../../tests/helpers/faces';
import { random } from '../../tests/helpers/hershey';
import { readerInNode } from '../../tests/helpers/readerInNode';

/** Pages of each layout in each face, each in a hand of its own: size, spaces, slope, drift, late dots and joins vary as with people. */
const PAGES = 2;

async function main(): Promise<void> {
  const lexicon = new Lexicon(wordsOf(readFileSync('public/reading/english.txt', 'utf8')));
  const reader = await readerInNode(lexicon);
  const all: Record<string, { words: number; found: number; right: number }> = {};
  for (const [f, face] of KEPT_APART.entries()) {
    for (const [l, layout] of LAYOUTS.entries()) {
      for (let n = 0; n < PAGES; n++) {
        const seed = 1000 * f + 100 * l + n + 1;
        const written = somePage(layout, someHand(face, random(seed)), seed);
        const strokes = written.flatMap((w) => w.strokes);
        const by = new Map(strokes.map((s) => [s.id, s]));
        const found = new Map(groupWords(strokes).words.map((w) => [[...w.strokes].sort().join(' '), w.strokes]));
        for (const group of [layout, face, 'all']) all[group] ??= { words: 0, found: 0, right: 0 };
        for (const word of written) {
          const ids = found.get(word.strokes.map((s) => s.id).sort().join(' '));
          const text = ids ? readings(await reader.logsOf(ids.map((id) => by.get(id)!.points.map((p) => [p.x, p.y] as const))), lexicon)[0]?.text : undefined;
          const right = text?.toLowerCase() === word.text.toLowerCase();
          for (const group of [layout, face, 'all']) {
            all[group].words++;
            all[group].found += Number(ids !== undefined);
            all[group].right += Number(right);
          }
        }
      }
    }
  }
  for (const [group, { words, found, right }] of Object.entries(all)) console.log(`${group.padEnd(22)} ${String(words).padStart(5)} words, found as written ${(found / words).toFixed(3)}, read right ${(right / words).toFixed(3)}`);
}

void main();
