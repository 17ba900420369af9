/** Bursts of writing in order of time, as small pictures of the ink. */
import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, TextInput, useTheme } from 'react-native-paper';
import { tagsOn } from '../../../core/note/anchors';
import type { Box } from '../../../core/ink/stroke';
import type { MarkKind } from '../../../core/note/schema';
import type { Moment } from '../../../core/review/moments';
import { saidBy, type Said } from '../../../core/reading/said';
import { clockText, spokenTime } from '../../../core/time/format';
import { toTimeline } from '../../../core/time/timeline';
import { selectMoments } from '../../../store/listening';
import { selectSaid } from '../../../store/noteText';
import { MARKS, setTags } from '../../../store/reviewing';
import { canChange } from '../../../store/change';
import { playPlaced } from '../../../store/touching';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { InkPicture } from '../../../ui/InkPicture';
import { Select } from '../../../ui/Select';
import { Entry } from '../../../ui/Entry';
import type { Places } from './places';

const SHOWN_AT_ONCE = 40;
/** A mark belongs to what was written from a little before it until this long after, ms. */
const NEAR_MS = 8000;

interface Row {
  readonly moment: Moment;
  readonly ms: number | null;
  readonly page: number;
  readonly tags: readonly string[];
  readonly marks: readonly MarkKind[];
}

export function MomentList({ places }: { places: Places }) {
  const moments = useAppSelector(selectMoments);
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const tags = useAppSelector((s) => s.note.note!.header.tags);
  const marks = useAppSelector((s) => s.note.note!.header.marks);
  const said = useAppSelector(selectSaid);
  const [filter, setFilter] = useState(0);
  const [shown, setShown] = useState(SHOWN_AT_ONCE);
  const rows = useMemo((): Row[] => {
    const pageOf = new Map(pages.map((p, i) => [p.id, i + 1]));
    const namesOn = tagsOn(tags);
    const markAt = (marks ?? []).map((m) => ({ kind: m.kind, ms: toTimeline(timeline, m) }));
    return moments.map((moment) => {
      const first = moment.placed.find((s) => s.stamp) ?? moment.placed[0];
      const ms = toTimeline(timeline, first.stamp);
      return { moment, ms, page: pageOf.get(moment.page) ?? 0, tags: namesOn(moment.placed), marks: markAt.filter((m) => ms !== null && m.ms !== null && ms - m.ms >= -NEAR_MS / 4 && ms - m.ms < NEAR_MS).map((m) => m.kind) };
    });
  }, [moments, pages, timeline, tags, marks]);
  const names = useMemo(() => [...new Set((tags ?? []).flatMap((t) => t.names))].sort(), [tags]);
  if (!moments.length) return <Text variant="bodySmall">Nothing written yet.</Text>;
  const filters: readonly { readonly text: string; readonly keeps: (r: Row) => boolean }[] = [
    { text: 'all', keeps: () => true },
    { text: 'without sound', keeps: (r) => r.ms === null },
    ...MARKS.filter(({ kind }) => marks?.some((m) => m.kind === kind)).map(({ kind, name }) => ({ text: `mark ${name}`, keeps: (r: Row) => r.marks.includes(kind) })),
    ...names.map((n) => ({ text: `tag ${n}`, keeps: (r: Row) => r.tags.includes(n) })),
  ];
  const list = rows.filter((filters[filter] ?? filters[0]).keeps);
  return (
    <View style={styles.list}>
      <Select label="Show" value={filter} options={filters.map(({ text }, value) => ({ value, text }))} onChange={setFilter} />
      <View role="list" aria-label="Moments" style={styles.list}>
        {list.length === 0 && <Text variant="bodySmall">None.</Text>}
        {list.slice(0, shown).map((r) => (
          <MomentEntry key={r.moment.id} row={r} text={textOfMoment(r.moment, said[r.moment.page] ?? [])} places={places} />
        ))}
      </View>
      {list.length > shown && <Button onPress={() => setShown(shown + SHOWN_AT_ONCE)}>Show more</Button>}
    </View>
  );
}

/** As high as the ink is at the list's width, px; a single word is not blown up. */
const pictureHeight = ([l, t, r, b]: Box, width: number): number => Math.round(Math.min(120, Math.max(44, (width * (b - t + 2)) / Math.max(60, r - l + 2))));

/** What a moment says, typed and as it was read. */
function textOfMoment({ placed }: Moment, said: Said): string {
  const typed = placed.flatMap((it) => (it.kind === 'typed' && it.text ? [it.text] : []));
  return [saidBy(said, new Set(placed.map((it) => it.id))), ...typed].filter(Boolean).join(' ');
}

function MomentEntry({ row, text, places }: { row: Row; text: string; places: Places }) {
  const { moment, ms, page, tags } = row;
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const can = useAppSelector(canChange);
  const [draft, setDraft] = useState<string | null>(null);
  const [wide, setWide] = useState(220);
  const when = ms === null ? 'no sound' : clockText(ms);
  const done = () => {
    if (draft !== null && draft !== tags.join(', ')) dispatch(setTags(moment.placed, draft.split(',')));
    setDraft(null);
  };
  return (
    <Entry
      label={`Moment ${ms === null ? 'without sound' : `at ${spokenTime(ms)}`}, page ${page}${text ? `, “${text}”` : ''}: show and play it`}
      onPress={() => {
        places.showPlace(moment.page, moment.box, true);
        dispatch(playPlaced(moment.placed.find((s) => s.stamp) ?? moment.placed[0]));
      }}
      actions={
        draft !== null ? (
          <TextInput mode="outlined" dense autoFocus accessibilityLabel={`Tags of the moment at ${when}, separated by commas`} value={draft} onChangeText={setDraft} onBlur={done} onSubmitEditing={done} style={styles.input} />
        ) : (
          <Button compact disabled={!can} accessibilityLabel={`Tag the moment at ${when}`} onPress={() => setDraft(tags.join(', '))}>
            {tags.length ? tags.join(', ') : 'Tag'}
          </Button>
        )
      }
    >
      <View style={styles.words}>
        <View style={styles.picture} onLayout={(e) => setWide(Math.round(e.nativeEvent.layout.width))}>
          <InkPicture placed={moment.placed} box={moment.box} width={wide} height={pictureHeight(moment.box, wide)} />
        </View>
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          {when} · page {page}
        </Text>
        {text !== '' && (
          <Text variant="bodySmall" numberOfLines={2}>
            {text}
          </Text>
        )}
      </View>
    </Entry>
  );
}

const styles = StyleSheet.create({ list: { gap: 8 }, words: { flex: 1, minWidth: 0, gap: 4 }, picture: { alignSelf: 'stretch' }, input: { flex: 1, margin: 4 } });
