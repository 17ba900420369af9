/** Start: record, write or speak with one touch; the notes under way; what waits to be finished. */
import { useLocalSearchParams, useRouter, type Href } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import { ActivityIndicator, Button, Text, TouchableRipple, useTheme } from 'react-native-paper';
import type { NoteSummary } from '../../core/note/schema';
import { isBackupOld } from '../../core/library/folder';
import { bringDemo } from '../../store/demo';
import { selectInUse, selectKept } from '../../store/filing';
import { ask } from '../../store/lockState';
import { usePicture } from '../../store/pictures';
import { peekReview } from '../../store/reviewLibrary';
import { askToBring } from '../../store/bringing';
import { beginNote } from '../../store/beginNote';
import type { NoteKind } from '../../store/library';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { NoteRow } from '../../ui/NoteRow';
import { Icon } from '../../ui/icons';
import { WIDE } from '../../ui/theme';
import { paperFor } from '../../store/newPaper';
import { formWords } from '../../ui/paper/names';
import { NewPaper } from './NewPaper';

/** In the middle of a sentence; the names of sizes stay. */
const lower = (words: string): string => words.charAt(0).toLowerCase() + words.slice(1);

const SHOWN = 6;
const WAITING_SHOWN = 4;

export function TodayScreen() {
  const { colors } = useTheme();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { record } = useLocalSearchParams<{ record?: string }>();
  const status = useAppSelector((s) => s.library.status);
  const demo = useAppSelector((s) => s.library.demo);
  const inUse = useAppSelector(selectInUse);
  const peek = useAppSelector((s) => s.library.peek);
  const headers = status === 'loading' && !inUse.length ? peek : inUse;
  const running = useAppSelector((s) => s.recording.state !== 'idle');
  const recorded = useAppSelector((s) => paperFor(s, 'recorded'));
  const written = useAppSelector((s) => paperFor(s, 'written'));
  const wide = useWindowDimensions().width >= WIDE;

  const begin = useCallback(
    (kind: NoteKind) => dispatch(beginNote(kind, (path) => router.push(path as Href))),
    [dispatch, router],
  );

  // The shortcut on a phone's start screen opens with ?record=1 and records at once.
  const asked = useRef(record === '1');
  useEffect(() => {
    if (!asked.current || status !== 'ready') return;
    asked.current = false;
    if (!running) void begin('recorded');
  }, [status, running, begin]);
  useEffect(() => {
    if (status === 'ready') void dispatch(peekReview());
  }, [dispatch, status]);

  return (
    <ScrollView contentContainerStyle={[styles.all, wide && styles.wide]}>
      <View style={[styles.hero, wide && styles.heroWide]}>
        <Text variant="headlineMedium" role="heading" aria-level={1}>
          Today
        </Text>
        <Text variant="bodyMedium" style={{ color: colors.onSurfaceVariant }}>
          {new Date().toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' })}
        </Text>
        <TouchableRipple role="button" aria-label="Record" disabled={running} onPress={() => void begin('recorded')} borderless style={[styles.record, { backgroundColor: colors.error, opacity: running ? 0.5 : 1 }]}>
          <View style={styles.recordInner}>
            <View style={[styles.ring, { borderColor: colors.onError }]}>
              <Icon name="record" size={34} color={colors.onError} />
            </View>
            <View style={styles.recordText}>
              <Text variant="titleLarge" style={{ color: colors.onError }}>
                Record
              </Text>
            </View>
          </View>
        </TouchableRipple>
        <Text variant="bodyMedium" style={{ color: colors.onSurfaceVariant }}>
          {running ? 'A recording is running.' : recorded === written || formWords(recorded) === formWords(written) ? `and write on ${lower(formWords(recorded))}` : `and write on ${lower(formWords(recorded))}; without sound on ${lower(formWords(written))}`}
        </Text>
        <View style={styles.two}>
          <Button mode="outlined" icon="pen" compact onPress={() => void begin('written')} disabled={running} contentStyle={styles.tall} style={styles.half}>
            Write without sound
          </Button>
          <Button mode="outlined" icon="memo" compact onPress={() => void begin('sound')} disabled={running} contentStyle={styles.tall}>
            Sound only
          </Button>
        </View>
        <NewPaper />
      </View>
      <View style={styles.list}>
        <View style={styles.head}>
          <Text variant="titleLarge" role="heading" aria-level={2} style={styles.grow}>
            Under way
          </Text>
          <Button compact icon="bringIn" onPress={() => dispatch(askToBring({ into: null, at: null, folder: null }))}>
            Bring in
          </Button>
        </View>
        {(status === 'loading' && headers.length === 0) || demo === 'loading' ? (
          <View style={styles.loading} role="status">
            <ActivityIndicator />
            <Text>{demo === 'loading' ? 'Bringing in the demo notes …' : 'Opening your notes …'}</Text>
          </View>
        ) : headers.length === 0 ? (
          <View style={styles.empty}>
            <Text>No notes yet. Press Record, write while people speak, then touch any word to hear what was said.</Text>
            <Button mode="text" onPress={() => void dispatch(bringDemo(true))}>
              Bring in demo notes
            </Button>
          </View>
        ) : (
          headers.slice(0, SHOWN).map((h) => <UnderWay key={h.id} header={h} />)
        )}
        {status === 'ready' && headers.length > SHOWN && (
          <Button mode="text" onPress={() => router.replace('/library')}>
            All {headers.length} notes
          </Button>
        )}
        <LockedHere />
        <Waiting />
        <OldBackup />
      </View>
    </ScrollView>
  );
}

function UnderWay({ header }: { header: NoteSummary }) {
  const router = useRouter();
  const picture = usePicture(header);
  const open = useCallback(() => router.push(`/note/${header.id}`), [router, header.id]);
  return <NoteRow header={header} picture={picture} onOpen={open} />;
}

/** Locked notes are not shown here, only that there are some. */
function LockedHere() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const count = useAppSelector((s) => (s.lock.status === 'locked' ? Object.values(s.library.covers).filter((c) => !c.binned && !c.archived).length : 0));
  if (!count) return null;
  return (
    <View style={styles.locked}>
      <Icon name="lock" size={20} color={colors.onSurfaceVariant} />
      <Text style={{ color: colors.onSurfaceVariant }}>{count === 1 ? 'A note is locked.' : `${count} notes are locked.`}</Text>
      <Button mode="text" onPress={() => dispatch(ask({ kind: 'unlock' }))}>
        Unlock
      </Button>
    </View>
  );
}

