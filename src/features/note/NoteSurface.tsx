/** Mounts the page surface and keeps it in step with the store and the player. */
import { useEffect, useRef } from 'react';
import { View } from 'react-native';
import { useTheme } from 'react-native-paper';
import type { Box } from '../../core/ink/stroke';
import { resized } from '../../core/note/tableEdits';
import type { Gap } from '../../core/review/gaps';
import { selectReview, USUAL_LAG_MS } from '../../store/listening';
import { selectSaid } from '../../store/noteText';
import { isSmallUnderFinger } from '../../platform/glass';
import { readSeen, writeSeen } from '../../storage/seenFile';
import { pictureFailed } from '../../store/backdrops';
import { canChange, redo, undo } from '../../store/change';
import { say } from '../../store/messages';
import { penIdle } from '../../store/mode';
import { position } from '../../store/playing';
import { heardBeside, stampOf } from '../../store/recording';
import { changeByPen } from '../../store/reviewing';
import { makeReady, playAt, playPlaced } from '../../store/touching';
import { notBroughtIn, pageOfLeaf, webAddress } from '../../store/printed';
import { isTextSheet, playbackSlice, settingsSlice, toolsSlice } from '../../store/slices';
import { useAppStore } from '../../store/store';
import { cameByLink, cutOut, setView, takeOverSelected } from '../../store/takingOver';
import type { RootState } from '../../store/state';
import type { Store } from '../../store/thunk';
import { cropSelected } from '../../store/picturesOnPage';
import { fillAt, makeRoomAt, nudgeSelected, select, setShape, transformSelected } from '../../store/tools';
import { foldSlips } from '../../store/slips';
import { followRef, refText, notesOf } from '../../store/refs';
import { editTable, holdCells, pasteCells, stepCell, typeIntoCell } from '../../store/tables';
import { typeInto } from '../../store/typing';
import { pageSources, printedSources } from './surfaceSources';
import { surfaceSettings, type SurfaceEvents, type SurfaceState } from './surface/state';
import { Surface } from './surface/surface';

export interface SurfaceHandle {
  goToPage(index: number): void;
  /** Share of true size, null for the width of the view. */
  setZoom(zoom: number | null): void;
  middle(): { page: string; x: number; y: number } | null;
  /** Brings a place of a page (mm) into sight. */
  showPlace(page: string, box: Box): void;
}

/** `dark`: the interface is; pages follow it where that was chosen. */
const view = (s: RootState, dark: boolean): SurfaceState | null =>
  s.note.note && {
    ...surfaceSettings(s.settings),
    note: s.note.note,
    mode: s.note.mode,
    canWrite: canChange(s),
    tool: s.tools.tool,
    typing: s.tools.typing,
    cells: s.tools.cells,
    ruler: s.tools.ruler,
    stripOn: s.tools.strip,
    text: s.tools.text,
    cropping: s.tools.cropping,
    found: s.tools.found,
    overInk: s.tools.overInk,
    selection: s.tools.selection,
    dark: s.settings.pageTheme === 'dark' || (s.settings.pageTheme === 'interface' && dark),
    words: s.note.words,
    said: selectSaid(s),
    lit: s.playback.lit,
    playing: s.playback.playing,
    second: s.playback.second,
    answering: s.playback.answering,
    ...(s.note.mode === 'listen' ? gapsOf(s) : NO_GAPS),
  };

const NO_GAPS = { gaps: [] as readonly Gap[], late: USUAL_LAG_MS };

/** Gaps of the note, and how late its writer writes. */
function gapsOf(s: RootState): typeof NO_GAPS {
  const review = selectReview(s);
  return review ? { gaps: review.coverage.gaps, late: review.lag?.ms ?? USUAL_LAG_MS } : NO_GAPS;
}

/** From the sound being there to its going out, ms. */
const SOUND_FIRST_MS = 60;

