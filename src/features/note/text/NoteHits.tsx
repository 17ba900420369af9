/** What of the note a search finds: the ink itself with what stands around it, its page and its moment. */
import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import { boxAround, growBox, unionBox } from '../../../core/ink/stroke';
import type { Mark, Take } from '../../../core/note/schema';
import type { Trace } from '../../../core/reading/drawing';
import type { FoundWord } from '../../../core/reading/noteWords';
import { wordKey } from '../../../core/reading/pageText';
import { queryOf, searchable, searchWords, wordsIn } from '../../../core/reading/search';
import { likesOf, shapeOf } from '../../../core/reading/shape';
import { strokesOf } from '../../../core/note/kinds/kinds';
import { clockText, spokenTime } from '../../../core/time/format';
import { toTimeline, type Stamp } from '../../../core/time/timeline';
import { selectFound } from '../../../store/noteText';
import { findPrinted, type PrintedHit } from '../../../store/printed';
import { markName } from '../../../store/reviewing';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { tracesOf } from '../../../store/textReading';
import { playAt, playPlaced } from '../../../store/touching';
import { Choice } from '../../../ui/Choice';
import { FoundWords } from '../../../ui/FoundWords';
import { InkPicture } from '../../../ui/InkPicture';
import { Entry } from '../../../ui/Entry';
import { MarkShape } from '../../../ui/MarkShape';
import type { Places } from '../lists/places';

const SHOWN_AT_ONCE = 30;
/** Words before and after what was found. */
const AROUND = 4;
/** Of the picture, px. */
const [WIDE, HIGH] = [280, 48];

/** Of what was not read. */
const NOTHING = { text: '', others: [], sure: [], has: 0, may: 0, first: 0, shown: '', line: -1, stamp: null } as const;

interface NoteHit {
  readonly page: string;
  readonly number: number;
  readonly found: readonly FoundWord[];
  readonly around: readonly FoundWord[];
  readonly score: number;
}

/** Whose likes are looked for: a word, by its page and name, or what was written for it. */
export type Like = { readonly page: string; readonly key: string } | { readonly traces: readonly Trace[] };

