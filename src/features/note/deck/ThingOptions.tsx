/** What can be told to things on the page: to sticky notes alone, and how several stand to each other. */
import { StyleSheet, View } from 'react-native';
import { TINTS } from '../../../core/ink/inks';
import { isOpen } from '../../../core/ink/shapes/shape';
import { SLIP_PAPERS, SLIP_SHAPES, type SlipPaper, type SlipShape } from '../../../core/note/kinds/slip';
import { alignSelected, copyLook, giveLook, lockSelected, orderSelected, spreadSelected, tidyChartSelected } from '../../../store/arranging';
import { foldSlips, restyleSlips, selectedSlips } from '../../../store/slips';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { selected } from '../../../store/tools';
import { Select } from '../../../ui/Select';
import { Swatch } from '../pens/Swatch';
import { DeckButton } from './DeckButton';
import { Bar, Words } from './OptionParts';

const SHAPE_NAMES: Readonly<Record<SlipShape, string>> = { square: 'Square corners', rounded: 'Round corners', round: 'Round', tag: 'Tag' };
const PAPER_NAMES: Readonly<Record<SlipPaper, string>> = { plain: 'Plain', ruled: 'Ruled', squared: 'Squared' };

export function SlipOptions() {
  const dispatch = useAppDispatch();
  const slips = useAppSelector(selectedSlips, (a, b) => a.length === b.length && a.every((it, i) => it === b[i]));
  if (!slips.length) return null;
  const [{ tint, shape, paper }] = slips;
  const folded = slips.every((s) => s.folded);
  return (
    <>
      <View role="group" aria-label="Tint of the sticky note" style={styles.row}>
        {TINTS.map((t) => (
          <Swatch key={t.color} {...t} on={tint === t.color} onPress={() => dispatch(restyleSlips({ tint: t.color }))} />
        ))}
      </View>
      <Select bare label="Shape of the sticky note" value={shape} options={SLIP_SHAPES.map((value) => ({ value, text: SHAPE_NAMES[value] }))} onChange={(value) => dispatch(restyleSlips({ shape: value }))} />
      <Select bare label="Paper of the sticky note" value={paper} options={SLIP_PAPERS.map((value) => ({ value, text: PAPER_NAMES[value] }))} onChange={(value) => dispatch(restyleSlips({ paper: value }))} />
      <Words name={folded ? 'Unfold' : 'Fold'} onPress={() => dispatch(foldSlips(slips, !folded))} />
      <Bar />
    </>
  );
}

const SIDES = [
  ['left', 'Left'],
  ['middle', 'Middle'],
  ['right', 'Right'],
  ['top', 'Top'],
  ['centre', 'Centre'],
  ['bottom', 'Bottom'],
] as const;

/** In place of the other options of a selection, until “Done”. */
export function ArrangeOptions() {
  const dispatch = useAppDispatch();
  const many = useAppSelector((s) => selected(s).length > 1);
  const copied = useAppSelector((s) => s.tools.copiedLook !== null);
  const some = useAppSelector((s) => selected(s).length > 0);
  const chart = useAppSelector((s) => selected(s).filter((it) => it.kind === 'stroke' && it.shape && !isOpen(it.shape)).length > 1);
  return (
    <>
      {some && (
        <>
          <Words name="To the front" onPress={() => dispatch(orderSelected('front'))} />
          <Words name="Forward" onPress={() => dispatch(orderSelected('forward'))} />
          <Words name="Backward" onPress={() => dispatch(orderSelected('backward'))} />
          <Words name="To the back" onPress={() => dispatch(orderSelected('back'))} />
          <Bar />
        </>
      )}
      {many && (
        <View role="group" aria-label="Align" style={styles.row}>
          {SIDES.map(([to, text]) => (
            <DeckButton key={to} name={`Align: ${text.toLowerCase()}`} onPress={() => dispatch(alignSelected(to))}>
              {text}
            </DeckButton>
          ))}
          <DeckButton name="Spread evenly across" onPress={() => dispatch(spreadSelected(0))}>
            Spread ↔
          </DeckButton>
          <DeckButton name="Spread evenly down" onPress={() => dispatch(spreadSelected(1))}>
            Spread ↕
          </DeckButton>
          <Bar />
        </View>
      )}
      {chart && <Words name="Tidy the chart" onPress={() => dispatch(tidyChartSelected())} />}
      {some && <Words name="Copy look" onPress={() => dispatch(copyLook())} />}
      {some && copied && <Words name="Give look" onPress={() => dispatch(giveLook())} />}
      {some && <Words name="Lock in place" onPress={() => dispatch(lockSelected())} />}
      <Words name="Done" onPress={() => dispatch(toolsSlice.actions.set({ sheet: 'none' }))} />
    </>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', maxWidth: '100%' } });
