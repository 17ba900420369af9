/** A button of the deck: 44 px at least, its state told by shape and word as well as colour. */
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { Icon } from '../../../ui/icons';

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
  minWidth?: number;
}

export function DeckButton({ name, icon, children, onPress, on = false, disabled = false, color, toggles = false, minWidth = 44 }: DeckButtonProps) {
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
      <View style={styles.inner}>{icon ? <Icon name={icon} color={ink} /> : typeof children === 'string' ? <Text style={{ color: ink }}>{children}</Text> : children}</View>
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  button: { minHeight: 44, borderRadius: 12, justifyContent: 'center', paddingHorizontal: 6 },
  inner: { flexDirection: 'row', alignItems: 'center', justifyContent: 'center', gap: 6 },
});
