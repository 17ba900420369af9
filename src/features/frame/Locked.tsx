/** Where the passphrase is asked for: instead of everything, or over what is on the screen; and what is seen while records are sealed. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Switch, Text, TextInput, useTheme } from 'react-native-paper';
import { Dialog } from '../../ui/Dialog';
import { Progress } from '../../ui/Progress';
import { quoted } from '../../core/quoted';
import { LEAST_PASSPHRASE } from '../../core/vault/vault';
import { leaveLockedOut, tryArchivePassphrase } from '../../store/archiveLock';
import { isBusy, jobOf, stopJob } from '../../store/jobs';
import { lockNotes, removeLock, setPassphrase, setUpLock, tryPassphrase } from '../../store/lock';
import { ask } from '../../store/lockState';
import type { LockQuestion } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { useMessages } from '../../store/useMessages';
import { Icon } from '../../ui/icons';
import { Messages } from '../../ui/Messages';
import { PassphraseField } from '../../ui/PassphraseField';

/** Seconds until the next passphrase can be tried, counting down. */
function useWait(): number {
  const notBefore = useAppSelector((s) => s.lock.notBefore);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const show = () => setNow(Date.now());
    show();
    if (notBefore <= Date.now()) return undefined;
    const timer = setInterval(() => {
      show();
      if (Date.now() >= notBefore) clearInterval(timer);
    }, 250);
    return () => clearInterval(timer);
  }, [notBefore]);
  return Math.max(0, Math.ceil((notBefore - now) / 1000));
}

/** A passphrase that is tried: `hint` as it was set, `name` of the button. */
function Try({ hint, name, cancel, onTry, onCancel }: { hint: string; name: string; cancel?: string; onTry: (passphrase: string) => Promise<unknown>; onCancel?: () => void }) {
  const { colors } = useTheme();
  const trying = useAppSelector((s) => s.lock.trying);
  const wait = useWait();
  const [text, setText] = useState('');
  const ready = text.length > 0 && !trying && wait === 0;
  const open = () => {
    if (ready) void onTry(text).then(() => setText(''));
  };
  return (
    <View style={styles.form}>
      <PassphraseField label="Passphrase" value={text} onChange={setText} onEnter={open} autoFocus />
      {hint !== '' && <Text style={{ color: colors.onSurfaceVariant }}>{`Hint: ${hint}`}</Text>}
      <Failure wait={wait} />
      <View style={styles.buttons}>
        {onCancel && <Button onPress={onCancel}>{cancel ?? 'Cancel'}</Button>}
        <Button mode="contained" loading={trying} disabled={!ready} onPress={open}>
          {name}
        </Button>
      </View>
    </View>
  );
}

function Unlock({ onCancel }: { onCancel?: () => void }) {
  const dispatch = useAppDispatch();
  const hint = useAppSelector((s) => s.lock.hint);
  return <Try hint={hint} name="Unlock" onTry={(passphrase) => dispatch(tryPassphrase(passphrase))} onCancel={onCancel} />;
}

function Failure({ wait }: { wait: number }) {
  const { colors } = useTheme();
  const failure = useAppSelector((s) => s.lock.failure);
  if (!failure && wait === 0) return null;
  return (
    <View role="alert" style={styles.row}>
      <Icon name="warning" size={20} color={colors.error} />
      <Text style={[styles.grow, { color: colors.error }]}>{`${failure ?? 'After a wrong passphrase one has to wait.'}${wait > 0 ? ` The next can be tried in ${wait} s.` : ' Try again.'}`}</Text>
    </View>
  );
}

/** In the place of everything, while everything is locked. */
export function LockedScreen() {
  const { colors } = useTheme();
  return (
    <View role="main" style={[styles.screen, { backgroundColor: colors.background }]}>
      <View style={styles.messages}>
        <Messages inline {...useMessages()} />
      </View>
      <View style={styles.card}>
        <Icon name="lock" size={40} color={colors.primary} />
        <Text variant="headlineMedium" role="heading" aria-level={1}>
          Scrivo is locked
        </Text>
        <Text style={{ color: colors.onSurfaceVariant }}>Notes, ink and sound are sealed on this device.</Text>
        <Unlock />
      </View>
    </View>
  );
}

