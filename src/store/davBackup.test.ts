/** Backups on a server, broken off by leaving the page. The server is the stand-in that ships with the application, over HTTP; storage is an IndexedDB of the test's own. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import express from 'express';
import { davStandIn } from '../../server/dav';
import { noteOf } from '../core/note/edit';
import { newPage } from '../core/note/schema';
import { makeTabLocks } from '../platform/tabLocks';
import { writeNewNote } from '../storage/noteFile';
import { makeAlive } from './alive';
import { backUpToDav, watchDav } from './davBackup';
import { loadLibrary } from './library';
import { settingsSlice } from './slices';
import { makeStore, type store as Store } from './store';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
Object.defineProperty(globalThis, 'BroadcastChannel', { value: undefined, configurable: true });
jest.mock('../platform/player', () => ({ playingObstacle: () => null, Player: class {} }));

let folder = '';
let server: Server;
/** Objects that were sent, and after how many of them the page is left: the next request has no answer any more. */
let sent = 0;
let leaveAfter = Infinity;
let left: () => void = () => undefined;

beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'scrivo-dav-'));
  server = await new Promise<Server>((resolve) => {
    const s = express().use(davStandIn({ folder, user: 'pilot', password: 'word' })).listen(0, '127.0.0.1', () => resolve(s));
  });
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  Object.defineProperty(globalThis, 'location', { value: { href: `${url}/` }, configurable: true });
  const real = globalThis.fetch;
  globalThis.fetch = (async (address, options) => {
    if (options?.method === 'PUT' && String(address).includes('/objects/')) {
      if (sent >= leaveAfter) {
        left();
        return new Promise<Response>(() => undefined);
      }
      sent++;
    }
    return real(address, options);
  }) as typeof fetch;
  for (let i = 0; i < 12; i++) await writeNewNote(noteOf({ v: 2, id: `n${i}`, title: `Note ${i}`, made: 1, changed: 2 + i, pages: [newPage(`p${i}`)], takes: [], timeline: [] }));
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  rmSync(folder, { recursive: true });
});

/** A visit: notes and settings are read from disk, and the backup is watched; `past` the time that it waits at the start. */
async function visit({ beside = false } = {}) {
  // What the page before held goes with it, but for another tab beside it.
  if (!beside) Object.defineProperty(globalThis, 'navigator', { value: { locks: makeTabLocks() }, configurable: true });
  const store = makeStore({ ...makeAlive(), device: 'here' });
  await store.dispatch(loadLibrary());
  return { store, said: () => store.getState().messages.filter((m) => m.key === 'backup').map((m) => m.text) };
}
async function past(store: Awaited<ReturnType<typeof visit>>['store']): Promise<void> {
  let first: () => void = () => undefined;
  const later = jest.spyOn(globalThis, 'setTimeout').mockImplementation(((then: () => void) => ((first = then), 0)) as never);
  const now = jest.spyOn(globalThis, 'setInterval').mockImplementation((() => 0) as never);
  watchDav(store as unknown as typeof Store);
  later.mockRestore();
  now.mockRestore();
  first();
  await new Promise((r) => setImmediate(r));
}
const written = () => new Promise((r) => setTimeout(r, 50));
const until = async (what: () => boolean): Promise<void> => {
  while (!what()) await new Promise((r) => setTimeout(r, 5));
};
const backups = () => readdirSync(path.join(folder, 'scrivo', 'history'));

test('a backup that was broken off by leaving the page is said at the next visit, and goes on: what was sent is not sent again', async () => {
  const first = await visit();
  first.store.dispatch(settingsSlice.actions.patched({ dav: { url: '/dav', user: 'pilot', password: 'word', auto: false, last: null } }));
  leaveAfter = 8;
  const gone = new Promise<void>((resolve) => (left = resolve));
  void first.store.dispatch(backUpToDav());
  await gone;
  await written();
  // Another tab that is opened meanwhile does not take it for one that was broken off.
  const other = await visit({ beside: true });
  await past(other.store);
  expect(other.said()).toEqual([]);
  // Nothing of it is a backup yet.
  expect([sent, backups()]).toEqual([8, []]);

  // It is made by hand: the visit says what to press.
  [sent, leaveAfter] = [0, Infinity];
  const second = await visit();
  await past(second.store);
  expect(second.said()).toEqual([expect.stringMatching(/was broken off when the page was closed\. Press Back up to the server to go on/)]);
  await written();
  // It is said once.
  const third = await visit();
  await past(third.store);
  expect([third.said(), sent]).toEqual([[], 0]);

  // It is written down after every fifth which are there.
  await third.store.dispatch(backUpToDav());
  expect(third.said()).toEqual([expect.stringMatching(/up to date: 7 of 12 notes had changed and were sent/)]);
  expect([sent, backups().length]).toEqual([7, 1]);
  await written();
});

test('where it is made by itself it goes on by itself, and is said no more when it is done', async () => {
  const { store, said } = await visit();
  const { dav } = store.getState().settings;
  expect(dav.begun).toBeNull();
  store.dispatch(settingsSlice.actions.patched({ dav: { ...dav, auto: true, begun: Date.now() } }));
  await written();
  const next = await visit();
  await past(next.store);
  expect(next.said()).toEqual([expect.stringMatching(/broken off when the page was closed\. It goes on now/)]);
  await until(() => /up to date/.test(next.said()[0] ?? ''));
  expect(next.store.getState().settings.dav.begun).toBeNull();
  await written();
  const after = await visit();
  await past(after.store);
  expect([said(), after.said()]).toEqual([[], []]);
});
