/** All notes of this device. */
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { FlatList, StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, Dialog, IconButton, Portal, Searchbar, Text } from 'react-native-paper';
import type { NoteHeader } from '../../core/note/schema';
import { deleteNotes } from '../../store/session';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { NoteRow } from '../../ui/NoteRow';

export function LibraryScreen() {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { status, headers } = useAppSelector((s) => s.library);
  const [query, setQuery] = useState('');
  const [doomed, setDoomed] = useState<NoteHeader | null>(null);
  const found = useMemo(() => {
    const q = query.trim().toLowerCase();
    return q ? headers.filter((h) => h.title.toLowerCase().includes(q)) : headers;
  }, [headers, query]);
  return (
    <View style={styles.all}>
      <Text variant="headlineMedium" role="heading" aria-level={1}>
        Library
      </Text>
      <Searchbar value={query} onChangeText={setQuery} placeholder="Search titles" accessibilityLabel="Search library" icon="library" clearIcon="close" />
      {status === 'loading' ? (
        <ActivityIndicator />
      ) : (
        <FlatList
          data={found}
          keyExtractor={(h) => h.id}
          contentContainerStyle={styles.list}
          renderItem={({ item }) => (
            <NoteRow
              header={item}
              onOpen={() => router.push(`/note/${item.id}`)}
              end={<IconButton icon="trash" aria-label={`Delete ${item.title}`} onPress={() => setDoomed(item)} />}
            />
          )}
          ListEmptyComponent={<Text>{query ? `No title contains “${query.trim()}”.` : 'No notes yet. Press Record on Today to make the first.'}</Text>}
        />
      )}
      <Portal>
        <Dialog visible={doomed !== null} onDismiss={() => setDoomed(null)} style={styles.dialog}>
          <Dialog.Title>Delete this note?</Dialog.Title>
          <Dialog.Content>
            <Text>“{doomed?.title}”, its ink and its sound are removed from this device. This cannot be taken back.</Text>
          </Dialog.Content>
          <Dialog.Actions>
            <Button onPress={() => setDoomed(null)}>Keep it</Button>
            <Button
              onPress={() => {
                if (doomed) void dispatch(deleteNotes([doomed.id]));
                setDoomed(null);
              }}
            >
              Delete
            </Button>
          </Dialog.Actions>
        </Dialog>
      </Portal>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, padding: 20, gap: 14, maxWidth: 900, width: '100%' },
  list: { gap: 10, paddingBottom: 20 },
  dialog: { maxWidth: 460, alignSelf: 'center' },
});
