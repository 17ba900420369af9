/** That pauses and gaps are being looked for, how far it is, and the way to stop it. */
import { StyleSheet, View } from 'react-native';
import { Button, ProgressBar, Text } from 'react-native-paper';
import { stopHearing } from '../../../store/hearing';
import { hearingSlice } from '../../../store/slices';
import { store, useAppDispatch, useAppSelector } from '../../../store/store';
import { textPx } from '../../../ui/textScale';

export function HearingState() {
  const dispatch = useAppDispatch();
  const progress = useAppSelector((s) => s.hearing.progress);
  const stopped = useAppSelector((s) => s.hearing.stopped);
  const failed = useAppSelector((s) => s.hearing.failed.length > 0);
  const reason = useAppSelector((s) => s.hearing.reason);
  const missing = useAppSelector((s) => s.note.note!.header.takes.some((t) => t.ms > 0 && !s.hearing.takes[t.id]));
  const again = () => dispatch(hearingSlice.actions.stopped(false));
  if (progress) {
    const percent = Math.round(100 * progress.share);
    return (
      <View style={styles.row}>
        <Text style={styles.words}>{progress.by === 'levels' ? `Looking for pauses, ${percent} %` : `Listening more closely for speech, ${percent} %`}</Text>
        <View style={styles.bar}>
          <ProgressBar progress={progress.share} />
        </View>
        <Button compact onPress={() => stopHearing(store)} accessibilityLabel="Stop looking for pauses">
          Stop
        </Button>
      </View>
    );
  }
  if (failed && missing) {
    return (
      <View style={styles.row}>
        <Text style={styles.words}>Pauses and gaps could not be found ({reason}). The sound itself plays as ever.</Text>
        <Button compact onPress={again}>
          Try again
        </Button>
      </View>
    );
  }
  if (stopped && missing) {
    return (
      <View style={styles.row}>
        <Text style={styles.words}>Pauses and gaps were not looked for to the end.</Text>
        <Button compact onPress={again}>
          Look for pauses
        </Button>
      </View>
    );
  }
  return null;
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 32 },
  words: { fontSize: textPx(12), flex: 1 },
  bar: { width: 90, height: 4 },
});
