/** The keys of the note screen; the list stands in Settings. */
import { useEffect, useRef } from 'react';
import { pickPen } from '../../store/cup';
import { pausePlaying, play, redo, setSpeed, skip, undo } from '../../store/session';
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

export function useNoteKeys(actions: Actions): void {
  const current = useRef(actions);
  useEffect(() => {
    current.current = actions;
  });
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const el = e.target as HTMLElement;
      const typing = el.tagName === 'TEXTAREA' || (el.tagName === 'INPUT' && (el as HTMLInputElement).type !== 'range') || el.isContentEditable;
      const { note, settings, playback } = store.getState();
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
        if (!note.following && writeKey(name)) handled();
        return;
      }
      // A focused button keeps its own space bar, a focused slider its arrows.
      const onButton = el.closest('button, [role="button"], [role="tab"], [role="switch"]') !== null;
      const onSlider = el.getAttribute('role') === 'slider';
      if (name === ' ' && !onButton) dispatch(playback.playing ? pausePlaying() : play());
      else if (name === 'arrowleft' && !onSlider) dispatch(skip(-10_000));
      else if (name === 'arrowright' && !onSlider) dispatch(skip(10_000));
      else if (name === '+' || name === '=') dispatch(setSpeed(nextSpeed(settings.speed, 1)));
      else if (name === '-') dispatch(setSpeed(nextSpeed(settings.speed, -1)));
      else if (name === ',') dispatch(settingsSlice.actions.patched({ leadIn: Math.max(0, settings.leadIn - 0.5) }));
      else if (name === '.') dispatch(settingsSlice.actions.patched({ leadIn: Math.min(10, settings.leadIn + 0.5) }));
      else return;
      handled();
    };
    window.addEventListener('keydown', key);
    return () => window.removeEventListener('keydown', key);
  }, []);
}
