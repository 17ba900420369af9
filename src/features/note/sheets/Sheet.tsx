/** What stands over the end of the page until it is put away: at the bottom on a phone, at the side where there is room. */
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { IconButton, Text, useTheme } from 'react-native-paper';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch } from '../../../store/store';
import { Range } from '../../../ui/Range';
import { WIDE } from '../../../ui/theme';
import { shadow } from '../../../ui/palette';

/** `head` stays in sight while the rest scrolls. */
export function Sheet({ title, head, onBack, children }: { title: string; head?: React.ReactNode; onBack?: () => void; children: React.ReactNode }) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const wide = useWindowDimensions().width >= WIDE;
  return (
    <View role="dialog" aria-label={title} style={[styles.sheet, wide && styles.wide, { backgroundColor: colors.surface, borderColor: colors.outlineVariant }]}>
      <View style={styles.top}>
        {onBack && <IconButton icon="back" aria-label="Back" onPress={onBack} style={styles.icon} />}
        <Text variant="titleMedium" role="heading" aria-level={2} style={styles.title}>
          {title}
        </Text>
        <IconButton icon="close" aria-label={`Close ${title}`} onPress={() => dispatch(toolsSlice.actions.set({ sheet: 'none' }))} style={styles.icon} />
      </View>
      {head}
      <ScrollView style={styles.scroll} contentContainerStyle={styles.inner}>
        {children}
      </ScrollView>
    </View>
  );
}

/** A value to slide, with its name and the value in words. */
export function Slide({ name, value, text, min, max, step, onChange }: { name: string; value: number; text: string; min: number; max: number; step: number; onChange: (value: number) => void }) {
  return (
    <View>
      <View style={styles.line}>
        <Text>{name}</Text>
        <Text style={styles.value}>{text}</Text>
      </View>
      <Range label={name} min={min} max={max} step={step} value={value} text={text} onChange={onChange} />
    </View>
  );
}

const styles = StyleSheet.create({
  sheet: { position: 'absolute', left: 0, right: 0, bottom: 0, maxHeight: '94%', borderTopLeftRadius: 18, borderTopRightRadius: 18, borderWidth: 1, borderBottomWidth: 0, boxShadow: `0 -4px 16px ${shadow(0.18)}` },
  wide: { left: 'auto', right: 16, width: 420 },
  top: { flexDirection: 'row', alignItems: 'center', paddingLeft: 16, minHeight: 48 },
  title: { flex: 1 },
  icon: { margin: 0, width: 44, height: 44 },
  scroll: { flexGrow: 0, flexShrink: 1 },
  inner: { paddingHorizontal: 16, paddingBottom: 16, gap: 8 },
  line: { flexDirection: 'row', justifyContent: 'space-between', marginTop: 2 },
  value: { fontVariant: ['tabular-nums'], fontWeight: '700' },
});
