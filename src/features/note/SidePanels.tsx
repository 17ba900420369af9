/** What stands beside the page on a wide screen: pages on the left, takes on the right. */
import { ScrollView, StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { clockText, spokenTime } from '../../core/time/format';
import { play, seek } from '../../store/session';
import { toTimeline } from '../../core/time/timeline';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { TakePattern } from './TakePattern';

export function PagesPanel({ goTo }: { goTo: (index: number) => void }) {
  const { colors } = useTheme();
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  return (
    <ScrollView style={[styles.panel, { borderRightWidth: 1, borderColor: colors.outlineVariant }]} contentContainerStyle={styles.list}>
      <Text variant="titleMedium" role="heading" aria-level={2}>
        Pages
      </Text>
      {pages.map((p, i) => {
        return <PageItem key={p.id} id={p.id} number={i + 1} onPress={() => goTo(i)} />;
      })}
    </ScrollView>
  );
}

function PageItem({ id, number, onPress }: { id: string; number: number; onPress: () => void }) {
  const { colors } = useTheme();
  const lines = useAppSelector((s) => s.note.words[id]?.grouping.lines.length ?? 0);
  return (
    <TouchableRipple role="button" aria-label={`Go to page ${number}`} onPress={onPress} borderless style={[styles.item, { backgroundColor: colors.elevation.level2 }]}>
      <View>
        <Text variant="labelLarge">Page {number}</Text>
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          {lines === 0 ? 'blank' : `${lines} ${lines === 1 ? 'line' : 'lines'}`}
        </Text>
      </View>
    </TouchableRipple>
  );
}

export function TakesPanel() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  // Not the whole header: its time of change moves with every stroke.
  const takes = useAppSelector((s) => s.note.note!.header.takes);
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const listen = useAppSelector((s) => s.note.mode === 'listen');
  return (
    <ScrollView style={[styles.panel, { borderLeftWidth: 1, borderColor: colors.outlineVariant }]} contentContainerStyle={styles.list}>
      <Text variant="titleMedium" role="heading" aria-level={2}>
        Takes
      </Text>
      {takes.length === 0 && <Text variant="bodySmall">Nothing recorded yet.</Text>}
      {takes.map((t, i) => (
        <TouchableRipple
          key={t.id}
          role="button"
          aria-label={`${t.name}, ${spokenTime(t.ms)}: play from its start`}
          disabled={!listen || t.ms === 0}
          onPress={() => {
            dispatch(seek(toTimeline(timeline, { take: t.id, at: 0 }) ?? 0));
            dispatch(play());
          }}
          borderless
          style={[styles.item, { backgroundColor: colors.elevation.level2 }]}
        >
          <View style={styles.take}>
            <TakePattern index={i} />
            <View style={styles.words}>
              <Text variant="labelLarge">{t.name}</Text>
              <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
                {t.state === 'recording' ? 'recording' : clockText(t.ms)} · {new Date(t.wall).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
              </Text>
            </View>
          </View>
        </TouchableRipple>
      ))}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  panel: { width: 190, flexGrow: 0, flexShrink: 0 },
  list: { padding: 14, gap: 8 },
  item: { borderRadius: 10, padding: 10, minHeight: 48, justifyContent: 'center' },
  words: { flex: 1, minWidth: 0 },
  take: { flexDirection: 'row', gap: 10, alignItems: 'center' },
});
