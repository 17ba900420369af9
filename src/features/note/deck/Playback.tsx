/** Listen: play beside the timeline, and in the deck's row back and forward, writing meanwhile, and what unfolds the rest. */
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { clockText } from '../../../core/time/format';
import { canChange } from '../../../store/change';
import { lengthOf, pausePlaying, play, position, skip } from '../../../store/playing';
import { writeWhileListening } from '../../../store/reviewing';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Icon } from '../../../ui/icons';
import { rowPx } from '../../../ui/textScale';
import { useFrame } from '../../../ui/useLive';
import { useRoom } from '../../../ui/useRoom';
import { DeckButton } from './DeckButton';
import { inlineListening } from './fit';
import { Flow, Marking, Skipping } from './ListenTools';
import { TimelineBar } from './TimelineBar';

export function TimelineRow() {
  const dispatch = useAppDispatch();
  const length = useAppSelector((s) => lengthOf(s.note.note!.header));
  const at = useFrame(() => Math.min(length, Math.floor(dispatch(position()) / 1000) * 1000), true);
  return (
    <View style={styles.position}>
      <PlayButton />
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

/** What stands in the row; the rest is behind “More”, or beside it where the row is wide. */
export function Playback() {
  const dispatch = useAppDispatch();
  const length = useAppSelector((s) => lengthOf(s.note.note!.header));
  const recording = useAppSelector((s) => s.recording.state === 'recording');
  const second = useAppSelector((s) => s.playback.second);
  const erases = useAppSelector((s) => s.tools.tool === 'eraser');
  const can = useAppSelector(canChange);
  const open = useAppSelector((s) => s.tools.sheet === 'more');
  const lists = useAppSelector((s) => s.tools.sheet === 'lists');
  // Where a source stands, the lists have no place of their own beside the page.
  const beside = useAppSelector((s) => s.beside.note !== null);
  const { wide, side, width } = useRoom();
  const roomy = !side && inlineListening(width);
  if (length === 0) {
    return <Text style={styles.none}>{recording ? 'What is being recorded can be heard when it is paused or stopped.' : 'No sound yet. Press Record: ink written meanwhile is linked to it.'}</Text>;
  }
  // Each part renders by itself: a touch on the page changes the position and the play button, and must not wait for the rest.
  return (
    <>
      {roomy && <Flow />}
      {!side && <Skip name="Back 10 seconds" by={-10_000} />}
      {!side && (roomy || !second) && <Skip name="Forward 10 seconds" by={10_000} />}
      <DeckButton name="Write while listening" icon="pen" toggles on={second} disabled={!can} onPress={() => dispatch(writeWhileListening(!second))} />
      {second && <DeckButton name="Eraser" icon="eraser" toggles on={erases} onPress={() => dispatch(toolsSlice.actions.toolChosen(erases ? 'pen' : 'eraser'))} />}
      {roomy && <Marking />}
      {wide && <Skipping short />}
      {(!wide || beside) && <DeckButton name="Lists" icon="list" toggles on={lists} onPress={() => dispatch(toolsSlice.actions.set({ sheet: lists ? 'none' : 'lists' }))} />}
      <DeckButton name="More tools" icon={open ? 'down' : 'more'} toggles on={open} onPress={() => dispatch(toolsSlice.actions.set({ sheet: open ? 'none' : 'more' }))} />
    </>
  );
}

function Skip({ name, by }: { name: string; by: number }) {
  const dispatch = useAppDispatch();
  return (
    <DeckButton name={name} icon={by < 0 ? 'back10' : 'forward10'} word="10" onPress={() => dispatch(skip(by))} />
  );
}

function PlayButton() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const playing = useAppSelector((s) => s.playback.playing);
  return (
    <TouchableRipple role="button" aria-label={playing ? 'Pause' : 'Play'} onPress={() => dispatch(playing ? pausePlaying() : play())} borderless style={[styles.play, { backgroundColor: colors.primary }]}>
      <Icon name={playing ? 'pause' : 'play'} size={26} color={colors.onPrimary} />
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  none: { paddingHorizontal: 8, flex: 1 },
  position: { flexDirection: 'row', alignItems: 'center', gap: 6, paddingHorizontal: 6, paddingTop: 4 },
  time: { fontVariant: ['tabular-nums'], minWidth: 34, textAlign: 'center', fontSize: rowPx(12) },
  room: { opacity: 0 },
  at: { position: 'absolute', left: 0, right: 0 },
  play: { width: 54, height: 46, borderRadius: 16, justifyContent: 'center', alignItems: 'center' },
});
