/** Words of a line, those that were found standing out. */
import { Text, useTheme } from 'react-native-paper';
import type { FoundWord } from '../core/reading/noteWords';

export function FoundWords({ around, found }: { around: readonly FoundWord[]; found: readonly FoundWord[] }) {
  const { colors } = useTheme();
  return (
    <Text numberOfLines={2}>
      {around.map((w, i) => (
        <Text key={i} style={found.includes(w) ? { fontWeight: '700', backgroundColor: colors.tertiaryContainer, color: colors.onTertiaryContainer } : undefined}>
          {`${i ? ' ' : ''}${w.shown}`}
        </Text>
      ))}
    </Text>
  );
}
