/** The small questions: what becomes of a picture, of the sound of pasted ink, how large the page is shown. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Switch, Text, TextInput } from 'react-native-paper';
import { givePassword } from '../../../store/backdrops';
import { handPicture } from '../../../store/handOn';
import { settingsSlice, toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Range } from '../../../ui/Range';
import { useLive } from '../../../ui/useLive';
import { pageShown, zoomShown } from '../shown';
import { Sheet } from './Sheet';

export function PictureSheet() {
  const dispatch = useAppDispatch();
  const hand = (paper: boolean, copy: boolean) => {
    const made = dispatch(handPicture(paper, copy));
    dispatch(toolsSlice.actions.set({ sheet: 'none' }));
    void made;
  };
  return (
    <Sheet title="Picture of the selection">
      <View style={styles.pair}>
        <Text style={styles.label}>With the paper</Text>
        <Button mode="contained-tonal" onPress={() => hand(true, false)} accessibilityLabel="Save with the paper">
          Save
        </Button>
        <Button mode="contained-tonal" onPress={() => hand(true, true)} accessibilityLabel="Copy with the paper">
          Copy
        </Button>
      </View>
      <View style={styles.pair}>
        <Text style={styles.label}>Ink alone, see-through</Text>
        <Button mode="contained-tonal" onPress={() => hand(false, false)} accessibilityLabel="Save without the paper">
          Save
        </Button>
        <Button mode="contained-tonal" onPress={() => hand(false, true)} accessibilityLabel="Copy without the paper">
          Copy
        </Button>
      </View>
    </Sheet>
  );
}

export function PasteSheet({ onPaste }: { onPaste: (sound: 'bring' | 'reach') => void }) {
  const title = useAppSelector((s) => s.clipboard?.title ?? '');
  return (
    <Sheet title="Sound of this ink">
      <Text>What you paste was written while “{title}” was being recorded. Touched in Listen, it plays what was said then.</Text>
      <Button mode="contained-tonal" onPress={() => onPaste('bring')}>
        Bring the sound into this note
      </Button>
      <Button mode="contained-tonal" onPress={() => onPaste('reach')}>
        Leave it there, with a way to it
      </Button>
    </Sheet>
  );
}

/** A PDF behind a page is locked, and came without its password. */
export function PasswordSheet() {
  const dispatch = useAppDispatch();
  const [password, setPassword] = useState('');
  const [state, setState] = useState<'asks' | 'tries' | 'wrong'>('asks');
  const give = async () => {
    if (!password || state === 'tries') return;
    setState('tries');
    if (await dispatch(givePassword(password))) dispatch(toolsSlice.actions.set({ sheet: 'none' }));
    else setState('wrong');
  };
  return (
    <Sheet title="Password of the PDF">
      <Text role={state === 'wrong' ? 'alert' : undefined}>{state === 'wrong' ? 'That is not its password. Try again.' : 'The password is kept with this note on this device. It leaves only in locked backups.'}</Text>
      <TextInput mode="outlined" label="Password" accessibilityLabel="Password of the PDF" secureTextEntry autoCapitalize="none" value={password} onChangeText={setPassword} onSubmitEditing={() => void give()} autoFocus />
      <Button mode="contained" disabled={!password || state === 'tries'} loading={state === 'tries'} onPress={() => void give()}>
        Open PDF
      </Button>
    </Sheet>
  );
}

/** Slider position to percent and back: as far from 25 to 100 as from 100 to 400. A board is seen from further away. */
const STEPS = 100;
const MOST = 1000;
const toPercent = (v: number, least: number) => Math.round(least * (MOST / least) ** (v / STEPS));
const toStep = (percent: number, least: number) => Math.max(0, Math.round((STEPS * Math.log(percent / least)) / Math.log(MOST / least)));

export function ZoomSheet({ onZoom }: { onZoom: (share: number | null) => void }) {
  const { percent, fit } = useLive(zoomShown);
  const dispatch = useAppDispatch();
  const locked = useAppSelector((s) => s.settings.zoomLocked);
  const shown = useLive(pageShown);
  const isBoard = useAppSelector((s) => s.note.note?.header.pages.some((p) => p.id === shown && p.board) ?? false);
  const least = isBoard ? 5 : 25;
  return (
    <Sheet title="Zoom">
      <Range label="Zoom of the page" min={0} max={STEPS} step={1} value={toStep(percent, least)} text={`${percent} percent`} onChange={(v) => onZoom(toPercent(v, least) / 100)} />
      <View style={styles.pair}>
        <Button mode={fit ? 'contained' : 'contained-tonal'} onPress={() => onZoom(null)}>
          {isBoard ? 'Whole board' : 'Fit width'}
        </Button>
        <Button mode="contained-tonal" onPress={() => onZoom(1)}>
          True size
        </Button>
        <Button mode="contained-tonal" onPress={() => onZoom(3)} accessibilityLabel="300 percent">
          300 %
        </Button>
      </View>
      <View style={styles.pair}>
        <Text style={styles.label}>Lock zoom: fingers and wheel leave it as it is</Text>
        <Switch value={locked} onValueChange={(zoomLocked) => void dispatch(settingsSlice.actions.patched({ zoomLocked }))} aria-label="Lock zoom" />
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  pair: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: 8, minHeight: 48 },
  label: { flex: 1, minWidth: 120 },
});
