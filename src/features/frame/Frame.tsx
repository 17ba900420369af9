/** The tabs: along the bottom on a phone, down the side when wide. */
import { useEffect } from 'react';
import { Slot, usePathname, useRouter } from 'expo-router';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { useMessages } from '../../store/useMessages';
import { Messages } from '../../ui/Messages';
import { Icon } from '../../ui/icons';
import { lastTab } from '../../ui/lastTab';
import { WIDE } from '../../ui/theme';
import { JobsRow } from '../jobs/JobsPlace';
import { RecordingElsewhere } from './RecordingElsewhere';

const TABS = [
  { path: '/', name: 'Today', icon: 'today' },
  { path: '/library', name: 'Library', icon: 'library' },
  { path: '/review', name: 'Review', icon: 'review' },
  { path: '/settings', name: 'Settings', icon: 'settings' },
] as const;

export function Frame() {
  const { colors } = useTheme();
  const wide = useWindowDimensions().width >= WIDE;
  const path = usePathname();
  const router = useRouter();
  useEffect(() => {
    const tab = TABS.find((t) => t.path === path);
    if (tab) Object.assign(lastTab, { path: tab.path, name: tab.name });
  }, [path]);
  return (
    <View style={[styles.all, { backgroundColor: colors.background, flexDirection: wide ? 'row-reverse' : 'column' }]}>
      <View role="main" style={styles.screen}>
        <RecordingElsewhere />
        <View style={styles.screen}>
          <Slot />
          <Messages {...useMessages()} />
        </View>
        <JobsRow />
      </View>
      <View role="navigation" aria-label="Scrivo">
      <View role="tablist" aria-label="Scrivo" style={[wide ? styles.side : styles.bottom, { backgroundColor: colors.surfaceVariant, borderColor: colors.outlineVariant }]}>
        {TABS.map((tab) => {
          const on = path === tab.path;
          const color = on ? colors.onSecondary : colors.onSurfaceVariant;
          return (
            <TouchableRipple
              key={tab.path}
              role="tab"
              aria-selected={on}
              aria-label={tab.name}
              onPress={() => router.replace(tab.path)}
              style={[styles.tab, wide && styles.tabWide, on && { backgroundColor: colors.secondary }]}
            >
              <View style={styles.tabInner}>
                <Icon name={tab.icon} color={color} size={24} />
                <Text variant="labelMedium" style={{ color }}>
                  {tab.name}
                </Text>
              </View>
            </TouchableRipple>
          );
        })}
      </View>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1 },
  screen: { flex: 1, minWidth: 0, minHeight: 0 },
  bottom: { flexDirection: 'row', borderTopWidth: 1, padding: 6, gap: 6 },
  side: { width: 104, flex: 1, borderRightWidth: 1, padding: 10, paddingTop: 24, gap: 8 },
  tab: { flex: 1, borderRadius: 12, minHeight: 52, justifyContent: 'center' },
  tabWide: { flex: 0, minHeight: 64 },
  tabInner: { alignItems: 'center', gap: 2 },
});
