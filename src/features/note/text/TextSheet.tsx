/** The text of the note, page by page and line against line: each word leads back to its ink and its sound, and can be put right. */
import { useMemo, useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, IconButton, Searchbar, Text, TextInput, useTheme } from 'react-native-paper';
import type { Page } from '../../../core/note/schema';
import type { Trace } from '../../../core/reading/drawing';
import { shownWord, textLines, writtenByKey, type ShownWord } from '../../../core/reading/pageText';
import { canChange } from '../../../store/change';
import { say } from '../../../store/messages';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { correct, textOfNote } from '../../../store/textReading';
import { playPlaced } from '../../../store/touching';
import { Choice } from '../../../ui/Choice';
import { InkPicture } from '../../../ui/InkPicture';
import { shadow } from '../../../ui/palette';
import { useKeysWhileOpen } from '../../../ui/useKeysWhileOpen';
import type { Places } from '../lists/places';
import { InTextList } from './InTextList';
import { NoteHits, type Like } from './NoteHits';
import { WritePad } from './WritePad';
import './text.css';

/** Surer than this it is shown as it is; less sure, with a line of dots under it. */
const SURE = 0.6;

/** `beside`: it stands beside the page, where there is room; else it lies over the end of the page. */
export function TextSheet({ places, beside = false }: { places: Places; beside?: boolean }) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const overInk = useAppSelector((s) => s.tools.overInk);
  const [chosen, setChosen] = useState<{ page: string; key: string } | null>(null);
  const [query, setQuery] = useState('');
  const finds = useAppSelector((s) => s.tools.sheet === 'find');
  const [like, setLike] = useState<Like | null>(null);
  const [pad, setPad] = useState<readonly Trace[] | null>(null);
  const [things, setThings] = useState(false);
  const searching = query.trim() !== '' || like !== null;
  const close = useKeysWhileOpen();
  return (
    <View role="region" aria-label="Text of the note" testID="note-text" style={beside ? [styles.beside, { borderColor: colors.outlineVariant }] : [styles.all, { backgroundColor: colors.surface, borderColor: colors.outlineVariant }]}>
      <View style={styles.top}>
        <Text variant="titleMedium" role="heading" aria-level={2} style={styles.grow}>
          Text
        </Text>
        <Choice role="button" name="Over the ink" label="Text over the ink" on={overInk} onPress={() => void dispatch(toolsSlice.actions.set({ overInk: !overInk }))} />
        <CopyAll />
        <IconButton ref={close} icon="close" aria-label="Close Text" onPress={() => void dispatch(toolsSlice.actions.set({ sheet: 'none', found: null }))} style={styles.icon} />
      </View>
      <View style={styles.searchRow}>
        <Searchbar accessibilityRole={undefined} autoFocus={finds} value={query} onChangeText={(q) => {
          setQuery(q);
          setLike(null);
          setPad(null);
        }} placeholder="Search note" accessibilityLabel="Search note" icon="search" clearIcon="close" style={styles.search} inputStyle={styles.searchInput} />
        {/* With a word chosen its own likes are looked for, below. */}
        {!(chosen && !searching) && <IconButton icon="pen" aria-label="Search by writing" aria-pressed={pad !== null} selected={pad !== null} onPress={() => {
            setPad(pad ? null : []);
            setLike(null);
            setQuery('');
          }} style={styles.icon} />}
      </View>
      {pad && (
        <WritePad
          written={pad}
          onWritten={(traces) => {
            setPad(traces);
            setLike(traces.length ? { traces } : null);
          }}
          onDone={() => {
            setPad(null);
            setLike(null);
          }}
        />
      )}
      {!searching && (
        <View role="tablist" aria-label="What is shown of the text" style={styles.tabs}>
          <Choice role="tab" name="Text" on={!things} onPress={() => setThings(false)} />
          <Choice role="tab" name="To do, dates, numbers" on={things} onPress={() => setThings(true)} />
        </View>
      )}
      <ScrollView style={beside ? styles.whole : styles.scroll} contentContainerStyle={styles.inner}>
        {like && !pad && (
          <Button compact icon="back" onPress={() => setLike(null)} style={styles.back}>
            Back to the text
          </Button>
        )}
        {searching && <NoteHits query={query} like={like} places={places} />}
        {!searching && things && <InTextList places={places} />}
        {!searching && !things && pages.map((page, i) => (
          <PageWords key={page.id} page={page} number={i + 1} chosen={chosen?.page === page.id ? chosen.key : null} onChoose={(key) => setChosen({ page: page.id, key })} places={places} />
        ))}
      </ScrollView>
      {chosen && !searching && !things && <WordBar key={`${chosen.page} ${chosen.key}`} page={chosen.page} word={chosen.key} onDone={() => setChosen(null)} onLike={() => setLike(chosen)} />}
    </View>
  );
}

