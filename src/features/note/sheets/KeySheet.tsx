/** The keys of the note, listed: those of the mode one is in first. */
import { StyleSheet, View } from 'react-native';
import { Text } from 'react-native-paper';
import { useAppSelector } from '../../../store/store';
import { BOTH_KEYS, LISTEN_KEYS, WRITE_KEYS, type KeyLine } from '../../../ui/keys';
import { Sheet } from './Sheet';

export function KeySheet() {
  const listens = useAppSelector((s) => s.note.mode === 'listen');
  const parts = [
    { name: 'In Write', keys: WRITE_KEYS },
    { name: 'In Listen', keys: LISTEN_KEYS },
  ];
  return (
    <Sheet title="Keys">
      <Part name="Always" keys={BOTH_KEYS} />
      {(listens ? parts.reverse() : parts).map(({ name, keys }) => (
        <Part key={name} name={name} keys={keys} />
      ))}
    </Sheet>
  );
}

const Part = ({ name, keys: lines }: { name: string; keys: readonly KeyLine[] }) => (
  <View>
    <Text variant="labelLarge" role="heading" aria-level={3}>
      {name}
    </Text>
    {lines.map(([keys, what]) => (
      <View key={keys} style={styles.row}>
        <Text style={styles.keys}>{keys}</Text>
        <Text style={styles.what}>{what}</Text>
      </View>
    ))}
  </View>
);

const styles = StyleSheet.create({ row: { flexDirection: 'row', gap: 12, minHeight: 30, alignItems: 'center' }, keys: { width: 128, fontWeight: '700' }, what: { flex: 1 } });
