/** The keys of the note screen; `ui/keys` lists them for the user. */
import { useEffect, useRef } from 'react';
import { pickPen } from '../../store/cup';
import type { MarkKind } from '../../core/note/schema';
import { leadInOf } from '../../store/listening';
import { addMark, nextUnheard, playNextGap, playNextWord, writeWhileListening } from '../../store/reviewing';
import { redo, undo } from '../../store/change';
import { lengthOf, letGo, pausePlaying, play, seek, setSpeed, skip } from '../../store/playing';
import { repeatHere } from '../../store/touching';
import { zoomTimeline } from './deck/timelineZoom';
import { settingsSlice, toolsSlice, type ToolName } from '../../store/slices';
import { store } from '../../store/store';
import { copySelected, cutSelected, deleteSelected, duplicateSelected, groupSelected, select, ungroupSelected } from '../../store/tools';
import { nextSpeed } from './deck/speeds';

const TOOL_KEYS: Record<string, ToolName> = { p: 'pen', e: 'eraser', l: 'lasso', m: 'room', s: 'shapes', f: 'fill', h: 'pan' };

interface Actions {
  paste: () => void;
  selectAll: () => void;
}

/** Keys with Ctrl or Cmd in Write; true when there was one for it. */
function writeCommand(name: string, shift: boolean, actions: Actions): boolean {
  const { dispatch, getState } = store;
  const some = getState().tools.selection !== null;
  if (name === 'v') actions.paste();
  else if (name === 'a') actions.selectAll();
  else if (!some) return false;
  else if (name === 'c') dispatch(copySelected());
  else if (name === 'x') dispatch(cutSelected());
  else if (name === 'd') dispatch(duplicateSelected());
  else if (name === 'g') dispatch(shift ? ungroupSelected() : groupSelected());
  else return false;
  return true;
}

/** Plain keys in Write; true when there was one for it. */
function writeKey(name: string): boolean {
  const { dispatch, getState } = store;
  const { tools } = getState();
  if (/^[0-9]$/.test(name)) dispatch(pickPen(name === '0' ? 9 : Number(name) - 1));
  else if (TOOL_KEYS[name]) dispatch(toolsSlice.actions.taken(TOOL_KEYS[name]));
  else if (name === 'r') dispatch(toolsSlice.actions.set({ ruler: !tools.ruler }));
  else if (name === 'w') dispatch(toolsSlice.actions.stripTurned());
  else if ((name === 'delete' || name === 'backspace') && tools.selection) dispatch(deleteSelected());
  else if (name === 'escape' && tools.sheet !== 'none') dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  else if (name === 'escape' && tools.selection) dispatch(select(null));
  else if (name === 'escape' && tools.tool !== 'pen') dispatch(toolsSlice.actions.taken('pen'));
  else return false;
  return true;
}

/** Inputs that take no text: sliders and switches. */
const NO_TEXT = new Set(['range', 'checkbox', 'radio', 'button']);
const MARK_KEYS: Record<string, MarkKind> = { m: 'missed', k: 'key', a: 'ask', d: 'do' };
const SLIDER_KEYS = new Set(['arrowleft', 'arrowright', 'arrowup', 'arrowdown', 'home', 'end', 'pageup', 'pagedown']);
const AHEAD = { faint: 'full', full: 'hidden', hidden: 'faint' } as const;

/** Plain keys in Listen; true when there was one for it. */
function listenKey(name: string, e: KeyboardEvent): boolean {
  const { dispatch, getState } = store;
  const { note, settings, playback, tools } = getState();
  const { patched } = settingsSlice.actions;
  const length = note.note ? lengthOf(note.note.header) : 0;
  const leadIn = (by: number) => dispatch(patched({ leadIn: Math.min(10, Math.max(0, Math.round(2 * (leadInOf(getState()) / 1000)) / 2 + by)) }));
  const sheet = (which: 'lists' | 'keys') => dispatch(toolsSlice.actions.set({ sheet: tools.sheet === which ? 'none' : which }));
  if (name === ' ') dispatch(playback.playing ? pausePlaying() : play());
  else if (name === 'arrowleft' || name === 'arrowright') dispatch(skip((name === 'arrowleft' ? -1 : 1) * (e.shiftKey ? 1000 : 10_000)));
  else if (name === 'home') dispatch(seek(0));
  else if (name === 'end') dispatch(seek(length));
  else if (name === 'arrowup' || name === 'arrowdown') dispatch(playNextWord(name === 'arrowup' ? -1 : 1));
  else if (name === '+' || name === '=') dispatch(setSpeed(nextSpeed(settings.speed, 1)));
  else if (name === '-') dispatch(setSpeed(nextSpeed(settings.speed, -1)));
  else if (name === ',') leadIn(-0.5);
  else if (name === '.') leadIn(0.5);
  else if (name === 'r') dispatch(playback.repeat ? letGo() : repeatHere());
  else if (MARK_KEYS[name]) dispatch(addMark(MARK_KEYS[name], e.timeStamp));
  else if (name === 'g') dispatch(playNextGap(e.shiftKey ? -1 : 1));
  else if (name === 'u') dispatch(nextUnheard());
  else if (name === 'p') dispatch(patched({ skipPauses: !settings.skipPauses }));
  else if (name === 'i') dispatch(patched({ ahead: AHEAD[settings.ahead] }));
  else if (name === 'w') dispatch(writeWhileListening(!playback.second));
  else if (name === '[') zoomTimeline(0.67, length);
  else if (name === ']') zoomTimeline(1.5, length);
  else if (name === 'l') sheet('lists');
  else if (name === '?') sheet('keys');
  else if (name === 'escape' && tools.sheet !== 'none') dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  else if (name === 'escape' && playback.second) dispatch(writeWhileListening(false));
  else if (name === 'escape' && playback.repeat) dispatch(letGo());
  else return false;
  return true;
}

export function useNoteKeys(actions: Actions): void {
  const current = useRef(actions);
  useEffect(() => {
    current.current = actions;
  });
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const el = e.target as HTMLElement;
      const typing = el.tagName === 'TEXTAREA' || (el.tagName === 'INPUT' && !NO_TEXT.has((el as HTMLInputElement).type)) || el.isContentEditable;
      const { note } = store.getState();
      if (typing || note.status !== 'open') return;
      const { dispatch } = store;
      const name = e.key.toLowerCase();
      const handled = () => e.preventDefault();
      if ((e.ctrlKey || e.metaKey) && !e.altKey) {
        if (name === 'z' && !e.shiftKey) dispatch(undo());
        else if (name === 'y' || name === 'z') dispatch(redo());
        else if (note.mode !== 'write' || note.following || !writeCommand(name, e.shiftKey, current.current)) return;
        return handled();
      }
      if (e.altKey || e.ctrlKey || e.metaKey) return;
      if (note.mode === 'write') {
        const kind = e.shiftKey ? MARK_KEYS[name] : undefined;
        if (kind) dispatch(addMark(kind, e.timeStamp));
        else if (note.following || !writeKey(name)) return;
        return handled();
      }
      // A focused button keeps its own space bar, a focused slider its arrows.
      const onButton = el.closest('button, [role="button"], [role="tab"], [role="switch"], input[type="checkbox"]') !== null;
      const onSlider = el.getAttribute('role') === 'slider';
      if (name === ' ' && onButton) return;
      if (onSlider && SLIDER_KEYS.has(name) && !e.shiftKey) return;
      if (el.tagName !== 'SELECT' && listenKey(name, e)) handled();
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);
}
