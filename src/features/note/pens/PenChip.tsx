/** Colour and line of a pen, with its name or width under it, as it comes onto the page. */
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import type { PenSetting } from '../../../core/ink/pen';
import { NEW_PAPER } from '../../../core/note/schema';
import { DARK_PAGE, LIGHT_PAGE, type PageLook } from '../../../platform/drawing/pageLook';
import { useAppSelector } from '../../../store/store';
import { HUES, palettes } from '../../../ui/palette';
import { rowPx } from '../../../ui/textScale';
import { penWords } from './names';
import { PenSample } from './PenSample';

/** `name`: what it is called besides its pen. */
/** Paper and ink as they stand on the page: dark where pages are. */
export function usePageLook(): PageLook {
  const { dark } = useTheme();
  const theme = useAppSelector((s) => s.settings.pageTheme);
  return theme === 'dark' || (theme === 'interface' && dark) ? DARK_PAGE : LIGHT_PAGE;
}

export function PenChip({ pen, name, on, disabled = false, onPress }: { pen: PenSetting; name?: string; on: boolean; disabled?: boolean; onPress: () => void }) {
  const { colors } = useTheme();
  const look = usePageLook();
  const text = pen.name || `${pen.width} mm`;
  return (
    <TouchableRipple
      role="button"
      aria-label={name ? `${name}: ${penWords(pen)}` : penWords(pen)}
      aria-pressed={on}
      disabled={disabled}
      onPress={onPress}
      borderless
      style={[styles.chip, { backgroundColor: look.sheet(NEW_PAPER), borderColor: on ? colors.tertiary : colors.outlineVariant, opacity: disabled ? 0.38 : 1 }, on && styles.on]}
    >
      <View style={styles.inner}>
        <PenSample pen={{ ...pen, color: look.ink(pen.color) }} width={48} height={22} mm={12.7} />
        <Text numberOfLines={1} style={[styles.text, { color: look === DARK_PAGE ? palettes.dark.onSurface : on ? HUES.navy : palettes.light.onSurfaceVariant }, on && styles.textOn]}>
          {text}
        </Text>
      </View>
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  chip: { borderRadius: 8, borderWidth: 1, width: 56, height: 46, justifyContent: 'center' },
  on: { borderWidth: 3 },
  inner: { alignItems: 'center' },
  text: { fontSize: rowPx(11), lineHeight: rowPx(13), maxWidth: 52 },
  textOn: { fontWeight: '700' },
});
