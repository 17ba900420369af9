/** The writer's own headings, the picture of each its entry, and those that a PDF brought. */
import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import type { OutlineEntry } from '../../../core/note/pages';
import { saidBy } from '../../../core/reading/said';
import { selectSaid } from '../../../store/noteText';
import { changeHeading, selectOutline } from '../../../store/pages';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { InkPicture } from '../../../ui/InkPicture';
import { Entry } from '../../../ui/Entry';

export function Outline({ writes, onOpen }: { writes: boolean; onOpen: (page: string, box: OutlineEntry['box']) => void }) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const outline = useAppSelector(selectOutline);
  const said = useAppSelector(selectSaid);
  const level = (e: OutlineEntry, to: 1 | 2 | 3) => dispatch(changeHeading(e.id, to));
  return (
    <ScrollView contentContainerStyle={styles.list}>
      <View role="list" aria-label="Outline" style={styles.list}>
        {outline.map((e) => ({ ...e, text: e.text ?? (saidBy(said[e.page] ?? [], new Set(e.placed.map((it) => it.id))) || undefined) })).map((e) => (
          <View key={e.id} style={{ marginLeft: (e.level - 1) * 24 }}>
            <Entry
              label={e.text === undefined ? `Heading of level ${e.level} on page ${e.number}` : `${e.text}, heading of level ${e.level} on page ${e.number}`}
              onPress={() => onOpen(e.page, e.box)}
              actions={
                writes && (
                  <>
                    <Button compact disabled={e.level === 1} onPress={() => level(e, (e.level - 1) as 1 | 2)}>
                      Higher
                    </Button>
                    <Button compact disabled={e.level === 3} onPress={() => level(e, (e.level + 1) as 2 | 3)}>
                      Deeper
                    </Button>
                    <Button compact onPress={() => dispatch(changeHeading(e.id, null))}>
                      No heading
                    </Button>
                  </>
                )
              }
            >
              {e.placed.length ? <InkPicture placed={e.placed} box={e.box} width={220} height={40} /> : <Text variant="bodyLarge">{e.text}</Text>}
              <Text style={{ color: colors.onSurfaceVariant }}>page {e.number}</Text>
            </Entry>
          </View>
        ))}
      </View>
      {outline.length === 0 && <Text style={styles.empty}>No headings yet. Take a word or a line with the lasso and press Heading: its ink becomes an entry here.</Text>}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  list: { gap: 8, padding: 6 },
  empty: { padding: 12 },
});
