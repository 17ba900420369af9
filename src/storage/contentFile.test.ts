/** Contents: their hash is judged by Node's own SHA-256. */
import 'fake-indexeddb/auto';
import { createHash, webcrypto } from 'node:crypto';
import { applyEdit, noteOf, put, type Edit, type Note } from '../core/note/edit';
import { copiedNote } from '../core/note/copy';
import { setBackdrop } from '../core/note/pages';
import { newPage } from '../core/note/schema';
import { killAfter } from '../../tests/helpers/killed';
import { letGo, readContent, writeContent } from './contentFile';
import { keys, notesDb, rawDbs, soundDb } from './databases';
import { HistoryFile } from './historyFile';
import { deleteNotes, readLibrary } from './libraryFile';
import { NoteFile, writeNewNote } from './noteFile';
import { endOldLeases, holdInClipboard } from './leaseFile';
import type { RetryingWriter } from './retryingWriter';

const opening = (id: string, by?: { device: string; now: number }) => NoteFile.openToWrite({ note: id }, by);

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });

const bytes = Uint8Array.from({ length: (1 << 20) * 2 + 77 }, (_, i) => (i * 31 + (i >> 9)) & 255);

test.each([0, 1, 1 << 20, bytes.length])('%d bytes come back as they were, under their SHA-256', async (n) => {
  const some = bytes.subarray(0, n);
  const hash = await writeContent(some);
  expect(hash).toBe(createHash('sha256').update(some).digest('hex'));
  expect(Buffer.compare(Buffer.from((await readContent(hash))!), Buffer.from(some))).toBe(0);
});

test('the same content is stored once; one that was damaged is not given out, and is written anew', async () => {
  const hash = await writeContent(bytes);
  const before = await soundDb().getAllKeys();
  await writeContent(bytes);
  expect(await soundDb().getAllKeys()).toEqual(before);
  const key = keys.content(hash, 1);
  const text = (await soundDb().getItem(key))!;
  for (const damaged of [text.slice(0, -5), `${text.slice(0, -1)}${String.fromCharCode(text.charCodeAt(text.length - 1) ^ 1)}`, 'nothing of the kind']) {
    await soundDb().setItem(key, damaged);
    expect(await readContent(hash)).toBeNull();
  }
  await soundDb().removeMany([key]);
  expect(await readContent(hash)).toBeNull();
  await writeContent(bytes);
  expect((await readContent(hash))!.length).toBe(bytes.length);
});

test('what is let go leaves nothing, and nothing else goes with it', async () => {
  const [one, other] = [await writeContent(bytes), await writeContent(bytes.subarray(0, 5))];
  await letGo([one]);
  expect(await readContent(one)).toBeNull();
  expect(await readContent(other)).toHaveLength(5);
  expect((await soundDb().getAllKeys()).filter((k) => k.includes(one))).toEqual([]);
});

// Notes that point to contents

const BY = { device: 'here', now: 50 };
const note = (id: string): Note => noteOf({ v: 2, id, title: `Note ${id}`, made: 1, changed: 2, pages: [newPage(`${id}-p`)], takes: [], timeline: [] });
const picture = bytes.subarray(0, 3000);
const HASH = createHash('sha256').update(picture).digest('hex');
const stored = async () => (await soundDb().getAllKeys()).filter((k) => k.startsWith('content/'));
const clear = async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
};

/** An open note that has the picture behind its page, on disk. */
async function withPicture(id: string): Promise<{ file: NoteFile; note: Note; undo: Edit }> {
  await writeNewNote(note(id));
  const { file, note: before } = await opening(id);
  const edit = setBackdrop(before, `${id}-p`, await file.keep(picture));
  const { note: after, inverse } = applyEdit(before, edit, BY);
  file.record(edit, after);
  await file.flush();
  return { file, note: after, undo: inverse };
}

/** The program that had it is no more: it does not try again. */
const dead = (file: NoteFile): void => (file as unknown as { writer: RetryingWriter }).writer.stop();

