/** While a take runs: its name, the clock, the level, pause and stop. */
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { meterShare } from '../../../core/audio/level';
import { clockText } from '../../../core/time/format';
import { liveLevel, pauseRecording, recordedMs, resumeRecording, stopRecording } from '../../../store/session';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { data } from '../../../ui/data';
import { Icon } from '../../../ui/icons';
import { WIDE } from '../../../ui/theme';
import { useFrame, useLive } from '../../../ui/useLive';
import { MarkButtons } from './MarkButtons';

const SEGMENTS = 14;

export function RecordingBar() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const recording = useAppSelector((s) => s.recording);
  const take = useAppSelector((s) => s.note.note?.header.takes.find((t) => t.id === s.recording.take)?.name);
  const running = recording.state === 'recording';
  const wide = useWindowDimensions().width >= WIDE;
  const ms = useFrame(() => Math.floor(recordedMs() / 100) * 100, running);
  if (recording.state === 'idle' || recording.state === 'starting') return null;
  return (
    <View style={{ backgroundColor: colors.errorContainer }}>
      {wide || !running ? null : <MarkButtons />}
    <View style={styles.bar}>
      {wide && running && <MarkButtons />}
      <View style={styles.left}>
        <View style={styles.line}>
          <Icon name={running ? 'record' : 'pause'} size={18} color={colors.error} />
          <Text variant="labelLarge" style={{ color: colors.onErrorContainer }}>
            {take ?? 'Take'}
            {recording.state === 'paused' ? ', paused' : ''}
          </Text>
        </View>
        <Text {...data({ testid: 'recording-clock', ms })} role="timer" aria-label="Recorded" style={[styles.clock, { color: colors.onErrorContainer }]}>
          {clockText(ms)}
        </Text>
      </View>
      <Meter still={!running} />
      {recording.state === 'paused' ? (
        <BarButton name="Resume recording" icon="record" onPress={() => dispatch(resumeRecording())} />
      ) : (
        <BarButton name="Pause recording" icon="pause" disabled={!running} onPress={() => void dispatch(pauseRecording())} />
      )}
      <BarButton name="Stop recording" icon="stop" disabled={recording.state === 'stopping'} onPress={() => void dispatch(stopRecording())} />
    </View>
    </View>
  );
}

function BarButton({ name, icon, onPress, disabled = false }: { name: string; icon: string; onPress: () => void; disabled?: boolean }) {
  const { colors } = useTheme();
  return (
    <TouchableRipple role="button" aria-label={name} disabled={disabled} onPress={onPress} borderless style={[styles.button, { borderColor: colors.error, opacity: disabled ? 0.4 : 1 }]}>
      <Icon name={icon} color={colors.error} />
    </TouchableRipple>
  );
}

/** Level in steps, the tall ones at the end for too loud: read by height as well as by colour. */
function Meter({ still }: { still: boolean }) {
  const { colors } = useTheme();
  const level = useLive(liveLevel);
  const share = still ? 0 : meterShare(level.rms + 9);
  const lit = Math.round(share * SEGMENTS);
  const words = still ? 'paused' : level.peak >= 0.985 ? 'too loud' : share < 0.12 ? 'very quiet' : 'good';
  return (
    <View role="meter" aria-label="Microphone level" aria-valuenow={Math.round(share * 100)} aria-valuemin={0} aria-valuemax={100} aria-valuetext={words} style={styles.meter}>
      {Array.from({ length: SEGMENTS }, (_, i) => (
        <View
          key={i}
          style={[styles.segment, { height: 8 + i * 1.2, backgroundColor: i < lit ? (i >= SEGMENTS - 2 ? colors.error : colors.primary) : colors.outlineVariant }]}
        />
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', gap: 10, paddingHorizontal: 12, paddingVertical: 6 },
  left: { minWidth: 92 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  clock: { fontSize: 22, lineHeight: 26, fontVariant: ['tabular-nums'], fontWeight: '700' },
  meter: { flex: 1, flexDirection: 'row', alignItems: 'flex-end', justifyContent: 'center', gap: 3, height: 28 },
  segment: { width: 6, borderRadius: 2 },
  button: { width: 48, height: 48, borderRadius: 24, borderWidth: 2, alignItems: 'center', justifyContent: 'center' },
});
