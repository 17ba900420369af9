/** What is unfinished across notes: gaps, Missed and Ask marks; and the writer's own tags. */
import { compareNames } from '../../core/collation';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useRef, useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, Chip, Text, TouchableRipple, useTheme } from 'react-native-paper';
import Svg, { Path } from 'react-native-svg';
import type { Mark, NoteSummary } from '../../core/note/schema';
import type { TaggedMoment } from '../../core/review/record';
import { gapLength } from '../../core/review/gaps';
import { gapQuestion, markQuestion, type WordInTime } from '../../core/reading/inTime';
import { clockText, spokenTime } from '../../core/time/format';
import { fromTimeline, toTimeline, type Stamp } from '../../core/time/timeline';
import { selectKept } from '../../store/filing';
import { jobOf, stopJob } from '../../store/jobs';
import { loadTexts, readWordsInTime } from '../../store/librarySearch';
import { loadReview, lookThrough } from '../../store/reviewLibrary';
import { hearIn } from '../../store/touching';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { whenIdle } from '../../platform/idle';
import type { Asked as AskedOf } from '../filing/asked';
import { NoteDialogs } from '../filing/NoteDialogs';
import { JobLine } from '../../ui/JobLine';
import { MarkShape } from '../../ui/MarkShape';
import { MARK_SHAPES } from '../../ui/markShapes';
import { HUES } from '../../ui/palette';
import '../../ui/controls.css';
import '../../ui/takes.css';

/** So many gaps of a note are listed at first. */
const GAPS_SHOWN = 3;
/** Wider pictures than this are cut off, mm. */
const PICTURE_MM = { w: 90, h: 24 };

export function ReviewScreen() {
  const dispatch = useAppDispatch();
  const headers = useAppSelector(selectKept);
  const [asked, setAsked] = useState<AskedOf | null>(null);
  const ready = useAppSelector((s) => s.library.status === 'ready');
  const { records, wanted } = useAppSelector((s) => s.review);
  const job = useAppSelector(jobOf('looking'));
  useEffect(() => {
    if (ready) void dispatch(loadReview());
  }, [dispatch, ready, headers]);
  const open = useMemo(() => headers.filter((h) => unfinished(h).length > 0 || (h.kept ?? 0) > 0 || (records[h.id]?.gaps.length ?? 0) > 0), [headers, records]);
  const tags = useMemo(() => {
    const by = new Map<string, { header: NoteSummary; moment: TaggedMoment }[]>();
    for (const header of headers) for (const moment of records[header.id]?.tagged ?? []) for (const name of moment.names) by.set(name, [...(by.get(name) ?? []), { header, moment }]);
    return [...by].sort(([a], [b]) => compareNames(a, b));
  }, [headers, records]);
  const waiting = wanted.filter((id) => headers.some((h) => h.id === id));
  // What was never looked through is, once each, when the machine has nothing else to do and nobody records.
  const recording = useAppSelector((s) => s.recording.state !== 'idle');
  const tried = useRef(new Set<string>());
  const [list, looking] = [waiting.join(' '), job !== undefined];
  useEffect(() => {
    const fresh = list.split(' ').filter((id) => id && !tried.current.has(id));
    if (!fresh.length || recording || looking) return;
    const idle = requestIdleCallback(
      () => {
        for (const id of fresh) tried.current.add(id);
        void dispatch(lookThrough());
      },
      { timeout: 5000 },
    );
    return () => cancelIdleCallback(idle);
  }, [dispatch, list, recording, looking]);
  // The words around what is unfinished are read when the machine has nothing else to do.
  const [read, setRead] = useState(0);
  const unread = useMemo(() => new Set(open.map((h) => h.id)), [open]);
  useEffect(() => (ready && !recording && unread.size ? whenIdle(() => void dispatch(loadTexts(() => setRead((n) => n + 1), unread))) : undefined), [dispatch, ready, recording, unread]);
  return (
    <ScrollView contentContainerStyle={styles.all}>
      <Text variant="headlineMedium" role="heading" aria-level={1}>
        Review
      </Text>
      {job ? (
        <JobLine {...job} onStop={() => dispatch(stopJob({ id: job.id }))} />
      ) : (
        waiting.length > 0 && (
          <View style={styles.line}>
            <Text style={styles.grow}>
              The sound of {waiting.length} {waiting.length === 1 ? 'note has' : 'notes have'} not been looked through for gaps yet.
            </Text>
            <Button mode="contained-tonal" onPress={() => void dispatch(lookThrough())}>
              Look through
            </Button>
          </View>
        )
      )}
      {open.length === 0 && waiting.length === 0 && <Text>Nothing is unfinished: no gaps, and no Missed or Ask marks.</Text>}
      <div className="wide-columns">
        {open.map((h) => (
          <NoteReview key={h.id} header={h} read={read} onCompare={(id) => setAsked({ kind: 'kept', ids: [id] })} />
        ))}
        {tags.length > 0 && <Tags tags={tags} />}
      </div>
      <NoteDialogs asked={asked} onAsk={setAsked} onDone={() => setAsked(null)} />
    </ScrollView>
  );
}

