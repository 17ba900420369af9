import { StyleSheet, View } from 'react-native';
import { Text, useTheme } from 'react-native-paper';
import { clockText, spokenTime } from '../../../core/time/format';
import { toTimeline } from '../../../core/time/timeline';
import { playAt } from '../../../store/playing';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { TakePattern } from '../TakePattern';
import { Entry } from './Entry';

export function TakeList() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  // Not the whole header: its time of change moves with every stroke.
  const takes = useAppSelector((s) => s.note.note!.header.takes);
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const listen = useAppSelector((s) => s.note.mode === 'listen');
  if (takes.length === 0) return <Text variant="bodySmall">Nothing recorded yet.</Text>;
  return (
    <View role="list" aria-label="Takes" style={styles.list}>
      {takes.map((t, i) => (
        <Entry key={t.id} label={`${t.name}, ${spokenTime(t.ms)}: play from its start`} disabled={!listen || t.ms === 0} onPress={() => dispatch(playAt(toTimeline(timeline, { take: t.id, at: 0 }) ?? 0))}>
          <TakePattern index={i} />
          <View style={styles.words}>
            <Text variant="labelLarge">{t.name}</Text>
            <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
              {t.state === 'recording' ? 'recording' : clockText(t.ms)} · {new Date(t.wall).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
            </Text>
          </View>
        </Entry>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({ list: { gap: 8 }, words: { flex: 1, minWidth: 0 } });
