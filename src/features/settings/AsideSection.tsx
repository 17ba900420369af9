/** What could not be read and was set aside: it can be kept as a file, tried again, or thrown away. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { discardAside, loadAside, saveAside, tryAside } from '../../store/aside';
import { useAppDispatch, useAppSelector } from '../../store/store';
import type { Thunk } from '../../store/thunk';

type Listed = NonNullable<Awaited<ReturnType<ReturnType<typeof loadAside>>>>;

export function AsideSection() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const headers = useAppSelector((s) => s.library.headers);
  const [list, setList] = useState<Listed | null>(null);
  const [round, setRound] = useState(0);
  const [sure, setSure] = useState<string | null>(null);
  useEffect(() => {
    let gone = false;
    void dispatch(loadAside()).then((found) => {
      if (!gone) setList(found ?? []);
    });
    return () => {
      gone = true;
    };
  }, [dispatch, headers, round]);
  const then = (work: Thunk<Promise<void>>) => void dispatch(work).then(() => setRound((n) => n + 1));
  if (list === null) return <Text role="status">Looking …</Text>;
  if (list.length === 0) return <Text style={{ color: colors.onSurfaceVariant }}>Nothing. A record that cannot be read is put here, and everything else goes on working.</Text>;
  return (
    <>
      <Text style={{ color: colors.onSurfaceVariant }}>These could not be read; everything else goes on working. A later version may read them, and a file of them can be sent to whoever helps.</Text>
      <View role="list" aria-label="Set aside">
        {list.map((a) => {
        const title = a.note === null ? null : headers.find((h) => h.id === a.note)?.title;
        const name = `${a.what[0].toUpperCase()}${a.what.slice(1)}${title ? ` “${title}”` : ''}`;
        return (
          <View key={a.key} role="listitem" style={styles.item}>
            <Text>{`${name}, ${a.bytes < 1000 ? `${a.bytes} bytes` : `${Math.ceil(a.bytes / 1000)} kB`}`}</Text>
            <View style={styles.buttons}>
              <Button compact mode="contained-tonal" accessibilityLabel={`Try again: ${name}`} onPress={() => then(tryAside(a))}>
                Try again
              </Button>
              <Button compact accessibilityLabel={`Save as a file: ${name}`} onPress={() => then(saveAside(a.key))}>
                Save as a file
              </Button>
              {sure === a.key ? (
                <Button compact mode="contained" buttonColor={colors.error} accessibilityLabel={`Throw away for good: ${name}`} onPress={() => then(discardAside(a.key))}>
                  Throw away for good
                </Button>
              ) : (
                <Button compact textColor={colors.error} accessibilityLabel={`Throw away: ${name}`} onPress={() => setSure(a.key)}>
                  Throw away
                </Button>
              )}
            </View>
          </View>
        );
      })}
      </View>
    </>
  );
}

const styles = StyleSheet.create({ item: { gap: 4, paddingVertical: 6 }, buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 } });
