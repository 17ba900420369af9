/** A take that runs while its note is not in sight. */
import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { stopRecording } from '../../store/recording';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Icon } from '../../ui/icons';

export function RecordingElsewhere() {
  const { colors } = useTheme();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const recording = useAppSelector((s) => s.recording);
  const title = useAppSelector((s) => s.note.note?.header.title);
  if (recording.state === 'idle' || !recording.note) return null;
  return (
    <View role="status" style={[styles.bar, { backgroundColor: colors.errorContainer }]}>
      <Icon name="record" color={colors.error} />
      <Text style={[styles.text, { color: colors.onErrorContainer }]}>{recording.state === 'paused' ? 'Recording paused in' : 'Recording in'} “{title}”</Text>
      <Button mode="text" textColor={colors.onErrorContainer} onPress={() => router.push(`/note/${recording.note}`)}>
        Return
      </Button>
      <Button mode="contained" buttonColor={colors.error} textColor={colors.onError} onPress={() => void dispatch(stopRecording())}>
        Stop
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', paddingHorizontal: 12, paddingVertical: 6, gap: 8, flexWrap: 'wrap' },
  text: { flex: 1, minWidth: 120 },
});
