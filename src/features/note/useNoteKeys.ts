/** The keys of the note screen; `ui/keys` lists them for the user. */
import { useEffect } from 'react';
import { tinykeys } from 'tinykeys';
import { pickPen } from '../../store/cup';
import type { MarkKind } from '../../core/note/schema';
import { leadInOf } from '../../store/listening';
import { addMark, nextUnheard, playNextGap, playNextWord, writeWhileListening } from '../../store/reviewing';
import { redo, undo } from '../../store/change';
import { lengthOf, letGo, pausePlaying, play, seek, setSpeed, skip } from '../../store/playing';
import { setMode } from '../../store/mode';
import { pauseRecording, resumeRecording, startRecording, stopRecording } from '../../store/recording';
import { repeatHere } from '../../store/touching';
import { zoomTimeline } from './deck/timelineZoom';
import { turnStrip } from '../../store/boards';
import { settingsSlice, toolsSlice, type ToolName } from '../../store/slices';
import { inHand } from '../../store/beside';
import { store as main } from '../../store/store';
import { copySelected, cutSelected, duplicateSelected } from '../../store/clipboard';
import { deleteSelected, groupSelected, select, ungroupSelected } from '../../store/tools';
import type { Dispatch } from '../../store/thunk';
import { selectInSight } from '../../store/takingOver';
import { nextSpeed } from './deck/speeds';

/** What a key does, as `tinykeys` names it; false when there is nothing for it to do, and the browser has it. */
type Keys = Readonly<Record<string, (e: KeyboardEvent) => unknown>>;

/** Keys go to the side of the screen that is in hand; those of recording, to the note. */
const dispatch: Dispatch = (action: Parameters<Dispatch>[0]) => inHand().dispatch(action);
const getState = () => inHand().getState();
const { patched } = settingsSlice.actions;
const { set: setTools, toolChosen } = toolsSlice.actions;

/** One thing under several keys. */
const each = <K extends string, V>(of: Readonly<Record<K, V>>, act: (v: V, e: KeyboardEvent) => unknown): Keys => Object.fromEntries(Object.entries<V>(of).map(([key, v]) => [key, (e: KeyboardEvent) => act(v, e)]));

const MARK_KEYS = { m: 'missed', k: 'key', a: 'ask', d: 'do' } as const satisfies Record<string, MarkKind>;
const TOOL_KEYS = { p: 'pen', e: 'eraser', l: 'lasso', m: 'room', s: 'shapes', f: 'fill', h: 'pan', t: 'type' } as const satisfies Record<string, ToolName>;
const PEN_KEYS = Object.fromEntries(Array.from({ length: 10 }, (_, i) => [String((i + 1) % 10), i]));
/** Of what is being recorded, or of what is heard on the side in hand. */
const mark = (kind: MarkKind, e: KeyboardEvent) => (getState().recording.state === 'recording' ? main : inHand()).dispatch(addMark(kind, e.timeStamp));

/** What the user sets over the screen has the keys; only the overview of pages works on the note itself. */
const isBehindDialog = (): boolean => document.querySelector('dialog:modal:not(.dialog-whole)') !== null;
const isBehindOverview = (): boolean => document.querySelector('dialog:modal') !== null;

const turn = (sheet: 'lists' | 'keys') => dispatch(setTools({ sheet: getState().tools.sheet === sheet ? 'none' : sheet }));

const BOTH: Keys = {
  '$mod+z': () => dispatch(undo()),
  ...each({ '$mod+Shift+z': 0, '$mod+y': 0 }, () => dispatch(redo())),
};

/** What is needed while somebody speaks, in either mode. */
const RECORDING: Keys = {
  'Shift+r': () => (getState().recording.state === 'idle' ? void main.dispatch(startRecording()) : false),
  'Shift+p': () => (getState().recording.state === 'paused' ? main.dispatch(resumeRecording()) : getState().recording.state === 'recording' ? void main.dispatch(pauseRecording()) : false),
  'Shift+s': () => (getState().recording.state === 'idle' ? false : void main.dispatch(stopRecording())),
  'Shift+w': () => dispatch(setMode('write')),
  'Shift+l': () => dispatch(setMode('listen')),
};

const HELP: Keys = each({ '?': 0, 'Shift+?': 0 }, () => turn('keys'));

/** In Write. Marks go with the recording, also where another tab writes; the rest changes the note. */
const MARKS_WHILE_WRITING = each(Object.fromEntries(Object.entries(MARK_KEYS).map(([key, kind]) => [`Shift+${key}`, kind])), mark);

const ifSelected = (act: () => unknown) => () => getState().tools.selection !== null && act();

