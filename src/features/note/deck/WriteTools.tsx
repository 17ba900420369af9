/** The tools of Write: the pens in one row, everything else in another; side by side where there is room. */
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import type { PenSetting } from '../../../core/ink/pen';
import { pickPen } from '../../../store/cup';
import { redo, undo } from '../../../store/change';
import { toolsSlice, type ToolName } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { WIDE } from '../../../ui/theme';
import { penWords } from '../pens/names';
import { PenSample } from '../pens/PenSample';
import { DeckButton } from './DeckButton';
import { textPx } from '../../../ui/textScale';
import { HUES, palettes } from '../../../ui/palette';

const { set, stripTurned, toolChosen } = toolsSlice.actions;

/** Paper and ink look the same in either theme: the sample shows what comes onto the page. */

export function WriteTools() {
  const wide = useWindowDimensions().width >= WIDE;
  return (
    <View style={[styles.all, wide && styles.wide]}>
      <Pens />
      <Tools />
    </View>
  );
}

function Pens() {
  const dispatch = useAppDispatch();
  const { cup, pen } = useAppSelector((s) => s.settings);
  const tool = useAppSelector((s) => s.tools.tool);
  const sheet = useAppSelector((s) => s.tools.sheet);
  const following = useAppSelector((s) => s.note.following);
  const inHand = tool === 'pen' || tool === 'shapes';
  return (
    <View style={styles.pens}>
      <DeckButton name="Pen cup" icon="cup" toggles on={sheet === 'cup' || sheet === 'pen'} onPress={() => dispatch(set({ sheet: sheet === 'cup' || sheet === 'pen' ? 'none' : 'cup' }))} />
      <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.scroll} contentContainerStyle={styles.chips}>
        {cup.map((p, i) => (
          <PenChip key={p.id} pen={p} on={inHand && i === Math.min(pen, cup.length - 1)} writes={tool === 'pen'} disabled={following} onPress={() => dispatch(pickPen(i))} onAgain={() => dispatch(set({ sheet: sheet === 'pen' ? 'none' : 'pen' }))} />
        ))}
      </ScrollView>
      <DeckButton name="Move the page" icon="move" toggles on={tool === 'pan'} onPress={() => dispatch(toolChosen(tool === 'pan' ? 'pen' : 'pan'))} />
    </View>
  );
}

/** Colour and line of a pen, with its name or width. A touch takes it in hand, a second one opens what can be changed. */
function PenChip({ pen, on, writes, disabled, onPress, onAgain }: { pen: PenSetting; on: boolean; writes: boolean; disabled: boolean; onPress: () => void; onAgain: () => void }) {
  const { colors } = useTheme();
  const text = pen.name || `${pen.width} mm`;
  return (
    <TouchableRipple role="button" aria-label={penWords(pen)} aria-pressed={on} disabled={disabled} onPress={on && writes ? onAgain : onPress} borderless style={[styles.chip, { borderColor: on ? colors.tertiary : colors.outlineVariant, opacity: disabled ? 0.38 : 1 }, on && styles.chipOn]}>
      <View style={styles.chipInner}>
        <PenSample pen={pen} width={52} height={22} mm={13.8} />
        <Text numberOfLines={1} style={[styles.chipText, on && styles.chipTextOn]}>
          {text}
        </Text>
      </View>
    </TouchableRipple>
  );
}

const TOOLS: readonly { readonly tool: ToolName; readonly name: string; readonly icon: string }[] = [
  { tool: 'eraser', name: 'Eraser', icon: 'eraser' },
  { tool: 'lasso', name: 'Lasso', icon: 'lasso' },
  { tool: 'room', name: 'Make room', icon: 'room' },
  { tool: 'shapes', name: 'Shapes', icon: 'shapes' },
];

function Tools() {
  const dispatch = useAppDispatch();
  const { tool, ruler, strip } = useAppSelector((s) => s.tools);
  const undos = useAppSelector((s) => s.note.undo.length > 0);
  const redos = useAppSelector((s) => s.note.redo.length > 0);
  const following = useAppSelector((s) => s.note.following);
  return (
    <View style={styles.tools}>
      {TOOLS.map((t) => {
        const on = tool === t.tool || (t.tool === 'shapes' && tool === 'fill');
        return <DeckButton key={t.tool} name={t.name} icon={t.icon} toggles on={on} disabled={following} onPress={() => dispatch(toolChosen(on ? 'pen' : t.tool))} />;
      })}
      <DeckButton name="Ruler" icon="ruler" toggles on={ruler} disabled={following} onPress={() => dispatch(set({ ruler: !ruler }))} />
      <DeckButton name="Writing strip" icon="strip" toggles on={strip} disabled={following} onPress={() => dispatch(stripTurned())} />
      <DeckButton name="Undo" icon="undo" disabled={!undos || following} onPress={() => dispatch(undo())} />
      <DeckButton name="Redo" icon="redo" disabled={!redos || following} onPress={() => dispatch(redo())} />
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, gap: 4, minWidth: 0 },
  wide: { flexDirection: 'row', alignItems: 'center', gap: 16 },
  pens: { flexDirection: 'row', alignItems: 'center', gap: 4, flexShrink: 1, minWidth: 0 },
  scroll: { flexGrow: 1, flexShrink: 1 },
  chips: { gap: 4, paddingVertical: 2 },
  chip: { backgroundColor: HUES.sheet, borderRadius: 8, borderWidth: 1, minWidth: 58, height: 44, justifyContent: 'center' },
  chipOn: { borderWidth: 3 },
  chipInner: { alignItems: 'center', paddingHorizontal: 2 },
  chipText: { fontSize: textPx(11), lineHeight: textPx(13), color: palettes.light.onSurfaceVariant, maxWidth: 76 },
  chipTextOn: { fontWeight: '700', color: HUES.navy },
  tools: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 2 },
});
