/** A new table: empty with so many rows and columns, of a file, or of what a spreadsheet put on the clipboard. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Switch, Text, TextInput } from 'react-native-paper';
import { MOST_COLS, MOST_ROWS } from '../../../core/note/kinds/table';
import { chooseFile } from '../../../platform/files';
import { say } from '../../../store/messages';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch } from '../../../store/store';
import { addTable, pasteFromClipboard, tableFromCsv } from '../../../store/tables';
import { Dialog } from '../../../ui/Dialog';

/** A file larger than this is no table to write on, bytes. */
const LARGEST = 4 << 20;

export function TableSheet() {
  const dispatch = useAppDispatch();
  const [rows, setRows] = useState('4');
  const [cols, setCols] = useState('3');
  const [head, setHead] = useState(true);
  const done = () => dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  const counts = [Number(rows), Number(cols)];
  const isGood = counts.every((n) => Number.isInteger(n) && n >= 1) && counts[0] <= MOST_ROWS && counts[1] <= MOST_COLS;
  const make = () => {
    if (!isGood) return;
    done();
    dispatch(addTable(counts[0], counts[1], head));
  };
  const fromFile = async () => {
    const file = await chooseFile('.csv,.tsv,.txt,text/csv,text/tab-separated-values');
    if (!file) return;
    done();
    if (file.size > LARGEST) return dispatch(say('tool', 'problem', 'That file is larger than 4 MB. Nothing was changed; keep the rows that are needed and try once more.'));
    try {
      dispatch(tableFromCsv(await file.text()));
    } catch (e) {
      dispatch(say('tool', 'problem', `The file could not be read (${e instanceof Error ? e.message : String(e)}). Nothing was changed.`));
    }
  };
  return (
    <Dialog onDismiss={done} onEnter={make}>
      <Dialog.Title>Table</Dialog.Title>
      <Dialog.Content style={styles.all}>
        <View style={styles.row}>
          <TextInput mode="outlined" dense label="Rows" accessibilityLabel={`Rows, 1 to ${MOST_ROWS}`} inputMode="numeric" value={rows} onChangeText={setRows} error={!(counts[0] >= 1 && counts[0] <= MOST_ROWS)} style={styles.count} />
          <TextInput mode="outlined" dense label="Columns" accessibilityLabel={`Columns, 1 to ${MOST_COLS}`} inputMode="numeric" value={cols} onChangeText={setCols} error={!(counts[1] >= 1 && counts[1] <= MOST_COLS)} style={styles.count} />
        </View>
        <View style={styles.row}>
          <Text style={styles.grow}>The first row is a header</Text>
          <Switch value={head} onValueChange={setHead} aria-label="The first row is a header" />
        </View>
        <View style={styles.row}>
          <Button compact mode="outlined" onPress={() => void fromFile()}>
            From a CSV file
          </Button>
          <Button
            compact
            mode="outlined"
            onPress={() => {
              done();
              void dispatch(pasteFromClipboard(true));
            }}
          >
            From the clipboard
          </Button>
        </View>
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={done}>Cancel</Button>
        <Button mode="contained" disabled={!isGood} onPress={make}>
          Put it there
        </Button>
      </Dialog.Actions>
    </Dialog>
  );
}

const styles = StyleSheet.create({ all: { gap: 12 }, row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 10 }, count: { width: 110 }, grow: { flex: 1 } });
