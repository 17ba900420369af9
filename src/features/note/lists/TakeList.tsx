import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, TextInput, useTheme } from 'react-native-paper';
import { clockText, spokenTime } from '../../../core/time/format';
import { toTimeline } from '../../../core/time/timeline';
import { canChange } from '../../../store/change';
import { playAt } from '../../../store/touching';
import { renameTake } from '../../../store/reviewing';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { TakePattern } from '../TakePattern';
import { Entry } from '../../../ui/Entry';

export function TakeList() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  // Not the whole header: its time of change moves with every stroke.
  const takes = useAppSelector((s) => s.note.note!.header.takes);
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const listen = useAppSelector((s) => s.note.mode === 'listen');
  const can = useAppSelector(canChange);
  if (takes.length === 0) return <Text variant="bodySmall">Nothing recorded yet.</Text>;
  return (
    <View role="list" aria-label="Takes" style={styles.list}>
      {takes.map((t, i) => (
        <Entry key={t.id} actions={can && t.state === 'done' && <Renamed name={t.name} onSave={(name) => dispatch(renameTake(t.id, name))} />} label={`${t.name}, ${spokenTime(t.ms)}: play from its start`} disabled={!listen || t.ms === 0} onPress={() => dispatch(playAt(toTimeline(timeline, { take: t.id, at: 0 }) ?? 0))}>
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

/** A name that a touch lets be typed anew. */
function Renamed({ name, onSave }: { name: string; onSave: (name: string) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const done = () => {
    if (draft?.trim()) onSave(draft.trim());
    setDraft(null);
  };
  if (draft === null) {
    return (
      <Button compact accessibilityLabel={`Rename ${name}`} onPress={() => setDraft(name)}>
        Rename
      </Button>
    );
  }
  return <TextInput mode="outlined" dense autoFocus selectTextOnFocus accessibilityLabel={`Name of ${name}`} value={draft} maxLength={100} onChangeText={setDraft} onBlur={done} onSubmitEditing={done} style={styles.input} />;
}

const styles = StyleSheet.create({ input: { flex: 1, margin: 4 }, list: { gap: 8 }, words: { flex: 1, minWidth: 0 } });
