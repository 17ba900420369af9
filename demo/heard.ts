/**
 * Where somebody speaks in the demo notes, found as the application finds it and put into their bundles, so that a first visitor need not wait for it: the second
 * half of `npm run demo:make`. Needs ffmpeg.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Heard } from '../src/core/audio/heard';
import { Levels, speechByBoth, speechByEnergy, speechByModel } from '../src/core/audio/speech';
import { bytesOf } from '../src/core/formats/blobFile';
import { readBundle, writeBundle } from '../src/core/formats/bundle';

const RATE = 48_000;
const NOTES = path.join(__dirname, 'notes');

function heardOf(webm: Uint8Array, ms: number, folder: string): Heard {
  const file = path.join(folder, 'take.webm');
  writeFileSync(file, webm);
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-ar', String(RATE), '-ac', '1', '-f', 'f32le', '-'], { maxBuffer: 1 << 30 });
  const samples = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length) as ArrayBuffer);
  const levels = new Levels();
  levels.add(samples, RATE, 0);
  const bytes = levels.bytes();
  const model = execFileSync('npx', ['tsx', path.join(__dirname, '../tests/helpers/modelSpeech.ts')], { input: raw, maxBuffer: 1 << 28 });
  const speech = speechByBoth(speechByModel(JSON.parse(model.toString()) as number[]), speechByEnergy(bytes), bytes.length * 20);
  return { ms, by: 'model', speech, levels: bytes };
}

async function main(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'scrivo-heard-'));
  for (const name of readdirSync(NOTES).filter((n) => n.endsWith('.scrivo'))) {
    const file = path.join(NOTES, name);
    const bundle = await readBundle(new Uint8Array(readFileSync(file)));
    const heard = new Map(bundle.note.header.takes.flatMap(({ id, ms }) => (bundle.takes.has(id) ? [[id, heardOf(bundle.takes.get(id)!, ms, folder)] as const] : [])));
    writeFileSync(file, await bytesOf(await writeBundle({ ...bundle, heard })));
    for (const h of heard.values()) console.log(`${bundle.note.header.title}: ${h.speech.length} runs of speech in ${(h.ms / 1000).toFixed(0)} s`);
  }
  rmSync(folder, { recursive: true });
}

main().catch((e: unknown) => {
  console.error(e);
  process.exit(1);
});
