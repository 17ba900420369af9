import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, SegmentedButtons, Switch, Text, useTheme } from 'react-native-paper';
import { bringDemo, removeDemo } from '../../store/demo';
import { settingsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Range } from '../../ui/Range';

export function SettingsScreen() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const settings = useAppSelector((s) => s.settings);
  const demos = useAppSelector((s) => s.library.headers.filter((h) => h.demo).length);
  const busy = useAppSelector((s) => s.library.demo === 'loading');
  const patch = (p: Parameters<typeof settingsSlice.actions.patched>[0]) => void dispatch(settingsSlice.actions.patched(p));
  const quiet = { color: colors.onSurfaceVariant };
  return (
    <ScrollView contentContainerStyle={styles.all}>
      <Text variant="headlineMedium" role="heading" aria-level={1}>
        Settings
      </Text>

      <Section title="Listening">
        <View style={styles.line}>
          <Text style={styles.label}>Lead-in</Text>
          <Text>{settings.leadIn} s</Text>
        </View>
        <Range label="Lead-in" min={0} max={10} step={0.5} value={settings.leadIn} text={`${settings.leadIn} seconds`} onChange={(leadIn) => patch({ leadIn })} />
        <Text variant="bodySmall" style={quiet}>
          People write some seconds after they hear. Playing starts this much before the word was written.
        </Text>
      </Section>

      <Section title="Appearance">
        <SegmentedButtons
          value={settings.theme}
          onValueChange={(theme) => patch({ theme: theme as typeof settings.theme })}
          buttons={[
            { value: 'system', label: 'System' },
            { value: 'light', label: 'Light' },
            { value: 'dark', label: 'Dark' },
          ]}
        />
      </Section>

      <Section title="Pen and hand">
        <View style={styles.line}>
          <Text style={styles.label}>Only the pen writes; fingers move the page</Text>
          <Switch value={settings.penSeen} onValueChange={(penSeen) => patch({ penSeen })} aria-label="Only the pen writes" />
        </View>
        <Text variant="bodySmall" style={quiet}>
          Switched on by itself when a pen is first used.
        </Text>
      </Section>

      <Section title="Demo notes">
        <Text style={quiet}>Three notes of a harbour pilots’ school, to try things on. Your own notes are never touched.</Text>
        <View style={styles.buttons}>
          <Button mode="contained-tonal" disabled={demos === 0 || busy} onPress={() => void dispatch(removeDemo())}>
            Remove demo notes
          </Button>
          <Button mode="contained-tonal" loading={busy} disabled={busy} onPress={() => void dispatch(bringDemo(true))}>
            Bring demo notes back
          </Button>
        </View>
      </Section>

      <Section title="Keys">
        <Text>Space plays and pauses; ← and → go 10 seconds back and forward; − and + change the speed; , and . change the lead-in; Ctrl+Z and Ctrl+Shift+Z undo and redo; 1 to 3 pick a pen, E the eraser.</Text>
      </Section>
    </ScrollView>
  );
}

function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <View style={styles.section}>
      <Text variant="titleLarge" role="heading" aria-level={2}>
        {title}
      </Text>
      {children}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { padding: 20, gap: 26, maxWidth: 640 },
  section: { gap: 8 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 44 },
  label: { flex: 1 },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
});
