/** All pages of the note at a glance: to go to, to put in order, to mark; and the writer's own headings. */
import { useEffect, useState } from 'react';
import { FlatList, StyleSheet, useWindowDimensions, View } from 'react-native';
import { Button, Chip, IconButton, SegmentedButtons, Text, TextInput, TouchableRipple, useTheme } from 'react-native-paper';
import type { Box } from '../../../core/ink/stroke';
import type { OutlineEntry } from '../../../core/note/pages';
import { addPageAt, deletePages, duplicatePages, movePagesTo, reorder, selectOutline, undoThere } from '../../../store/pages';
import { canChange, undo } from '../../../store/change';
import { messagesSlice, toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { WIDE } from '../../../ui/theme';
import { NoteChooser } from './NoteChooser';
import { Outline } from './Outline';
import { Things } from './Things';
import { InkPicture } from '../../../ui/InkPicture';
import { useLive } from '../../../ui/useLive';
import { pageShown } from '../shown';
import { PageCard, type PageOver } from './PageCard';
import { TemplateDialog } from './TemplateDialog';
import { Dialog, useDialogName } from '../../../ui/Dialog';

/** So many headings stand above the pages. */
const HEADINGS_SHOWN = 6;

type Shown = 'pages' | 'bookmarks' | 'outline' | 'things';

export interface PagesOverviewProps {
  goTo: (index: number) => void;
  onPaper: (page: string) => void;
  showPlace: (page: string, box: readonly [number, number, number, number]) => void;
  /** Opens another note, and an address of the web. */
  goNote: (note: string) => void;
  onWeb: (url: string) => void;
}

export function PagesOverview({ goTo, onPaper, showPlace, goNote, onWeb }: PagesOverviewProps) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const bookmarks = useAppSelector((s) => s.note.note!.header.bookmarks);
  const writes = useAppSelector(canChange);
  const [shown, setShown] = useState<Shown>('pages');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [moving, setMoving] = useState(false);
  const [templates, setTemplates] = useState(false);
  // Deleting is the newest step of the note: it can be taken back right here.
  const offered = useAppSelector((s) => s.messages.find((m) => m.key === 'tool')?.action);
  const close = () => void dispatch(toolsSlice.actions.set({ sheet: 'none' }));
  const go = (index: number) => {
    close();
    goTo(index);
  };
  const ids = chosen.filter((id) => pages.some((p) => p.id === id));
  const at = pages.flatMap((p, i) => (ids.includes(p.id) ? [i] : []));
  const listed = pages.flatMap((p, index) => (shown === 'pages' || bookmarks?.includes(p.id) ? [{ page: p, index }] : []));
  const now = useLive(pageShown);
  const here = pages.findIndex((p) => p.id === now);
  const outline = useAppSelector(selectOutline);
  const [over, setOver] = useState<PageOver | null>(null);
  // It opens where one is.
  useEffect(() => {
    document.querySelector('.page-card[data-current="true"]')?.scrollIntoView({ block: 'center' });
  }, []);
  const openPlace = (page: string, box: Box) => {
    close();
    showPlace(page, box);
  };
  const inner = (wide ? Math.min(900, width - 80) : width) - 24;
  const columns = Math.max(2, Math.floor(inner / 168));
  return (
    <Dialog kind="whole" onDismiss={close}>
      <View style={styles.top}>
        <OverviewTitle />
        <GoTo count={pages.length} go={go} />
        <IconButton icon="close" aria-label="Close Pages" onPress={close} style={styles.icon} />
      </View>
      <SegmentedButtons
        value={shown}
        onValueChange={(v) => setShown(v as Shown)}
        buttons={[
          { value: 'pages', label: `All ${pages.length}`, labelStyle: styles.tab },
          { value: 'bookmarks', label: 'Bookmarks', labelStyle: styles.tab },
          { value: 'outline', label: 'Outline', labelStyle: styles.tab },
          { value: 'things', label: 'Things', labelStyle: styles.tab },
        ]}
        style={styles.tabs}
      />
      {shown === 'things' ? (
        <Things writes={writes} onOpen={openPlace} go={goNote} onWeb={onWeb} />
      ) : shown === 'outline' ? (
        <Outline
          writes={writes}
          onOpen={openPlace}
        />
      ) : (
        <FlatList
          key={columns}
          data={listed}
          numColumns={columns}
          keyExtractor={({ page }) => page.id}
          initialNumToRender={Math.max(12, here + 1 + columns)}
          ListHeaderComponent={shown === 'pages' && outline.length > 0 ? <Headings outline={outline} onOpen={openPlace} /> : null}
          windowSize={5}
          contentContainerStyle={styles.grid}
          ListEmptyComponent={<Text style={styles.empty}>No page is bookmarked. The ribbon at the corner of a page marks it.</Text>}
          renderItem={({ item: { page, index } }) => (
            <PageCard
              page={page}
              index={index}
              width={inner / columns - 12}
              writes={writes}
              chosen={ids.includes(page.id)}
              current={page.id === now}
              over={over}
              onOver={setOver}
              onOpen={() => go(index)}
              onChoose={() => setChosen(ids.includes(page.id) ? ids.filter((id) => id !== page.id) : [...ids, page.id])}
              onDropped={(dragged, to) => dispatch(reorder(ids.includes(dragged) ? ids : [dragged], to))}
            />
          )}
        />
      )}
      {writes && shown !== 'outline' && shown !== 'things' && (
        <View role="toolbar" aria-label="What to do with the chosen pages" style={[styles.bar, { borderColor: colors.outlineVariant, backgroundColor: colors.elevation.level2 }]}>
          {ids.length === 0 ? (
            <>
              {offered === 'undo' || offered === 'undo-there' ? (
                <Button
                  compact
                  mode="contained-tonal"
                  icon="undo"
                  onPress={() => {
                    dispatch(messagesSlice.actions.dismissed('tool'));
                    if (offered === 'undo') dispatch(undo());
                    else void dispatch(undoThere());
                  }}
                >
                  {offered === 'undo' ? 'Undo deleting' : 'Undo moving'}
                </Button>
              ) : (
                <Text style={styles.hint}>Tick pages to work on them.</Text>
              )}
              <Button compact onPress={() => setTemplates(true)}>
                Templates
              </Button>
              <Button compact mode="contained-tonal" onPress={() => dispatch(addPageAt(pages.length))}>
                Add a page at the end
              </Button>
            </>
          ) : (
            <>
              <Chip onClose={() => setChosen([])} closeIconAccessibilityLabel="Choose no page" closeIcon="close">{`${ids.length} chosen`}</Chip>
              <Act name="Add before" onPress={() => dispatch(addPageAt(at[0]))} />
              <Act name="Add after" onPress={() => dispatch(addPageAt(at[at.length - 1] + 1))} />
              <Act name="Earlier" disabled={at[0] === 0} onPress={() => dispatch(reorder(ids, at[0] - 1))} />
              <Act name="Later" disabled={at[at.length - 1] === pages.length - 1} onPress={() => dispatch(reorder(ids, at[at.length - 1] + 2))} />
              <Act name="Duplicate" onPress={() => dispatch(duplicatePages(ids))} />
              <Act name="Paper" onPress={() => onPaper(ids[0])} />
              <Act name="Templates" onPress={() => setTemplates(true)} />
              <Act name="To another note" onPress={() => setMoving(true)} />
              <Act
                name="Delete"
                onPress={() => {
                  dispatch(deletePages(ids));
                  setChosen([]);
                }}
              />
            </>
          )}
        </View>
      )}
      {templates && <TemplateDialog page={ids[0] ?? null} at={at.length ? at[at.length - 1] + 1 : pages.length} onDone={() => setTemplates(false)} />}
      {moving && (
        <NoteChooser
          title={ids.length === 1 ? 'Move the page to' : `Move ${ids.length} pages to`}
          onDismiss={() => setMoving(false)}
          onChoose={(note) => {
            setMoving(false);
            setChosen([]);
            void dispatch(movePagesTo(ids, note));
          }}
        />
      )}
    </Dialog>
  );
}