export function NoteHits({ query, like, places }: { query: string; like: Like | null; places: Places }) {
  const { note, words, texts } = useAppSelector((s) => s.note);
  const [shown, setShown] = useState(SHOWN_AT_ONCE);
  const [take, setTake] = useState<string | null>(null);
  const takes = note?.header.takes ?? NO_TAKES;
  const within = (stamp: Stamp | null) => take === null || stamp?.take === take;
  const foundOn = useAppSelector(selectFound);
  const byPage = useMemo(() => (note?.header.pages ?? []).map((p, i) => ({ page: p.id, number: i + 1, words: foundOn[i] ?? [] })), [note?.header.pages, foundOn]);
  const all = useMemo(() => {
    // Words that are looked for may stand on different pages of a note.
    const all = byPage.flatMap(({ words: list }) => list);
    const pageOf = byPage.flatMap((p) => p.words.map(() => p));
    const likes = (): { words: readonly number[]; score: number }[] => {
      // Also what was not read, and signs that were drawn: they are compared by their shape alone.
      const named = new Set(all.map((w) => wordKey(w.ids)));
      for (const p of byPage) {
        const grouping = words[p.page]?.grouping;
        for (const { strokes, box } of [...(grouping?.words ?? []), ...(grouping?.drawings ?? [])]) {
          if (named.has(wordKey(strokes))) continue;
          all.push({ ...NOTHING, box, ids: strokes });
          pageOf.push(p);
        }
      }
      const by = new Map(Object.values(note?.ink ?? {}).flatMap((list) => strokesOf(list).map((s) => [s.id, s] as const)));
      const shapes = all.map((w) => shapeOf(tracesOf(w.ids.flatMap((id) => by.get(id) ?? []), [{ strokes: w.ids, box: w.box, line: w.line }])[0]));
      const at = all.findIndex((w, i) => like && 'key' in like && pageOf[i].page === like.page && wordKey(w.ids) === like.key);
      const shape = like && 'traces' in like ? shapeOf(like.traces) : at < 0 ? null : shapes[at];
      return shape ? likesOf(shape, shapes).map(({ index, distance }) => ({ words: [index], score: 1 - distance })) : [];
    };
    return (like ? likes() : searchWords(all, queryOf(query))).map(({ words: at, score }): NoteHit => {
      const { page, number } = pageOf[at[0]];
      const found = at.map((i) => all[i]);
      const { line } = found[0];
      const around: FoundWord[] = [];
      for (let i = Math.max(0, at[0] - AROUND); i <= Math.min(all.length - 1, at[at.length - 1] + AROUND); i++) if (pageOf[i].page === page && ((all[i].line === line && line >= 0) || at.includes(i))) around.push(all[i]);
      return { page, number, found, around, score };
    });
  }, [byPage, query, like, note, words]);
  const hits = all.filter((h) => within(h.found[0].stamp));
  const marks = useMemo(() => (like ? [] : marksOf(note?.header.marks ?? [], query)), [note?.header.marks, query, like]).filter(within);
  const printed = usePrinted(like ? '' : query);
  // What is printed was not written during a take.
  const prints = take === null ? printed.hits : [];
  const count = hits.length + marks.length + prints.length;
  const unread = byPage.length > 0 && (note?.header.pages ?? []).some((p) => words[p.id]?.grouping.words.some((_, i) => i === 0 && !texts[p.id]));
  return (
    <View style={styles.all}>
      {takes.length > 1 && (
        <View role="radiogroup" aria-label="Written during" style={styles.takes}>
          {[{ id: null, name: 'All takes' }, ...takes].map(({ id, name }) => (
            <Choice key={id} role="radio" name={name} on={take === id} onPress={() => setTake(id)} />
          ))}
        </View>
      )}
      <Text variant="bodySmall" role="status">
        {count ? `${count} found${like ? ' that look like it' : ''}` : like ? 'Nothing in this note looks like it.' : `“${query.trim()}” is not found in this note.`}
        {unread ? ' Words are still being read.' : ''}
        {printed.share < 1 ? ` Printed pages are being looked through: ${Math.round(100 * printed.share)} %.` : ''}
      </Text>
      {marks.length > 0 && (
        <View role="list" aria-label="Marks that were found" style={styles.all}>
          {marks.map((m) => (
            <MarkHit key={m.id} mark={m} />
          ))}
        </View>
      )}
      <View role="list" aria-label="Found in this note" style={styles.all}>
        {hits.slice(0, shown).map((hit, i) => (
          <HitEntry key={i} hit={hit} places={places} />
        ))}
      </View>
      {hits.length > shown && <Button onPress={() => setShown(shown + SHOWN_AT_ONCE)}>Show more</Button>}
      {prints.length > 0 && (
        <>
          <Text variant="labelLarge" role="heading" aria-level={3}>
            On the printed pages
          </Text>
          <View role="list" aria-label="Found on the printed pages" style={styles.all}>
            {prints.slice(0, shown).map((hit, i) => (
              <PrintedEntry key={i} hit={hit} places={places} />
            ))}
          </View>
          {prints.length > shown && <Button onPress={() => setShown(shown + SHOWN_AT_ONCE)}>Show more of the printed pages</Button>}
        </>
      )}
    </View>
  );
}

const NO_TAKES: readonly Take[] = [];

/** Marks that are called so, or say so. */
const marksOf = (marks: readonly Mark[], query: string): Mark[] =>
  marks.filter(({ kind, text }) => searchWords(wordsIn(`${markName(kind)} ${text ?? ''}`).map((w) => searchable({ text: w, others: [], sure: [1] })), queryOf(query)).length > 0);

/** One goes on typing within so long, ms. */
const TYPES_MS = 250;

