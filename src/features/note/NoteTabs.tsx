/** Notes that are open, in a row above the page: for who wants them, since they take room. */
import { ScrollView, StyleSheet, View } from 'react-native';
import { IconButton, Text, TouchableRipple, useTheme } from 'react-native-paper';
import { tabsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';

/** `go` shows a note; `onLast`: the only one was shut. */
export function NoteTabs({ id, go, onLast }: { id: string; go: (note: string) => void; onLast: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const wanted = useAppSelector((s) => s.settings.tabs);
  const headers = useAppSelector((s) => s.library.headers);
  const tabs = useAppSelector((s) => s.tabs);
  const shown = tabs.flatMap((tab) => headers.find((h) => h.id === tab) ?? []);
  if (!wanted || shown.length === 0) return null;
  const shut = (tab: string) => {
    if (tab === id) {
      const at = shown.findIndex((h) => h.id === tab);
      const next = shown[at + 1] ?? shown[at - 1];
      if (next) go(next.id);
      else onLast();
    }
    dispatch(tabsSlice.actions.shut(tab));
  };
  return (
    <ScrollView horizontal role="navigation" aria-label="Open notes" style={[styles.all, { borderColor: colors.outlineVariant }]} contentContainerStyle={styles.row}>
      {shown.map((h) => {
        const on = h.id === id;
        return (
          <View key={h.id} style={[styles.tab, { borderColor: on ? colors.primary : 'transparent' }]}>
            <TouchableRipple role="link" aria-label={`Go to ${h.title}`} aria-current={on ? 'page' : undefined} onPress={() => go(h.id)} style={styles.name}>
              <Text numberOfLines={1} variant="labelLarge" style={{ color: on ? colors.onSurface : colors.onSurfaceVariant }}>
                {h.title}
              </Text>
            </TouchableRipple>
            <IconButton icon="close" size={16} aria-label={`Shut ${h.title}`} onPress={() => shut(h.id)} style={styles.shut} />
          </View>
        );
      })}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  all: { flexGrow: 0, flexShrink: 0, borderBottomWidth: 1 },
  row: { gap: 4, paddingHorizontal: 6 },
  tab: { flexDirection: 'row', alignItems: 'center', borderBottomWidth: 3, maxWidth: 200 },
  name: { minHeight: 44, justifyContent: 'center', paddingLeft: 8, flexShrink: 1, minWidth: 0 },
  shut: { margin: 0, width: 32, height: 44 },
});