export function LockDialog() {
  const dispatch = useAppDispatch();
  const { asking, status, whole } = useAppSelector((s) => s.lock);
  const busy = useAppSelector((s) => isBusy(s, 'sealing'));
  const close = () => (asking?.kind === 'archive' ? leaveLockedOut() : dispatch(ask(null)));
  const shown = asking && !busy && (asking.kind === 'unlock' ? status === 'locked' && !whole : true);
  if (!shown) return null;
  return (
      <Dialog key={asking.kind} dismissable={asking.kind !== 'archive'} onDismiss={close}>
        {asking.kind === 'unlock' ? (
          <>
            <Dialog.Title>Unlock</Dialog.Title>
            <Dialog.Content style={styles.form}>
              {asking.toLock && <Text>{`The lock is closed. Once it is open, ${asking.toLock.length === 1 ? 'the note' : 'the notes'} can be locked with it.`}</Text>}
              <Unlock onCancel={close} />
            </Dialog.Content>
          </>
        ) : asking.kind === 'archive' ? (
          <>
            <Dialog.Title>Locked notes in the backup</Dialog.Title>
            <Dialog.Content style={styles.form}>
              <Text>Some notes in it are sealed. They open with the passphrase they were locked with, and stay locked here.</Text>
              <Try hint={asking.hint} name="Open" cancel="Leave them out" onTry={(passphrase) => dispatch(tryArchivePassphrase(passphrase))} onCancel={close} />
            </Dialog.Content>
          </>
        ) : asking.kind === 'lock' ? (
          <LockNotes notes={asking.notes} onClose={close} />
        ) : asking.kind === 'remove' ? (
          <>
            <Dialog.Title>No passphrase any more?</Dialog.Title>
            <Dialog.Content>
              <Text>Everything that is locked is made readable again on this device, for anyone who opens this browser.</Text>
            </Dialog.Content>
            <Dialog.Actions>
              <Button onPress={close}>Keep the passphrase</Button>
              <Button
                onPress={() => {
                  close();
                  void dispatch(removeLock());
                }}
              >
                Remove it
              </Button>
            </Dialog.Actions>
          </>
        ) : (
          <SetPassphrase question={asking} onClose={close} />
        )}
      </Dialog>
  );
}

function LockNotes({ notes, onClose }: { notes: readonly string[]; onClose: () => void }) {
  const dispatch = useAppDispatch();
  const headers = useAppSelector((s) => s.library.headers);
  const [hidden, setHidden] = useState(false);
  const those = headers.filter((h) => notes.includes(h.id));
  const takes = new Set(those.flatMap((h) => h.takes.map((t) => t.id)));
  const also = headers.filter((h) => !notes.includes(h.id) && h.takes.some((t) => takes.has(t.id)));
  return (
    <>
      <Dialog.Title>{those.length === 1 ? `Lock “${those[0].title}”?` : `Lock ${those.length} notes?`}</Dialog.Title>
      <Dialog.Content style={styles.form}>
        <Text>Ink, sound, pictures and tags are sealed on this device, and search does not find them while they are locked. What was exported or backed up before stays as it is.</Text>
        {also.length > 0 && <Text>{`Sound that is also in ${quoted(also.map((h) => h.title))} can be heard there only while the lock is open.`}</Text>}
        <View style={styles.row}>
          <Text style={styles.grow}>Hide the title too</Text>
          <Switch value={hidden} onValueChange={setHidden} aria-label="Hide the title too" />
        </View>
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Cancel</Button>
        <Button
          onPress={() => {
            onClose();
            void dispatch(lockNotes(notes, hidden));
          }}
        >
          Lock
        </Button>
      </Dialog.Actions>
    </>
  );
}

