/** The pen cup: all pens with colour, line and name; taken in hand, put in order, added, changed, taken out. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, IconButton, Text, TouchableRipple, useTheme } from 'react-native-paper';
import { tinykeys } from 'tinykeys';
import type { PenSetting } from '../../../core/ink/pen';
import { addPen, CUP_HOLDS, movePen, pickPen, removePen, returnPen } from '../../../store/cup';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { penWords } from '../pens/names';
import { PenSample } from '../pens/PenSample';
import { Sheet } from './Sheet';
import { textPx } from '../../../ui/textScale';


export function CupSheet() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const { cup, pen } = useAppSelector((s) => s.settings);
  const [out, setOut] = useState<{ pen: PenSetting; index: number } | null>(null);
  const putBack = () => {
    if (!out) return;
    dispatch(returnPen(out.pen, Math.min(out.index, cup.length)));
    setOut(null);
  };
  // The key takes back what was done here, and not what was written before.
  useEffect(() => tinykeys(window, { '$mod+z': (e) => (e.preventDefault(), putBack()) }));
  const edit = () => void dispatch(toolsSlice.actions.set({ sheet: 'pen' }));
  return (
    <Sheet title="Pen cup">
      {cup.map((p, i) => (
        <View key={p.id} style={[styles.row, { borderColor: i === pen ? colors.tertiary : colors.outlineVariant }, i === pen && styles.inHand]}>
          <Text style={styles.number}>{i < 9 ? i + 1 : i === 9 ? 0 : ''}</Text>
          <TouchableRipple role="button" aria-label={`Take ${penWords(p)}`} aria-pressed={i === pen} onPress={() => dispatch(pickPen(i))} borderless style={styles.take}>
            <View style={styles.sample}>
              <PenSample pen={p} width={84} height={34} mm={16.8} />
              <Text numberOfLines={2} style={styles.words}>
                {p.name || penWords(p)}
              </Text>
            </View>
          </TouchableRipple>
          <IconButton icon="up" aria-label={`Move ${penWords(p)} up`} disabled={i === 0} onPress={() => dispatch(movePen(i, -1))} style={styles.icon} />
          <IconButton icon="down" aria-label={`Move ${penWords(p)} down`} disabled={i === cup.length - 1} onPress={() => dispatch(movePen(i, 1))} style={styles.icon} />
          <IconButton
            icon="edit"
            aria-label={`Change ${penWords(p)}`}
            onPress={() => {
              dispatch(pickPen(i));
              edit();
            }}
            style={styles.icon}
          />
          <IconButton
            icon="trash"
            aria-label={`Take ${penWords(p)} out of the cup`}
            disabled={cup.length < 2}
            onPress={() => {
              setOut({ pen: p, index: i });
              dispatch(removePen(i));
            }}
            style={styles.icon}
          />
        </View>
      ))}
      <View style={styles.foot}>
        <Button
          mode="contained-tonal"
          disabled={cup.length >= CUP_HOLDS}
          onPress={() => {
            dispatch(addPen());
            edit();
          }}
        >
          Add a pen
        </Button>
        {out && (
          <Button onPress={putBack}>Put it back</Button>
        )}
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', borderWidth: 1, borderRadius: 12, paddingLeft: 6 },
  inHand: { borderWidth: 3 },
  number: { width: 14, textAlign: 'center', fontVariant: ['tabular-nums'] },
  take: { flex: 1, minWidth: 0, minHeight: 48, justifyContent: 'center', borderRadius: 8 },
  sample: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  words: { flex: 1, minWidth: 0, fontSize: textPx(12), lineHeight: textPx(15) },
  icon: { margin: 0, width: 36, height: 44 },
  foot: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, marginTop: 4 },
});
