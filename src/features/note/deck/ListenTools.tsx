/** What one does while listening besides playing: speed, lead-in, pauses; marks, repeating; what of the ink is shown. */
import { StyleSheet, View } from 'react-native';
import { Switch, Text } from 'react-native-paper';
import { savedBySkips, selectReview, selectSkips, selectSpeech } from '../../../store/listening';
import { letGo, setGain, setSpeed } from '../../../store/playing';
import { nextUnheard } from '../../../store/reviewing';
import { settingsSlice, toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { repeatHere } from '../../../store/touching';
import { Select } from '../../../ui/Select';
import { rowPx } from '../../../ui/textScale';
import { DeckButton } from './DeckButton';
import { MarkButtons } from './MarkButtons';
import { SPEEDS } from './speeds';

const { patched } = settingsSlice.actions;
const PAUSES = [700, 1000, 1500, 2000, 3000, 5000];
/** Stands for a lead-in that goes by the writer; no number of seconds. */
const AUTO = -1;
const GAINS = [0, 6, 12, 18, 24];
const LEAD_INS = [0, 1, 2, 3, 4, 5, 6, 8, 10];

/** How the sound goes: its speed, where it begins. */
export function Flow() {
  const dispatch = useAppDispatch();
  const speed = useAppSelector((s) => s.settings.speed);
  const leadIn = useAppSelector((s) => s.settings.leadIn);
  const lag = useAppSelector((s) => selectReview(s)?.lag?.ms);
  const auto = { value: AUTO, text: lag === undefined ? 'Auto' : `Auto ${(lag / 1000).toFixed(1)} s` };
  return (
    <View style={styles.group}>
      <Select label="Speed" value={speed} options={SPEEDS.map((s) => ({ value: s, text: `${s}×` }))} onChange={(s) => dispatch(setSpeed(s))} />
      <Select
        label="Lead-in"
        value={leadIn === 'auto' ? AUTO : leadIn}
        options={[auto, ...LEAD_INS.map((s) => ({ value: s, text: `${s} s` }))]}
        onChange={(s) => void dispatch(patched({ leadIn: s === AUTO ? 'auto' : s }))}
      />
    </View>
  );
}

/** Quiet voices made louder. */
export function Louder() {
  const dispatch = useAppDispatch();
  const gain = useAppSelector((s) => s.settings.gain);
  return <Select label="Louder by" value={gain} options={GAINS.map((db) => ({ value: db, text: db === 0 ? 'as it is' : `${db} dB` }))} onChange={(db) => dispatch(setGain(db))} />;
}

/** Flags and repeats what is heard. */
export function Marking() {
  const dispatch = useAppDispatch();
  const repeat = useAppSelector((s) => s.playback.repeat !== null);
  return (
    <View style={styles.group}>
      <MarkButtons />
      <DeckButton name="Repeat" word="Repeat" icon="repeat" toggles on={repeat} onPress={() => dispatch(repeat ? letGo() : repeatHere())} />
    </View>
  );
}

/** Whether pauses are left out; in the row only the switch. */
export function Skipping({ short = false }: { short?: boolean }) {
  const dispatch = useAppDispatch();
  const { skipPauses, pauseMs } = useAppSelector((s) => s.settings);
  const known = useAppSelector((s) => selectSpeech(s) !== null);
  const saved = useAppSelector((s) => (s.settings.skipPauses ? savedBySkips(selectSkips(s)) : 0));
  const words = !skipPauses ? 'Skip pauses' : !known ? 'Looking for pauses' : `Saves ${span(saved)}`;
  return (
    <View style={styles.group}>
      <Toggle name="Skip pauses" words={words} on={skipPauses} onChange={(on) => dispatch(patched({ skipPauses: on }))} />
      {!short && <PauseLength ms={pauseMs} shown={skipPauses} />}
    </View>
  );
}

/** From which length on pauses are left out. */
export function PauseLength({ ms, shown }: { ms: number; shown: boolean }) {
  const dispatch = useAppDispatch();
  if (!shown) return null;
  return <Select label="Longer than" value={ms} options={PAUSES.map((p) => ({ value: p, text: `${p / 1000} s` }))} onChange={(p) => void dispatch(patched({ pauseMs: p }))} />;
}

/** What of the ink is shown. */
export function Showing() {
  const dispatch = useAppDispatch();
  const { ahead, secondShown, unheardShown } = useAppSelector((s) => s.settings);
  return (
    <View style={styles.group}>
      <Toggle name="Ink ahead" words="Ink ahead" on={ahead !== 'hidden'} onChange={(on) => dispatch(patched({ ahead: on ? 'faint' : 'hidden' }))} />
      {ahead !== 'hidden' && <Select label="It shows" value={ahead === 'full' ? 1 : 0} options={[{ value: 0, text: 'faint' }, { value: 1, text: 'full' }]} onChange={(v) => void dispatch(patched({ ahead: v ? 'full' : 'faint' }))} />}
      <Toggle name="Show ink of the second pass" words="Second pass" on={secondShown} onChange={(on) => dispatch(patched({ secondShown: on }))} />
      <Toggle name="Mark ink without sound" words="No sound" on={unheardShown} onChange={(on) => dispatch(patched({ unheardShown: on }))} />
      <Louder />
      <FilmSwitch />
      <DeckButton name="Next ink without sound" word="Next ink" icon="unheard" onPress={() => dispatch(nextUnheard())} />
      <KeysButton />
    </View>
  );
}

function KeysButton() {
  const dispatch = useAppDispatch();
  return <DeckButton name="Keys" word="Keys" icon="keys" onPress={() => dispatch(toolsSlice.actions.set({ sheet: 'keys' }))} />;
}

/** The window of the film, where there is one. */
function FilmSwitch() {
  const dispatch = useAppDispatch();
  const has = useAppSelector((s) => s.note.note?.header.takes.some((t) => t.film) ?? false);
  const film = useAppSelector((s) => s.tools.film);
  return has ? <Toggle name="Show the film" words="Film" on={film} onChange={(on) => dispatch(toolsSlice.actions.set({ film: on }))} /> : null;
}

/** Minutes and seconds in as little room as there is. */
const span = (ms: number): string => (ms >= 60_000 ? `${Math.floor(ms / 60_000)} min ${Math.round((ms % 60_000) / 1000)} s` : `${Math.round(ms / 1000)} s`);

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
  group: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 4 },
  toggle: { alignItems: 'center', justifyContent: 'center', minHeight: 48, minWidth: 66, gap: 3 },
  word: { fontSize: rowPx(11), lineHeight: rowPx(13) },
});