function OverviewTitle() {
  return (
    <Text nativeID={useDialogName()} variant="titleLarge" role="heading" aria-level={2} style={styles.title}>
      Pages
    </Text>
  );
}

/** The headings a touch away; the outline has them in order and in depth. */
function Headings({ outline, onOpen }: { outline: readonly OutlineEntry[]; onOpen: (page: string, box: Box) => void }) {
  return (
    <View role="group" aria-label="Headings" style={styles.headings}>
      {outline.slice(0, HEADINGS_SHOWN).map((e) => (
        <TouchableRipple key={e.id} role="button" aria-label={e.text === undefined ? `Go to the heading on page ${e.number}` : `Go to ${e.text}, page ${e.number}`} onPress={() => onOpen(e.page, e.box)} borderless style={styles.heading}>
          {e.placed.length ? <InkPicture placed={e.placed} box={e.box} width={104} height={40} /> : <Text numberOfLines={2} style={styles.headingText}>{e.text}</Text>}
        </TouchableRipple>
      ))}
    </View>
  );
}

const Act = ({ name, onPress, disabled = false }: { name: string; onPress: () => void; disabled?: boolean }) => (
  <Button compact disabled={disabled} onPress={onPress} style={styles.act}>
    {name}
  </Button>
);

function GoTo({ count, go }: { count: number; go: (index: number) => void }) {
  const [text, setText] = useState('');
  const number = Number(text);
  const good = Number.isInteger(number) && number >= 1 && number <= count;
  return (
    <TextInput
      mode="outlined"
      dense
      label="Go to page"
      accessibilityLabel={`Go to page, 1 to ${count}`}
      inputMode="numeric"
      value={text}
      onChangeText={setText}
      error={text !== '' && !good}
      onSubmitEditing={() => good && go(number - 1)}
      style={styles.goTo}
    />
  );
}

const styles = StyleSheet.create({
  top: { flexDirection: 'row', alignItems: 'center', paddingLeft: 16, paddingTop: 8, gap: 8 },
  title: { flex: 1 },
  icon: { margin: 0, width: 44, height: 44 },
  goTo: { width: 124 },
  headingText: { maxWidth: 160, padding: 6 },
  tabs: { margin: 12 },
  // Four words side by side on a phone.
  tab: { marginHorizontal: -10 },
  headings: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, paddingBottom: 4 },
  heading: { borderRadius: 8, minHeight: 44, justifyContent: 'center' },
  grid: { paddingHorizontal: 12, paddingBottom: 20, gap: 12 },
  empty: { padding: 16 },
  bar: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 2, padding: 8, borderTopWidth: 1 },
  hint: { flex: 1, minWidth: 120 },
  act: { minHeight: 44, justifyContent: 'center' },
});
