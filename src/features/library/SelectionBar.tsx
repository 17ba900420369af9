/** What can be done with several notes at once. */
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { archiveNotes, binNotes, duplicateNotes, putBack } from '../../store/filing';
import { useAppDispatch } from '../../store/store';
import type { Asked } from '../filing/asked';

export interface SelectionBarProps {
  where: 'folder' | 'all' | 'archive' | 'bin';
  ids: readonly string[];
  all: readonly string[];
  onAll: (ids: readonly string[]) => void;
  onAsk: (asked: Asked) => void;
  onDone: () => void;
}

export function SelectionBar({ where, ids, all, onAll, onAsk, onDone }: SelectionBarProps) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const none = ids.length === 0;
  const act = (name: string, work: () => void, ends = false) => (
    <Button
      compact
      disabled={none}
      onPress={() => {
        work();
        if (ends) onDone();
      }}
    >
      {name}
    </Button>
  );
  return (
    <View role="toolbar" aria-label="What to do with the chosen notes" style={[styles.bar, { borderColor: colors.outlineVariant, backgroundColor: colors.elevation.level2 }]}>
      <Text style={styles.count} role="status">{`${ids.length} chosen`}</Text>
      <Button compact onPress={() => onAll(ids.length === all.length ? [] : all)}>
        {ids.length === all.length ? 'Choose none' : 'Choose all'}
      </Button>
      {where === 'bin' ? (
        <>
          {act('Put back', () => void dispatch(putBack(ids)), true)}
          {act('Delete for good', () => onAsk({ kind: 'delete', ids }))}
        </>
      ) : (
        <>
          {act('Move', () => onAsk({ kind: 'move', ids }))}
          {act('Hand on', () => onAsk({ kind: 'hand', ids }))}
          {act('Duplicate', () => void dispatch(duplicateNotes(ids)))}
          {act('Tags', () => onAsk({ kind: 'tags', ids }))}
          {act(where === 'archive' ? 'Out of the archive' : 'Archive', () => void dispatch(archiveNotes(ids, where !== 'archive')))}
          {act('Delete', () => void dispatch(binNotes(ids)), true)}
        </>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', marginHorizontal: -20, paddingHorizontal: 12, paddingVertical: 6, borderTopWidth: 1 },
  count: { paddingHorizontal: 8, fontWeight: '700' },
});
