/** What is readable of a note in memory goes when its lock closes or when it is deleted for good: every keeper is asked, on both sides of the screen, for what is to go and nothing else. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { makeAlive } from './alive';
import { forget, isIn, keepsReadable, whatIsKept } from './forgetting';
import './keepers';
import './filing';
import './librarySearch';
import './pictures';
import './printed';
import './textReading';
import './wordList';
import { clipboardSlice, hearingSlice, messagesSlice } from './slices';
import { makeStore } from './store';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
jest.mock('../platform/player', () => ({ playingObstacle: () => null, Player: class {} }));

const A = { notes: new Set(['a']), takes: ['take-a'] };
const ALL = { notes: null, takes: ['take-a', 'take-b'] };
const visit = () => {
  const alive = { ...makeAlive(), device: 'here' };
  return { alive, store: makeStore(alive) };
};

test('a scope has the notes it names, or all of them', () => {
  expect([isIn(A, 'a'), isIn(A, 'b'), isIn(A, null), isIn(A, undefined), isIn(ALL, 'b'), isIn(ALL, null)]).toEqual([true, false, false, false, true, true]);
});

test('whoever keeps something readable is on the list; one that is taken off it is noticed here', () => {
  expect([...whatIsKept()].sort()).toEqual([
    'a look that was copied, places that were found', 'levels and speech of takes', 'messages, which name notes', 'open files of PDF', 'pictures of notes', 'settings that are on their way to the disk', 'text of printed pages',
    'texts of notes that were looked through, and ink of hits', 'what could be taken back in the library', 'what is unfinished', 'what was copied or cut', 'what was done last in another note, and the ways back to where one was',
    'whether the reader knows the word list', 'words that the reader was told', 'words that were put right',
  ]);
});

test('every keeper is asked once, those of a side on both sides, with what is to go', () => {
  const asked: [string, unknown][] = [];
  keepsReadable('of this test', { forget: (of) => asked.push(['beside', of]) });
  keepsReadable('of this test, on a side', { onSide: (of) => (_, __, alive) => void asked.push([alive.device, of]) });
  const [here, there] = [visit(), visit()];
  there.alive.device = 'there';
  here.store.dispatch(forget(A));
  expect(asked).toEqual([['beside', A], ['here', A]]);
  asked.length = 0;
  here.alive.other = there.store as never;
  here.store.dispatch(forget(A));
  expect(asked).toEqual([['beside', A], ['here', A], ['there', A]]);
});

test('what was copied from a note goes with it and stays with another; messages go when everything is locked', () => {
  const { store, alive } = visit();
  const copied = (note: string) => ({ note, title: 'Tides', placed: [], mark: null, done: false }) as never;
  store.dispatch(clipboardSlice.actions.copied(copied('b')));
  store.dispatch(messagesSlice.actions.said({ key: 'x', tone: 'info', text: 'Tides was moved.' } as never));
  const messages = store.getState().messages.length;
  alive.there = { note: 'a' } as never;
  store.dispatch(forget(A));
  expect([store.getState().clipboard !== null, store.getState().messages.length, alive.there]).toEqual([true, messages, null]);
  store.dispatch(clipboardSlice.actions.copied(copied('a')));
  alive.there = { note: 'b' } as never;
  store.dispatch(forget(A));
  expect([store.getState().clipboard, alive.there]).toEqual([null, { note: 'b' }]);
  store.dispatch(forget(ALL));
  expect([store.getState().messages, alive.there]).toEqual([[], null]);
});

test('levels and speech go take by take', () => {
  const { store } = visit();
  const heard = { ms: 1, by: 'levels', speech: [], levels: new Uint8Array(1) };
  for (const take of ['take-a', 'take-b']) store.dispatch(hearingSlice.actions.found({ take, heard } as never));
  const takes = () => Object.keys(store.getState().hearing.takes).sort();
  expect(takes()).toEqual(['take-a', 'take-b']);
  store.dispatch(forget(A));
  expect(takes()).toEqual(['take-b']);
});
