/** Notes or everything behind a passphrase. */
import { StyleSheet, View } from 'react-native';
import { Button, Switch, Text, useTheme } from 'react-native-paper';
import { lockAll, lockEverything, setIdle } from '../../store/lock';
import { ask } from '../../store/lockState';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Select } from '../../ui/Select';

const IDLE = [
  { value: '1', text: 'After 1 minute' },
  { value: '5', text: 'After 5 minutes' },
  { value: '15', text: 'After 15 minutes' },
  { value: '60', text: 'After an hour' },
  { value: '0', text: 'Never by itself' },
];

export function LockSection() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const { status, whole, idle } = useAppSelector((s) => s.lock);
  const locked = useAppSelector((s) => Object.keys(s.library.covers).length);
  const quiet = { color: colors.onSurfaceVariant };
  if (status === 'none' || status === 'unknown') {
    return (
      <>
        <Text style={quiet}>Single notes, or all of Scrivo, can be put behind a passphrase. They are then sealed on this device: without the passphrase nothing of them can be read.</Text>
        <View style={styles.buttons}>
          <Button mode="contained-tonal" icon="lock" disabled={status === 'unknown'} onPress={() => dispatch(ask({ kind: 'set', notes: [] }))}>
            Set a passphrase
          </Button>
        </View>
      </>
    );
  }
  const count = `${locked === 0 ? 'No' : locked} ${locked === 1 ? 'note is' : 'notes are'} locked one by one.`;
  if (status !== 'open') {
    return (
      <>
        <Text style={quiet}>{`${count} The lock is closed.`}</Text>
        <View style={styles.buttons}>
          <Button mode="contained-tonal" icon="unlock" disabled={status === 'broken'} onPress={() => dispatch(ask({ kind: 'unlock' }))}>
            Unlock
          </Button>
        </View>
      </>
    );
  }
  return (
    <>
      <Text style={quiet}>{whole ? 'Everything is locked: notes, folders, settings.' : `${count} Lock a note by its menu in the Library.`} The lock is open now.</Text>
      <View style={styles.line}>
        <Text style={styles.grow}>Lock everything</Text>
        <Switch value={whole} onValueChange={(on) => void dispatch(lockEverything(on))} aria-label="Lock everything" />
      </View>
      <View style={styles.line}>
        <Select label="Closes by itself" value={String(idle)} options={IDLE} onChange={(minutes) => void dispatch(setIdle(Number(minutes)))} />
      </View>
      <View style={styles.buttons}>
        <Button mode="contained-tonal" icon="lock" onPress={() => void dispatch(lockAll())}>
          Lock now
        </Button>
        <Button mode="contained-tonal" onPress={() => dispatch(ask({ kind: 'change' }))}>
          Change the passphrase
        </Button>
        <Button mode="contained-tonal" onPress={() => dispatch(ask({ kind: 'remove' }))}>
          Remove the passphrase
        </Button>
      </View>
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 44 },
  grow: { flex: 1 },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
});
