/** The lists on a phone: over the end of the page, with the deck and what is said under it in reach. */
import { ScrollView, StyleSheet, View } from 'react-native';
import { IconButton, Text, useTheme } from 'react-native-paper';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch } from '../../../store/store';
import { shadow } from '../../../ui/palette';
import { useKeysWhileOpen } from '../../../ui/useKeysWhileOpen';
import { Lists } from '../lists/Lists';
import type { Places } from '../lists/places';

export function ListSheet({ places }: { places: Places }) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const close = useKeysWhileOpen();
  return (
    <View role="region" aria-label="Lists" style={[styles.all, { backgroundColor: colors.surface, borderColor: colors.outlineVariant }]}>
      <View style={styles.top}>
        <Text variant="titleMedium" role="heading" aria-level={2} style={styles.title}>
          Lists
        </Text>
        <IconButton ref={close} icon="close" aria-label="Close Lists" onPress={() => void dispatch(toolsSlice.actions.set({ sheet: 'none' }))} style={styles.icon} />
      </View>
      <ScrollView style={styles.scroll} contentContainerStyle={styles.inner}>
        <Lists places={places} />
      </ScrollView>
    </View>
  );
}

const styles = StyleSheet.create({
  // A message has its place above it, however long the list.
  all: { flexShrink: 1, minHeight: 0, maxHeight: '90%', borderTopLeftRadius: 18, borderTopRightRadius: 18, borderWidth: 1, borderBottomWidth: 0, boxShadow: `0 -4px 16px ${shadow(0.18)}`, pointerEvents: 'auto' },
  top: { flexDirection: 'row', alignItems: 'center', paddingLeft: 16, minHeight: 48 },
  title: { flex: 1 },
  icon: { margin: 0, width: 44, height: 44 },
  scroll: { flexGrow: 0, flexShrink: 1 },
  inner: { paddingHorizontal: 16, paddingBottom: 16, gap: 8 },
});
