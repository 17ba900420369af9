/**
 * Makes the demo notes anew: `npm run demo:make`. Needs Debian's festival with the voice festvox-us-slt-hts, flite, espeak-ng,
 * sox and ffmpeg. The bundles are committed, so nobody else needs those.
 */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { bytesOf } from '../src/core/formats/blobFile';
import { writeBundle } from '../src/core/formats/bundle';
import { applyEdit, noteOf } from '../src/core/note/edit';
import { newPage, type NoteHeader } from '../src/core/note/schema';
import type { Pen } from '../src/core/ink/pen';
import type { Stroke } from '../src/core/ink/stroke';
import { Hand, seeded, type Style } from './hand';
import { NOTES, type DemoNote, type Voice } from './scenario';

const RATE = 48_000;
const out = path.join(__dirname, 'notes');

const HANDS: Record<DemoNote['hand'], Style> = {
  flowing: { font: 'ems_allure', em: 8.2, lean: 0.02, pace: 78, loose: 1 },
  narrow: { font: 'ems_felix', em: 8.6, lean: 0.05, pace: 82, loose: 1.1 },
  upright: { font: 'ems_allure', em: 7.4, lean: -0.22, pace: 84, loose: 1.35 },
};

const NAVY: Pen = { kind: 'ball', color: '#16324f', width: 0.4 };
const GREEN: Pen = { kind: 'fountain', color: '#14665b', width: 0.5 };
const RED: Pen = { kind: 'felt', color: '#b5382a', width: 0.45 };

/** Every phrase by itself, so that it is known when it is spoken. */
function speak(text: string, voice: Voice, folder: string, n: number): Float32Array {
  const raw = path.join(folder, `raw${n}.wav`);
  const wav = path.join(folder, `say${n}.wav`);
  const festival = () => {
    const txt = path.join(folder, `say${n}.txt`);
    writeFileSync(txt, text);
    execFileSync('text2wave', ['-eval', '(voice_cmu_us_slt_arctic_hts)', '-o', raw, txt]);
  };
  const flite = (v: string) => execFileSync('flite', ['-voice', v, '-t', text, '-o', raw]);
  const espeak = (v: string, pitch: number, speed: number) => execFileSync('espeak-ng', ['-v', v, '-p', String(pitch), '-s', String(speed), '-w', raw, text]);
  ({
    lecturer: festival,
    student: () => espeak('en-gb', 62, 158),
    pilot: () => flite('rms'),
    chair: festival,
    treasurer: () => flite('awb'),
    boatman: () => espeak('en-gb', 38, 150),
  })[voice]();
  // Somebody who lectures and lets people write speaks a little slower than the machine.
  const tempo = voice === 'lecturer' ? ['tempo', '-s', '0.9'] : [];
  execFileSync('sox', [raw, '-r', String(RATE), '-c', '1', '-b', '16', wav, 'norm', '-4', ...tempo, 'silence', '1', '0.02', '0.3%', 'reverse', 'silence', '1', '0.02', '0.3%', 'reverse']);
  const data = readFileSync(wav);
  const start = data.indexOf('data') + 8;
  const samples = new Float32Array((data.length - start) >> 1);
  for (let i = 0; i < samples.length; i++) samples[i] = data.readInt16LE(start + 2 * i) / 32768;
  return samples;
}

/** Room noise under everything, so that pauses are pauses and not holes. */
function room(samples: Float32Array, rnd: () => number): void {
  let low = 0;
  for (let i = 0; i < samples.length; i++) {
    low += 0.04 * (rnd() - 0.5 - low);
    samples[i] = Math.max(-1, Math.min(1, samples[i] + 0.006 * low + 0.0008 * (rnd() - 0.5)));
  }
}

