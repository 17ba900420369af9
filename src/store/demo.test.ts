/** The demo notes come whole or go on. Storage is an IndexedDB of the test's own; the server is a list of files. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { bytesOf } from '../core/formats/blobFile';
import { hereAndNow } from '../core/formats/bundle';
import { noteOf } from '../core/note/edit';
import { newPage } from '../core/note/schema';
import { rawDbs } from '../storage/databases';
import { makeAlive } from './alive';
import { bringDemo, removeDemo } from './demo';
import { deleteNotes, loadLibrary } from './library';
import { makeStore } from './store';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
Object.defineProperty(globalThis, 'BroadcastChannel', { value: undefined, configurable: true });
jest.mock('../platform/player', () => ({ playingObstacle: () => null, Player: class {} }));

const IDS = ['demo-a', 'demo-b', 'demo-c'];
const files = new Map<string, Uint8Array>();
/** Names that were asked for, and those that the server does not give out. */
let asked: string[] = [];
let missing = new Set<string>();

beforeAll(async () => {
  for (const id of IDS) {
    const note = noteOf({ v: 2, id, title: id, made: 1, changed: 2, pages: [newPage(`${id}-p`)], takes: [], timeline: [] });
    files.set(`${id}.scrivo`, await bytesOf(await hereAndNow.writeBundle({ note, takes: new Map() })));
  }
  const list = { auto: true, notes: IDS.map((id) => ({ id, file: `${id}.scrivo`, folder: { id: 'demo-course', name: 'Course', color: 'navy', emblem: 'wave' } })) };
  globalThis.fetch = (async (url: string) => {
    const name = url.slice('/demo/'.length);
    asked.push(name);
    if (name === 'notes.json') return new Response(JSON.stringify(list));
    const bytes = files.get(name);
    return bytes && !missing.has(name) ? new Response(bytes.slice().buffer) : new Response('', { status: 503 });
  }) as typeof fetch;
});
beforeEach(async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  [asked, missing] = [[], new Set()];
});

/** A visit: what is on disk is read, as when the page is loaded. */
async function visit() {
  const store = makeStore({ ...makeAlive(), device: 'here' });
  await store.dispatch(loadLibrary());
  return { store, ids: () => store.getState().library.headers.map((h) => h.id).sort(), said: () => store.getState().messages.map((m) => m.text) };
}
/** The settings of a visit are on disk. */
const written = () => new Promise((r) => setTimeout(r, 50));

test('a first visit that was left before all of them were in goes on with the rest, and asks for none twice', async () => {
  missing = new Set(['demo-b.scrivo']);
  const first = await visit();
  await first.store.dispatch(bringDemo(false));
  expect(first.ids()).toEqual(['demo-a']);
  expect(first.said()).toEqual([expect.stringMatching(/could not be brought in \(the server answered 503\)/)]);
  expect(first.store.getState().library.demo).toBe('none');
  await written();

  [asked, missing] = [[], new Set()];
  const second = await visit();
  expect(second.ids()).toEqual(['demo-a']);
  await second.store.dispatch(bringDemo(false));
  expect([second.ids(), asked, second.said()]).toEqual([IDS, ['notes.json', 'demo-b.scrivo', 'demo-c.scrivo'], []]);
  const { folders, places } = second.store.getState().library;
  expect([[...folders.keys()], Object.keys(places).sort(), new Set(Object.values(places).map((p) => p.folder))]).toEqual([['demo-course'], IDS, new Set(['demo-course'])]);
  await written();

  // Whole once, what is deleted by hand stays deleted.
  await second.store.dispatch(deleteNotes(['demo-b']));
  asked = [];
  const third = await visit();
  await third.store.dispatch(bringDemo(false));
  expect([third.ids(), asked]).toEqual([['demo-a', 'demo-c'], []]);
  // Unless they are asked for.
  await third.store.dispatch(bringDemo(true));
  expect(third.ids()).toEqual(IDS);
});

test('removed before they were all in, they do not come by themselves; a library that has notes of its own gets none unasked', async () => {
  missing = new Set(['demo-b.scrivo']);
  const { store, ids } = await visit();
  await store.dispatch(bringDemo(false));
  await store.dispatch(removeDemo());
  await written();
  missing = new Set();
  const next = await visit();
  await next.store.dispatch(bringDemo(false));
  expect([ids(), next.ids(), [...next.store.getState().library.folders.keys()]]).toEqual([[], [], []]);
});