/** Marks that ask for something to be done. */
const unfinished = (h: NoteSummary): Mark[] => (h.marks ?? []).filter((m) => m.kind === 'missed' || m.kind === 'ask');

function useHear() {
  const dispatch = useAppDispatch();
  const router = useRouter();
  return (note: string, stamp: Stamp | null) => {
    if (stamp) dispatch(hearIn(note, stamp));
    router.push(`/note/${note}`);
  };
}

/** `read`: another one when more text was read. */
function NoteReview({ header, read, onCompare }: { header: NoteSummary; read: number; onCompare: (note: string) => void }) {
  const { colors } = useTheme();
  const hear = useHear();
  const record = useAppSelector((s) => s.review.records[header.id]);
  const [all, setAll] = useState(false);
  const gaps = [...(record?.gaps ?? [])].sort((a, b) => b.speech - a.speech);
  const marks = unfinished(header);
  const dispatch = useAppDispatch();
  const [words, setWords] = useState<readonly WordInTime[]>([]);
  useEffect(() => {
    let still = true;
    void dispatch(readWordsInTime(header)).then((w) => still && setWords(w));
    return () => void (still = false);
  }, [dispatch, header, read]);
  return (
    <View style={[styles.card, { borderColor: colors.outlineVariant, backgroundColor: colors.elevation.level1 }]}>
      <Text variant="titleMedium" role="heading" aria-level={2}>
        {header.title}
      </Text>
      {record && (
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          {Math.round(100 * record.share)} % of the speech was written along with
        </Text>
      )}
      {(header.kept ?? 0) > 0 && (
        <View style={styles.line}>
          <Text style={styles.grow}>{header.kept === 1 ? 'One change lost against another device.' : `${header.kept} changes lost against another device.`}</Text>
          <Button compact mode="contained-tonal" accessibilityLabel={`Compare versions in ${header.title}`} onPress={() => onCompare(header.id)}>
            Compare versions
          </Button>
        </View>
      )}
      <View role="list" aria-label={`Unfinished in ${header.title}`} style={styles.list}>
        {marks.map((m) => {
          const ms = toTimeline(header.timeline, m);
          const name = MARK_SHAPES[m.kind].name;
          const asks = ms === null || m.text ? null : markQuestion(words, m.kind, ms);
          const when = `${name}${ms === null ? '' : ` · ${clockText(ms)}`}`;
          return (
            <Row key={m.id} label={`${asks ? `${asks} ` : ''}${name}${ms === null ? '' : ` at ${spokenTime(ms)}`}${m.text ? `, ${m.text}` : ''}, in ${header.title}`} onPress={() => hear(header.id, m)}>
              <MarkShape kind={m.kind} />
              <Asked question={asks} rest={m.text ? `${when} · ${m.text}` : when} />
            </Row>
          );
        })}
        {gaps.slice(0, all ? undefined : GAPS_SHOWN).map((g) => [g, gapQuestion(words, g)] as const).map(([g, asks]) => (
          <Row key={g.from} label={`${asks ? `${asks} ` : ''}Gap of ${spokenTime(gapLength(g))} at ${spokenTime(g.from)}, in ${header.title}`} onPress={() => hear(header.id, fromTimeline(header.timeline, g.from))}>
            <div className="gap-swatch" aria-hidden />
            <Asked question={asks} rest={`Gap · ${clockText(g.from)} · ${gapLength(g) / 1000} s`} />
          </Row>
        ))}
      </View>
      {gaps.length > GAPS_SHOWN && (
        <Button compact onPress={() => setAll(!all)} style={styles.more}>
          {all ? 'Show fewer' : `Show all ${gaps.length} gaps`}
        </Button>
      )}
    </View>
  );
}

