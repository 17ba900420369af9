/** Looks for words on the printed pages of the note, and goes to them. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, TextInput, TouchableRipple, useTheme } from 'react-native-paper';
import { boxAround } from '../../../core/ink/stroke';
import { isBusy, stopJob } from '../../../store/jobs';
import { findPrinted, type PrintedHit } from '../../../store/printed';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import type { Places } from '../lists/places';
import { Sheet } from './Sheet';

export function FindSheet({ places }: { places: Places }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const [text, setText] = useState('');
  const [hits, setHits] = useState<readonly PrintedHit[] | null>(null);
  const busy = useAppSelector((s) => isBusy(s, 'finding'));
  const find = () => {
    if (!text.trim() || busy) return;
    setHits([]);
    void dispatch(findPrinted(text.trim(), setHits));
  };
  const go = ({ page, boxes }: PrintedHit) => {
    dispatch(toolsSlice.actions.set({ found: { page, boxes } }));
    const box = boxAround(boxes.map((b) => ({ box: b })));
    if (box) places.showPlace(page, box);
  };
  return (
    <Sheet
      title="Find in the PDF"
      head={
        <View style={styles.head}>
          <TextInput mode="outlined" dense label="Words" accessibilityLabel="Words to look for" value={text} onChangeText={setText} onSubmitEditing={find} style={styles.grow} autoFocus />
          <Button mode="contained" disabled={!text.trim() && !busy} onPress={busy ? () => dispatch(stopJob({ kind: 'finding' })) : find}>
            {busy ? 'Stop' : 'Find'}
          </Button>
        </View>
      }
    >
      {hits && (
        <Text role="status" style={{ color: colors.onSurfaceVariant }}>
          {busy ? `${hits.length} found so far …` : hits.length ? `${hits.length} found` : `“${text.trim()}” is not on the printed pages. What was written by hand is not looked through here.`}
        </Text>
      )}
      <View role="list" aria-label="Found">
        {hits?.map((h, i) => (
          <View key={i} role="listitem">
            <TouchableRipple role="button" aria-label={`${h.around}, page ${h.number}`} onPress={() => go(h)} style={styles.hit}>
              <>
                <Text numberOfLines={2}>{h.around}</Text>
                <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>{`page ${h.number}`}</Text>
              </>
            </TouchableRipple>
          </View>
        ))}
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  head: { flexDirection: 'row', alignItems: 'center', gap: 10, paddingHorizontal: 16, paddingBottom: 8 },
  grow: { flex: 1 },
  hit: { minHeight: 48, paddingVertical: 6, justifyContent: 'center' },
});
