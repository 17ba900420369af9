/** Axes: from where to where, in which steps, with a grid or without; or a number line. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, HelperText, SegmentedButtons, Switch, Text, TextInput } from 'react-native-paper';
import { decimalOf, isScale, MOST_TICKS, type Scale } from '../../../core/note/kinds/axes';
import { putAxes, selectedAxes } from '../../../store/axes';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Dialog } from '../../../ui/Dialog';

const PARTS = ['from', 'to', 'step'] as const;
const WORDS = { from: 'From', to: 'To', step: 'In steps of' } as const;

/** As it is typed, as a scale; null while it is none. */
function scaleOf(typed: Scale): Scale | null {
  const [from, to, step] = PARTS.map((p) => decimalOf(typed[p]));
  return from !== null && to !== null && step !== null && isScale({ from, to, step }) ? { from, to, step } : null;
}

function ScaleFields({ name, value, onChange }: { name: string; value: Scale; onChange: (scale: Scale) => void }) {
  return (
    <View role="group" aria-label={name} style={styles.scale}>
      <Text style={styles.name}>{name}</Text>
      {PARTS.map((p) => (
        <TextInput key={p} mode="outlined" dense label={WORDS[p]} accessibilityLabel={`${name}: ${WORDS[p].toLowerCase()}`} inputMode="decimal" value={value[p]} onChangeText={(text) => onChange({ ...value, [p]: text })} error={decimalOf(value[p]) === null} style={styles.part} />
      ))}
    </View>
  );
}

export function AxesSheet() {
  const dispatch = useAppDispatch();
  const had = useAppSelector(selectedAxes);
  const [kind, setKind] = useState<'axes' | 'line'>(had && !had.y ? 'line' : 'axes');
  const [x, setX] = useState<Scale>(had?.x ?? { from: '0', to: '12', step: '1' });
  const [y, setY] = useState<Scale>(had?.y ?? { from: '0', to: '5', step: '1' });
  const [grid, setGrid] = useState(had ? had.grid === true : true);
  const done = () => dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  const [sx, sy] = [scaleOf(x), kind === 'axes' ? scaleOf(y) : null];
  const isGood = sx !== null && (kind === 'line' || sy !== null);
  const make = () => {
    if (!isGood) return;
    done();
    dispatch(putAxes({ x: sx, y: sy, ...(grid && kind === 'axes' ? { grid: true } : {}) }));
  };
  return (
    <Dialog onDismiss={done} onEnter={make}>
      <Dialog.Title>Axes</Dialog.Title>
      <Dialog.Content style={styles.all}>
        <SegmentedButtons
          density="small"
          value={kind}
          onValueChange={(v) => setKind(v === 'line' ? 'line' : 'axes')}
          buttons={[
            { value: 'axes', label: 'Two axes' },
            { value: 'line', label: 'Number line' },
          ]}
        />
        <ScaleFields name={kind === 'line' ? 'Numbers' : 'x, to the right'} value={x} onChange={setX} />
        {kind === 'axes' && <ScaleFields name="y, upwards" value={y} onChange={setY} />}
        {!isGood && <HelperText type="error">Numbers like 2.5, going up, and at most {MOST_TICKS} steps.</HelperText>}
        {kind === 'axes' && (
          <View style={styles.scale}>
            <Text style={styles.grow}>With a grid</Text>
            <Switch value={grid} onValueChange={setGrid} aria-label="With a grid" />
          </View>
        )}
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={done}>Cancel</Button>
        <Button mode="contained" disabled={!isGood} onPress={make}>
          {had ? 'Change them' : 'Put them there'}
        </Button>
      </Dialog.Actions>
    </Dialog>
  );
}

const styles = StyleSheet.create({ all: { gap: 12 }, scale: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 }, name: { width: '100%', fontWeight: '700' }, part: { width: 84 }, grow: { flex: 1 } });
