/** The deck in Listen: timeline, play, back and forward, speed, lead-in; then marks, repeating, the second pass and what is shown. */
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { clockText } from '../../../core/time/format';
import { selectReview } from '../../../store/listening';
import { lengthOf, pausePlaying, play, position, setSpeed, skip } from '../../../store/playing';
import { settingsSlice, toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Select } from '../../../ui/Select';
import { WIDE } from '../../../ui/theme';
import { useFrame } from '../../../ui/useLive';
import { DeckButton } from './DeckButton';
import { HearingState } from './HearingState';
import { ListenTools } from './ListenTools';
import { MarkButtons } from './MarkButtons';
import { SPEEDS } from './speeds';
import { TimelineBar } from './TimelineBar';
import { textPx } from '../../../ui/textScale';

/** Stands for a lead-in that goes by the writer; no number of seconds. */
const AUTO = -1;
const LEAD_INS = [0, 1, 2, 3, 4, 5, 6, 8, 10];

export function Playback() {
  const dispatch = useAppDispatch();
  const length = useAppSelector((s) => lengthOf(s.note.note!.header));
  const recording = useAppSelector((s) => s.recording.state === 'recording');
  const sheet = useAppSelector((s) => s.tools.sheet);
  const wide = useWindowDimensions().width >= WIDE;
  if (length === 0) {
    return (
      <Text style={styles.none}>{recording ? 'What is being recorded can be heard when it is paused or stopped.' : 'This note has no sound yet. Press Record to add some; ink written meanwhile will be linked to it.'}</Text>
    );
  }
  // Each part renders by itself: a touch on the page changes the position and the play button, and must not wait for the rest.
  return (
    <View style={styles.all}>
      <View style={styles.line}>
        <Position length={length} />
        {wide && <Controls />}
      </View>
      {!wide && <Controls />}
      <HearingState />
      <View style={styles.line}>
        <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.scroll} contentContainerStyle={styles.tools}>
          <MarkButtons />
          <ListenTools />
        </ScrollView>
        {!wide && (
          <DeckButton name="Lists" icon="list" toggles on={sheet === 'lists'} onPress={() => dispatch(toolsSlice.actions.set({ sheet: sheet === 'lists' ? 'none' : 'lists' }))} />
        )}
      </View>
    </View>
  );
}

function Position({ length }: { length: number }) {
  const dispatch = useAppDispatch();
  const at = useFrame(() => Math.min(length, Math.floor(dispatch(position()) / 1000) * 1000), true);
  return (
    <View style={styles.position}>
      <View>
        {/* As wide as the longest time, so that the timeline beside it keeps its width whatever the position. */}
        <Text style={[styles.time, styles.room]} aria-hidden>
          {clockText(length).replace(/\d/g, '0')}
        </Text>
        <Text style={[styles.time, styles.at]}>{clockText(at)}</Text>
      </View>
      <TimelineBar length={length} />
      <Text style={styles.time}>{clockText(length)}</Text>
    </View>
  );
}

function Controls() {
  const dispatch = useAppDispatch();
  const speed = useAppSelector((s) => s.settings.speed);
  const leadIn = useAppSelector((s) => s.settings.leadIn);
  const lag = useAppSelector((s) => selectReview(s)?.lag?.ms);
  const auto = { value: AUTO, text: lag === undefined ? 'Auto' : `Auto ${(lag / 1000).toFixed(1)} s` };
  return (
    <View style={styles.row}>
      <Select label="Speed" value={speed} options={SPEEDS.map((s) => ({ value: s, text: `${s}×` }))} onChange={(s) => dispatch(setSpeed(s))} />
      <View style={styles.keys}>
        <DeckButton name="Back 10 seconds" onPress={() => dispatch(skip(-10_000))} minWidth={48}>
          −10 s
        </DeckButton>
        <PlayButton />
        <DeckButton name="Forward 10 seconds" onPress={() => dispatch(skip(10_000))} minWidth={48}>
          +10 s
        </DeckButton>
      </View>
      <Select
        label="Lead-in"
        value={leadIn === 'auto' ? AUTO : leadIn}
        options={[auto, ...LEAD_INS.map((s) => ({ value: s, text: `${s} s` }))]}
        onChange={(s) => void dispatch(settingsSlice.actions.patched({ leadIn: s === AUTO ? 'auto' : s }))}
      />
    </View>
  );
}

function PlayButton() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const playing = useAppSelector((s) => s.playback.playing);
  return (
    <TouchableRipple
      role="button"
      aria-label={playing ? 'Pause' : 'Play'}
      onPress={() => dispatch(playing ? pausePlaying() : play())}
      borderless
      style={[styles.play, { backgroundColor: colors.primary }]}
    >
      <PlayIcon playing={playing} color={colors.onPrimary} />
    </TouchableRipple>
  );
}

function PlayIcon({ playing, color }: { playing: boolean; color: string }) {
  return <View style={styles.playIcon}>{playing ? <Bars color={color} /> : <View style={[styles.triangle, { borderLeftColor: color }]} />}</View>;
}

function Bars({ color }: { color: string }) {
  return (
    <>
      <View style={[styles.bar, { backgroundColor: color }]} />
      <View style={[styles.bar, { backgroundColor: color }]} />
    </>
  );
}

const styles = StyleSheet.create({
  none: { padding: 10, flex: 1 },
  all: { flex: 1, gap: 4, minWidth: 0 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 6, minWidth: 0 },
  position: { flexDirection: 'row', alignItems: 'center', gap: 6, flex: 1, minWidth: 0 },
  time: { fontVariant: ['tabular-nums'], minWidth: 34, textAlign: 'center', fontSize: textPx(12) },
  room: { opacity: 0 },
  at: { position: 'absolute', left: 0, right: 0 },
  row: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 8 },
  keys: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  scroll: { flexGrow: 1, flexShrink: 1 },
  tools: { alignItems: 'center', gap: 2 },
  play: { width: 60, height: 48, borderRadius: 16, justifyContent: 'center', alignItems: 'center' },
  playIcon: { flexDirection: 'row', gap: 5, alignItems: 'center', justifyContent: 'center', height: 48 },
  triangle: { marginLeft: 4, borderTopWidth: 10, borderBottomWidth: 10, borderLeftWidth: 16, borderTopColor: 'transparent', borderBottomColor: 'transparent' },
  bar: { width: 6, height: 20, borderRadius: 1 },
});