/** What the surface asks of the store. */
const events = (store: Store, id: string | null, { zoomed, paged, printed, follow }: Pick<SurfaceEvents, 'zoomed' | 'paged' | 'printed' | 'follow'>): SurfaceEvents => {
  const { dispatch } = store;
  const settingsSet = (patch: Parameters<typeof settingsSlice.actions.patched>[0]) => void dispatch(settingsSlice.actions.patched(patch));
  return {
  penSeen: () => {
    if (!store.getState().settings.penSeen) settingsSet({ penSeen: true });
  },
  begun: () => {
    // What was unfolded over the end of the page makes way for writing.
    const { sheet, found, overInk } = store.getState().tools;
    // One writes on the ink, and not on what was read of it.
    if (overInk) dispatch(toolsSlice.actions.set({ overInk: false }));
    // What was looked for has been found by now.
    if (found && !isTextSheet(sheet)) dispatch(toolsSlice.actions.set({ found: null }));
    if (sheet === 'pens' || sheet === 'more' || sheet === 'add') dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  },
  penIdle: () => void dispatch(penIdle()),
  stampAt: (time) => dispatch(stampOf(time)),
  change: (edit) => void dispatch(changeByPen(edit)),
  select: (page, ids) => void dispatch(select(page, ids)),
  transform: (m) => void dispatch(transformSelected(m)),
  takeOver: (x, y) => void dispatch(takeOverSelected([x, y])),
  reshape: (stroke, shape) => void dispatch(setShape(stroke, shape, true)),
  room: (page, y, dy) => void dispatch(makeRoomAt(page, y, dy)),
  crop: (page, loop) => void (store.getState().tools.cropping === 'out' ? dispatch(cutOut(page, loop)) : dispatch(cropSelected(loop))),
  heardBeside: (time) => dispatch(heardBeside(time)),
  fill: (page, x, y, time) => void dispatch(fillAt(page, x, y, time)),
  unfold: (slip) => void dispatch(foldSlips([slip], false)),
  scratched: (words) => void dispatch(say('tool', 'info', words > 1 ? `${words} words were scratched out.` : words === 1 ? 'A word was scratched out.' : 'What was written there was scratched out.', 'undo')),
  erased: () => {
    if (store.getState().settings.eraser.penReturns) dispatch(toolsSlice.actions.toolChosen('pen'));
  },
  aimed: (it) => void dispatch(makeReady(it)),
  touched: (it, line) => {
    if (it) dispatch(playPlaced(it, line));
    else dispatch(playbackSlice.actions.set({ lit: null }));
  },
  playAt: (ms) => void dispatch(playAt(ms)),
  typed: (place, drafts, time) => dispatch(typeInto(place, drafts, time)),
  typingAt: (typing) => void dispatch(toolsSlice.actions.set({ typing })),
  refText: (ref) => refText(ref, store.getState().note.note!.header, notesOf(store.getState())),
  follow,
  holdCells: (cells) => void dispatch(holdCells(cells)),
  typedInCell: (text) => void dispatch(typeIntoCell(text)),
  pastedInCell: (text) => void dispatch(pasteCells(text)),
  stepCell: (by) => dispatch(stepCell(by)),
  resizeTable: (axis, at, mm) => void dispatch(editTable((it, riders) => resized(it, riders, axis, at, mm))),
  undo: () => void dispatch(undo()),
  redo: () => void dispatch(redo()),
  nudge: (dx, dy) => void dispatch(nudgeSelected(dx, dy)),
  setStrip: (strip) => settingsSet({ strip }),
  setHandRest: (handRest) => settingsSet({ handRest }),
  ...pageSources,
  pictureFailed: (why) => void dispatch(pictureFailed(why)),
  zoomed,
  paged,
  printed,
  rested: (seen) => {
    // Not worth a word when there is no room for it.
    if (id && isSmallUnderFinger()) void writeSeen(id, seen).catch(() => undefined);
  },
};
};

export interface NoteSurfaceProps {
  onZoom: (percent: number, fit: boolean) => void;
  onPage: (page: string) => void;
  /** A link of a page leads to the web. */
  onWeb: (url: string) => void;
  /** Opens another note. */
  go: (note: string) => void;
  handleRef: { current: SurfaceHandle | null };
}

