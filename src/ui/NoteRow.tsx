/** A note in a list: title, when, pages and sound. */
import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import type { NoteHeader } from '../core/note/schema';
import { clockText, spokenTime } from '../core/time/format';
import { timelineLength } from '../core/time/timeline';
import { Icon } from './icons';

export function NoteRow({ header, onOpen, end }: { header: NoteHeader; onOpen: () => void; end?: ReactNode }) {
  const { colors } = useTheme();
  const ms = timelineLength(header.timeline);
  const pages = `${header.pages.length} ${header.pages.length === 1 ? 'page' : 'pages'}`;
  const day = new Date(header.changed).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
  return (
    <View style={[styles.row, { backgroundColor: colors.elevation.level1, borderColor: colors.outlineVariant }]}>
      <TouchableRipple
        role="button"
        aria-label={`Open ${header.title}, ${pages}, ${ms ? `${spokenTime(ms)} of sound` : 'no sound'}`}
        onPress={onOpen}
        style={styles.open}
        borderless
      >
        <View style={styles.inner}>
          <View style={[styles.sheet, { backgroundColor: '#FFFDF8', borderColor: colors.outline }]}>
            <View style={[styles.rule, { backgroundColor: '#CFD9E2' }]} />
            <View style={[styles.rule, { backgroundColor: '#CFD9E2' }]} />
            <View style={[styles.rule, { backgroundColor: '#CFD9E2' }]} />
          </View>
          <View style={styles.text}>
            <Text variant="titleMedium" numberOfLines={2}>
              {header.title}
            </Text>
            <View style={styles.facts}>
              <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
                {day} · {pages}
              </Text>
              {ms > 0 && (
                <View style={styles.sound}>
                  <Icon name="listen" size={15} color={colors.onSurfaceVariant} />
                  <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
                    {clockText(ms)}
                  </Text>
                </View>
              )}
              {header.demo && (
                <Text variant="labelSmall" style={[styles.demo, { color: colors.onTertiaryContainer, backgroundColor: colors.tertiaryContainer }]}>
                  Demo
                </Text>
              )}
            </View>
          </View>
        </View>
      </TouchableRipple>
      {end}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', borderWidth: 1, borderRadius: 14, overflow: 'hidden' },
  open: { flex: 1 },
  inner: { flexDirection: 'row', alignItems: 'center', padding: 12, gap: 14 },
  sheet: { width: 38, height: 50, borderWidth: 1, borderRadius: 3, paddingTop: 12, paddingHorizontal: 5, gap: 8 },
  rule: { height: 1.5 },
  text: { flex: 1, gap: 3 },
  facts: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, alignItems: 'center' },
  sound: { flexDirection: 'row', gap: 3, alignItems: 'center' },
  demo: { paddingHorizontal: 8, paddingVertical: 1, borderRadius: 8, overflow: 'hidden' },
});
