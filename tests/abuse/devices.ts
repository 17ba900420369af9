/**
 * Three devices that share a note, change it at random (ink, rows, tables, typed lines, pictures, pages that go) and hand each other backups in any order, with clocks that are off:
 * in the end all have the same, every note opens whole, what a picture is made of is there, and what somebody wrote and nobody took away knowingly stands or can be chosen.
 */
import 'fake-indexeddb/auto';
import { hereAndNow } from '../../src/core/formats/bundle';
import { PointBuffer } from '../../src/core/ink/points';
import { makeStroke } from '../../src/core/ink/stroke';
import { contentsOf } from '../../src/core/note/contents';
import { applyEdit, drop, noteOf, put, type Edit, type Note } from '../../src/core/note/edit';
import { keptOf } from '../../src/core/note/kept';
import type { Placed } from '../../src/core/note/kinds/kinds';
import { makePicture } from '../../src/core/note/kinds/picture';
import { makeTable, type Table } from '../../src/core/note/kinds/table';
import { makeTyped } from '../../src/core/note/kinds/typed';
import { addPages, deletePages } from '../../src/core/note/pages';
import { newPage } from '../../src/core/note/schema';
import { insertRows, withText } from '../../src/core/note/tableEdits';
import { restoreArchive, writeArchive } from '../../src/storage/archive';
import { contentBytes, keepContent } from '../../src/storage/contentFile';
import { rawDbs } from '../../src/storage/databases';
import { readLibrary } from '../../src/storage/libraryFile';
import { NoteFile, writeNewNote } from '../../src/storage/noteFile';
import { readNote } from '../../src/storage/noteReading';
import { attempt, chance, pick, type Result } from './kit';

const LOOK = { face: 'sans', size: 11, color: '#16324f' } as const;
const work = { packer: hereAndNow, signal: new AbortController().signal, progress: () => undefined };
const enter = (note: string) => Promise.resolve({ note, release: () => undefined });

interface Device {
  readonly name: string;
  /** What its clock shows beside the right time, ms. */
  readonly off: number;
  notes: Record<string, string>;
  files: Record<string, string>;
}

/** Puts `from` away and takes `to` up: one store in this process, three devices. */
async function change(from: Device | null, to: Device): Promise<void> {
  const { notes, sound } = rawDbs();
  if (from) {
    from.notes = await notes.getMany(await notes.getAllKeys()) as Record<string, string>;
    from.files = await sound.getMany(await sound.getAllKeys()) as Record<string, string>;
  }
  await notes.clear();
  await sound.clear();
  if (Object.keys(to.notes).length) await notes.setMany(to.notes);
  if (Object.keys(to.files).length) await sound.setMany(to.files);
}