const WRITE: Keys = {
  '$mod+a': () => dispatch(selectInSight()),
  '$mod+c': ifSelected(() => dispatch(copySelected())),
  '$mod+x': ifSelected(() => dispatch(cutSelected())),
  '$mod+d': ifSelected(() => dispatch(duplicateSelected())),
  '$mod+g': ifSelected(() => dispatch(groupSelected())),
  '$mod+Shift+g': ifSelected(() => dispatch(ungroupSelected())),
  ...each({ Delete: 0, Backspace: 0 }, ifSelected(() => dispatch(deleteSelected()))),
  ...each(PEN_KEYS, (pen) => dispatch(pickPen(pen))),
  ...each(TOOL_KEYS, (tool) => dispatch(toolChosen(tool))),
  r: () => dispatch(setTools({ ruler: !getState().tools.ruler })),
  w: () => dispatch(turnStrip()),
  Escape() {
    const { tools } = getState();
    if (tools.sheet !== 'none') return dispatch(setTools({ sheet: 'none' }));
    if (tools.selection) return dispatch(select(null));
    return tools.tool !== 'pen' && dispatch(toolChosen('pen'));
  },
};

const AHEAD = { faint: 'full', full: 'hidden', hidden: 'faint' } as const;
const length = () => lengthOf(getState().note.note!.header);
const leadIn = (by: number) => dispatch(patched({ leadIn: Math.min(10, Math.max(0, Math.round(2 * (leadInOf(getState()) / 1000)) / 2 + by)) }));
const faster = (by: 1 | -1) => dispatch(setSpeed(nextSpeed(getState().settings.speed, by)));
const LISTEN: Keys = {
  Space: () => dispatch(getState().playback.playing ? pausePlaying() : play()),
  ...each({ ArrowLeft: -10_000, ArrowRight: 10_000, 'Shift+ArrowLeft': -1000, 'Shift+ArrowRight': 1000 }, (ms) => dispatch(skip(ms))),
  Home: () => dispatch(seek(0)),
  End: () => dispatch(seek(length())),
  ...each({ ArrowUp: -1, ArrowDown: 1 } as const, (by) => dispatch(playNextWord(by))),
  // Where these signs lie, and whether with Shift, differs between keyboards.
  ...each({ '+': 1, '=': 1, 'Shift++': 1, 'Shift+=': 1, '-': -1 } as const, faster),
  ...each({ ',': -0.5, '.': 0.5 }, leadIn),
  ...each({ '[': 0.67, ']': 1.5 }, (by) => zoomTimeline(by, length())),
  ...each(MARK_KEYS, mark),
  r: () => dispatch(getState().playback.repeat ? letGo() : repeatHere()),
  g: () => dispatch(playNextGap(1)),
  'Shift+g': () => dispatch(playNextGap(-1)),
  u: () => dispatch(nextUnheard()),
  p: () => dispatch(patched({ skipPauses: !getState().settings.skipPauses })),
  i: () => dispatch(patched({ ahead: AHEAD[getState().settings.ahead] })),
  w: () => dispatch(writeWhileListening(!getState().playback.second)),
  l: () => turn('lists'),
  Escape() {
    const { tools, playback } = getState();
    if (tools.sheet !== 'none') return dispatch(setTools({ sheet: 'none' }));
    if (playback.second) return dispatch(writeWhileListening(false));
    return playback.repeat !== null && dispatch(letGo());
  },
};

/** Inputs that take no text: sliders and switches. */
const NO_TEXT = new Set(['range', 'checkbox', 'radio', 'button']);
const SLIDER_KEYS = new Set(['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Home', 'End', 'PageUp', 'PageDown']);

const isTyping = (el: HTMLElement): boolean => el.tagName === 'TEXTAREA' || (el.tagName === 'INPUT' && !NO_TEXT.has((el as HTMLInputElement).type)) || el.isContentEditable;

/** What has the focus answers the key itself: a button its space bar, a slider its arrows. */
function answersItself(el: HTMLElement, { key, shiftKey }: KeyboardEvent): boolean {
  if (el.tagName === 'SELECT') return true;
  if (key === ' ') return el.closest('button, [role="button"], [role="tab"], [role="switch"], input[type="checkbox"]') !== null;
  return el.getAttribute('role') === 'slider' && SLIDER_KEYS.has(key) && !shiftKey;
}

/** One character alone (WCAG 2.2, 2.1.4): such keys can be switched off. */
const isLetter = (e: KeyboardEvent): boolean => e.key.length === 1 && e.key !== ' ' && !e.ctrlKey && !e.metaKey && !e.altKey;

/** Keys answer while `holds`, and no text is being typed. */
function bound(keys: Keys, holds: (e: KeyboardEvent) => boolean): () => void {
  const guarded = each(keys, (act, e) => {
    if (isLetter(e) && !getState().settings.letterKeys) return;
    if (isTyping(e.target as HTMLElement) || getState().note.status !== 'open' || !holds(e)) return;
    if (act(e) !== false) e.preventDefault();
  });
  return tinykeys(window, guarded as Record<string, (e: KeyboardEvent) => void>);
}

export function useNoteKeys(): void {
  useEffect(() => {
    const writing = () => getState().note.mode === 'write';
    const ends = [
      bound(BOTH, () => !isBehindDialog()),
      bound({ ...HELP, ...RECORDING }, () => !isBehindOverview()),
      bound(MARKS_WHILE_WRITING, () => writing() && !isBehindOverview()),
      bound(WRITE, () => writing() && !getState().note.following && !isBehindOverview()),
      bound(LISTEN, (e) => !writing() && !isBehindOverview() && !answersItself(e.target as HTMLElement, e)),
    ];
    return () => ends.forEach((end) => end());
  }, []);
}
