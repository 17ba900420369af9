/** The library while it is read: what is made, moved or removed meanwhile stays so on the screen, and of two readings the later counts. Storage is an IndexedDB of the test's own. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { noteOf, type Note } from '../core/note/edit';
import { newPage } from '../core/note/schema';
import { unfiled } from '../core/library/folder';
import { writeFolders } from '../storage/libraryFile';
import { writeNewNote } from '../storage/noteFile';
import { patchSettings } from '../storage/settingsFile';
import { makeAlive } from './alive';
import { moveNotes, putFolder } from './filing';
import { deleteNotes, loadLibrary } from './library';
import { settingsSlice } from './slices';
import { makeStore } from './store';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
Object.defineProperty(globalThis, 'BroadcastChannel', { value: undefined, configurable: true });
jest.mock('../platform/player', () => ({ playingObstacle: () => null, Player: class {} }));

/** What was read is held back here until the test lets it go, as on a slow disk. (Named so that the stand-in may use it.) */
const mockHeld: (() => void)[] = [];
let mockHold = false;
let mockSlow = false;
jest.mock('../storage/libraryFile', () => {
  const real = jest.requireActual<typeof import('../storage/libraryFile')>('../storage/libraryFile');
  return {
    ...real,
    readLibrary: async (...given: Parameters<typeof real.readLibrary>) => {
      const read = await real.readLibrary(...given);
      if (mockHold) await new Promise<void>((resolve) => mockHeld.push(resolve));
      return read;
    },
  };
});
jest.mock('../storage/settingsFile', () => {
  const real = jest.requireActual<typeof import('../storage/settingsFile')>('../storage/settingsFile');
  return {
    ...real,
    readSettings: async () => {
      const read = await real.readSettings();
      if (mockSlow) await new Promise<void>((resolve) => mockHeld.push(resolve));
      return read;
    },
  };
});
const untilHeld = async (n: number): Promise<void> => {
  while (mockHeld.length < n) await new Promise((r) => setImmediate(r));
};

const note = (id: string): Note => noteOf({ v: 2, id, title: `Note ${id}`, made: 1, changed: 2, pages: [newPage('p')], takes: [], timeline: [] }, { p: [] });
const look = { parent: null, color: 'navy', emblem: 'wave' } as const;

test('a folder made, a note moved and a note removed while the library is read', async () => {
  for (const id of ['a', 'b', 'c']) await writeNewNote(note(id));
  const before = { ...look, v: 1, id: 'before', name: 'Tides', made: 1, changed: 1 } as const;
  await writeFolders([before]);
  const { dispatch, getState } = makeStore({ ...makeAlive(), device: 'here' });
  await dispatch(loadLibrary());
  expect(getState().library.headers).toHaveLength(3);
  mockHold = true;
  const read = dispatch(loadLibrary());
  await untilHeld(1);
  // Now, what has been read knows nothing of this.
  const made = (await dispatch(putFolder({ ...look, name: 'Navigation' })))!;
  await dispatch(moveNotes(['a'], made));
  await dispatch(deleteNotes(['b']));
  mockHeld.shift()!();
  await read;
  const { folders, places, headers, status } = getState().library;
  expect(status).toBe('ready');
  expect([...folders.values()].map((f) => f.name).sort()).toEqual(['Navigation', 'Tides']);
  expect(places.a).toEqual({ ...unfiled('a'), folder: made, changed: places.a.changed });
  expect(headers.map((h) => h.id).sort()).toEqual(['a', 'c']);
  // Read once more, it is the same.
  mockHold = false;
  await dispatch(loadLibrary());
  expect([...getState().library.folders.keys()].sort()).toEqual([made, 'before'].sort());
  expect(getState().library.headers.map((h) => h.id).sort()).toEqual(['a', 'c']);
});

test('of two readings the one that began later counts, however they end', async () => {
  const { dispatch, getState } = makeStore({ ...makeAlive(), device: 'here' });
  mockHold = true;
  const first = dispatch(loadLibrary());
  await untilHeld(1);
  await writeFolders([{ ...look, v: 1, id: 'other', name: 'From another tab', made: 1, changed: 1 }]);
  const second = dispatch(loadLibrary());
  await untilHeld(2);
  mockHeld.pop()!();
  await second;
  expect(getState().library.folders.has('other')).toBe(true);
  mockHeld.pop()!();
  await first;
  expect(getState().library.folders.has('other')).toBe(true);
});

test('what is set while the settings are read stays set, and the rest is as it was kept', async () => {
  mockHold = false;
  await patchSettings({ leadIn: 4, speed: 2 });
  const { dispatch, getState } = makeStore({ ...makeAlive(), device: 'here' });
  mockSlow = true;
  const read = dispatch(loadLibrary());
  await untilHeld(1);
  dispatch(settingsSlice.actions.patched({ speed: 1.5, theme: 'dark' }));
  mockSlow = false;
  mockHeld.pop()!();
  await read;
  expect(getState().settings).toMatchObject({ leadIn: 4, speed: 1.5, theme: 'dark' });
});
