/** What one writes from, beside the page: another note or a PDF, whole to scroll and to zoom, while the note itself is written and recorded. */
import { useRouter, type Href } from 'expo-router';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, IconButton, Text, useTheme } from 'react-native-paper';
import type { Note } from '../../../core/note/edit';
import { closeBeside, putBeside, readBeside } from '../../../store/beside';
import { reasonOf } from '../../../store/messages';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { SourceSurface } from './SourceSurface';

type Read = { readonly is: 'reading' } | { readonly is: 'here'; readonly note: Note } | { readonly is: 'failed'; readonly why: string };

export function Source({ id, of, onWeb }: { id: string; of: string; onWeb: (url: string) => void }) {
  const dispatch = useAppDispatch();
  const router = useRouter();
  const { colors } = useTheme();
  const title = useAppSelector((s) => s.library.headers.find((h) => h.id === id)?.title ?? 'Note');
  const recording = useAppSelector((s) => s.recording.state !== 'idle');
  const [read, setRead] = useState<Read>({ is: 'reading' });
  const region = useRef<View>(null);
  useEffect(() => {
    let wanted = true;
    readBeside(id).then((note) => wanted && setRead({ is: 'here', note }), (e: unknown) => wanted && setRead({ is: 'failed', why: reasonOf(e) }));
    return () => {
      wanted = false;
    };
  }, [id]);
  const swap = () => {
    dispatch(putBeside(of));
    router.replace(`/note/${id}` as Href);
  };
  return (
    <View ref={region} role="region" aria-label="Source" style={styles.all}>
      <View style={[styles.head, { backgroundColor: colors.surfaceVariant }]}>
        <Text variant="titleSmall" numberOfLines={1} style={styles.title}>
          {title}
        </Text>
        <Button compact disabled={recording} onPress={swap} accessibilityLabel={recording ? 'Swap sides: stop the recording first' : 'Swap sides: write here, and read the other'}>
          Swap
        </Button>
        <IconButton icon="close" size={20} aria-label="Close Source" onPress={() => dispatch(closeBeside())} style={styles.icon} />
      </View>
      {read.is === 'here' ? (
        <SourceSurface note={read.note} onWeb={onWeb} />
      ) : (
        <View role={read.is === 'failed' ? 'alert' : 'status'} style={styles.middle}>
          {read.is === 'reading' ? <ActivityIndicator /> : <Text style={styles.words}>{`“${title}” cannot be shown beside this note: ${read.why}.`}</Text>}
        </View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, minWidth: 0, minHeight: 0 },
  head: { flexDirection: 'row', alignItems: 'center', paddingLeft: 12, minHeight: 44 },
  title: { flex: 1 },
  icon: { margin: 0, width: 44, height: 44 },
  middle: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 16 },
  words: { textAlign: 'center', maxWidth: 420 },
});