export async function devices(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const counts: Record<string, number> = {};
  const whole = (n: number) => Math.floor(random() * n);
  let merged = 0;
  for (let k = 0; k < times; k++) {
    await attempt(broken, `devices ${k} of seed ${seed}`, async () => {
      await change(null, { name: '', off: 0, notes: {}, files: {} });
      const all: Device[] = ['a', 'b', 'c'].map((name) => ({ name: `device-${name}`, off: pick(random, [0, 0, 500, -90_000, 7_200_000]), notes: {}, files: {} }));
      let on: Device | null = null;
      let now = Date.UTC(2026, 9, 5, 8);
      const take = async (device: Device) => {
        if (on !== device) await change(on, device);
        on = device;
      };
      const by = () => ({ device: on!.name, now: (now += 1000 + whole(60_000)) + on!.off });
      let made = 0;
      const stroke = (page: string, y = random() * 200) => {
        const b = new PointBuffer();
        b.add(1, y, 0.5, 0);
        b.add(5, y + 1, 0.5, 9);
        return makeStroke(b.points(), { id: `s${made++}`, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: null, wall: now });
      };
      const table = makeTable({ id: 't', page: 'p', stamp: null, wall: 1, m: [1, 0, 0, 1, 10, 10], cols: [20, 20], rows: [8, 8], cells: [[], []], look: LOOK });
      const first = noteOf({ v: 2, id: 'n', title: 'Tides', made: 1, changed: 1, pages: [newPage('p'), newPage('q')], takes: [], timeline: [] }, { p: [stroke('p'), table] });
      for (const device of all) {
        await take(device);
        await writeNewNote(first);
      }
      /** What was written where, and what somebody who saw it took away. */
      const written = new Set<string>();
      const takenAway = new Set<string>();
      const anyOf = (n: Note): Placed | undefined => pick(random, Object.values(n.ink).flat());
      const page = (n: Note) => pick(random, n.header.pages).id;
      const doings: Record<string, (n: Note, hash: string) => Edit> = {
        ink: (n) => ({ put: [stroke(page(n))] }),
        rub: (n) => {
          const it = anyOf(n);
          return it ? { cut: [{ id: it.id, page: it.page }] } : {};
        },
        carry: (n) => {
          const it = Object.values(n.ink).flat().find((x) => x.kind === 'stroke');
          const to = page(n);
          return it && it.page !== to ? { cut: [{ id: it.id, page: it.page }], put: [{ ...it, page: to } as Placed] } : {};
        },
        mark: () => ({ rows: [put('marks', `m${whole(4)}`, { kind: 'ask', take: 't', at: whole(99), wall: now, text: `${made++}` })] }),
        unmark: () => ({ rows: [drop('marks', `m${whole(4)}`)] }),
        title: () => ({ rows: [put('note', 'title', { value: `Tides ${made++}` })] }),
        cell: (n) => {
          const it = Object.values(n.ink).flat().find((x): x is Table => x.kind === 'table');
          if (!it) return {};
          const cell = withText(it, [], { r: whole(it.rows.length), c: whole(2) }, `${made++} m`, { stamp: null, wall: now });
          return { put: [cell.table] };
        },
        'row of a table': (n) => {
          const it = Object.values(n.ink).flat().find((x): x is Table => x.kind === 'table');
          const more = it && it.rows.length < 12 ? insertRows(it, [], whole(it.rows.length)) : null;
          return more ? { put: [more.table] } : {};
        },
        type(n) {
          const id = `typed${whole(3)}`;
          const text = `buoy ${made++}`;
          const was = Object.values(n.ink).flat().find((x) => x.id === id);
          return {
            put: [makeTyped({ id, page: page(n), stamp: null, wall: now, flow: id, n: 0, m: [1, 0, 0, 1, 20, 40], width: 60, pitch: 8, text, looks: [[text.length, LOOK]], times: [{ stamp: null, wall: now, t: Array.from(text, (_, i) => i) }] })],
            cut: was ? [{ id, page: was.page }] : [],
          };
        },
        picture(n, hash) {
          const id = `picture${whole(3)}`;
          const was = Object.values(n.ink).flat().find((x) => x.id === id);
          return { put: [makePicture({ id, page: page(n), stamp: null, wall: now, m: [20, 0, 0, 20, 5, 5], content: hash, px: [1, 1] })], cut: was ? [{ id, page: was.page }] : [] };
        },
        'add a page': (n) => addPages(n, whole(n.header.pages.length + 1), [newPage(`page${made++}`)]),
        'delete a page': (n) => deletePages(n, [page(n)], `page${made++}`),
      };
      const backup = async () => writeArchive({ notes: (await readLibrary()).headers, folders: [], places: [], covers: {}, lock: null, templates: [] }, now, work);
      const receive = async (file: Blob) => {
        const report = await restoreArchive(file, { headers: (await readLibrary()).headers, folders: new Map(), places: {} }, enter, work, by());
        if (report.updated.length) merged++;
        if (report.damaged.length) throw new Error(`A backup could not be taken in: ${JSON.stringify(report.damaged)}`);
      };
      for (let step = 0; step < 20; step++) {
        await take(pick(random, all));
        const doing = pick(random, Object.keys(doings));
        counts[doing] = (counts[doing] ?? 0) + 1;
        const bytes = Uint8Array.from({ length: 200 }, () => whole(256));
        const write = async (hash: string) => {
          const { file, note } = await NoteFile.openToWrite({ note: 'n' }, by());
          const edit = doings[doing](note, hash);
          for (const it of edit.put ?? []) if (it.kind === 'stroke') written.add(it.id);
          for (const { id } of edit.cut ?? []) if (!edit.put?.some((p) => p.id === id)) takenAway.add(id);
          file.record(edit, applyEdit(note, edit, by()).note);
          await file.close();
        };
        if (doing === 'picture') await keepContent(bytes, write);
        else await write('');
        if (random() < 0.4) {
          const { blob } = await backup();
          await take(pick(random, all));
          await receive(blob);
        }
      }
      for (let round = 0; round < 3; round++) {
        for (const from of all) {
          await take(from);
          const { blob } = await backup();
          for (const to of all) {
            if (to === from) continue;
            await take(to);
            await receive(blob);
          }
        }
      }
      const states = new Set<string>();
      for (const device of all) {
        await take(device);
        const { note, problems } = await readNote('n');
        if (problems.length) throw new Error(`${device.name}: ${problems.join(' ')}`);
        if (!note.header.pages.length) throw new Error(`${device.name}: no page`);
        states.add(note.header.state ?? '');
        const stands = new Set(Object.values(note.ink).flat().map((s) => s.id));
        const chosen = new Set(keptOf(note).map((one) => one.id));
        const lost = [...written].filter((id) => !stands.has(id) && !chosen.has(id) && !takenAway.has(id));
        if (lost.length) throw new Error(`${device.name}: strokes ${lost.join(', ')} were written, taken away by nobody, and are gone`);
        for (const hash of contentsOf(note.rows, note.ink)) if ((await contentBytes(hash)) === null) throw new Error(`${device.name}: the bytes of a picture are gone`);
        for (const [id, list] of Object.entries(note.ink)) if (list.length && !note.header.pages.some((p) => p.id === id)) throw new Error(`${device.name}: ink on a page that is not there`);
      }
      if (states.size !== 1) throw new Error(`the devices differ: ${[...states].join(', ')}`);
    });
  }
  return { what: 'three devices', times, broken, notes: `${merged} merges; ${Object.entries(counts).map(([d, n]) => `${d} ${n}`).join(', ')}` };
}
