/** A colour to choose, with its name for those who do not see it. */
import { StyleSheet, View } from 'react-native';
import { TouchableRipple, useTheme } from 'react-native-paper';

export function Swatch({ color, name, on, onPress }: { color: string; name: string; on: boolean; onPress: () => void }) {
  const { colors } = useTheme();
  return (
    <TouchableRipple role="button" aria-label={name} aria-pressed={on} onPress={onPress} borderless style={styles.touch}>
      <View style={[styles.ring, { borderColor: on ? colors.onSurface : 'transparent' }]}>
        <View style={[styles.color, { backgroundColor: color, borderColor: colors.outline }]} />
      </View>
    </TouchableRipple>
  );
}

const styles = StyleSheet.create({
  touch: { width: 44, height: 44, borderRadius: 22, alignItems: 'center', justifyContent: 'center' },
  ring: { width: 38, height: 38, borderRadius: 19, borderWidth: 3, alignItems: 'center', justifyContent: 'center' },
  color: { width: 28, height: 28, borderRadius: 14, borderWidth: 1 },
});
