/** A piece of work under way: what it is, how far, and the way to stop it. */
import { StyleSheet, View } from 'react-native';
import { Button, Text } from 'react-native-paper';
import { Progress } from './Progress';

export interface JobLineProps {
  title: string;
  /** What it is at just now; may be empty. */
  at: string;
  /** 0..1; null while it waits for others. */
  share: number | null;
  onStop: () => void;
  stopLabel?: string;
  small?: boolean;
}

export function JobLine({ title, at, share, onStop, stopLabel, small = false }: JobLineProps) {
  const words = share === null ? `${title}: waiting` : `${title}${at ? ` “${at}”` : ''}, ${Math.round(100 * share)} %`;
  return (
    <View style={styles.line} role="status">
      <Text variant={small ? 'bodySmall' : 'bodyMedium'} style={styles.grow} numberOfLines={2}>
        {words}
      </Text>
      <Progress name={title} share={share ?? 0} />
      <Button compact onPress={onStop} accessibilityLabel={stopLabel}>
        Stop
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 32 },
  grow: { flex: 1 },
});
