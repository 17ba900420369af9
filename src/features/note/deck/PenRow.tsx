/** The pens of the cup, and what is changed most of the one in hand: colours used last, widths, any colour by field or code. A slim row over the end of the page, put away by writing on. */
import { useState } from 'react';
import { StyleSheet, TextInput, View } from 'react-native';
import { useTheme } from 'react-native-paper';
import { colorsFor, changePen, penInHand, pickPen } from '../../../store/cup';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { textPx } from '../../../ui/textScale';
import { useRoom } from '../../../ui/useRoom';
import { colorName, nearestWidth, widthsOf } from '../pens/names';
import { PenChip } from '../pens/PenChip';
import { Swatch } from '../pens/Swatch';
import { DeckButton } from './DeckButton';
import './penRow.css';

const { set } = toolsSlice.actions;

export function PenRow() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const { cup } = useAppSelector((s) => s.settings);
  const pen = useAppSelector(penInHand);
  const offered = useAppSelector(colorsFor);
  const { wide } = useRoom();
  const all = widthsOf(pen.kind);
  const at = all.indexOf(nearestWidth(pen.kind, pen.width));
  // The widths around the one in hand: those one goes to most.
  const from = Math.max(0, Math.min(all.length - 5, at - 2));
  return (
    <View role="toolbar" aria-label="Pens, colours and widths" style={[styles.all, { backgroundColor: colors.surface, borderColor: colors.outlineVariant }]}>
      {!wide && (
        <View role="group" aria-label="Pens of the cup" style={styles.group}>
          {cup.slice(0, 5).map((p, i) => (
            <PenChip key={p.id} pen={p} on={p.id === pen.id} onPress={() => dispatch(pickPen(i, 'pens'))} />
          ))}
          <DeckButton name="Pen cup" icon="cup" onPress={() => dispatch(set({ sheet: 'cup' }))} />
        </View>
      )}
      <View role="group" aria-label="Colour" style={styles.group}>
        {offered.slice(0, wide ? 8 : 6).map((color) => (
          <Swatch key={color} color={color} name={colorName(color)} on={pen.color === color} onPress={() => dispatch(changePen({ color }))} />
        ))}
        <ColorField color={pen.color} onChange={(color) => dispatch(changePen({ color }))} />
      </View>
      <View role="group" aria-label="Width" style={styles.group}>
        {all.slice(from, from + 5).map((width) => (
          <DeckButton key={width} name={`${width} mm`} toggles on={all[at] === width} onPress={() => dispatch(changePen({ width }))}>
            {String(width)}
          </DeckButton>
        ))}
        <CodeField color={pen.color} onChange={(color) => dispatch(changePen({ color }))} />
        {wide && <DeckButton name="Pen cup" icon="cup" onPress={() => dispatch(set({ sheet: 'cup' }))} />}
      </View>
    </View>
  );
}

/** The browser's own field of colours. */
function ColorField({ color, onChange }: { color: string; onChange: (color: string) => void }) {
  return <input type="color" className="color-field" aria-label="Any colour" value={color} onChange={(e) => onChange(e.target.value)} />;
}

function CodeField({ color, onChange }: { color: string; onChange: (color: string) => void }) {
  const { colors } = useTheme();
  // What is being typed stands until it is a colour; then the colour of the pen does.
  const [typing, setTyping] = useState<string | null>(null);
  const typed = (text: string) => {
    const full = text.trim().toLowerCase().replace(/^#?/, '#');
    const whole = /^#[0-9a-f]{6}$/.test(full);
    setTyping(whole ? null : text);
    if (whole) onChange(full);
  };
  return <TextInput aria-label="Colour by code, # and six digits" value={typing ?? color} onChangeText={typed} onBlur={() => setTyping(null)} maxLength={7} autoCapitalize="none" style={[styles.code, { color: colors.onSurface, borderColor: typing === null ? colors.outline : colors.error }]} />;
}

const styles = StyleSheet.create({
  all: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', columnGap: 14, rowGap: 2, paddingHorizontal: 6, paddingVertical: 4, borderTopWidth: 1, pointerEvents: 'auto' },
  group: { flexDirection: 'row', alignItems: 'center', gap: 2 },
  code: { width: 84, minHeight: 44, borderWidth: 1, borderRadius: 10, paddingHorizontal: 8, fontSize: textPx(14), fontVariant: ['tabular-nums'] },
});