/** What is found on the printed pages, as they are read; the share of them that was looked through. */
function usePrinted(query: string): { readonly hits: readonly PrintedHit[]; readonly share: number } {
  const dispatch = useAppDispatch();
  const pages = useAppSelector((s) => s.note.note?.header.pages);
  const looks = (pages ?? []).some((p) => p.backdrop?.leaf !== undefined) && queryOf(query).all.length > 0;
  const [found, setFound] = useState<{ readonly query: string; readonly hits: readonly PrintedHit[]; readonly share: number } | null>(null);
  useEffect(() => {
    if (!looks) return;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      const told = (hits: readonly PrintedHit[], share: number) => stop.signal.aborted || setFound({ query, hits, share });
      // Only another search stops it.
      dispatch(findPrinted(queryOf(query), stop.signal, told)).catch(() => undefined);
    }, TYPES_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [dispatch, pages, query, looks]);
  return looks && found?.query === query ? found : { hits: [], share: looks ? 0 : 1 };
}

function PrintedEntry({ hit: { page, number, boxes, around }, places }: { hit: PrintedHit; places: Places }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const go = () => {
    dispatch(toolsSlice.actions.set({ found: { page, boxes } }));
    const box = boxAround(boxes.map((b) => ({ box: b })));
    if (box) places.showPlace(page, box, true);
  };
  return (
    <Entry label={`${around}, page ${number}: show it`} onPress={go}>
      <View style={styles.hit}>
        <Text numberOfLines={2}>{around}</Text>
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>{`page ${number}`}</Text>
      </View>
    </Entry>
  );
}

/** What is heard before a mark, ms. */
const BEFORE_MS = 1000;

function MarkHit({ mark }: { mark: Mark }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const ms = toTimeline(timeline, mark);
  const name = markName(mark.kind);
  return (
    <Entry label={`${name} ${ms === null ? 'not on the timeline' : `at ${spokenTime(ms)}`}${mark.text ? `, ${mark.text}` : ''}: play it`} disabled={ms === null} onPress={() => ms !== null && dispatch(playAt(Math.max(0, ms - BEFORE_MS)))}>
      <MarkShape kind={mark.kind} />
      <View style={styles.hit}>
        <Text numberOfLines={2}>{mark.text || name}</Text>
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>{`Mark ${name}${ms === null ? '' : ` · ${clockText(ms)}`}`}</Text>
      </View>
    </Entry>
  );
}

function HitEntry({ hit: { page, number, found, around }, places }: { hit: NoteHit; places: Places }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const ink = useAppSelector((s) => s.note.note!.ink[page]);
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const box = around.map((w) => w.box).reduce(unionBox);
  const placed = useMemo(() => {
    const ids = new Set(around.flatMap((w) => w.ids));
    return (ink ?? []).filter((it) => ids.has(it.id));
  }, [ink, around]);
  const first = placed.find((it) => found[0].ids.includes(it.id));
  const ms = first ? toTimeline(timeline, first.stamp) : null;
  const text = around.map((w) => w.shown).join(' ').trim() || 'Ink';
  return (
    <Entry
      label={`${text}, page ${number}: show it`}
      onPress={() => {
        dispatch(toolsSlice.actions.set({ found: { page, boxes: found.map((w) => growBox(w.box, 0.6)) } }));
        places.showPlace(page, found.map((w) => w.box).reduce(unionBox), true);
      }}
      actions={
        ms !== null && first ? (
          <Button compact accessibilityLabel={`Play from ${clockText(ms)}`} onPress={() => dispatch(playPlaced(first))}>
            Play {clockText(ms)}
          </Button>
        ) : null
      }
    >
      <View style={styles.hit}>
        <InkPicture placed={placed} box={box} width={WIDE} height={HIGH} />
        <FoundWords around={around} found={found} />
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          page {number}
        </Text>
      </View>
    </Entry>
  );
}

const styles = StyleSheet.create({ all: { gap: 8 }, takes: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 }, hit: { flex: 1, minWidth: 0, gap: 4 } });