export function NoteSurface({ onZoom, onPage, onWeb, go, handleRef }: NoteSurfaceProps) {
  const host = useRef<View>(null);
  const { dark } = useTheme();
  const store = useAppStore();
  const isDark = useRef(dark);
  const showAnew = useRef(() => undefined as void);
  useEffect(() => {
    isDark.current = dark;
    showAnew.current();
  }, [dark]);

  useEffect(() => {
    const { dispatch } = store;
    const { id } = store.getState().note;
    const printed: SurfaceEvents['printed'] = {
      ...printedSources,
      follow(page, { leaf, url }) {
        if (url !== undefined) {
          const address = webAddress(url);
          return address ? onWeb(address) : void dispatch(say('tool', 'info', 'This link asks for something that Scrivo does not do.'));
        }
        const to = leaf === undefined ? null : dispatch(pageOfLeaf(page.backdrop!.content, leaf));
        if (to) {
          const from = surface.middle();
          surface.goToPage(store.getState().note.note!.header.pages.indexOf(to));
          dispatch(cameByLink(from, to));
        } else dispatch(notBroughtIn());
      },
    };
    const surface: Surface = new Surface(host.current as unknown as HTMLElement, events(store, id, { zoomed: onZoom, paged: onPage, printed, follow: (ref) => void dispatch(followRef(ref, go, onWeb)) }));
    handleRef.current = { goToPage: (i) => surface.goToPage(i), setZoom: (z) => surface.zoomTo(z), middle: () => surface.middle(), showPlace: (page, box) => surface.showPlace(page, box) };
    let last: SurfaceState | null = null;
    const show = () => {
      const next = view(store.getState(), isDark.current);
      if (!next || (last && (Object.keys(next) as (keyof SurfaceState)[]).every((k) => next[k] === last![k]))) return;
      last = next;
      surface.update(next);
    };
    showAnew.current = show;
    show();
    const off = store.subscribe(show);
    // On a small glass a page is larger than the view: it opens where one stopped; what plays is followed from there.
    let here = true;
    if (id && isSmallUnderFinger()) {
      // Without the record it opens at its beginning.
      void readSeen(id).catch(() => null).then((seen) => here && surface.openAt(seen));
    }

    // The position walks through the ink: with every frame while one listens. While one writes no frame is asked for: for hours that would cost the battery.
    let frame = 0;
    let shown = -1;
    let soundFirst = 0;
    const walk = () => {
      frame = 0;
      const { note, playback } = store.getState();
      if (note.mode !== 'listen') return;
      frame = requestAnimationFrame(walk);
      // While the sound of a jump is being fetched, and until it goes out, the page waits: drawing it anew would hold the sound up.
      const now = performance.now();
      if (playback.waiting && playback.playing) soundFirst = now + SOUND_FIRST_MS;
      if (now < soundFirst) return;
      const at = dispatch(position());
      if (at === shown && !playback.playing) return;
      shown = at;
      surface.showPosition(at <= 0 && !playback.playing ? null : at);
    };
    const wake = () => {
      if (!frame && store.getState().note.mode === 'listen') frame = requestAnimationFrame(walk);
    };
    wake();
    const unwatch = store.subscribe(wake);
    dispatch(setView({ middle: () => surface.middle(), at: (x, y) => surface.at(x, y), show: (page, box) => surface.showPlace(page, box), type: (words) => surface.type(words), letters: () => surface.letters(), toCaret: () => surface.toCaret(), turnTo: (page) => surface.goToPage(store.getState().note.note?.header.pages.findIndex((p) => p.id === page) ?? 0) }));
    return () => {
      dispatch(setView(null));
      cancelAnimationFrame(frame);
      off();
      unwatch();
      showAnew.current = () => undefined;
      here = false;
      surface.destroy();
      handleRef.current = null;
    };
    // The surface lives as long as the screen; what changes reaches it through the store.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  return <View ref={host} style={{ flex: 1 }} />;
}