/** Sets the first passphrase, or another. */
function SetPassphrase({ question, onClose }: { question: LockQuestion; onClose: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const trying = useAppSelector((s) => s.lock.trying);
  const change = question.kind === 'change';
  const wait = useWait();
  const [old, setOld] = useState('');
  const [text, setText] = useState('');
  const [again, setAgain] = useState('');
  const [hint, setHint] = useState('');
  const problem =
    text.length < LEAST_PASSPHRASE
      ? `At least ${LEAST_PASSPHRASE} characters; several words are good.`
      : again.length > 0 && again !== text
        ? 'The two are not the same.'
        : hint.trim().length > 0 && hint.toLowerCase().includes(text.toLowerCase())
          ? 'The hint must not hold the passphrase: anyone can read it.'
          : null;
  const ready = !problem && again === text && !trying && wait === 0 && (!change || old.length > 0);
  const save = async () => {
    if (!ready) return;
    if (change) {
      if (await dispatch(setPassphrase(old, text, hint.trim()))) onClose();
      else setOld('');
    } else if (await dispatch(setUpLock(text, hint.trim()))) {
      const notes = question.kind === 'set' ? question.notes : [];
      dispatch(ask(notes.length ? { kind: 'lock', notes } : null));
    }
  };
  return (
    <>
      <Dialog.Title>{change ? 'Another passphrase' : 'Set a passphrase'}</Dialog.Title>
      <Dialog.Content style={styles.form}>
        <View style={[styles.row, styles.warn, { borderColor: colors.error }]}>
          <Icon name="warning" size={20} color={colors.error} />
          <Text style={styles.grow}>A forgotten passphrase cannot be reset. Without it nobody, and no program, can open what is locked.</Text>
        </View>
        {change && <PassphraseField label="Passphrase until now" value={old} onChange={setOld} autoFocus />}
        {change && <Failure wait={wait} />}
        <PassphraseField label="New passphrase" value={text} onChange={setText} autoFocus={!change} />
        <PassphraseField label="The same once more" value={again} onChange={setAgain} onEnter={() => void save()} />
        <TextInput mode="outlined" label="Hint (anyone can read it)" accessibilityLabel="Hint" value={hint} onChangeText={setHint} maxLength={200} />
        {problem && (text.length > 0 || again.length > 0) && <Text role="status" style={{ color: colors.error }}>{problem}</Text>}
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onClose}>Cancel</Button>
        <Button loading={trying} disabled={!ready} onPress={() => void save()}>
          {change ? 'Change it' : 'Set it'}
        </Button>
      </Dialog.Actions>
    </>
  );
}

export function SealingDialog() {
  const dispatch = useAppDispatch();
  const job = useAppSelector(jobOf('sealing'));
  if (!job) return null;
  const share = job.share ?? 0;
  return (
      <Dialog dismissable={false} onDismiss={() => undefined}>
        <Dialog.Title>{job.title}</Dialog.Title>
        <Dialog.Content style={styles.form}>
          <Progress name={job.title} share={share} wide />
          <Text>{`${Math.round(share * 100)} %. Leave this tab open.`}</Text>
        </Dialog.Content>
        <Dialog.Actions>
          <Button onPress={() => dispatch(stopJob({ kind: 'sealing' }))}>Stop</Button>
        </Dialog.Actions>
      </Dialog>
  );
}

const styles = StyleSheet.create({
  screen: { flex: 1, alignItems: 'center', justifyContent: 'center', padding: 20 },
  messages: { position: 'absolute', top: 0, left: 0, right: 0 },
  card: { width: '100%', maxWidth: 420, gap: 12 },
  form: { gap: 12 },
  row: { flexDirection: 'row', gap: 8, alignItems: 'flex-start' },
  grow: { flex: 1 },
  warn: { borderWidth: 1, borderRadius: 10, padding: 10 },
  buttons: { flexDirection: 'row', justifyContent: 'flex-end', gap: 10 },
});
