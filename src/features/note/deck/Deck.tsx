/** The deck: one row with what is used every minute. On a phone turned on its side it is a column beside the page. */
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { setMode } from '../../../store/mode';
import { lengthOf } from '../../../store/playing';
import { startRecording } from '../../../store/recording';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Icon } from '../../../ui/icons';
import { rowPx } from '../../../ui/textScale';
import { useRoom } from '../../../ui/useRoom';
import { Playback, TimelineRow } from './Playback';
import { inlineRecording } from './fit';
import { OfNote } from './OfNote';
import { RecordingClock, RecordingTools } from './RecordingTools';
import { WriteTools } from './WriteTools';

export function Deck() {
  const { colors } = useTheme();
  const mode = useAppSelector((s) => s.note.mode);
  const running = useAppSelector((s) => s.recording.state === 'recording' || s.recording.state === 'paused' || s.recording.state === 'stopping');
  const sound = useAppSelector((s) => lengthOf(s.note.note!.header) > 0);
  const { width, side } = useRoom();
  const inline = !side && running && inlineRecording(width);
  const looks = { backgroundColor: colors.surfaceVariant, borderColor: colors.outlineVariant };
  const row = (
    <View style={side ? styles.column : styles.row}>
      <ModeSwitch />
      {mode === 'write' ? <WriteTools recording={inline} /> : <Playback />}
      <OfNote>
        {inline && <RecordingTools />}
        <RecordButton />
      </OfNote>
    </View>
  );
  if (side) {
    return (
      <View role="group" aria-label="Deck" style={[styles.side, looks]}>
        <OfNote>{running && <RecordingTools />}</OfNote>
        {row}
      </View>
    );
  }
  return (
    <View role="group" aria-label="Deck" style={[styles.deck, looks]}>
      {mode === 'listen' && sound && <TimelineRow />}
      <OfNote>{running && !inline && <RecordingTools />}</OfNote>
      {row}
    </View>
  );
}

function ModeSwitch() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const mode = useAppSelector((s) => s.note.mode);
  const { side } = useRoom();
  return (
    <View role="group" aria-label="Mode" style={[styles.modes, side && styles.modesSide, { borderColor: colors.outline }]}>
      <ModeButton name="Write" icon="pen" on={mode === 'write'} onPress={() => dispatch(setMode('write'))} />
      <ModeButton name="Listen" icon="listen" on={mode === 'listen'} onPress={() => dispatch(setMode('listen'))} />
    </View>
  );
}

function ModeButton({ name, icon, on, onPress }: { name: string; icon: string; on: boolean; onPress: () => void }) {
  const { colors } = useTheme();
  const color = on ? colors.onPrimary : colors.onSurface;
  return (
    <TouchableRipple role="button" aria-label={name} aria-pressed={on} onPress={onPress} borderless style={[styles.mode, on && { backgroundColor: colors.primary }]}>
      <View style={styles.inner}>
        <Icon name={icon} size={20} color={color} />
        <Text style={[styles.word, { color, fontWeight: on ? '700' : '400' }]}>{name}</Text>
      </View>
    </TouchableRipple>
  );
}

/** Starts recording; while one runs, its clock stands in this place. */
function RecordButton() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const state = useAppSelector((s) => s.recording.state);
  const following = useAppSelector((s) => s.note.following);
  if (state !== 'idle' && state !== 'starting') return <RecordingClock />;
  const busy = state === 'starting' || following;
  return (
    <TouchableRipple role="button" aria-label="Record" disabled={busy} onPress={() => void dispatch(startRecording())} borderless style={[styles.record, { backgroundColor: colors.error, opacity: busy ? 0.5 : 1 }]}>
      <View style={styles.inner}>
        <Icon name="record" color={colors.onError} size={22} />
        <Text numberOfLines={1} style={[styles.word, { color: colors.onError, fontWeight: '700' }]}>
          {state === 'starting' ? 'Starting' : 'Record'}
        </Text>
      </View>
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  deck: { borderTopWidth: 1 },
  side: { flexDirection: 'row', borderLeftWidth: 1 },
  row: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', paddingHorizontal: 5, paddingVertical: 4, minHeight: 56 },
  column: { alignItems: 'center', justifyContent: 'space-between', paddingVertical: 4, paddingHorizontal: 4, width: 62 },
  modes: { flexDirection: 'row', borderWidth: 1, borderRadius: 12, overflow: 'hidden' },
  modesSide: { flexDirection: 'column' },
  mode: { minHeight: 44, minWidth: 44, justifyContent: 'center' },
  inner: { alignItems: 'center', justifyContent: 'center' },
  word: { fontSize: rowPx(11), lineHeight: rowPx(13) },
  record: { minHeight: 46, minWidth: 54, borderRadius: 16, justifyContent: 'center', paddingHorizontal: 4 },
});
