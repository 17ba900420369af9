/** Backups on a WebDAV server: where, how often, and back from any of them. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Switch, Text, TextInput, useTheme } from 'react-native-paper';
import { Dialog } from '../../ui/Dialog';
import { backUpToDav, davHistory, restoreFromDav } from '../../store/davBackup';
import { isBusy } from '../../store/jobs';
import { settingsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';

/** `2026-11-25T09-30-00-000Z.json` in the user's own time. */
function whenOf(name: string): string {
  const [day, time] = name.replace('.json', '').split('T');
  const wall = Date.parse(`${day}T${(time ?? '').replace(/^(\d\d)-(\d\d)-(\d\d)-/, '$1:$2:$3.')}`);
  return Number.isNaN(wall) ? name : new Date(wall).toLocaleString('en-GB', { weekday: 'short', day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit' });
}

export function DavSection() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const dav = useAppSelector((s) => s.settings.dav);
  const busy = useAppSelector((s) => isBusy(s, 'backup', 'restore'));
  const [history, setHistory] = useState<readonly string[] | null>(null);
  const set = (patch: Partial<typeof dav>) => void dispatch(settingsSlice.actions.patched({ dav: { ...dav, ...patch } }));
  const field = (label: string, key: 'url' | 'user' | 'password') => (
    <TextInput mode="outlined" dense label={label} accessibilityLabel={label} value={dav[key]} onChangeText={(text) => set({ [key]: text.trim() })} autoCapitalize="none" secureTextEntry={key === 'password'} />
  );
  return (
    <View style={styles.all}>
      <Text style={{ color: colors.onSurfaceVariant }}>On a server of your own (WebDAV) only what changed is sent, and every backup stays to go back to. The demo’s own server is at /dav; its user and password stand where the demo was started. Name and password are kept on this device as they are, so use ones made for this.</Text>
      {field('Address of the backup server', 'url')}
      <View style={styles.two}>
        <View style={styles.grow}>{field('User', 'user')}</View>
        <View style={styles.grow}>{field('Password', 'password')}</View>
      </View>
      <View style={styles.line}>
        <Text style={styles.grow}>Once a day by itself</Text>
        <Switch value={dav.auto} onValueChange={(auto) => set({ auto })} aria-label="Back up once a day by itself" />
      </View>
      <View style={styles.buttons}>
        <Button mode="contained-tonal" disabled={!dav.url || busy} onPress={() => void dispatch(backUpToDav())}>
          Back up to the server
        </Button>
        <Button mode="contained-tonal" disabled={!dav.url || busy} onPress={() => void dispatch(davHistory()).then(setHistory)}>
          Restore from the server
        </Button>
      </View>
      {history && (
          <Dialog onDismiss={() => setHistory(null)}>
            <Dialog.Title>Backups on the server</Dialog.Title>
            <Dialog.Content>
                {history.map((name) => (
                  <Button
                    key={name}
                    contentStyle={styles.item}
                    onPress={() => {
                      setHistory(null);
                      void dispatch(restoreFromDav(name));
                    }}
                  >
                    {whenOf(name)}
                  </Button>
                ))}
                {history.length === 0 && <Text style={styles.empty}>There are no backups at this address yet.</Text>}
              </Dialog.Content>
            <Dialog.Actions>
              <Button onPress={() => setHistory(null)}>Cancel</Button>
            </Dialog.Actions>
          </Dialog>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10, marginTop: 8 },
  two: { flexDirection: 'row', gap: 10 },
  grow: { flex: 1 },
  line: { flexDirection: 'row', alignItems: 'center', minHeight: 44 },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  item: { justifyContent: 'flex-start', minHeight: 48 },
  empty: { padding: 12 },
});
