/** What stands beside the page on a wide screen: pages on the left, lists on the right. */
import { ScrollView, StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { useAppSelector } from '../../store/store';
import { Lists } from './lists/Lists';
import type { Places } from './lists/places';

export function PagesPanel({ goTo }: { goTo: (index: number) => void }) {
  const { colors } = useTheme();
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  return (
    <ScrollView style={[styles.panel, { borderRightWidth: 1, borderColor: colors.outlineVariant }]} contentContainerStyle={styles.list}>
      <Text variant="titleMedium" role="heading" aria-level={2}>
        Pages
      </Text>
      {pages.map((p, i) => {
        return <PageItem key={p.id} id={p.id} number={i + 1} onPress={() => goTo(i)} />;
      })}
    </ScrollView>
  );
}

function PageItem({ id, number, onPress }: { id: string; number: number; onPress: () => void }) {
  const { colors } = useTheme();
  const lines = useAppSelector((s) => s.note.words[id]?.grouping.lines.length ?? 0);
  return (
    <TouchableRipple role="button" aria-label={`Go to page ${number}`} onPress={onPress} borderless style={[styles.item, { backgroundColor: colors.elevation.level2 }]}>
      <View>
        <Text variant="labelLarge">Page {number}</Text>
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          {lines === 0 ? 'blank' : `${lines} ${lines === 1 ? 'line' : 'lines'}`}
        </Text>
      </View>
    </TouchableRipple>
  );
}

export function ListPanel({ places }: { places: Places }) {
  const { colors } = useTheme();
  return (
    <ScrollView style={[styles.panel, styles.lists, { borderLeftWidth: 1, borderColor: colors.outlineVariant }]} contentContainerStyle={styles.list}>
      <Lists places={places} />
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  panel: { width: 190, flexGrow: 0, flexShrink: 0 },
  list: { padding: 14, gap: 8 },
  item: { borderRadius: 10, padding: 10, minHeight: 48, justifyContent: 'center' },
  lists: { width: 272 },
});
