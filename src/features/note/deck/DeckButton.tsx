/** A button of the deck: 44 px at least, its state told by shape and word as well as colour. */
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { Icon } from '../../../ui/icons';
import { rowPx } from '../../../ui/textScale';

export interface DeckButtonProps {
  name: string;
  icon?: string;
  /** Words or a picture instead of an icon. */
  children?: React.ReactNode;
  onPress: () => void;
  on?: boolean;
  disabled?: boolean;
  color?: string;
  toggles?: boolean;
  /** A word or two under the icon. */
  word?: string;
  minWidth?: number;
}

export function DeckButton({ name, icon, children, onPress, on = false, disabled = false, color, toggles = false, word, minWidth = 44 }: DeckButtonProps) {
  const { colors } = useTheme();
  const ink = color ?? (on ? colors.onSecondary : colors.onSurface);
  return (
    <TouchableRipple
      role="button"
      aria-label={name}
      aria-pressed={toggles ? on : undefined}
      disabled={disabled}
      onPress={onPress}
      borderless
      style={[styles.button, { minWidth, opacity: disabled ? 0.38 : 1 }, on && { backgroundColor: colors.secondary }]}
    >
      <View style={word ? styles.worded : styles.inner}>
        {icon ? <Icon name={icon} color={ink} size={word ? 20 : 24} /> : typeof children === 'string' ? <Text style={{ color: ink }}>{children}</Text> : children}
        {word && (
          <Text numberOfLines={1} style={[styles.word, { color: ink }]}>
            {word}
          </Text>
        )}
      </View>
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  button: { minHeight: 44, borderRadius: 12, justifyContent: 'center', paddingHorizontal: 6 },
  worded: { alignItems: 'center', justifyContent: 'center', gap: 2 },
  word: { fontSize: rowPx(11), lineHeight: rowPx(13) },
  inner: { flexDirection: 'row', alignItems: 'center', justifyContent: 'center', gap: 6 },
});
