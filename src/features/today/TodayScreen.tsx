/** Start: one large control that records with a blank page, and the notes under way. */
import { useRouter } from 'expo-router';
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { ActivityIndicator, Button, Text, TouchableRipple, useTheme } from 'react-native-paper';
import { bringDemo } from '../../store/demo';
import { createNote, openNote, startRecording } from '../../store/session';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { NoteRow } from '../../ui/NoteRow';
import { Icon } from '../../ui/icons';
import { WIDE } from '../../ui/theme';

const SHOWN = 6;

export function TodayScreen() {
  const { colors } = useTheme();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const library = useAppSelector((s) => s.library);
  const running = useAppSelector((s) => s.recording.state !== 'idle');
  const wide = useWindowDimensions().width >= WIDE;

  const begin = async (record: boolean) => {
    const id = await dispatch(createNote());
    if (!id) return;
    router.push(`/note/${id}`);
    await dispatch(openNote(id));
    if (record) await dispatch(startRecording());
  };

  return (
    <ScrollView contentContainerStyle={[styles.all, wide && styles.wide]}>
      <View style={[styles.hero, wide && styles.heroWide]}>
        <Text variant="headlineMedium" role="heading" aria-level={1}>
          Today
        </Text>
        <Text variant="bodyMedium" style={{ color: colors.onSurfaceVariant }}>
          {new Date().toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' })}
        </Text>
        <TouchableRipple
          role="button"
          aria-label="Record"
          disabled={running}
          onPress={() => void begin(true)}
          borderless
          style={[styles.record, { backgroundColor: colors.error, opacity: running ? 0.5 : 1 }]}
        >
          <View style={styles.recordInner}>
            <View style={[styles.ring, { borderColor: colors.onError }]}>
              <Icon name="record" size={34} color={colors.onError} />
            </View>
            <View style={styles.recordText}>
              <Text variant="titleLarge" style={{ color: colors.onError }}>
                Record
              </Text>
              <Text variant="bodyMedium" style={{ color: colors.onError }}>
                {running ? 'A recording is running' : 'and write on a blank page'}
              </Text>
            </View>
          </View>
        </TouchableRipple>
        <Button mode="outlined" icon="pen" onPress={() => void begin(false)} disabled={running} contentStyle={styles.tall}>
          Write without sound
        </Button>
      </View>
      <View style={styles.list}>
        <Text variant="titleLarge" role="heading" aria-level={2}>
          Under way
        </Text>
        {library.status === 'loading' || library.demo === 'loading' ? (
          <View style={styles.loading} role="status">
            <ActivityIndicator />
            <Text>{library.demo === 'loading' ? 'Bringing in the demo notes …' : 'Opening your notes …'}</Text>
          </View>
        ) : library.headers.length === 0 ? (
          <View style={styles.empty}>
            <Text>No notes yet. Press Record, write while people speak, then touch any word to hear what was said.</Text>
            <Button mode="text" onPress={() => void dispatch(bringDemo(true))}>
              Bring in demo notes
            </Button>
          </View>
        ) : (
          library.headers.slice(0, SHOWN).map((h) => <NoteRow key={h.id} header={h} onOpen={() => router.push(`/note/${h.id}`)} />)
        )}
        {library.headers.length > SHOWN && (
          <Button mode="text" onPress={() => router.replace('/library')}>
            All {library.headers.length} notes
          </Button>
        )}
      </View>
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  all: { padding: 20, gap: 28 },
  wide: { flexDirection: 'row', alignItems: 'flex-start', gap: 48, padding: 40, maxWidth: 1160 },
  hero: { gap: 12 },
  heroWide: { width: 380 },
  record: { borderRadius: 24, marginTop: 6 },
  recordInner: { flexDirection: 'row', alignItems: 'center', gap: 18, padding: 22 },
  ring: { width: 64, height: 64, borderRadius: 32, borderWidth: 3, alignItems: 'center', justifyContent: 'center' },
  recordText: { flex: 1 },
  tall: { minHeight: 48 },
  list: { gap: 12, flex: 1 },
  loading: { flexDirection: 'row', gap: 14, alignItems: 'center', paddingVertical: 20 },
  empty: { gap: 8, alignItems: 'flex-start' },
});
