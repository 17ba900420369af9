/** The pages of the source: a surface that reads and does not write. */
import { useEffect, useRef } from 'react';
import { View } from 'react-native';
import { useTheme } from 'react-native-paper';
import type { Note } from '../../../core/note/edit';
import { pictureFailed } from '../../../store/backdrops';
import { notBroughtIn, webAddress } from '../../../store/printed';
import { store } from '../../../store/store';
import { pageSources, printedSources } from '../surfaceSources';
import { surfaceSettings, type SurfaceEvents, type SurfaceState } from '../surface/state';
import { Surface } from '../surface/surface';

const nothing = (): void => undefined;

/** Nothing here changes anything. */
const READS: Omit<SurfaceEvents, 'printed' | 'content' | 'leaves' | 'pictureFailed'> = {
  stampAt: () => null,
  change: nothing,
  select: nothing,
  transform: nothing,
  reshape: nothing,
  room: nothing,
  crop: nothing,
  fill: nothing,
  scratched: nothing,
  erased: nothing,
  penSeen: nothing,
  begun: nothing,
  penIdle: nothing,
  aimed: nothing,
  touched: nothing,
  playAt: nothing,
  zoomed: nothing,
  rested: nothing,
  paged: nothing,
  undo: nothing,
  redo: nothing,
  nudge: nothing,
  setStrip: nothing,
  setHandRest: nothing,
};

const stateOf = (note: Note, dark: boolean): SurfaceState => {
  const { settings } = store.getState();
  return {
    ...surfaceSettings(settings),
    note,
    mode: 'listen',
    canWrite: false,
    tool: 'pan',
    ruler: false,
    stripOn: false,
    text: false,
    cropping: null,
    found: null,
    selection: null,
    words: {},
    lit: null,
    playing: false,
    second: false,
    answering: null,
    gaps: [],
    late: 0,
    dark: settings.pageTheme === 'dark' || (settings.pageTheme === 'interface' && dark),
  };
};

export function SourceSurface({ note, onWeb }: { note: Note; onWeb: (url: string) => void }) {
  const host = useRef<View>(null);
  const { dark } = useTheme();
  useEffect(() => {
    const surface: Surface = new Surface(host.current as unknown as HTMLElement, {
      ...READS,
      ...pageSources,
      pictureFailed: (why) => void store.dispatch(pictureFailed(why)),
      printed: {
        ...printedSources,
        follow(page, { leaf, url }) {
          if (url !== undefined) {
            const address = webAddress(url);
            return address ? onWeb(address) : undefined;
          }
          const to = note.header.pages.findIndex((p) => p.backdrop?.content === page.backdrop?.content && p.backdrop?.leaf === leaf);
          if (to >= 0) surface.goToPage(to);
          else store.dispatch(notBroughtIn());
        },
      },
    });
    surface.update(stateOf(note, dark));
    return () => surface.destroy();
    // The way to the web stays; the note is read once.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [note, dark]);
  return <View ref={host} style={{ flex: 1 }} />;
}
