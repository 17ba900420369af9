/** The keys of the note screen; the list stands in Settings. */
import { useEffect, useRef } from 'react';
import { pausePlaying, play, redo, setSpeed, skip, undo } from '../../store/session';
import { settingsSlice } from '../../store/slices';
import { store } from '../../store/store';
import { nextSpeed } from './deck/speeds';

export function useNoteKeys(actions: { pickPen: (index: number) => void; erase: () => void }): void {
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
        else return;
        return handled();
      }
      if (e.altKey || e.ctrlKey || e.metaKey) return;
      if (note.mode === 'write') {
        if (/^[1-9]$/.test(name)) current.current.pickPen(Number(name) - 1);
        else if (name === 'e') current.current.erase();
        else return;
        return handled();
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