/** Lines of a page with what is shown of each word; null for a word that nobody has read yet. */
function useLines(page: string) {
  const words = useAppSelector((s) => s.note.words[page]);
  const text = useAppSelector((s) => s.note.texts[page]);
  const written = useAppSelector((s) => s.note.note!.header.written);
  return useMemo(() => {
    if (!words) return null;
    const own = writtenByKey(written);
    return textLines(words.grouping).map((line) => ({ ...line, shown: line.words.map((i) => shownWord(words.grouping.words[i], text, own)) }));
  }, [words, text, written]);
}

function PageWords({ page, number, chosen, onChoose, places }: { page: Page; number: number; chosen: string | null; onChoose: (key: string) => void; places: Places }) {
  const dispatch = useAppDispatch();
  const ink = useAppSelector((s) => s.note.note!.ink[page.id]);
  const listens = useAppSelector((s) => s.note.mode === 'listen');
  const lines = useLines(page.id);
  const unread = lines?.some((l) => l.shown.includes(null)) ?? ink !== undefined;
  const by = useMemo(() => new Map((lines ?? []).flatMap((l) => l.shown.flatMap((w) => (w ? [[w.key, w] as const] : [])))), [lines]);
  const touch = (e: React.MouseEvent) => {
    const key = (e.target as HTMLElement).dataset.word;
    const shown = key && by.get(key);
    if (!shown) return;
    onChoose(key);
    places.showPlace(page.id, shown.word.box, true);
    const first = ink?.find((it) => it.id === shown.word.strokes[0]);
    if (listens && first?.stamp) dispatch(playPlaced(first));
  };
  const paragraphs: NonNullable<typeof lines>[] = [];
  for (const line of lines ?? []) {
    if (line.begins || !paragraphs.length) paragraphs.push([]);
    paragraphs[paragraphs.length - 1].push(line);
  }
  return (
    <View role="group" aria-label={`Page ${number}`} style={styles.page}>
      <Text variant="labelLarge" role="heading" aria-level={3}>
        Page {number}
      </Text>
      {!lines?.length && <Text variant="bodySmall">{ink?.length && !lines ? 'Its words are being found.' : 'No handwriting.'}</Text>}
      <div className="read-text" onClick={touch} role="presentation">
        {paragraphs.map((paragraph, n) => (
          <p key={n}>
            {paragraph.map((line, i) => (
              <span key={i} className="read-line">
                {line.shown.map((w, k) =>
                  w ? (
                    <button key={k} type="button" data-word={w.key} data-sure={w.confidence >= SURE} data-corrected={w.corrected} aria-pressed={w.key === chosen} aria-label={nameOf(w)}>
                      {w.text}
                    </button>
                  ) : (
                    <span key={k} className="read-wait" role="img" aria-label="not read yet">
                      ···
                    </span>
                  ),
                )}
              </span>
            ))}
          </p>
        ))}
      </div>
      {lines !== null && lines.length > 0 && unread && (
        <Text variant="bodySmall" role="status">
          Words are being read.
        </Text>
      )}
    </View>
  );
}

const nameOf = (w: ShownWord): string => (w.corrected ? `${w.text}, put right by you` : w.confidence < SURE ? `${w.text}, not sure` : w.text);

