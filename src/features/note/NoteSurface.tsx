/** Mounts the page surface and keeps it in step with the store and the player. */
import { useEffect, useRef } from 'react';
import { View } from 'react-native';
import { newId } from '../../core/id';
import { newPage } from '../../core/note/schema';
import { change, playStroke, position, stampAt } from '../../store/session';
import { settingsSlice, playbackSlice } from '../../store/slices';
import { store, type RootState } from '../../store/store';
import { PENS } from './pens';
import { Surface, type SurfaceState } from './surface/surface';

export interface SurfaceHandle {
  goToPage(index: number): void;
  setZoom(zoom: number): void;
}

const view = (s: RootState, erasing: boolean): SurfaceState | null =>
  s.note.note && {
    note: s.note.note,
    mode: s.note.mode,
    canWrite: !s.note.following,
    tool: erasing ? 'eraser' : PENS[Math.min(s.settings.pen, PENS.length - 1)].pen,
    penSeen: s.settings.penSeen,
    words: s.note.words,
    lit: s.playback.lit,
  };

export function NoteSurface({ erasing, onZoom, handleRef }: { erasing: boolean; onZoom: (percent: number) => void; handleRef: { current: SurfaceHandle | null } }) {
  const host = useRef<View>(null);
  const tool = useRef(erasing);
  const refresh = useRef<() => void>(() => undefined);

  useEffect(() => {
    tool.current = erasing;
    refresh.current();
  }, [erasing]);

  useEffect(() => {
    const surface = new Surface(host.current as unknown as HTMLElement, {
      penSeen: () => void store.dispatch(settingsSlice.actions.patched({ penSeen: true })),
      wrote: (make, downAt, nearEnd) => {
        const state = store.getState();
        const stroke = make(stampAt(downAt, state), newId());
        const pages = state.note.note?.header.pages ?? [];
        store.dispatch(change({ put: [stroke], ...(nearEnd ? { header: { pages: [...pages, { ...newPage(newId()), paper: pages[pages.length - 1].paper }] } } : {}) }));
      },
      erased: (strokes) => void store.dispatch(change({ cut: strokes.map(({ id, page }) => ({ id, page })) })),
      touched: (stroke) => {
        if (stroke) store.dispatch(playStroke(stroke));
        else store.dispatch(playbackSlice.actions.set({ lit: null }));
      },
      zoomed: onZoom,
    });
    handleRef.current = { goToPage: (i) => surface.goToPage(i), setZoom: (z) => surface.zoomTo(z) };
    let last: SurfaceState | null = null;
    const show = () => {
      const next = view(store.getState(), tool.current);
      if (!next || (last && (Object.keys(next) as (keyof SurfaceState)[]).every((k) => next[k] === last![k]))) return;
      last = next;
      surface.update(next);
    };
    refresh.current = show;
    show();
    const off = store.subscribe(show);

    // The position walks through the ink: with every frame while playing, and once after every seek.
    let frame = 0;
    let shown = -1;
    const walk = () => {
      frame = requestAnimationFrame(walk);
      const { note, playback } = store.getState();
      // While the sound of a jump is being fetched the page waits: drawing it anew would hold the sound up.
      if (note.mode !== 'listen' || playback.waiting) return;
      const at = position();
      if (at === shown && !playback.playing) return;
      shown = at;
      surface.showPosition(at <= 0 && !playback.playing ? null : at);
    };
    walk();
    return () => {
      cancelAnimationFrame(frame);
      off();
      surface.destroy();
      handleRef.current = null;
      refresh.current = () => undefined;
    };
    // The surface lives as long as the screen; what changes reaches it through the store.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  return <View ref={host} style={{ flex: 1 }} />;
}