/** What is to be found out, by the words that stand around it, and where it is; the place alone where nothing was read. */
function Asked({ question, rest }: { question: string | null; rest: string }) {
  const { colors } = useTheme();
  if (!question) return <Text style={styles.grow}>{rest}</Text>;
  return (
    <View style={styles.asked}>
      <Text>{question}</Text>
      <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
        {rest}
      </Text>
    </View>
  );
}

function Row({ label, onPress, children }: { label: string; onPress: () => void; children: React.ReactNode }) {
  return (
    <View role="listitem">
      <TouchableRipple role="button" onPress={onPress} borderless style={styles.touch}>
        <View style={styles.row}>
          <span className="unseen">{`${label}, `}</span>
          {children}
        </View>
      </TouchableRipple>
    </View>
  );
}

function Tags({ tags }: { tags: readonly (readonly [string, readonly { header: NoteSummary; moment: TaggedMoment }[]])[] }) {
  const hear = useHear();
  const { colors } = useTheme();
  const [name, setName] = useState<string | null>(null);
  const list = tags.find(([n]) => n === name)?.[1] ?? [];
  return (
    <View style={[styles.card, { borderColor: colors.outlineVariant, backgroundColor: colors.elevation.level1 }]}>
      <Text variant="titleMedium" role="heading" aria-level={2}>
        Tags
      </Text>
      <View style={styles.chips}>
        {tags.map(([n, entries]) => (
          <Chip key={n} selected={n === name} showSelectedCheck={false} mode={n === name ? 'flat' : 'outlined'} onPress={() => setName(n === name ? null : n)} accessibilityLabel={`Tag ${n}, ${entries.length}`}>
            {n} {entries.length}
          </Chip>
        ))}
      </View>
      {name && (
        <View role="list" aria-label={`Moments tagged ${name}`} style={styles.list}>
          {list.map(({ header, moment }) => (
            <Row key={`${header.id} ${moment.stroke}`} label={`Moment ${moment.at === null ? 'without sound' : `at ${spokenTime(moment.at)}`} in ${header.title}, page ${moment.page}`} onPress={() => hear(header.id, moment.at === null ? null : fromTimeline(header.timeline, moment.at))}>
              <View style={styles.tagged}>
                <Picture moment={moment} />
                <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
                  {header.title} · page {moment.page} · {moment.at === null ? 'no sound' : clockText(moment.at)}
                </Text>
              </View>
            </Row>
          ))}
        </View>
      )}
    </View>
  );
}

function Picture({ moment: { path, box } }: { moment: TaggedMoment }) {
  const [l, t, r, b] = box;
  const [w, h] = [Math.min(PICTURE_MM.w, r - l) + 4, Math.min(PICTURE_MM.h, b - t) + 4];
  return (
    <Svg width={Math.min(300, w * 3)} height={h * 3} viewBox={`${l - 2} ${t - 2} ${w} ${h}`} style={styles.picture} aria-hidden>
      <Path d={path} fill="none" stroke={HUES.navy} strokeWidth={0.5} strokeLinecap="round" strokeLinejoin="round" />
    </Svg>
  );
}

const styles = StyleSheet.create({
  all: { padding: 20, gap: 14, maxWidth: 900, width: '100%' },
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, flexWrap: 'wrap' },
  grow: { flex: 1 },
  card: { borderWidth: 1, borderRadius: 14, padding: 14, gap: 6 },
  list: { gap: 2 },
  touch: { borderRadius: 10, minHeight: 46, justifyContent: 'center', paddingHorizontal: 6 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 12 },
  asked: { flex: 1, minWidth: 0, paddingVertical: 4 },
  more: { alignSelf: 'flex-start' },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  tagged: { flex: 1, gap: 4, paddingVertical: 6 },
  picture: { backgroundColor: HUES.sheet, borderRadius: 6 },
});
