/** What can be told to the table that is typed into. */
import { ScrollView, StyleSheet } from 'react-native';
import { useTheme } from 'react-native-paper';
import { FACES, type Face } from '../../../core/text/faces';
import { spanAt, type Table } from '../../../core/note/kinds/table';
import { deleteCols, deleteRows, insertCols, insertRows, merged, moveCol, moveRow, rangeOf, sorted, withHead, withLook, withSum, type TableEdit } from '../../../core/note/tableEdits';
import type { Placed } from '../../../core/note/kinds/kinds';
import { say } from '../../../store/messages';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { copyCells, editTable, holdCells, pasteFromClipboard, saveCsv, tableOf, type Cells } from '../../../store/tables';
import { Select } from '../../../ui/Select';
import { DeckButton } from './DeckButton';
import { Bar } from './OptionParts';

const FACE_NAMES: Readonly<Record<Face, string>> = { sans: 'Sans', serif: 'Serif', typewriter: 'Typewriter', hand: 'Hand' };
const SIZES = [7, 8, 9, 10, 11, 12, 14, 16, 18, 24];

type Make = (it: Table, riders: readonly Placed[], at: Cells, now: Parameters<typeof withSum>[4]) => TableEdit | null;

export function TableOptions() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  // Only what the row shows: a key that is typed draws none of it anew.
  const shown = useAppSelector((s) => {
    const it = tableOf(s);
    if (!it || !s.tools.cells) return null;
    const [r, c, h, w] = rangeOf(s.tools.cells);
    const span = spanAt(it, r, c);
    return JSON.stringify({ r, c, h, w, isOne: h * w === 1 && span[2] * span[3] > 1, sum: it.cells[r]?.[c]?.sum ?? null, head: it.head === true, face: it.look.face, size: it.look.size });
  });
  if (!shown) return null;
  const { r, c, h, w, isOne, sum, head, face, size } = JSON.parse(shown) as { r: number; c: number; h: number; w: number; isOne: boolean; sum: 'above' | 'left' | null; head: boolean; face: Face; size: number };
  const edit = (make: Make, refused?: string) => {
    if (!dispatch(editTable(make)) && refused) dispatch(say('tool', 'info', refused));
  };
  const restyle = (look: Partial<Table['look']>) => edit((t, riders) => withLook(t, riders, look));
  const act = (name: string, make: Make, refused?: string) => (
    <DeckButton name={name} onPress={() => edit(make, refused)}>
      {name}
    </DeckButton>
  );
  const edge = 'It is at the edge already.';
  return (
    <ScrollView horizontal style={styles.all} contentContainerStyle={styles.row}>
      {act('Row above', (t, riders) => insertRows(t, riders, r, h), 'The table has as many rows as it can have.')}
      {act('Row below', (t, riders) => insertRows(t, riders, r + h, h), 'The table has as many rows as it can have.')}
      {act('Column left', (t, riders) => insertCols(t, riders, c, w), 'The table has as many columns as it can have.')}
      {act('Column right', (t, riders) => insertCols(t, riders, c + w, w), 'The table has as many columns as it can have.')}
      <Bar />
      <DeckButton name="Header row" toggles on={head} onPress={() => edit((t, riders) => withHead(t, riders, !t.head))}>
        Header row
      </DeckButton>
      <DeckButton name="Sum above" toggles on={sum === 'above'} onPress={() => edit((t, riders, _, now) => withSum(t, riders, { r, c }, sum === 'above' ? null : 'above', now))}>
        Sum above
      </DeckButton>
      <DeckButton name="Sum left" toggles on={sum === 'left'} onPress={() => edit((t, riders, _, now) => withSum(t, riders, { r, c }, sum === 'left' ? null : 'left', now))}>
        Sum left
      </DeckButton>
      {act('Sort up', (t, riders) => sorted(t, riders, c, false))}
      {act('Sort down', (t, riders) => sorted(t, riders, c, true))}
      {(h * w > 1 || isOne) && act(isOne ? 'Part cells' : 'Make one cell', (t, riders, at) => merged(t, riders, at))}
      <Bar />
      {act('Move row up', (t, riders) => moveRow(t, riders, r, -1), edge)}
      {act('Move row down', (t, riders) => moveRow(t, riders, r, 1), edge)}
      {act('Move column left', (t, riders) => moveCol(t, riders, c, -1), edge)}
      {act('Move column right', (t, riders) => moveCol(t, riders, c, 1), edge)}
      <DeckButton name={h > 1 ? `Delete ${h} rows` : 'Delete row'} color={colors.error} onPress={() => edit((t, riders) => deleteRows(t, riders, r, h), 'A table keeps one row at least. With the lasso all of it is deleted.')}>
        {h > 1 ? `Delete ${h} rows` : 'Delete row'}
      </DeckButton>
      <DeckButton name={w > 1 ? `Delete ${w} columns` : 'Delete column'} color={colors.error} onPress={() => edit((t, riders) => deleteCols(t, riders, c, w), 'A table keeps one column at least. With the lasso all of it is deleted.')}>
        {w > 1 ? `Delete ${w} columns` : 'Delete column'}
      </DeckButton>
      <Bar />
      <Select bare label="Font of the table" value={face} options={FACES.map((value) => ({ value, text: FACE_NAMES[value] }))} onChange={(to) => restyle({ face: to })} />
      <Select bare label="Size of the table’s letters, points" value={size} options={[...new Set([...SIZES, size])].sort((a, b) => a - b).map((value) => ({ value, text: `${value} pt` }))} onChange={(to) => restyle({ size: to })} />
      <Bar />
      <DeckButton name="Copy cells" onPress={() => dispatch(copyCells())}>
        Copy cells
      </DeckButton>
      <DeckButton name="Paste cells" onPress={() => void dispatch(pasteFromClipboard())}>
        Paste cells
      </DeckButton>
      <DeckButton name="CSV file" onPress={() => dispatch(saveCsv())}>
        CSV file
      </DeckButton>
      <DeckButton name="Leave" onPress={() => dispatch(holdCells(null))}>
        Leave
      </DeckButton>
    </ScrollView>
  );
}

const styles = StyleSheet.create({ all: { flexShrink: 1 }, row: { alignItems: 'center', gap: 2 } });
