/** What one does while listening besides playing: repeat, write, skip pauses, choose what is shown. */
import { StyleSheet, View } from 'react-native';
import { Switch, Text } from 'react-native-paper';
import { savedBySkips, selectSkips, selectSpeech } from '../../../store/listening';
import { canChange } from '../../../store/change';
import { letGo } from '../../../store/playing';
import { repeatHere } from '../../../store/touching';
import { nextUnheard, writeWhileListening } from '../../../store/reviewing';
import { settingsSlice, toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Select } from '../../../ui/Select';
import { DeckButton } from './DeckButton';
import { textPx } from '../../../ui/textScale';

const { patched } = settingsSlice.actions;
const PAUSES = [700, 1000, 1500, 2000, 3000, 5000];

export function ListenTools() {
  const dispatch = useAppDispatch();
  const repeat = useAppSelector((s) => s.playback.repeat !== null);
  const second = useAppSelector((s) => s.playback.second);
  const erases = useAppSelector((s) => s.tools.tool === 'eraser');
  const can = useAppSelector(canChange);
  const { skipPauses, pauseMs, ahead, secondShown, unheardShown } = useAppSelector((s) => s.settings);
  const known = useAppSelector((s) => selectSpeech(s) !== null);
  const saved = useAppSelector((s) => (s.settings.skipPauses ? savedBySkips(selectSkips(s)) : 0));
  const sheet = useAppSelector((s) => s.tools.sheet);
  const words = !skipPauses ? 'Skip pauses' : !known ? 'Looking for pauses' : `Saves ${short(saved)}`;
  return (
    <View style={styles.row}>
      <DeckButton name="Repeat" icon="repeat" toggles on={repeat} onPress={() => dispatch(repeat ? letGo() : repeatHere())} />
      <DeckButton
        name="Write while listening"
        icon="pen"
        toggles
        on={second}
        disabled={!can}
        onPress={() => dispatch(writeWhileListening(!second))}
      />
      {second && <DeckButton name="Eraser" icon="eraser" toggles on={erases} onPress={() => dispatch(toolsSlice.actions.toolChosen(erases ? 'pen' : 'eraser'))} />}
      <Toggle name="Skip pauses" words={words} on={skipPauses} onChange={(on) => dispatch(patched({ skipPauses: on }))} />
      {skipPauses && <Select label="Longer than" value={pauseMs} options={PAUSES.map((ms) => ({ value: ms, text: `${ms / 1000} s` }))} onChange={(ms) => void dispatch(patched({ pauseMs: ms }))} />}
      <Toggle name="Ink ahead" words="Ink ahead" on={ahead !== 'hidden'} onChange={(on) => dispatch(patched({ ahead: on ? 'faint' : 'hidden' }))} />
      {ahead !== 'hidden' && <Select label="It shows" value={ahead === 'full' ? 1 : 0} options={[{ value: 0, text: 'faint' }, { value: 1, text: 'full' }]} onChange={(v) => void dispatch(patched({ ahead: v ? 'full' : 'faint' }))} />}
      <Toggle name="Show ink of the second pass" words="Second pass" on={secondShown} onChange={(on) => dispatch(patched({ secondShown: on }))} />
      <Toggle name="Mark ink without sound" words="No sound" on={unheardShown} onChange={(on) => dispatch(patched({ unheardShown: on }))} />
      <DeckButton name="Next ink without sound" icon="unheard" onPress={() => dispatch(nextUnheard())} />
      <DeckButton name="Keys" icon="keys" toggles on={sheet === 'keys'} onPress={() => dispatch(toolsSlice.actions.set({ sheet: sheet === 'keys' ? 'none' : 'keys' }))} />
    </View>
  );
}

/** Minutes and seconds in as little room as there is. */
const short = (ms: number): string => (ms >= 60_000 ? `${Math.floor(ms / 60_000)} min ${Math.round((ms % 60_000) / 1000)} s` : `${Math.round(ms / 1000)} s`);

/** A switch over a word or two; `name` is what a screen reader calls it. */
function Toggle({ name, words, on, onChange }: { name: string; words: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <View style={styles.toggle}>
      <Switch value={on} onValueChange={onChange} accessibilityLabel={name} />
      <Text numberOfLines={1} style={styles.word}>
        {words}
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  toggle: { alignItems: 'center', justifyContent: 'center', minHeight: 48, minWidth: 66, gap: 3 },
  word: { fontSize: textPx(11), lineHeight: textPx(13) },
});
