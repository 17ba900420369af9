/** A list of the other notes, to choose one. */
import { useMemo, useState } from 'react';
import { FlatList, StyleSheet } from 'react-native';
import { Button, Searchbar, Text, TouchableRipple } from 'react-native-paper';
import { Dialog } from '../../../ui/Dialog';
import { plain } from '../../../core/library/find';
import { selectInUse } from '../../../store/filing';
import { useAppSelector } from '../../../store/store';

export function NoteChooser({ title, verb = 'Into', onChoose, onDismiss }: { title: string; verb?: string; onChoose: (note: string) => void; onDismiss: () => void }) {
  const headers = useAppSelector(selectInUse);
  const open = useAppSelector((s) => s.note.id);
  const [query, setQuery] = useState('');
  const found = useMemo(() => headers.filter((h) => h.id !== open && plain(h.title).includes(plain(query))), [headers, open, query]);
  return (
      <Dialog onDismiss={onDismiss}>
        <Dialog.Title>{title}</Dialog.Title>
        <Dialog.Content style={styles.content}>
          <Searchbar accessibilityRole={undefined} value={query} onChangeText={setQuery} placeholder="Find a note" accessibilityLabel="Find a note" icon="search" clearIcon="close" />
          <FlatList
            data={found}
            keyExtractor={(h) => h.id}
            style={styles.list}
            renderItem={({ item }) => (
              <TouchableRipple role="button" aria-label={`${verb} ${item.title}`} onPress={() => onChoose(item.id)} style={styles.row}>
                <Text>{item.title}</Text>
              </TouchableRipple>
            )}
            ListEmptyComponent={<Text style={styles.row}>There is no other note{query ? ' of that name' : ''}.</Text>}
          />
        </Dialog.Content>
        <Dialog.Actions>
          <Button onPress={onDismiss}>Cancel</Button>
        </Dialog.Actions>
      </Dialog>
  );
}

const styles = StyleSheet.create({
  content: { gap: 10 },
  list: { maxHeight: 320 },
  row: { minHeight: 48, justifyContent: 'center', paddingHorizontal: 6 },
});