/** What is known of a word, and what it is instead. */
function WordBar({ page, word, onDone, onLike }: { page: string; word: string; onDone: () => void; onLike: () => void }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const lines = useLines(page);
  const ink = useAppSelector((s) => s.note.note!.ink[page]);
  const can = useAppSelector(canChange);
  const shown = lines?.flatMap((l) => l.shown).find((w) => w?.key === word) ?? null;
  const placed = useMemo(() => (shown ? (ink ?? []).filter((it) => shown.word.strokes.includes(it.id)) : []), [ink, shown]);
  const [draft, setDraft] = useState(shown?.text ?? '');
  if (!shown) return null;
  const is = (text: string | null) => {
    if (text !== shown.text) dispatch(correct(shown.word.strokes, text));
    onDone();
  };
  return (
    <View role="group" aria-label={`The word ${shown.text}`} style={[styles.bar, { borderColor: colors.outlineVariant }]}>
      <View style={styles.row}>
        <InkPicture placed={placed} box={shown.word.box} width={84} height={44} />
        <View style={styles.grow} />
        <Button compact onPress={onLike}>
          Search by writing
        </Button>
        <Button compact disabled={!placed[0]?.stamp} accessibilityLabel={placed[0]?.stamp ? `Play ${shown.text}` : 'Nothing was recorded then'} onPress={() => dispatch(playPlaced(placed[0]))}>
          Play
        </Button>
        <IconButton icon="close" aria-label="Close the word" onPress={onDone} style={styles.icon} />
      </View>
      {can && (
        <>
          <View style={styles.row}>
            <TextInput mode="outlined" dense label="It says" accessibilityLabel="What the word says" value={draft} onChangeText={setDraft} onSubmitEditing={() => is(draft)} style={styles.grow} />
            <Button mode="contained" disabled={!draft.trim() || draft.trim() === shown.text} onPress={() => is(draft)}>
              Put right
            </Button>
          </View>
          <View role="group" aria-label="Other readings" style={styles.others}>
            {shown.others.slice(0, 4).map((text) => (
              <Button key={text} compact mode="outlined" onPress={() => is(text)}>
                {text}
              </Button>
            ))}
            {shown.corrected && (
              <Button compact onPress={() => is(null)}>
                As it was read
              </Button>
            )}
          </View>
        </>
      )}
    </View>
  );
}

/** The whole text to the clipboard. */
function CopyAll() {
  const dispatch = useAppDispatch();
  const copy = async () => {
    const text = dispatch(textOfNote());
    if (!text) return dispatch(say('reading', 'info', 'Nothing has been read yet.'));
    try {
      await navigator.clipboard.writeText(text);
      dispatch(say('reading', 'info', 'The text is copied.'));
    } catch {
      dispatch(say('reading', 'problem', 'The browser did not let the text be copied. Allow the clipboard for this page and try again.'));
    }
  };
  return (
    <Button compact accessibilityLabel="Copy the text" onPress={() => void copy()}>
      Copy
    </Button>
  );
}

const styles = StyleSheet.create({
  all: { flexShrink: 1, minHeight: 0, maxHeight: '90%', borderTopLeftRadius: 18, borderTopRightRadius: 18, borderWidth: 1, borderBottomWidth: 0, boxShadow: `0 -4px 16px ${shadow(0.18)}`, pointerEvents: 'auto' },
  beside: { width: 360, flexGrow: 0, flexShrink: 0, minHeight: 0, borderLeftWidth: 1 },
  top: { flexDirection: 'row', alignItems: 'center', paddingLeft: 16, minHeight: 48 },
  grow: { flex: 1 },
  icon: { margin: 0, width: 44, height: 44 },
  tabs: { flexDirection: 'row', gap: 8, paddingHorizontal: 16, paddingBottom: 8 },
  searchRow: { flexDirection: 'row', alignItems: 'center', paddingLeft: 16, paddingRight: 8, paddingBottom: 8, gap: 4 },
  search: { flex: 1, height: 44 },
  searchInput: { minHeight: 44 },
  whole: { flexGrow: 1, flexShrink: 1, flexBasis: 0 },
  scroll: { flexGrow: 0, flexShrink: 1 },
  inner: { paddingHorizontal: 16, paddingBottom: 16, gap: 14 },
  back: { alignSelf: 'flex-start' },
  page: { gap: 4 },
  bar: { borderTopWidth: 1, paddingHorizontal: 16, paddingVertical: 8, gap: 6 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  others: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
});
