/**
 * What stands beside the note that is being written: another note, whole, with its own ink, history, tools and player in a store of its own. What both
 * sides share (library, settings, clipboard, what is being recorded) is the first store's: what the second does to it is handed over, and shown as it is there.
 */
import { combineReducers, createAction, type Middleware, type Reducer, type UnknownAction } from '@reduxjs/toolkit';
import { makeAlive } from './alive';
import { listenAboutNote } from './following';
import { followPlayer } from './followPlayer';
import { findSpeech } from './hearing';
import { STORING } from './messages';
import { closeNote } from './openNote';
import type { Settings } from '../storage/settingsFile';
import { besideSlice, settingsSlice } from './slices';
import { rootParts, type RootState } from './state';
import { makeStore, store as main, storeAlive } from './store';
import type { Store, Thunk } from './thunk';
import { readText } from './textReading';
import { findWords } from './wordFinding';

/** The border between the two, as a share of the room: so much at least for either. */
export const LEAST_SHARE = 0.25;

const { set } = besideSlice.actions;

export const putBeside =
  (note: string): Thunk =>
  (dispatch, getState) => {
    dispatch(set({ note, hand: 'note' }));
    const { id } = getState().note;
    if (id && id !== note) dispatch(settingsSlice.actions.patched({ lastPair: { note: id, source: note } }));
  };

/** The two notes that stood side by side last, as they did. `go` shows the one that is written. */
export const reopenPair =
  (go: (note: string) => void): Thunk =>
  (dispatch, getState) => {
    const { lastPair } = getState().settings;
    if (!lastPair) return;
    dispatch(set({ note: lastPair.source, hand: 'note' }));
    if (getState().note.id !== lastPair.note) go(lastPair.note);
  };

/** The pair that can be opened again from the note that is open; null where it stands already, or one of it is gone. */
export const lastPairOf = ({ settings: { lastPair }, library, note, beside }: RootState): Settings['lastPair'] => {
  const here = lastPair !== null && [lastPair.note, lastPair.source].every((id) => library.headers.some((h) => h.id === id));
  return here && !(note.id === lastPair.note && beside.note === lastPair.source) ? lastPair : null;
};

export const closeBeside = (): Thunk => (dispatch) => void dispatch(set({ note: null, hand: 'note' }));

/** The source is put away to its end, so that nothing holds its note. */
export const shutBeside =
  (): Thunk<Promise<void>> =>
  async (dispatch, _, { other }) => {
    await other?.dispatch(closeNote());
    dispatch(closeBeside());
  };

/** The store of the side that the deck and the keys belong to. */
export const inHand = (): Store => (main.getState().beside.hand === 'source' && storeAlive.other ? storeAlive.other : main);

/** Each takes the place of the other. `go` shows the note that is written from now on. */
export const swapSides =
  (go: (note: string) => void): Thunk<Promise<void>> =>
  async (dispatch, getState, { other }) => {
    const mine = getState().note.id;
    const { note } = getState().beside;
    if (!mine || !note) return;
    await other?.dispatch(closeNote());
    await dispatch(closeNote());
    dispatch(putBeside(mine));
    go(note);
  };

export const moveBorder =
  (share: number): Thunk =>
  (dispatch) =>
    void dispatch(set({ share: Math.min(1 - LEAST_SHARE, Math.max(LEAST_SHARE, share)) }));

/** The deck and the keys go with the side that is touched. */
export const takeInHand =
  (hand: 'note' | 'source'): Thunk =>
  (dispatch, getState) => {
    if (getState().beside.hand !== hand) dispatch(set({ hand }));
  };

/** The other side has the keys from now on: what was just done was done there. */
export const giveHand = (): Thunk => (dispatch, _, { other }) => {
  if (other) dispatch(takeInHand(other === main ? 'note' : 'source'));
};

const SHARED = ['library', 'settings', 'lock', 'recording', 'jobs', 'review', 'backup', 'templates', 'bringing', 'beside', 'clipboard'] as const satisfies readonly (keyof RootState)[];
type Shared = Pick<RootState, (typeof SHARED)[number]>;

const mirrored = createAction<Shared>('shared/mirrored');
const shared = (s: RootState): Shared => Object.fromEntries(SHARED.map((k) => [k, s[k]])) as unknown as Shared;

/** What is said about the note itself is said beside it; everything else, and what outlives it, in the first place for messages. */
const ABOUT_NOTE = new Set(['repair', 'following', 'listen', 'mark', 'gap', 'read-only', 'tool', 'mode', 'damaged', 'backdrop', 'place', STORING]);

function belongsToMain({ type, payload }: { type: string; payload?: unknown }): boolean {
  const [slice] = type.split('/');
  if (slice === 'messages') return !ABOUT_NOTE.has(typeof payload === 'string' ? payload : ((payload as { key?: string } | undefined)?.key ?? ''));
  return (SHARED as readonly string[]).includes(slice);
}

const handOver: Middleware = () => (next) => (action) => (belongsToMain(action as UnknownAction & { type: string }) ? main.dispatch(action as UnknownAction) : next(action));

export interface Source {
  readonly store: Store;
  /** From here on it goes along with the first store; gives the way to put its note away and let it go. */
  begin(): () => Promise<void>;
}

/** A store for the source, with everything that goes on around a note. */
export function makeSource(): Source {
  const mirror = <K extends (typeof SHARED)[number]>(key: K): Reducer<RootState[K]> => (s = main.getState()[key], a) => (mirrored.match(a) ? (a.payload[key] as RootState[K]) : s);
  const parts = { ...rootParts, ...Object.fromEntries(SHARED.map((k) => [k, mirror(k)])) } as typeof rootParts;
  const alive = makeAlive(storeAlive);
  // Sound on its way to the disk is the first store's, whose microphone it came from.
  Object.defineProperties(alive, { sound: { get: () => storeAlive.sound }, earlierSound: { get: () => storeAlive.earlierSound } });
  alive.other = main;
  const store: Store = makeStore(alive, combineReducers(parts), [handOver]);
  return {
    store,
    begin() {
      storeAlive.other = store;
      [alive.toShow, storeAlive.toShow] = [storeAlive.toShow, null];
      let last: Shared | null = null;
      const follow = () => {
        const now = shared(main.getState());
        if (last && SHARED.every((k) => now[k] === last![k])) return;
        last = now;
        store.dispatch(mirrored(now));
      };
      follow();
      const unfollow = main.subscribe(follow);
      const ends = [followPlayer(store), findWords(store), readText(store), findSpeech(store), store.dispatch(listenAboutNote())];
      return async () => {
        if (storeAlive.other === store) storeAlive.other = null;
        for (const end of ends) end();
        await store.dispatch(closeNote());
        unfollow();
      };
    },
  };
}
