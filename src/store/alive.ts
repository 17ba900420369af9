/**
 * What lives beside the state: player, recorder, files, locks of tabs, jobs. Made once for a store and handed to its thunks, so that two stores
 * can live side by side.
 */
import type { Level } from '../core/audio/level';
import type { By } from '../core/note/version';
import { Live } from '../platform/live';
import type { Alive } from './thunk';

export type { Alive, View } from './thunk';

/** What both sides of the screen have in common. */
export type Common = Pick<Alive, 'device' | 'level' | 'holders' | 'unsaved' | 'stops' | 'lanes'>;

export const makeAlive = (common?: Common): Alive => ({
  device: '',
  libraryReading: null,
  level: new Live<Level>({ peak: 0, rms: -Infinity }),
  file: null,
  history: null,
  historyTimer: null,
  held: null,
  opening: null,
  closing: null,
  holders: new Map(),
  other: null,
  recorder: null,
  sound: null,
  earlierSound: [],
  unsaved: new Map(),
  letSleep: null,
  player: null,
  view: null,
  toShow: null,
  there: null,
  cameFrom: null,
  toHear: null,
  unheardAt: -1,
  offered: [],
  stops: new Map(),
  lanes: new Map(),
  ...(common && { device: common.device, level: common.level, holders: common.holders, unsaved: common.unsaved, stops: common.stops, lanes: common.lanes }),
});

/** Who changes notes from here, now. */
export const byOf = ({ device }: Pick<Alive, 'device'>): By => ({ device, now: Date.now() });
