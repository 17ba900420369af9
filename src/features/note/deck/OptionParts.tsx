/** What the options of every tool are made of. */
import { StyleSheet, View } from 'react-native';
import { useTheme } from 'react-native-paper';
import { DeckButton } from './DeckButton';

/** A button whose name is what stands on it. */
export const Words = ({ name, onPress }: { name: string; onPress: () => void }) => (
  <DeckButton name={name} onPress={onPress}>
    {name}
  </DeckButton>
);

/** Between groups of them. */
export function Bar() {
  const { colors } = useTheme();
  return <View style={[styles.bar, { backgroundColor: colors.outlineVariant }]} />;
}

const styles = StyleSheet.create({ bar: { width: 1, height: 28, marginHorizontal: 4 } });
