/** While a take runs: the marks under the thumb, the level, pause and stop; and, in the place of the record button, the clock. */
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { clockText } from '../../../core/time/format';
import { pauseRecording, recordedMs, resumeRecording, stopRecording } from '../../../store/recording';
import { liveLevel, useAppDispatch, useAppSelector } from '../../../store/store';
import { data } from '../../../ui/data';
import { Icon } from '../../../ui/icons';
import { LevelMeter } from '../../../ui/LevelMeter';
import { rowPx } from '../../../ui/textScale';
import { useFrame } from '../../../ui/useLive';
import { useRoom } from '../../../ui/useRoom';
import { inlineRecording } from './fit';
import { MarkButtons } from './MarkButtons';

export function RecordingTools() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const state = useAppSelector((s) => s.recording.state);
  const running = state === 'recording';
  const { side, width } = useRoom();
  const inline = !side && inlineRecording(width);
  return (
    <View role="group" aria-label="Recording" style={[side ? styles.column : styles.row, inline ? styles.inline : !side && styles.own, { backgroundColor: colors.errorContainer }]}>
      <MarkButtons column={side} disabled={!running} />
      {!side && <LevelMeter live={liveLevel} still={!running} />}
      {state === 'paused' ? (
        <BarButton name="Resume recording" icon="record" onPress={() => dispatch(resumeRecording())} />
      ) : (
        <BarButton name="Pause recording" icon="pause" disabled={!running} onPress={() => void dispatch(pauseRecording())} />
      )}
      <BarButton name="Stop recording" icon="stop" disabled={state === 'stopping'} onPress={() => void dispatch(stopRecording())} />
    </View>
  );
}

const RUNNING = { recording: 'Recording', stopping: 'Storing', paused: 'Paused', starting: 'Starting', idle: '' } as const;

export function RecordingClock() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const state = useAppSelector((s) => s.recording.state);
  const take = useAppSelector((s) => s.note.note?.header.takes.find((t) => t.id === s.recording.take)?.name);
  const running = state === 'recording';
  const none = useAppSelector((s) => s.recording.microphone === 'none') && running;
  const ms = useFrame(() => Math.floor(dispatch(recordedMs()) / 100) * 100, running);
  return (
    <View style={[styles.clockBox, { backgroundColor: colors.errorContainer }]}>
      <View style={styles.line}>
        <Icon name={none ? 'warning' : running ? 'record' : 'pause'} size={14} color={colors.error} />
        <Text {...data({ testid: 'recording-clock', ms })} role="timer" aria-label={`Recorded in ${take ?? 'this take'}`} style={[styles.clock, { color: colors.onErrorContainer }]}>
          {clockText(ms)}
        </Text>
      </View>
      <Text style={[styles.word, { color: colors.onErrorContainer }]}>{none ? 'No sound' : RUNNING[state]}</Text>
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
  row: { flexDirection: 'row', alignItems: 'center', gap: 2 },
  own: { minHeight: 48, paddingHorizontal: 5, gap: 6 },
  inline: { borderRadius: 14, paddingHorizontal: 2, gap: 2 },
  column: { alignItems: 'center', justifyContent: 'space-between', paddingVertical: 4, width: 54 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 3 },
  clockBox: { minWidth: 54, minHeight: 46, borderRadius: 12, alignItems: 'center', justifyContent: 'center', paddingHorizontal: 2 },
  // A clock with hours must find room beside all else.
  clock: { fontSize: Math.min(17, rowPx(15)), lineHeight: Math.min(20, rowPx(18)), fontVariant: ['tabular-nums'], fontWeight: '700' },
  word: { fontSize: Math.min(13, rowPx(11)), lineHeight: Math.min(15, rowPx(13)) },
  button: { width: 44, height: 44, borderRadius: 22, borderWidth: 2, alignItems: 'center', justifyContent: 'center' },
});
