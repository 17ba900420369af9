/** Changes how what is selected looks, of whatever kinds it is: colour, pen, line and filling; letters of what has some. */
import { useEffect } from 'react';
import { StyleSheet, View } from 'react-native';
import { Text } from 'react-native-paper';
import { TINTS } from '../../../core/ink/inks';
import type { Pen } from '../../../core/ink/pen';
import { isOpen } from '../../../core/ink/shapes/shape';
import { isStroke, type Placed } from '../../../core/note/kinds/kinds';
import type { Look } from '../../../core/text/faces';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { fillSelected, restyleSelected, selected, setLetters } from '../../../store/tools';
import { LetterSelects } from '../deck/LetterSelects';
import { Swatch } from '../pens/Swatch';
import { DeckButton } from '../deck/DeckButton';
import { ColorControl, KindControl, LineControl, ofKind, OpacityControl, WidthControl } from './PenControls';
import { Sheet } from './Sheet';

const lettersOf = (it: Placed): Look | null => (it.kind === 'typed' ? it.looks[0][1] : it.kind === 'table' || it.kind === 'axes' ? it.look : null);
const canFill = (it: Placed): boolean => it.kind === 'solid' || it.kind === 'slip' || it.kind === 'area' || (isStroke(it) && (it.fill !== undefined || (it.shape !== undefined && !isOpen(it.shape))));
const fillOf = (it: Placed): string | null => (it.kind === 'slip' ? it.tint : it.kind === 'solid' || it.kind === 'area' || it.kind === 'stroke' ? (it.fill ?? null) : null);
const colorOf = (it: Placed): string | null => lettersOf(it)?.color ?? (it.kind === 'solid' ? it.color : null);

export function LookSheet() {
  const dispatch = useAppDispatch();
  const some = useAppSelector((s) => selected(s).length > 0);
  const pen = useAppSelector((s) => selected(s).find(isStroke)?.pen ?? null);
  const color = useAppSelector((s) => selected(s).map(colorOf).find((c) => c !== null) ?? null);
  const letters = useAppSelector((s) => selected(s).map(lettersOf).find((l) => l !== null) ?? null);
  const filled = useAppSelector((s) => selected(s).find(canFill) ?? null);
  // What was selected is gone: there is nothing to change the look of.
  useEffect(() => {
    if (!some) dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  }, [dispatch, some]);
  if (!some) return null;
  const set = (look: Partial<Pen>) => void dispatch(restyleSelected(look));
  const inside = filled && fillOf(filled);
  return (
    <Sheet title="Look of the selection">
      {pen && <KindControl kind={pen.kind} onChange={(kind) => set(ofKind(kind, pen))} />}
      {(pen || color) && <ColorControl color={pen?.color ?? color} tints={pen?.kind === 'highlighter'} onChange={(to) => set({ color: to })} />}
      {pen && (
        <>
          <WidthControl kind={pen.kind} width={pen.width} onChange={(width) => set({ width })} />
          <LineControl line={pen.line} onChange={(line) => set({ line })} />
          <OpacityControl opacity={pen.opacity ?? 1} onChange={(opacity) => set({ opacity })} />
        </>
      )}
      {filled && (
        <View role="group" aria-label="Filling" style={styles.row}>
          <Text style={styles.name}>Filling</Text>
          {TINTS.map((t) => (
            <Swatch key={t.color} {...t} name={`Fill ${t.name}`} on={inside === t.color} onPress={() => dispatch(fillSelected(t.color))} />
          ))}
          {filled.kind !== 'slip' && (
            <DeckButton name="No filling" toggles on={inside === null} onPress={() => dispatch(fillSelected(null))}>
              None
            </DeckButton>
          )}
        </View>
      )}
      {letters && (
        <View role="group" aria-label="Letters" style={styles.row}>
          <Text style={styles.name}>Letters</Text>
          <LetterSelects look={letters} onChange={(patch) => dispatch(setLetters(patch))} />
        </View>
      )}
    </Sheet>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6 }, name: { width: '100%' } });
