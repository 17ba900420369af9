/** Backup and return: what is done, how far it is, and what a restore did. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { Dialog } from '../../ui/Dialog';
import type { Cover } from '../../core/vault/vault';
import type { RestoreReport } from '../../core/library/merge';
import { quoted } from '../../core/quoted';
import { backUp, restore } from '../../store/backup';
import { jobOf, stopJob } from '../../store/jobs';
import { backupSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { JobLine } from '../../ui/JobLine';
import type { Asked } from '../filing/asked';
import { NoteDialogs } from '../filing/NoteDialogs';

export function BackupSection() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const report = useAppSelector((s) => s.backup.report);
  const job = useAppSelector((s) => jobOf('backup')(s) ?? jobOf('restore')(s));
  const last = useAppSelector((s) => s.settings.lastBackup);
  const notes = useAppSelector((s) => s.library.headers.length);
  const covers = useAppSelector((s) => s.library.covers);
  const headers = useAppSelector((s) => s.library.headers);
  const shut = Object.values(covers).filter((c) => !headers.some((h) => h.id === c.id));
  const [now] = useState(() => Date.now());
  const [asked, setAsked] = useState<Asked | null>(null);
  const days = last === null ? null : Math.max(0, Math.floor((now - last) / 86_400_000));
  return (
    <>
      <Text style={{ color: colors.onSurfaceVariant }}>
        {days === null ? 'No backup has been made on this device.' : days === 0 ? 'The last backup was made today.' : `The last backup is ${days} ${days === 1 ? 'day' : 'days'} old.`} One file holds every note with its ink and sound, in open formats.
      </Text>
      {shut.length > 0 && (
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>{`Locked now: ${named(shut)}. ${shut.length === 1 ? 'It goes' : 'They go'} along sealed, and restoring takes the passphrase.`}</Text>
      )}
      {job ? (
        <JobLine {...job} onStop={() => dispatch(stopJob({ id: job.id }))} />
      ) : (
        <View style={styles.buttons}>
          <Button mode="contained" disabled={notes === 0 && shut.length === 0} onPress={() => void dispatch(backUp(null))}>
            Back up
          </Button>
          <Button mode="contained-tonal" onPress={() => void dispatch(restore())}>
            Restore
          </Button>
        </View>
      )}
      <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
        A restore brings in what is missing and what is newer. Notes of both sides are brought together; where that cannot be told, what it replaces is kept as a copy.
      </Text>
      {report && !asked && <Report report={report} onCompare={(note) => setAsked({ kind: 'kept', ids: [note] })} onDone={() => dispatch(backupSlice.actions.reported(null))} />}
      <NoteDialogs asked={asked} onAsk={setAsked} onDone={() => setAsked(null)} />
    </>
  );
}

/** Notes by their titles, those without one by their number. */
function named(shut: readonly Cover[]): string {
  const titles = shut.flatMap((c) => c.title ?? []);
  const hidden = shut.length - titles.length;
  return [...(titles.length ? [quoted(titles, 6)] : []), ...(hidden ? [hidden === 1 ? 'a note with a hidden title' : `${hidden} notes with hidden titles`] : [])].join(', ');
}

function Report({ report, onDone, onCompare }: { report: RestoreReport; onDone: () => void; onCompare: (note: string) => void }) {
  const { colors } = useTheme();
  const part = (titles: readonly string[], words: string) =>
    titles.length > 0 && (
      <View>
        <Text variant="titleSmall">{`${titles.length} ${words}`}</Text>
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          {quoted(titles)}
        </Text>
      </View>
    );
  return (
      <Dialog onDismiss={onDone}>
        <Dialog.Title>What the restore did</Dialog.Title>
        <Dialog.Content style={styles.report}>
            {part(report.brought, report.brought.length === 1 ? 'note was brought in' : 'notes were brought in')}
            {part(report.updated, 'updated with what is newer')}
            {part(report.kept, 'left alone: what is here is newer')}
            {part(report.same, 'here already, and the same')}
            {report.both.length > 0 && (
              <View>
                <Text variant="titleSmall">{`${report.both.length} changed on both sides`}</Text>
                {report.both.map(({ note, title, what }) => (
                  <View key={note} style={styles.both}>
                    <Text variant="bodySmall" style={styles.grow}>{`“${title}”: ${what.slice(0, 4).join(', ')}${what.length > 4 ? ` and ${what.length - 4} more` : ''}. The later change stands; the other is kept.`}</Text>
                    <Button compact accessibilityLabel={`Compare versions of ${title}`} onPress={() => onCompare(note)}>
                      Compare versions
                    </Button>
                  </View>
                ))}
              </View>
            )}
            {report.ahead.length > 0 && <Text variant="bodySmall" role="alert">{`Made on a device whose clock runs far ahead: ${quoted(report.ahead)}. Set its date and time; changes made there count as later than all others.`}</Text>}
            {report.templates > 0 && <Text variant="titleSmall">{`${report.templates} ${report.templates === 1 ? 'template was' : 'templates were'} brought in`}</Text>}
            {report.damaged.length > 0 && (
              <View role="alert">
                <Text variant="titleSmall" style={{ color: colors.error }}>{`${report.damaged.length} could not be restored`}</Text>
                {report.damaged.map(({ what, why }, i) => (
                  <Text key={i} variant="bodySmall">{`${what}: ${why}.`}</Text>
                ))}
              </View>
            )}
          </Dialog.Content>
        <Dialog.Actions>
          <Button onPress={onDone}>Done</Button>
        </Dialog.Actions>
      </Dialog>
  );
}

const styles = StyleSheet.create({
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  both: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: 6 },
  grow: { flex: 1, minWidth: 160 },
  report: { gap: 12, paddingVertical: 10 },
});
