/** What the text of the notes has of a search: the words around, their note and page, and the sound of that moment. */
import { useEffect, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import type { Placed } from '../../core/note/kinds/kinds';
import type { NoteSummary } from '../../core/note/schema';
import { growBox, unionBox } from '../../core/ink/stroke';
import { clockText } from '../../core/time/format';
import { toTimeline } from '../../core/time/timeline';
import { isBusy, stopJob } from '../../store/jobs';
import { inkOfLine, loadTexts, searchTextsOf, type LibraryHit } from '../../store/librarySearch';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { showWhenOpen } from '../../store/takingOver';
import { hearIn } from '../../store/touching';
import { Entry } from '../../ui/Entry';
import { FoundWords } from '../../ui/FoundWords';
import { InkPicture } from '../../ui/InkPicture';

const SHOWN_AT_ONCE = 12;
/** Of the picture, px. */
const [WIDE, HIGH] = [280, 44];

export function TextHits({ query, headers, open }: { query: string; headers: readonly NoteSummary[]; open: (note: string) => void }) {
  const dispatch = useAppDispatch();
  const reading = useAppSelector((s) => isBusy(s, 'reading'));
  const [known, setKnown] = useState(0);
  const [shown, setShown] = useState(SHOWN_AT_ONCE);
  useEffect(() => {
    void dispatch(loadTexts(() => setKnown((n) => n + 1)));
  }, [dispatch, headers]);
  const by = useMemo(() => new Map(headers.map((h) => [h.id, h])), [headers]);
  // `known`: more was read since.
  const hits = useMemo(() => (known ? searchTextsOf([...by.keys()], query) : []), [by, query, known]);
  return (
    <View style={styles.all}>
      <View style={styles.row}>
        <Text variant="titleMedium" role="heading" aria-level={2}>
          In the notes
        </Text>
        <Text variant="bodySmall" role="status" style={styles.grow}>
          {hits.length ? `${hits.length} found` : known ? 'Nothing found.' : ''}
          {reading ? ' Notes are still being read.' : ''}
        </Text>
        {reading && (
          <Button compact onPress={() => dispatch(stopJob({ kind: 'reading' }))}>
            Stop
          </Button>
        )}
      </View>
      <View role="list" aria-label="Found in the notes" style={styles.all}>
        {hits.slice(0, shown).map((hit, i) => (
          <TextHit key={i} hit={hit} header={by.get(hit.note)!} open={open} />
        ))}
      </View>
      {hits.length > shown && <Button onPress={() => setShown(shown + SHOWN_AT_ONCE)}>Show more</Button>}
    </View>
  );
}

function TextHit({ hit: { note, page, found, around }, header, open }: { hit: LibraryHit; header: NoteSummary; open: (note: string) => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const ms = toTimeline(header.timeline, found[0].stamp);
  const go = (play: boolean) => {
    dispatch(showWhenOpen(note, page, found.map((w) => w.box).reduce(unionBox), found.map((w) => growBox(w.box, 0.6))));
    if (play && found[0].stamp) dispatch(hearIn(note, found[0].stamp));
    open(note);
  };
  const text = around.map((w) => w.shown).join(' ');
  const [ink, setInk] = useState<{ readonly placed: readonly Placed[]; readonly number: number } | null>(null);
  const box = useMemo(() => around.map((w) => w.box).reduce(unionBox), [around]);
  useEffect(() => {
    let still = true;
    // Without the picture the words are there.
    dispatch(inkOfLine(header, page, box)).then((it) => still && setInk(it), () => undefined);
    return () => void (still = false);
  }, [dispatch, header, page, box]);
  return (
    <Entry
      label={`${text}, in ${header.title || 'Note'}: open it there`}
      onPress={() => go(false)}
      actions={
        ms === null ? null : (
          <Button compact accessibilityLabel={`Open ${header.title || 'Note'} and play from ${clockText(ms)}`} onPress={() => go(true)}>
            Play {clockText(ms)}
          </Button>
        )
      }
    >
      <View style={styles.hit}>
        {ink && ink.placed.length > 0 && <InkPicture placed={ink.placed} box={box} width={WIDE} height={HIGH} />}
        <FoundWords around={around} found={found} />
        <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
          {header.title || 'Note'}
          {ink ? ` · page ${ink.number}` : ''}
        </Text>
      </View>
    </Entry>
  );
}

const styles = StyleSheet.create({ all: { gap: 8 }, row: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 40 }, grow: { flex: 1 }, hit: { flex: 1, minWidth: 0, gap: 2 } });
