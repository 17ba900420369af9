/** What the notes take, what is left, and whether the browser keeps it. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { freeKept, measureStorage, keepForGood, type StorageFigures } from '../../store/storageFigures';
import { Progress } from '../../ui/Progress';
import { useAppDispatch, useAppSelector } from '../../store/store';

const size = (bytes: number): string => (bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1000)} kB`);
const LARGEST_SHOWN = 5;

export function StorageSection() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const { headers, status } = useAppSelector((s) => s.library);
  const [figures, setFigures] = useState<StorageFigures | 'measuring' | null>('measuring');
  const [round, setRound] = useState(0);
  const quiet = { color: colors.onSurfaceVariant };
  useEffect(() => {
    // Before the notes are known they would count as nothing.
    if (status === 'loading') return;
    let gone = false;
    void dispatch(measureStorage()).then((f) => {
      if (!gone) setFigures(f);
    });
    return () => {
      gone = true;
    };
  }, [dispatch, headers, status, round]);
  if (figures === 'measuring') return <Text role="status">Measuring …</Text>;
  if (!figures) {
    return (
      <View style={styles.buttons}>
        <Text style={quiet}>What is stored could not be measured.</Text>
        <Button mode="contained-tonal" onPress={() => setRound(round + 1)}>
          Measure again
        </Button>
      </View>
    );
  }
  const { notes, ink, sound, files, pictures, used, quota, hours, persisted } = figures;
  const title = new Map(headers.map((h) => [h.id, h.title]));
  return (
    <>
      <Text>{`Ink ${size(ink)}, sound ${size(sound)}, ${files ? `pictures and files ${size(files)}, ` : ''}pictures of pages ${size(pictures)}`}</Text>
      {quota > 0 && (
        <>
          <Progress name="Room that is used" share={used / quota} wide />
          <Text style={quiet}>{`${size(used)} of ${size(quota)} that this browser allows. Room for about ${hours >= 10 ? Math.floor(hours) : hours.toFixed(1)} hours of recording.`}</Text>
        </>
      )}
      <Text style={quiet}>{persisted ? 'The browser keeps the notes until they are deleted here.' : 'The browser may clear the notes when the machine runs out of room.'}</Text>
      <View style={styles.buttons}>
        {!persisted && (
          <Button mode="contained-tonal" onPress={() => void dispatch(keepForGood()).then(() => setRound(round + 1))}>
            Ask the browser to keep them
          </Button>
        )}
        <Button mode="contained-tonal" disabled={pictures === 0} onPress={() => void dispatch(freeKept()).then(() => setRound(round + 1))}>
          Free what can be made anew
        </Button>
      </View>
      {notes.length > 0 && <Text variant="titleSmall">What takes most</Text>}
      {notes.slice(0, LARGEST_SHOWN).map((n) => (
        <View key={n.note} style={styles.line}>
          <Text style={styles.grow} numberOfLines={1}>
            {title.get(n.note) ?? 'A note that is not listed'}
          </Text>
          <Text style={quiet}>{`${size(n.ink)} ink, ${size(n.sound)} sound${n.files ? `, ${size(n.files)} files` : ''}`}</Text>
        </View>
      ))}
    </>
  );
}

const styles = StyleSheet.create({
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  line: { flexDirection: 'row', gap: 12, minHeight: 28, alignItems: 'center' },
  grow: { flex: 1 },
});