describe('a content stays as long as something points to it', () => {
  beforeEach(clear);

  test('while the step can be taken back; then it goes', async () => {
    const { file, note: had, undo } = await withPicture('a');
    file.record(undo, applyEdit(had, undo, BY).note);
    await file.flush();
    expect(await readContent(HASH)).toHaveLength(3000);
    // Another visit before the note was left: what its record says is taken over.
    const again = await opening('a');
    expect(again.note.header.contents).toBeUndefined();
    await again.file.close();
    expect(await stored()).toEqual([]);
  });

  test('while another note has it: a copy, a page brought there, or one that is locked away in what was set aside', async () => {
    const { file, note: had, undo } = await withPicture('a');
    await writeNewNote(copiedNote(had, 'Copy', 60, () => `c${Math.random()}`.slice(0, 20)));
    file.record(undo, applyEdit(had, undo, BY).note);
    await file.close();
    expect(await readContent(HASH)).toHaveLength(3000);
    const copy = (await readLibrary()).headers.find((h) => h.id !== 'a')!;
    await notesDb().setMany({ [keys.aside(keys.note('broken'))]: `torn {"contents":["${HASH}"` });
    await deleteNotes([copy]);
    expect(await readContent(HASH)).toHaveLength(3000);
    await notesDb().removeMany([keys.aside(keys.note('broken'))]);
    await letGo([HASH]);
    expect(await stored()).toEqual([]);
  });

  test('while the clipboard has it: cut, the note closed or deleted for good, and pasted elsewhere', async () => {
    const { file, note: had, undo } = await withPicture('a');
    await holdInClipboard([HASH], [], 1000);
    file.record(undo, applyEdit(had, undo, BY).note);
    await file.close();
    expect(await readContent(HASH)).toHaveLength(3000);
    await deleteNotes((await readLibrary()).headers);
    expect(await readContent(HASH)).toHaveLength(3000);
    // Nobody else's lease ends it, and its own tab's is never too old.
    await endOldLeases(1000 + 9e9);
    expect(await readContent(HASH)).toHaveLength(3000);
    // Something else is copied.
    await holdInClipboard([], [], 2000);
    expect(await stored()).toEqual([]);
    expect((await notesDb().getAllKeys()).filter((k) => k.startsWith('lease/'))).toEqual([]);
  });

  test('from the moment it is pasted, though nothing of the page was written yet and something else is copied at once', async () => {
    const { file, note: had, undo } = await withPicture('a');
    await soundDb().setItem(keys.piece('take', 0), 'its sound');
    await holdInClipboard([HASH], ['take'], 1000);
    file.record(undo, applyEdit(had, undo, BY).note);
    await file.close();
    await deleteNotes((await readLibrary()).headers);
    await writeNewNote(note('b'));
    const { file: into, note: before } = await opening('b');
    const nowhere = '0'.repeat(64);
    let told: ReadonlySet<string> = new Set();
    expect(into.holds(HASH)).toBe(false);
    await into.share([HASH, nowhere], ['take', 'never recorded'], (there) => {
      told = there;
      const edit = { rows: [put('takes', 'take', { name: 'Take 1', wall: 1, ms: 10, parts: [], state: 'done', order: 'a0' })] };
      into.record(edit, applyEdit(before, edit, BY).note);
    });
    expect([...told].sort()).toEqual([HASH, 'take'].sort());
    expect([into.holds(HASH), into.holds(nowhere)]).toEqual([true, false]);
    await holdInClipboard([], [], 2000);
    expect(await readContent(HASH)).toHaveLength(3000);
    expect(await soundDb().getItem(keys.piece('take', 0))).toBe('its sound');
    // The step was never made, or taken back: with the note the picture goes, and the sound stays, which it has.
    await into.close();
    expect([await stored(), await soundDb().getItem(keys.piece('take', 0))]).toEqual([[], 'its sound']);
  });

  test('where its name cannot be written, nothing is put', async () => {
    await soundDb().setItem(keys.content(HASH, 0), '1\nx');
    await writeNewNote(note('b'));
    const { file } = await opening('b');
    const revive = killAfter([notesDb(), soundDb()], 0);
    const put = jest.fn();
    await expect(file.share([HASH], [], put)).rejects.toThrow();
    revive();
    dead(file);
    expect(put).not.toHaveBeenCalled();
  });

  test('not for ever where the tab that copied it is gone: its lease ends after a day, and so does one from a clock that ran ahead', async () => {
    await soundDb().setItem(keys.content(HASH, 0), '1\nx');
    const lease = (at: number) => JSON.stringify({ v: 1, contents: [HASH], takes: [], at });
    await notesDb().setMany({ [keys.lease('gone')]: lease(1000) });
    await endOldLeases(1000 + 86_000_000);
    expect((await stored()).length).toBe(1);
    await notesDb().setMany({ [keys.lease('ahead')]: lease(9e12), [keys.lease('torn')]: '{' });
    await endOldLeases(1000 + 87_000_000);
    expect([await stored(), (await notesDb().getAllKeys()).filter((k) => k.startsWith('lease/'))]).toEqual([[], []]);
  });

  test('killed at any write of keeping it, nothing is left that no note knows of, and the next visit clears it away', async () => {
    for (let step = 0; ; step++) {
      await clear();
      await writeNewNote(note('a'));
      const { file } = await opening('a');
      const revive = killAfter([notesDb(), soundDb()], step);
      const done = await file.keep(picture).then(() => true, () => false);
      dead(file);
      revive();
      if ((await stored()).length) expect((await readLibrary()).headers[0].contents).toEqual([HASH]);
      if (done) break;
      const next = await opening('a');
      await next.file.close();
      expect([step, await stored()]).toEqual([step, []]);
    }
  });

  test('killed at any write of taking it away or deleting the note, it is there as long as the page has it, and gone after the next visit', async () => {
    for (const what of ['taking away', 'deleting'] as const) {
      for (let step = 0; ; step++) {
        await clear();
        const { file, note: had, undo } = await withPicture('a');
        await new HistoryFile('a').clear();
        const revive = killAfter([notesDb(), soundDb()], step);
        if (what === 'taking away') file.record(undo, applyEdit(had, undo, BY).note);
        const done = await (what === 'deleting' ? deleteNotes([had.header]) : file.close()).then(() => true, () => false);
        dead(file);
        revive();
        const { headers } = await readLibrary();
        for (const h of headers) {
          const next = await opening(h.id);
          if (next.note.header.contents) expect([step, (await readContent(HASH))?.length]).toEqual([step, 3000]);
          // What was not yet on disk of the step is done once more.
          const edit = setBackdrop(next.note, 'a-p', null);
          if (what === 'taking away') next.file.record(edit, applyEdit(next.note, edit, BY).note);
          await next.file.close();
        }
        if (what === 'taking away' || step > 0) expect([what, step, await stored()]).toEqual([what, step, []]);
        if (done) break;
      }
    }
  });
});