async function make(demo: DemoNote): Promise<NoteHeader> {
  const folder = mkdtempSync(path.join(tmpdir(), 'scrivo-demo-'));
  const rnd = seeded(demo.seed);
  const wall0 = Date.parse(demo.at);
  const take = `${demo.id}-take1`;

  const voices = demo.phrases.map((p, n) => (p.pause ? null : speak(p.say!, p.voice!, folder, n)));

  /** Take time of the next phrase, ms; pauses of the recording take none, `away` is what they took of the day. */
  let at = 800;
  let away = 0;
  const takeParts = [{ at: 0, wall: wall0 }];
  const spoken: { at: number; samples: Float32Array }[] = [];
  /** Take time at a moment of the day (ms since the start), null in a pause. */
  const takeTime = (day: number): number | null => {
    for (let i = takeParts.length - 1; i >= 0; i--) {
      const part = takeParts[i];
      const since = day - (part.wall - wall0);
      if (since < 0) continue;
      const end = takeParts[i + 1]?.at ?? Infinity;
      return part.at + since < end ? part.at + since : null;
    }
    return null;
  };

  // What is written, when.
  const pages = [newPage(`${demo.id}-p1`)];
  const { spacing, top } = pages[0].paper;
  const hand = new Hand(HANDS[demo.hand], rnd);
  const strokes: Stroke[] = [];
  let line = 0;
  let pen = 0;
  let page = pages[0];
  const baseline = () => top + line * spacing - 1.1;
  const room2 = (lines: number) => {
    if (baseline() + lines * spacing < page.h - 14) return;
    page = newPage(`${demo.id}-p${pages.length + 1}`);
    pages.push(page);
    line = 0;
  };
  /** `now`: ms of the writer's day since the start. */
  const put = (lines: [number, number][][], with_: Pen, now: number): number => {
    let t = now;
    for (const l of lines) {
      const sound = takeTime(t);
      const stamp = sound === null ? null : { take, at: Math.round(sound * 10) / 10 };
      const s = hand.stroke(l, with_, { id: `${demo.id}-s${strokes.length}`, page: page.id, wall: Math.round(wall0 + t), stamp });
      strokes.push(s);
      t += s.ms + 50 + 60 * rnd();
    }
    return t;
  };
  demo.phrases.forEach((phrase, n) => {
    const lag = (phrase.lag ?? 1.5 + 2.5 * rnd()) * 1000;
    let t = Math.max(pen + 250, at + away + lag);
    if (phrase.pause) {
      // Nobody stops a recording in the middle of a line.
      at = Math.max(at, pen - away + 800);
      t = at + away + lag;
      away += phrase.pause * 1000;
      takeParts.push({ at, wall: wall0 + at + away });
    } else {
      spoken.push({ at, samples: voices[n]! });
      at += (voices[n]!.length / RATE) * 1000 + (phrase.rest ?? 1.2) * 1000;
    }
    for (const raw of phrase.write ?? []) {
      room2(1);
      const color = raw.startsWith('*') ? RED : raw.startsWith('+') ? GREEN : NAVY;
      const text = raw.replace(/^[*+]/, '');
      const indent = text.startsWith('- ') ? 9 : 0;
      let x = 14 + indent + 1.5 * rnd();
      for (const word of text.split(/\s+/)) {
        const { lines, end } = hand.word(word, x, baseline());
        t = put(lines, color, t) + 120 + 160 * rnd();
        x = end + HANDS[demo.hand].em * (0.36 + 0.08 * rnd());
      }
      line++;
      t += 200 + 300 * rnd();
    }
    if (phrase.draw === 'underline') {
      t = put([hand.freehand([[14, baseline() - spacing + 2.6], [14 + hand.width('Tides - rule of twelfths') * 0.98, baseline() - spacing + 2.9]])], RED, t + 200);
      line++;
    } else if (phrase.draw) {
      const rows = phrase.draw === 'tide curve' ? 9 : 5;
      room2(rows + 1);
      const [x0, y0] = [26, baseline() + 1];
      const h = rows * spacing - 6;
      const d: { lines: [number, number][][]; pen: Pen }[] = [];
      if (phrase.draw === 'tide curve') {
        const w = 120;
        const tide = Array.from({ length: 25 }, (_, i): [number, number] => [x0 + (w * i) / 24, y0 + h - 5 - ((h - 12) * (1 - Math.cos((Math.PI * i) / 24))) / 2]);
        d.push({ lines: [hand.freehand([[x0, y0], [x0, y0 + h]]), hand.freehand([[x0 - 3, y0 + h], [x0 + w + 10, y0 + h]])], pen: NAVY });
        d.push({ lines: [hand.freehand(tide)], pen: GREEN });
        d.push({ lines: Array.from({ length: 5 }, (_, i) => hand.freehand([[x0 + (w * (i + 1)) / 6, y0 + h - 1.6], [x0 + (w * (i + 1)) / 6, y0 + h + 1.8]])), pen: NAVY });
        for (const g of d) t = put(g.lines, g.pen, t + 300);
        for (const [i, n] of ['1', '2', '3', '3', '2', '1'].entries()) t = put(hand.word(n, x0 + (w * (i + 0.36)) / 6, y0 + h + 6.5).lines, RED, t + 150);
        t = put(hand.word('HW', x0 + w + 3, y0 + 10).lines, NAVY, t + 300);
        t = put(hand.word('LW', x0 - 13, y0 + h - 4).lines, NAVY, t + 200);
        line += 1;
      } else if (phrase.draw === 'buoys') {
        const sea = Array.from({ length: 22 }, (_, i): [number, number] => [x0 + 4 * i, y0 + h + 0.8 * Math.sin(i * 1.3)]);
        d.push({ lines: [hand.freehand(sea)], pen: NAVY });
        d.push({ lines: [hand.freehand([[x0 + 12, y0 + h - 1], [x0 + 12, y0 + 8], [x0 + 24, y0 + 8], [x0 + 24, y0 + h - 1]])], pen: RED });
        d.push({ lines: [hand.freehand([[x0 + 52, y0 + h - 1], [x0 + 59, y0 + 6]]), hand.freehand([[x0 + 59, y0 + 6], [x0 + 66, y0 + h - 1]])], pen: GREEN });
        for (const g of d) t = put(g.lines, g.pen, t + 300);
        t = put(hand.word('port', x0 + 9, y0 + h + 6.5).lines, RED, t + 200);
        t = put(hand.word('starboard', x0 + 47, y0 + h + 6.5).lines, GREEN, t + 200);
        line += 1;
      } else {
        d.push({ lines: [hand.freehand([[x0, y0 + h], [x0, y0 + 12], [x0 + 22, y0 + 12], [x0 + 22, y0 + h], [x0, y0 + h]])], pen: NAVY });
        d.push({ lines: [hand.freehand([[x0 - 2, y0 + 13], [x0 + 11, y0 + 3]]), hand.freehand([[x0 + 11, y0 + 3], [x0 + 24, y0 + 13]])], pen: NAVY });
        d.push({ lines: [hand.freehand([[x0 + 34, y0 + h], [x0 + 60, y0 + h - 2], [x0 + 92, y0 + h - 9]])], pen: GREEN });
        for (const g of d) t = put(g.lines, g.pen, t + 300);
        t = put(hand.word('mole', x0 + 70, y0 + h - 11).lines, GREEN, t + 200);
      }
      line += rows;
    }
    pen = t;
    // A good lecturer looks whether pens are still moving before going on.
    at = Math.max(at, pen - away - 3500);
  });
  const length = Math.max(at, pen - away + 1500);

  const all = new Float32Array(Math.ceil((length / 1000) * RATE));
  for (const s of spoken) all.set(s.samples, Math.round((s.at / 1000) * RATE));
  room(all, rnd);

  const wav = path.join(folder, 'all.wav');
  const pcm = Buffer.alloc(all.length * 2);
  all.forEach((v, i) => pcm.writeInt16LE(Math.round(v * 32767), 2 * i));
  const rawFile = path.join(folder, 'all.raw');
  writeFileSync(rawFile, pcm);
  execFileSync('sox', ['-t', 'raw', '-r', String(RATE), '-e', 'signed', '-b', '16', '-c', '1', rawFile, wav]);
  const webm = path.join(folder, 'all.webm');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', wav, '-c:a', 'libopus', '-b:a', '24k', '-application', 'voip', '-fflags', '+bitexact', '-flags:a', '+bitexact', '-map_metadata', '-1', webm]);

  const ms = Math.round(length);
  const header: NoteHeader = {
    v: 2,
    id: demo.id,
    title: demo.title,
    made: wall0,
    changed: wall0 + Math.round(length + away),
    pages,
    takes: [{ id: take, name: 'Take 1', wall: wall0, ms, state: 'done', parts: takeParts }],
    timeline: [{ take, from: 0, to: ms }],
  };
  const { note } = applyEdit(noteOf(header), { put: strokes });
  const bundle = await writeBundle({ note, takes: new Map([[take, new Uint8Array(readFileSync(webm))]]) });
  writeFileSync(path.join(out, `${demo.id}.scrivo`), await bytesOf(bundle));
  rmSync(folder, { recursive: true });
  console.log(`${demo.title}: ${(ms / 1000).toFixed(0)} s, ${strokes.length} strokes, ${pages.length} pages, ${(bundle.size / 1024).toFixed(0)} kB`);
  return header;
}

mkdirSync(out, { recursive: true });
Promise.all(NOTES.map(make)).then(
  (made) => writeFileSync(path.join(out, 'notes.json'), `${JSON.stringify(made.map((h, i) => ({ id: h.id, file: `${h.id}.scrivo`, folder: NOTES[i].folder })), null, 2)}\n`),
  (e: unknown) => {
    console.error(e);
    process.exit(1);
  },
);
