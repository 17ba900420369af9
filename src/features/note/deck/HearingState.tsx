/** That pauses and gaps are being looked for, how far it is, and the way to stop it. */
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { stopHearing } from '../../../store/hearing';
import { jobOf } from '../../../store/jobs';
import { hearingSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { JobLine } from '../../../ui/JobLine';
import { textPx } from '../../../ui/textScale';

export function HearingState() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const looks = [styles.over, { backgroundColor: colors.surfaceVariant, borderColor: colors.outlineVariant }];
  const job = useAppSelector(jobOf('hearing'));
  const stopped = useAppSelector((s) => s.hearing.stopped);
  const failed = useAppSelector((s) => s.hearing.failed.length > 0);
  const reason = useAppSelector((s) => s.hearing.reason);
  const missing = useAppSelector((s) => s.note.note!.header.takes.some((t) => t.ms > 0 && !s.hearing.takes[t.id]));
  const again = () => dispatch(hearingSlice.actions.stopped(false));
  if (job) {
    return (
      <View style={looks}>
        <JobLine {...job} small onStop={() => dispatch(stopHearing())} stopLabel="Stop looking for pauses" />
      </View>
    );
  }
  if (failed && missing) {
    return (
      <View style={[styles.row, looks]}>
        <Text style={styles.words}>Pauses and gaps could not be found ({reason}). The sound itself plays as ever.</Text>
        <Button compact onPress={again}>
          Try again
        </Button>
      </View>
    );
  }
  if (stopped && missing) {
    return (
      <View style={[styles.row, looks]}>
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
  over: { borderTopWidth: 1, paddingHorizontal: 10, pointerEvents: 'auto' },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 32 },
  words: { fontSize: textPx(12), flex: 1 },
});
