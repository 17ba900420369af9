import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, SegmentedButtons, Switch, Text, useTheme } from 'react-native-paper';
import { bringDemo, removeDemo } from '../../store/demo';
import { settingsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { BOTH_KEYS, LISTEN_KEYS, WRITE_KEYS } from '../../ui/keys';
import '../../ui/controls.css';
import { Range } from '../../ui/Range';
import { AsideSection } from './AsideSection';
import { BackupSection } from './BackupSection';
import { DavSection } from './DavSection';
import { LockSection } from './LockSection';
import { StorageSection } from './StorageSection';
import { WordsSection } from './WordsSection';

export function SettingsScreen() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const settings = useAppSelector((s) => s.settings);
  const demos = useAppSelector((s) => s.library.headers.filter((h) => h.demo).length);
  const busy = useAppSelector((s) => s.library.demo === 'loading');
  // Until the library is read it is not known which of them are there.
  const ready = useAppSelector((s) => s.library.status === 'ready');
  const patch = (p: Parameters<typeof settingsSlice.actions.patched>[0]) => void dispatch(settingsSlice.actions.patched(p));
  const quiet = { color: colors.onSurfaceVariant };
  return (
    <ScrollView contentContainerStyle={styles.all}>
      <Text variant="headlineMedium" role="heading" aria-level={1}>
        Settings
      </Text>
      <div className="wide-columns">
      <Section title="Listening">
        <View style={styles.line}>
          <Text style={styles.label}>Start playing before the word</Text>
          <Text>{settings.leadIn === 'auto' ? 'as long as you write late' : `${settings.leadIn} s`}</Text>
        </View>
        <View style={styles.line}>
          <Text style={styles.label}>As long as you write late</Text>
          <Switch accessibilityLabel="Lead-in by the writer" value={settings.leadIn === 'auto'} onValueChange={(on) => patch({ leadIn: on ? 'auto' : 2 })} />
        </View>
        {settings.leadIn !== 'auto' && <Range label="Lead-in" min={0} max={10} step={0.5} value={settings.leadIn} text={`${settings.leadIn} seconds`} onChange={(leadIn) => patch({ leadIn })} />}
        <Text variant="bodySmall" style={quiet}>
          People write some seconds after they hear, so what was said lies before the word (the lead-in). How late you write is found in each note; until it is known, 2 seconds. Where a sentence begins near by, playing starts there.
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

      <Section title="Page">
        <SegmentedButtons
          value={settings.pageTheme}
          onValueChange={(pageTheme) => patch({ pageTheme: pageTheme as typeof settings.pageTheme })}
          buttons={[
            { value: 'light', label: 'Light page' },
            { value: 'dark', label: 'Dark page' },
            { value: 'interface', label: 'As above' },
          ]}
        />
        <Text variant="bodySmall" style={quiet}>
          On a dark page every ink keeps its hue and its contrast. Pictures and files are made as on white.
        </Text>
        <Choice name="Open notes stay in a row above the page" value={settings.tabs} onChange={(tabs) => patch({ tabs })} />
        <Choice name="Page by page, turned sideways" value={settings.sideways} onChange={(sideways) => patch({ sideways })} />
      </Section>

      <Section title="Pen and hand">
        <Text>Who writes on the page</Text>
        <SegmentedButtons
          value={settings.writes}
          onValueChange={(writes) => patch({ writes: writes as typeof settings.writes })}
          buttons={[
            { value: 'auto', label: 'By itself' },
            { value: 'pen', label: 'Only the pen' },
            { value: 'any', label: 'Fingers too' },
          ]}
        />
        <Text variant="bodySmall" style={quiet}>
          {settings.writes === 'auto'
            ? settings.penSeen
              ? 'A pen has been used here, so fingers move the page.'
              : 'Fingers write until a pen is first used; from then on they move the page.'
            : settings.writes === 'pen'
              ? 'Fingers and a resting palm never leave ink.'
              : 'One finger writes, two move the page; “Move the page” beside the pens lets one finger move it.'}
        </Text>
        <Choice name="Left-handed: the time margin stands on the right" value={settings.leftHanded} onChange={(leftHanded) => patch({ leftHanded })} />
        <Choice name="Two fingers undo, three fingers redo" value={settings.fingerUndo} onChange={(fingerUndo) => patch({ fingerUndo })} />
        <Choice name="Hand rest: an edge at the bottom that ignores every touch" value={settings.handRest > 0} onChange={(on) => patch({ handRest: on ? HAND_REST_PX : 0 })} />
        <Choice name="Lock zoom" value={settings.zoomLocked} onChange={(zoomLocked) => patch({ zoomLocked })} />
      </Section>

      <Section title="While writing">
        <Choice name="Holding still at the end of a line makes a clean shape of it" value={settings.holdShapes} onChange={(holdShapes) => patch({ holdShapes })} />
        <Choice name="Shapes set themselves level, upright and at 45 degrees" value={settings.snap} onChange={(snap) => patch({ snap })} />
        <Choice name="A line becomes typed text when it is written" value={settings.liveText} onChange={(liveText) => patch({ liveText })} />
        <Choice name="Scratching a word out deletes it" value={settings.scratchOut} onChange={(scratchOut) => patch({ scratchOut })} />
        <View style={styles.line}>
          <Text style={styles.label}>The writing strip moves on when the pen has rested</Text>
          <Text>{(settings.strip.rest / 1000).toFixed(1)} s</Text>
        </View>
        <Range label="Rest before the writing strip moves on" min={0.3} max={2.5} step={0.1} value={settings.strip.rest / 1000} text={`${(settings.strip.rest / 1000).toFixed(1)} seconds`} onChange={(s) => patch({ strip: { ...settings.strip, rest: Math.round(s * 1000) } })} />
        <Choice name="After erasing the last pen returns" value={settings.eraser.penReturns} onChange={(penReturns) => patch({ eraser: { ...settings.eraser, penReturns } })} />
      </Section>

      <Section title="Reading handwriting">
        <WordsSection />
      </Section>

      <Section title="Storage">
        <StorageSection />
      </Section>

      <Section title="Set aside">
        <AsideSection />
      </Section>

      <Section title="Backup">
        <BackupSection />
        <DavSection />
      </Section>

      <Section title="Lock">
        <LockSection />
      </Section>

      <Section title="Demo notes">
        <Text style={quiet}>Three notes of a harbour pilots’ school, to try things on. Your own notes are never touched.</Text>
        <View style={styles.buttons}>
          <Button mode="contained-tonal" disabled={demos === 0 || busy} onPress={() => void dispatch(removeDemo())}>
            Remove demo notes
          </Button>
          <Button mode="contained-tonal" loading={busy} disabled={busy || !ready} onPress={() => void dispatch(bringDemo(true))}>
            Bring demo notes back
          </Button>
        </View>
      </Section>

      <Section title="Keys">
        <Choice name="Keys of a single letter do something" value={settings.letterKeys} onChange={(letterKeys) => patch({ letterKeys })} />
        {[...BOTH_KEYS, ...WRITE_KEYS, ...LISTEN_KEYS].map(([keys, what]) => (
          <View key={keys} style={styles.key}>
            <Text style={styles.keys}>{keys}</Text>
            <Text style={styles.label}>{what}</Text>
          </View>
        ))}
      </Section>
      </div>
    </ScrollView>
  );
}

/** What the hand rest measures until it is pulled up or down by its grip, px. */
const HAND_REST_PX = 140;

function Choice({ name, value, onChange }: { name: string; value: boolean; onChange: (value: boolean) => void }) {
  return (
    <View style={styles.line}>
      <Text style={styles.label}>{name}</Text>
      <Switch value={value} onValueChange={onChange} aria-label={name} />
    </View>
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
  all: { padding: 20, gap: 16, maxWidth: 1160 },
  section: { gap: 8 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 44 },
  label: { flex: 1 },
  key: { flexDirection: 'row', gap: 12, minHeight: 24 },
  keys: { width: 150, fontWeight: '700' },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
});
