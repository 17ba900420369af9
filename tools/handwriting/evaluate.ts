/** Figures of the reader on the faces it never saw (`held.py`) and on all of Hershey's: `npx tsx tools/handwriting/evaluate.ts HELD.json [MODEL.onnx]`. */
import { readFileSync } from 'node:fs';
import { greedy } from '../../src/core/reading/ctc';
import { readings } from '../../src/core/reading/decoding';
import type { Trace } from '../../src/core/reading/drawing';
import { Lexicon, wordsOf } from '../../src/core/reading/lexicon';
import { readerInNode } from '../../tests/helpers/readerInNode';
import { FONTS, writeText } from '../../tests/helpers/hershey';
import { mistakes } from '../../tests/helpers/textMetrics';

interface Sample {
  readonly kind: 'word' | 'outside' | 'number' | 'line';
  readonly text: string;
  readonly face: string;
  readonly even: Trace[];
  readonly natural: Trace[];
}

const plain = (text: string) => text.toLowerCase();

async function main(): Promise<void> {
  const [file, model] = process.argv.slice(2);
  const samples = JSON.parse(readFileSync(file, 'utf8')) as Sample[];
  const lexicon = new Lexicon(wordsOf(readFileSync('public/reading/english.txt', 'utf8')));
  const reader = await readerInNode(lexicon, model);
  const rows: Record<string, { n: number; signs: number; wrong: number; right: number; three: number; words: number; wordsRight: number; ms: number }> = {};
  const add = async (group: string, text: string, strokes: Trace[]) => {
    const row = (rows[group] ??= { n: 0, signs: 0, wrong: 0, right: 0, three: 0, words: 0, wordsRight: 0, ms: 0 });
    const logs = await reader.logsOf(strokes);
    const free = greedy(logs).trim();
    const began = performance.now();
    const found = readings(logs, lexicon);
    row.ms += performance.now() - began;
    row.n++;
    row.signs += text.length;
    row.wrong += mistakes([...text], [...free]);
    const want = plain(text);
    row.right += Number(plain(found[0]?.text ?? '') === want);
    row.three += Number(found.slice(0, 3).some((r) => plain(r.text) === want));
    const words = want.split(' ');
    row.words += words.length;
    row.wordsRight += words.length - Math.min(words.length, mistakes(words, plain(found[0]?.text ?? '').split(' ')));
  };
  for (const s of samples) for (const as of ['even', 'natural'] as const) await add(`${s.kind}, ${as}`, s.text, s[as]);
  for (const font of FONTS) {
    const words = samples.filter((s) => s.kind === 'word').slice(0, 60).map((s) => s.text);
    const hand = { font, size: 4, slant: 0.1, jitter: 0.03, late: 0.5, tracking: 1, spacing: 1 };
    for (const [i, text] of words.entries()) await add(`Hershey ${font}`, text, writeText([text], hand, { x: 0, y: 10, width: 400, pitch: 10, wall: 0, seed: i }).words[0].strokes.map((s) => s.points.map((p) => [p.x, p.y] as const)));
  }
  for (const [group, r] of Object.entries(rows)) console.log(`${group.padEnd(18)} ${String(r.n).padStart(4)}  CER ${(r.wrong / r.signs).toFixed(3)}  right ${(r.right / r.n).toFixed(3)}  in three ${(r.three / r.n).toFixed(3)}  words ${(r.wordsRight / r.words).toFixed(3)}  ${(r.ms / r.n).toFixed(1)} ms`);
}

void main();
