/** A file that was handed over: its name, that it is being looked into, that it is broken, or what is in it. */
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, Text, useTheme } from 'react-native-paper';
import type { Look } from './useLook';

export function Offer<T>({ name, look, looking, onLeave, children }: { name: string; look: Look<T>; looking: string; onLeave: () => void; children: (found: T) => React.ReactNode }) {
  const { colors } = useTheme();
  return (
    <View role="group" aria-label={name} style={styles.offer}>
      <Text variant="titleMedium" numberOfLines={2}>
        {name}
      </Text>
      {look.is === 'looking' && (
        <View role="status" style={styles.row}>
          <ActivityIndicator />
          <Text>{looking}</Text>
        </View>
      )}
      {look.is === 'broken' && (
        <View role="alert" style={styles.row}>
          <Text style={[styles.grow, { color: colors.error }]}>{`It cannot be brought in: ${look.why}. Nothing was changed.`}</Text>
          <Button onPress={onLeave}>Leave it out</Button>
        </View>
      )}
      {look.is === 'open' && children(look.found)}
    </View>
  );
}

const styles = StyleSheet.create({
  offer: { gap: 12 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 14 },
  grow: { flex: 1 },
});
