/** While a take runs: its name, the clock, the level, pause and stop. */
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { clockText } from '../../../core/time/format';
import { pauseRecording, recordedMs, resumeRecording, stopRecording } from '../../../store/recording';
import { liveLevel, useAppDispatch, useAppSelector } from '../../../store/store';
import { data } from '../../../ui/data';
import { Icon } from '../../../ui/icons';
import { WIDE } from '../../../ui/theme';
import { LevelMeter } from '../../../ui/LevelMeter';
import { useFrame } from '../../../ui/useLive';
import { MarkButtons } from './MarkButtons';
import { textPx } from '../../../ui/textScale';

export function RecordingBar() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const recording = useAppSelector((s) => s.recording);
  const take = useAppSelector((s) => s.note.note?.header.takes.find((t) => t.id === s.recording.take)?.name);
  const running = recording.state === 'recording';
  const wide = useWindowDimensions().width >= WIDE;
  const ms = useFrame(() => Math.floor(dispatch(recordedMs()) / 100) * 100, running);
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
      <LevelMeter live={liveLevel} still={!running} />
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

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', gap: 10, paddingHorizontal: 12, paddingVertical: 6 },
  left: { minWidth: 92 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  clock: { fontSize: textPx(22), lineHeight: textPx(26), fontVariant: ['tabular-nums'], fontWeight: '700' },
  button: { width: 48, height: 48, borderRadius: 24, borderWidth: 2, alignItems: 'center', justifyContent: 'center' },
});
