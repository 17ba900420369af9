/** The deck in Listen: position, play, back and forward, speed, lead-in. */
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { clockText, spokenTime } from '../../../core/time/format';
import { lengthOf, pausePlaying, play, position, seek, setSpeed, skip, takeAt } from '../../../store/session';
import { settingsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Range } from '../../../ui/Range';
import { Select } from '../../../ui/Select';
import { WIDE } from '../../../ui/theme';
import { useFrame } from '../../../ui/useLive';
import { DeckButton } from './DeckButton';
import { SPEEDS } from './speeds';

const LEAD_INS = [0, 1, 2, 3, 4, 5, 6, 8, 10];

export function Playback() {
  const length = useAppSelector((s) => lengthOf(s.note.note!.header));
  const recording = useAppSelector((s) => s.recording.state === 'recording');
  const wide = useWindowDimensions().width >= WIDE;
  if (length === 0) {
    return (
      <Text style={styles.none}>{recording ? 'What is being recorded can be heard when it is paused or stopped.' : 'This note has no sound yet. Press Record to add some; ink written meanwhile will be linked to it.'}</Text>
    );
  }
  // Each part renders by itself: a touch on the page changes the position and the play button, and must not wait for the rest.
  return (
    <View style={[styles.all, wide && styles.allWide]}>
      <Position wide={wide} length={length} />
      <Controls />
    </View>
  );
}

function Position({ wide, length }: { wide: boolean; length: number }) {
  const dispatch = useAppDispatch();
  const at = useFrame(() => Math.min(length, Math.round(position() / 100) * 100), true);
  const take = useAppSelector((s) => takeAt(s.note.note!.header, at)?.name);
  return (
    <View style={[styles.slider, wide && styles.sliderWide]}>
      <Text style={styles.time}>{clockText(at)}</Text>
      <View style={styles.range}>
        <Range label="Playback position" playhead min={0} max={length} step={100} value={at} text={`${spokenTime(at)} of ${spokenTime(length)}${take ? `, ${take}` : ''}`} onChange={(ms) => dispatch(seek(ms))} />
      </View>
      <Text style={styles.time}>{clockText(length)}</Text>
    </View>
  );
}

function Controls() {
  const dispatch = useAppDispatch();
  const speed = useAppSelector((s) => s.settings.speed);
  const leadIn = useAppSelector((s) => s.settings.leadIn);
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
      <Select label="Lead-in" value={leadIn} options={LEAD_INS.map((s) => ({ value: s, text: `${s} s` }))} onChange={(s) => void dispatch(settingsSlice.actions.patched({ leadIn: s }))} />
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
  all: { flex: 1, gap: 0 },
  allWide: { flexDirection: 'row-reverse', alignItems: 'center', gap: 24 },
  slider: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  sliderWide: { flex: 1 },
  range: { flex: 1 },
  time: { fontVariant: ['tabular-nums'], minWidth: 40, textAlign: 'center' },
  row: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 8 },
  keys: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  play: { width: 60, height: 48, borderRadius: 16, justifyContent: 'center', alignItems: 'center' },
  playIcon: { flexDirection: 'row', gap: 5, alignItems: 'center', justifyContent: 'center', height: 48 },
  triangle: { marginLeft: 4, borderTopWidth: 10, borderBottomWidth: 10, borderLeftWidth: 16, borderTopColor: 'transparent', borderBottomColor: 'transparent' },
  bar: { width: 6, height: 20, borderRadius: 1 },
});
