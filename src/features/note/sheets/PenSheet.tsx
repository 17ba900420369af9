/** One pen, changed in its place in the cup, with a line written in it always in sight. */
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { Switch, Text, TextInput } from 'react-native-paper';
import { changePen } from '../../../store/cup';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { PenSample } from '../pens/PenSample';
import { AngleControl, ColorControl, KindControl, LineControl, ofKind, OpacityControl, WidthControl } from './PenControls';
import { Sheet, Slide } from './Sheet';
import { HUES } from '../../../ui/palette';

const PX_PER_MM = 96 / 25.4;

const handText = (response: number) => (response === 0 ? 'even' : response < 0 ? `light hand ${Math.round(-response * 100)} %` : `firm hand ${Math.round(response * 100)} %`);

export function PenSheet() {
  const dispatch = useAppDispatch();
  const pen = useAppSelector((s) => s.settings.cup[Math.min(s.settings.pen, s.settings.cup.length - 1)]);
  const room = Math.min(388, useWindowDimensions().width - 32);
  const set = (look: Parameters<typeof changePen>[0]) => void dispatch(changePen(look));
  const light = pen.kind === 'highlighter';
  const pressing = pen.kind === 'fountain' || pen.kind === 'brush' || pen.kind === 'pencil' || pen.kind === 'ball';
  return (
    <Sheet
      title="Pen"
      onBack={() => dispatch(toolsSlice.actions.set({ sheet: 'cup' }))}
      head={
        <View style={styles.sample}>
          {/* True size at 96 px to the inch: as wide as it will stand on paper. */}
          <PenSample pen={pen} width={room} height={56} mm={room / PX_PER_MM} />
        </View>
      }
    >
      <TextInput mode="outlined" dense label="What it is for" accessibilityLabel="Name of the pen" placeholder="definitions, examples …" value={pen.name} maxLength={40} onChangeText={(name) => set({ name })} />
      <KindControl kind={pen.kind} onChange={(kind) => set({ ...ofKind(kind, pen), ...(kind === 'highlighter' && !light ? { straight: true } : {}) })} />
      <ColorControl color={pen.color} tints={light} onChange={(color) => set({ color })} />
      <WidthControl kind={pen.kind} width={pen.width} onChange={(width) => set({ width })} />
      {light ? (
        <View style={styles.line}>
          <Text style={styles.label}>Keeps straight along the line of writing</Text>
          <Switch value={pen.straight} onValueChange={(straight) => set({ straight })} aria-label="Keeps straight along the line of writing" />
        </View>
      ) : (
        <LineControl line={pen.line} onChange={(line) => set({ line })} />
      )}
      {pen.kind === 'chisel' && <AngleControl pen={pen} onChange={set} />}
      <OpacityControl opacity={pen.opacity ?? 1} onChange={(opacity) => set({ opacity })} />
      {pressing && <Slide name="Pressure" min={-100} max={100} step={10} value={Math.round(pen.response * 100)} text={handText(pen.response)} onChange={(v) => set({ response: v / 100 })} />}
      <Slide name="Steadiness" min={0} max={100} step={5} value={Math.round(pen.steadiness * 100)} text={`${Math.round(pen.steadiness * 100)} %`} onChange={(v) => set({ steadiness: v / 100 })} />
    </Sheet>
  );
}

const styles = StyleSheet.create({
  sample: { backgroundColor: HUES.sheet, marginHorizontal: 16, marginBottom: 8, borderRadius: 8, overflow: 'hidden', alignItems: 'center' },
  line: { flexDirection: 'row', alignItems: 'center', minHeight: 44 },
  label: { flex: 1 },
});
