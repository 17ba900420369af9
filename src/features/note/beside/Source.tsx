/** What one writes from, beside the page: another note or a PDF, whole, with its own ink, history and player, while the note itself is written and recorded. */
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, IconButton, Text, useTheme } from 'react-native-paper';
import { Provider } from 'react-redux';
import { closeBeside, makeSource, swapSides } from '../../../store/beside';
import { setMode } from '../../../store/mode';
import { openNote } from '../../../store/openNote';
import { lengthOf, pausePlaying, play, position } from '../../../store/playing';
import { toolsSlice } from '../../../store/slices';
import { store as main, useAppDispatch, useAppSelector } from '../../../store/store';
import type { Store } from '../../../store/thunk';
import { useFrame } from '../../../ui/useLive';
import { NotePane } from '../NotePane';
import type { SurfaceHandle } from '../NoteSurface';

interface SourceProps {
  readonly id: string;
  /** The store of the source, as long as there is one. */
  readonly onStore: (store: Store | null) => void;
  readonly onWeb: (url: string) => void;
  /** Shows another note in the place of the one that is written. */
  readonly go: (note: string) => void;
}

export function Source({ id, onStore, onWeb, go }: SourceProps) {
  const [{ store, begin }] = useState(makeSource);
  useEffect(() => {
    const end = begin();
    onStore(store);
    // It is there to be read, until Write is pressed.
    void store.dispatch(openNote(id)).then(() => store.getState().note.status === 'open' && store.dispatch(setMode('listen')));
    return () => {
      onStore(null);
      void end();
    };
  }, [id, onStore, store, begin]);
  return (
    <View role="region" aria-label="Source" style={styles.all}>
      <Provider store={store}>
        <Side id={id} onWeb={onWeb} go={go} />
      </Provider>
    </View>
  );
}

function Side({ id, onWeb, go }: Omit<SourceProps, 'onStore'>) {
  const { colors } = useTheme();
  const title = useAppSelector((s) => s.note.note?.header.title ?? s.library.headers.find((h) => h.id === id)?.title ?? 'Note');
  const recording = useAppSelector((s) => s.recording.state !== 'idle');
  const status = useAppSelector((s) => s.note.status);
  const failure = useAppSelector((s) => (s.note.locked ? 'it is locked' : s.note.failure));
  const surface = useRef<SurfaceHandle | null>(null);
  return (
    <>
      <View style={[styles.head, { backgroundColor: colors.surfaceVariant }]}>
        <View style={styles.title}>
          <Text variant="titleSmall" numberOfLines={1}>
            {title}
          </Text>
          {status === 'open' && <Linked />}
        </View>
        {status === 'open' && <PlayHere />}
        {status === 'open' && <TextHere />}
        <Button compact disabled={recording} onPress={() => void main.dispatch(swapSides(go))} accessibilityLabel={recording ? 'Swap sides: stop the recording first' : 'Swap sides: write here, and read the other'}>
          Swap
        </Button>
        <IconButton icon="close" size={20} aria-label="Close Source" onPress={() => main.dispatch(closeBeside())} style={styles.icon} />
      </View>
      {status === 'open' ? (
        <NotePane hand="source" surface={surface} onWeb={onWeb} go={go} />
      ) : (
        <View role={status === 'failed' ? 'alert' : 'status'} style={styles.middle}>
          {status === 'failed' ? <Text style={styles.words}>{`“${title}” cannot be shown beside this note: ${failure ?? 'it cannot be read'}.`}</Text> : <ActivityIndicator />}
        </View>
      )}
    </>
  );
}

/** Plays and pauses without the page that is written being let go of. */
function PlayHere() {
  const dispatch = useAppDispatch();
  const listens = useAppSelector((s) => s.note.mode === 'listen' && s.recording.state !== 'recording' && lengthOf(s.note.note!.header) > 0);
  const playing = useAppSelector((s) => s.playback.playing);
  return listens ? <IconButton icon={playing ? 'pause' : 'play'} size={22} mode="contained" aria-label={playing ? 'Pause the source' : 'Play the source'} onPress={() => dispatch(playing ? pausePlaying() : play())} style={styles.icon} /> : null;
}

/** Takes hold of printed text, to be copied. */
function TextHere() {
  const dispatch = useAppDispatch();
  const printed = useAppSelector((s) => s.note.note?.header.pages.some((p) => p.backdrop?.leaf !== undefined) ?? false);
  const on = useAppSelector((s) => s.tools.text);
  return printed ? (
    <Button compact mode={on ? 'contained-tonal' : 'text'} accessibilityLabel={on ? 'Leave the text of the source alone' : 'Select text of the source'} onPress={() => dispatch(toolsSlice.actions.set({ text: !on, sheet: 'none' }))}>
      Text
    </Button>
  ) : null;
}

/** Says so while ink on the other page is linked to what is heard here. */
function Linked() {
  const dispatch = useAppDispatch();
  const listens = useAppSelector((s) => s.note.mode === 'listen' && s.recording.state !== 'recording');
  const playing = useAppSelector((s) => s.playback.playing);
  const begun = useFrame(() => dispatch(position()) > 0, listens);
  return listens && (playing || begun) ? (
    <Text variant="labelSmall" role="status" numberOfLines={1}>
      What you write beside it is linked to this sound
    </Text>
  ) : null;
}

const styles = StyleSheet.create({
  all: { flex: 1, minWidth: 0, minHeight: 0 },
  head: { flexDirection: 'row', alignItems: 'center', paddingLeft: 12, minHeight: 44 },
  title: { flex: 1, minWidth: 0 },
  icon: { margin: 0, width: 44, height: 44 },
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 16 },
  words: { textAlign: 'center', maxWidth: 420 },
});