/** A word, and no more, when nothing has been backed up for long. */
function OldBackup() {
  const router = useRouter();
  const { colors } = useTheme();
  const last = useAppSelector((s) => s.settings.lastBackup);
  const headers = useAppSelector(selectKept);
  const [now] = useState(() => Date.now());
  const own = headers.filter((h) => !h.demo);
  if (!isBackupOld(last, own.length, Math.min(...own.map((h) => h.made)), now)) return null;
  return (
    <View style={styles.empty}>
      <Text style={{ color: colors.onSurfaceVariant }}>{last === null ? 'Your notes have never been backed up.' : `The last backup is ${Math.floor((now - last) / 86_400_000)} days old.`}</Text>
      <Button mode="text" onPress={() => router.replace('/settings')}>
        Back up
      </Button>
    </View>
  );
}

const counted = (n: number, one: string, many = `${one}s`): string[] => (n ? [`${n} ${n === 1 ? one : many}`] : []);

/** Gaps, and Missed and Ask marks, of the notes that have most of them. */
function Waiting() {
  const router = useRouter();
  const { colors } = useTheme();
  const headers = useAppSelector(selectKept);
  const records = useAppSelector((s) => s.review.records);
  const [now] = useState(() => Date.now());
  const waiting = useMemo(
    () =>
      headers
        .map((header) => {
          const gaps = records[header.id]?.gaps.length ?? 0;
          const missed = header.marks?.filter((m) => m.kind === 'missed').length ?? 0;
          const ask = header.marks?.filter((m) => m.kind === 'ask').length ?? 0;
          return { header, gaps, missed, ask };
        })
        .filter((w) => w.gaps + w.missed + w.ask > 0)
        // What was heard lately is filled most easily.
        .sort((a, b) => b.header.changed - a.header.changed),
    [headers, records],
  );
  if (!waiting.length) return null;
  return (
    <View style={styles.waiting}>
      <Text variant="titleLarge" role="heading" aria-level={2}>
        Waiting to be finished
      </Text>
      {waiting.slice(0, WAITING_SHOWN).map(({ header, gaps, missed, ask }) => {
        const words = [...counted(gaps, 'gap'), ...counted(missed, 'Missed mark'), ...counted(ask, 'Ask mark')].join(', ');
        const days = Math.floor((now - header.changed) / 86_400_000);
        return (
          <TouchableRipple key={header.id} role="button" onPress={() => router.push(`/note/${header.id}`)} borderless style={[styles.wait, { borderColor: colors.outlineVariant }]}>
            <View style={styles.waitRow}>
              <View style={styles.recordText}>
                <Text variant="titleSmall" numberOfLines={1}>
                  {header.title}
                </Text>
                <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
                  {words}
                  {days > 6 ? ` · ${days} days ago` : ''}
                </Text>
              </View>
            </View>
          </TouchableRipple>
        );
      })}
      <Button mode="text" onPress={() => router.replace('/review')}>
        {waiting.length > WAITING_SHOWN ? `All ${waiting.length} in Review` : 'Open Review'}
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { padding: 20, gap: 28 },
  wide: { flexDirection: 'row', alignItems: 'flex-start', gap: 48, padding: 40, maxWidth: 1160 },
  hero: { gap: 12 },
  heroWide: { width: 380 },
  record: { borderRadius: 24, marginTop: 6 },
  recordInner: { flexDirection: 'row', alignItems: 'center', gap: 18, padding: 22 },
  ring: { width: 64, height: 64, borderRadius: 32, borderWidth: 3, alignItems: 'center', justifyContent: 'center' },
  recordText: { flex: 1 },
  two: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  half: { flexGrow: 1 },
  tall: { minHeight: 48 },
  list: { gap: 10, flex: 1 },
  head: { flexDirection: 'row', alignItems: 'center', minHeight: 44 },
  grow: { flex: 1 },
  loading: { flexDirection: 'row', gap: 14, alignItems: 'center', paddingVertical: 20 },
  locked: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 44 },
  empty: { gap: 8, alignItems: 'flex-start' },
  waiting: { gap: 8, marginTop: 14 },
  wait: { borderWidth: 1, borderRadius: 12, minHeight: 56, justifyContent: 'center', paddingHorizontal: 14 },
  waitRow: { flexDirection: 'row', alignItems: 'center' },
});
