/** The keys of Listen, listed. */
import { StyleSheet, View } from 'react-native';
import { Text } from 'react-native-paper';
import { LISTEN_KEYS } from '../../../ui/keys';
import { Sheet } from './Sheet';

export const KeySheet = () => (
  <Sheet title="Keys">
    {LISTEN_KEYS.map(([keys, what]) => (
      <View key={keys} style={styles.row}>
        <Text style={styles.keys}>{keys}</Text>
        <Text style={styles.what}>{what}</Text>
      </View>
    ))}
  </Sheet>
);

const styles = StyleSheet.create({ row: { flexDirection: 'row', gap: 12, minHeight: 30, alignItems: 'center' }, keys: { width: 128, fontWeight: '700' }, what: { flex: 1 } });
