/** A spoken memo: it records by itself, and all there is to do can be done without looking closely. */
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, Text, TouchableRipple, useTheme } from 'react-native-paper';
import { clockText, spokenTime } from '../../core/time/format';
import { timelineLength } from '../../core/time/timeline';
import { openNote } from '../../store/openNote';
import { pauseRecording, recordedMs, resumeRecording, startRecording, stopRecording } from '../../store/recording';
import { liveLevel, useAppDispatch, useAppSelector } from '../../store/store';
import { useMessages } from '../../store/useMessages';
import { data } from '../../ui/data';
import { Icon } from '../../ui/icons';
import { LevelMeter } from '../../ui/LevelMeter';
import { Messages } from '../../ui/Messages';
import { useFrame } from '../../ui/useLive';
import { JobsRow } from '../jobs/JobsPlace';
import { textPx } from '../../ui/textScale';

export function SoundOnlyScreen() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const router = useRouter();
  const { id } = useLocalSearchParams<{ id: string }>();
  const header = useAppSelector((s) => (s.note.id === id ? s.note.note?.header : undefined));
  const { state } = useAppSelector((s) => s.recording);
  const running = state === 'recording';
  const ms = useFrame(() => Math.floor(dispatch(recordedMs()) / 100) * 100, running);
  const messages = useMessages();
  useEffect(() => {
    if (id) void dispatch(openNote(id));
  }, [dispatch, id]);
  const kept = header ? timelineLength(header.timeline) : 0;
  return (
    <View style={[styles.all, { backgroundColor: colors.background }]}>
      <View style={styles.grow}>
        <Text variant="titleLarge" role="heading" aria-level={1} style={styles.title} numberOfLines={2}>
          {header?.title ?? 'Sound only'}
        </Text>
        {state === 'starting' || !header ? (
          <View style={styles.row} role="status">
            <ActivityIndicator />
            <Text>Starting the microphone …</Text>
          </View>
        ) : state === 'idle' ? (
          <>
            <Text style={styles.clock} accessibilityLabel={kept ? `${spokenTime(kept)} kept` : 'Nothing recorded'}>
              {clockText(kept)}
            </Text>
            <Text>{kept ? 'The memo is kept.' : 'Nothing was recorded.'}</Text>
            <View style={styles.row}>
              <Button mode="contained" buttonColor={colors.error} textColor={colors.onError} icon="record" contentStyle={styles.tall} onPress={() => void dispatch(startRecording())}>
                {kept ? 'Go on speaking' : 'Try again'}
              </Button>
              <Button mode="outlined" contentStyle={styles.tall} onPress={() => router.replace(`/note/${id}`)}>
                Open the note
              </Button>
            </View>
          </>
        ) : (
          <>
            <Text {...data({ testid: 'recording-clock', ms })} role="timer" aria-label="Recorded" style={styles.clock}>
              {clockText(ms)}
            </Text>
            <View style={styles.meter}>
              <LevelMeter live={liveLevel} still={!running} />
            </View>
            <Text role="status">{state === 'paused' ? 'Paused' : 'Recording. Speak when you like.'}</Text>
            <View style={styles.big}>
              <Big name={state === 'paused' ? 'Resume recording' : 'Pause recording'} icon={state === 'paused' ? 'record' : 'pause'} onPress={() => (state === 'paused' ? dispatch(resumeRecording()) : void dispatch(pauseRecording()))} />
              <Big name="Stop recording" icon="stop" filled onPress={() => void dispatch(stopRecording())} />
            </View>
            <Button icon="pen" onPress={() => router.replace(`/note/${id}`)}>
              Write along with it
            </Button>
          </>
        )}
      </View>
      <Messages inline {...messages} />
      <JobsRow />
      <Button icon="back" onPress={() => router.replace('/')} style={styles.back}>
        Back to Today
      </Button>
    </View>
  );
}

function Big({ name, icon, onPress, filled = false }: { name: string; icon: string; onPress: () => void; filled?: boolean }) {
  const { colors } = useTheme();
  return (
    <TouchableRipple role="button" aria-label={name} onPress={onPress} borderless style={[styles.bigButton, { borderColor: colors.error }, filled && { backgroundColor: colors.error }]}>
      <Icon name={icon} size={54} color={filled ? colors.onError : colors.error} />
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, padding: 20 },
  grow: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 20 },
  title: { textAlign: 'center' },
  clock: { fontSize: textPx(64), lineHeight: textPx(76), fontVariant: ['tabular-nums'], fontWeight: '700' },
  meter: { height: 40, flexDirection: 'row', width: 200 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 12, alignItems: 'center', justifyContent: 'center' },
  big: { flexDirection: 'row', gap: 28 },
  bigButton: { width: 128, height: 128, borderRadius: 64, borderWidth: 3, alignItems: 'center', justifyContent: 'center' },
  tall: { minHeight: 52 },
  back: { alignSelf: 'flex-start' },
});
