/** The bar at the bottom: mode switch, tools or playback, record. */
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { startRecording } from '../../../store/recording';
import type { Mode } from '../../../store/noteSlice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Icon } from '../../../ui/icons';
import { WIDE } from '../../../ui/theme';
import { Playback } from './Playback';
import { WriteTools } from './WriteTools';

export function Deck({ onMode }: { onMode: (mode: Mode) => void }) {
  const { colors } = useTheme();
  const mode = useAppSelector((s) => s.note.mode);
  const wide = useWindowDimensions().width >= WIDE;
  return (
    <View style={[styles.deck, wide && styles.wide, { backgroundColor: colors.surfaceVariant, borderColor: colors.outlineVariant }]}>
      <View style={[styles.tools, wide && styles.toolsWide]}>{mode === 'write' ? <WriteTools /> : <Playback />}</View>
      <View style={styles.foot}>
        <View role="group" aria-label="Mode" style={[styles.modes, { borderColor: colors.outline }]}>
          <ModeButton name="Write" icon="pen" on={mode === 'write'} onPress={() => onMode('write')} />
          <ModeButton name="Listen" icon="listen" on={mode === 'listen'} onPress={() => onMode('listen')} />
        </View>
        <RecordButton />
      </View>
    </View>
  );
}

function ModeButton({ name, icon, on, onPress }: { name: string; icon: string; on: boolean; onPress: () => void }) {
  const { colors } = useTheme();
  const color = on ? colors.onPrimary : colors.onSurface;
  return (
    <TouchableRipple role="button" aria-label={name} aria-pressed={on} onPress={onPress} borderless style={[styles.mode, on && { backgroundColor: colors.primary }]}>
      <View style={styles.modeInner}>
        <Icon name={icon} size={20} color={color} />
        <Text style={{ color, fontWeight: on ? '700' : '400' }}>{name}</Text>
      </View>
    </TouchableRipple>
  );
}

const RUNNING = { recording: 'Recording', stopping: 'Storing …', paused: 'Paused' } as const;

function RecordButton() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const state = useAppSelector((s) => s.recording.state);
  const following = useAppSelector((s) => s.note.following);
  if (state !== 'idle' && state !== 'starting') {
    return (
      <View style={styles.running}>
        <Icon name={state === 'paused' ? 'pause' : 'record'} size={20} color={colors.error} />
        <Text style={{ color: colors.error }}>{RUNNING[state]}</Text>
      </View>
    );
  }
  const busy = state === 'starting' || following;
  return (
    <TouchableRipple
      role="button"
      aria-label="Record"
      disabled={busy}
      onPress={() => void dispatch(startRecording())}
      borderless
      style={[styles.record, { backgroundColor: colors.error, opacity: busy ? 0.5 : 1 }]}
    >
      <View style={styles.modeInner}>
        <Icon name="record" color={colors.onError} size={22} />
        <Text style={{ color: colors.onError, fontWeight: '700' }}>{state === 'starting' ? 'Starting …' : 'Record'}</Text>
      </View>
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  deck: { borderTopWidth: 1, paddingHorizontal: 10, paddingTop: 6, paddingBottom: 10, gap: 6 },
  wide: { flexDirection: 'row-reverse', alignItems: 'center', gap: 28, paddingBottom: 8, paddingHorizontal: 24 },
  tools: { flexDirection: 'row', alignItems: 'center' },
  toolsWide: { flex: 1, minWidth: 0 },
  foot: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 12 },
  modes: { flexDirection: 'row', borderWidth: 1, borderRadius: 14, overflow: 'hidden' },
  mode: { minHeight: 44, minWidth: 96, justifyContent: 'center', paddingHorizontal: 10 },
  modeInner: { flexDirection: 'row', alignItems: 'center', justifyContent: 'center', gap: 6 },
  record: { minHeight: 46, minWidth: 118, borderRadius: 23, justifyContent: 'center', paddingHorizontal: 14 },
  running: { flexDirection: 'row', gap: 6, alignItems: 'center', minHeight: 46, minWidth: 118, justifyContent: 'center' },
});
