/** The open note: title, pages with the time margin, deck. */
import { useLocalSearchParams, useRouter, type Href } from 'expo-router';
import { useCallback, useEffect, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator, Button, IconButton, Text, TextInput, TouchableRipple, useTheme } from 'react-native-paper';
import { Provider } from 'react-redux';
import { put } from '../../core/note/edit';
import { ask } from '../../store/lockState';
import { setReadOnly } from '../../store/reviewing';
import { canChange, change } from '../../store/change';
import { unlockAll } from '../../store/arranging';
import { anyLocked } from '../../store/picturesOnPage';
import { askToBring } from '../../store/bringing';
import { flushAll, openNote } from '../../store/openNote';
import { stopRecording } from '../../store/recording';
import { bookmark } from '../../store/pages';
import { lengthOf, pausePlaying, play, skip } from '../../store/playing';
import { backCloses } from '../../platform/back';
import { onMediaKeys } from '../../platform/mediaKeys';
import { toolsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import type { Store } from '../../store/thunk';
import { data } from '../../ui/data';
import { Dialog } from '../../ui/Dialog';
import { Icon } from '../../ui/icons';
import type { Asked } from '../filing/asked';
import { NoteDialogs } from '../filing/NoteDialogs';
import { JobsButton } from '../jobs/JobsPlace';
import { SkipLinks } from '../../ui/SkipLinks';
import { selectTitleOffer } from '../../store/noteText';
import { openAddress } from '../../platform/files';
import { lastTab } from '../../ui/lastTab';
import { useRoom } from '../../ui/useRoom';
import { useLive } from '../../ui/useLive';
import { Deck } from './deck/Deck';
import { DeckButton } from './deck/DeckButton';
import { OfNote } from './deck/OfNote';
import { TimelineRow } from './deck/Playback';
import { useNoteKeys } from './useNoteKeys';
import { pageShown, zoomShown } from './shown';
import { NotePane, usePlaces } from './NotePane';
import { NoteTabs } from './NoteTabs';
import type { SurfaceHandle } from './NoteSurface';
import { ListPanel, PagesPanel } from './SidePanels';
import { PagesOverview } from './pages/PagesOverview';
import { Border } from './beside/Border';
import { Source } from './beside/Source';
import { NoteChooser } from './pages/NoteChooser';
import { inHand, lastPairOf, putBeside, reopenPair } from '../../store/beside';
import { rowPx } from '../../ui/textScale';

const SKIPS = [
  { name: 'Skip to recording', to: '[aria-label="Record"], [aria-label="Stop recording"]' },
  { name: 'Skip to the page', to: '.surface-scroller' },
];

export function NoteScreen() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const router = useRouter();
  const { id } = useLocalSearchParams<{ id: string }>();
  // Only what the frame of the screen shows: a stroke must not render it anew.
  const status = useAppSelector((s) => s.note.status);
  const openId = useAppSelector((s) => s.note.id);
  const failure = useAppSelector((s) => s.note.failure);
  const locked = useAppSelector((s) => s.note.locked);
  const unlocked = useAppSelector((s) => s.lock.status === 'open');
  const title = useAppSelector((s) => s.note.note?.header.title ?? '');
  const following = useAppSelector((s) => s.note.following);
  const readOnly = useAppSelector((s) => s.note.note?.header.readOnly === true || s.note.newer !== null);
  const recordingIn = useAppSelector((s) => (s.recording.state === 'idle' ? null : s.recording.note));
  const go = useCallback((note: string) => router.replace(`/note/${note}` as Href), [router]);
  const { wide, side } = useRoom();
  const surface = useRef<SurfaceHandle | null>(null);
  const places = usePlaces(surface);
  const sheet = useAppSelector((s) => s.tools.sheet);
  const [sourceStore, setSourceStore] = useState<Store | null>(null);
  const [paperOf, setPaperOf] = useState<string | null>(null);
  const elsewhere = recordingIn !== null && recordingIn !== id;
  const [asked, setAsked] = useState<Asked | null>(null);
  const [web, setWeb] = useState<string | null>(null);
  const isPrinted = useAppSelector((s) => s.note.note?.header.pages.some((p) => p.backdrop?.leaf !== undefined) ?? false);
  const beside = useAppSelector((s) => s.beside.note);
  const share = useAppSelector((s) => s.beside.share);
  // A note is not read beside itself.
  const source = beside === id ? null : beside;
  const [choosing, setChoosing] = useState(false);
  const pair = useAppSelector((s) => lastPairOf(s) !== null);
  const hasLocked = useAppSelector((s) => canChange(s) && s.note.note !== null && anyLocked(s.note.note.ink));
  const readsText = useAppSelector((s) => s.tools.text);
  const listens = useAppSelector((s) => s.note.mode === 'listen' && s.note.note !== null && lengthOf(s.note.note.header) > 0);
  const changeable = useAppSelector(canChange);
  const isReadOnly = useAppSelector((s) => s.note.note?.header.readOnly === true);
  const canLock = useAppSelector((s) => s.recording.state === 'idle' && !s.note.following && s.note.newer === null);
  const middle = () => surface.current?.middle()?.page ?? null;
  /** What the menu offers besides while the note is open. */
  const extra = [
    ...(changeable
      ? [
          {
            name: 'Paper',
            press: () => {
              setPaperOf(middle());
              dispatch(toolsSlice.actions.set({ sheet: 'paper' }));
            },
          },
          { name: 'Bring in', press: () => dispatch(askToBring({ into: id, at: surface.current?.middle() ?? null, folder: null })) },
          { name: 'Bookmark this page', press: () => void (middle() && dispatch(bookmark(middle()!))) },
        ]
      : []),
    { name: 'Show text', press: () => dispatch(toolsSlice.actions.set({ sheet: 'text' })) },
    { name: 'Beside', press: () => setChoosing(true) },
    ...(pair ? [{ name: 'The last pair', press: () => dispatch(reopenPair(go)) }] : []),
    ...(hasLocked ? [{ name: 'Let locked things go', press: () => void (middle() && dispatch(unlockAll(middle()!))) }] : []),
    ...(isPrinted
      ? [
          { name: 'Find in the PDF', press: () => dispatch(toolsSlice.actions.set({ sheet: 'find' })) },
          { name: readsText ? 'Leave the text alone' : 'Select text of the PDF', press: () => dispatch(toolsSlice.actions.set({ text: !readsText, sheet: 'none' })) },
        ]
      : []),
    ...(canLock ? [{ name: isReadOnly ? 'Let it be changed' : 'Keep from being changed', press: () => void dispatch(setReadOnly(!isReadOnly)) }] : []),
  ];

  useEffect(() => {
    if (id && !elsewhere) void dispatch(openNote(id));
  }, [dispatch, id, elsewhere]);
  useEffect(() => {
    if (id && locked && unlocked) void dispatch(openNote(id));
  }, [dispatch, id, locked, unlocked]);
  useEffect(
    () => () => {
      dispatch(flushAll());
      // Elsewhere nothing could stop it.
      dispatch(pausePlaying());
    },
    [dispatch],
  );
  useNoteKeys();
  useEffect(() => onMediaKeys({ play: () => inHand().dispatch(play()), pause: () => inHand().dispatch(pausePlaying()), skip: (by) => inHand().dispatch(skip(by)) }), []);

  const [from] = useState(() => ({ ...lastTab }));
  const back = () => router.replace(from.path as Href);
  const open = status === 'open' && openId === id;
  // Back folds away what lies over the page before it leaves it; dialogs see to that themselves.
  const folded = sheet !== 'pens' && sheet !== 'more' && sheet !== 'lists';
  useEffect(() => (folded ? undefined : backCloses(() => dispatch(toolsSlice.actions.set({ sheet: 'none' })))), [dispatch, folded]);

  return (
    <View role="main" style={[styles.all, side && styles.beside, { backgroundColor: colors.background }]}>
      <SkipLinks links={SKIPS} />
      <View style={styles.all}>
      <View style={[styles.top, { borderColor: colors.outlineVariant }]}>
        <IconButton icon="back" aria-label={`Back to ${from.name}`} onPress={back} style={styles.icon} />
        {open ? <Title title={title} locked={following || readOnly} /> : <View style={styles.title} />}
        {open && <PagesButton />}
        {open && <ZoomButton />}
        {open && <DeckButton name="What to do with this note" icon="more" onPress={() => setAsked({ kind: 'note', ids: [id] })} />}
        <JobsButton />
        {open && <SaveState />}
      </View>
      <NoteTabs id={id} go={go} onLast={back} />
      {elsewhere ? (
        <Centered>
          <Text style={styles.centered}>A recording is running in another note. Stop it, and this note opens.</Text>
          <Button mode="contained" buttonColor={colors.error} onPress={() => void dispatch(stopRecording())}>
            Stop recording
          </Button>
          <Button onPress={() => router.replace(`/note/${recordingIn}`)}>Return to the recording</Button>
        </Centered>
      ) : status === 'failed' && locked ? (
        <Centered>
          <Icon name="lock" size={40} color={colors.primary} />
          <Text variant="titleLarge">This note is locked</Text>
          <Text style={styles.centered}>Its ink and sound are sealed on this device until the passphrase is given.</Text>
          <Button mode="contained" onPress={() => dispatch(ask({ kind: 'unlock' }))}>
            Unlock
          </Button>
          <Button onPress={back}>{`Back to ${from.name}`}</Button>
        </Centered>
      ) : status === 'failed' ? (
        <Centered>
          <Icon name="warning" size={32} color={colors.error} />
          <Text style={styles.centered}>{failure === null ? null : `${failure}.`}</Text>
          <Button mode="contained" onPress={back}>
            {`Back to ${from.name}`}
          </Button>
        </Centered>
      ) : !open ? (
        <Centered>
          <ActivityIndicator />
          <Text>Opening the note …</Text>
        </Centered>
      ) : (
        <>
          <View style={[styles.middle, source !== null && !wide && !side && styles.stacked]}>
            {source !== null && (
              <>
                <View style={{ flexBasis: 0, flexGrow: share, minWidth: 0, minHeight: 0 }}>
                  <Source key={source} id={source} onStore={setSourceStore} onWeb={setWeb} go={go} />
                </View>
                <Border upright={wide || side} />
              </>
            )}
            {wide && source === null && <PagesPanel goTo={(i) => surface.current?.goToPage(i)} />}
            <View style={[styles.pages, source !== null && { flexBasis: 0, flexGrow: 1 - share }]}>
              <NotePane hand="note" surface={surface} paperOf={paperOf} onZoom={zoomed} onPage={(page) => pageShown.set(page)} onWeb={setWeb} go={go} />
            </View>
            {wide && source === null && <ListPanel places={places} />}
          </View>
          {sheet === 'pages' && (
            <PagesOverview
              goTo={(i) => surface.current?.goToPage(i)}
              showPlace={places.showPlace}
              goNote={go}
              onWeb={setWeb}
              onPaper={(page) => {
                setPaperOf(page);
                dispatch(toolsSlice.actions.set({ sheet: 'paper' }));
              }}
            />
          )}
          {side && listens && <TimelineRow />}
          {!side && <HandDeck source={sourceStore} />}
          {choosing && (
            <NoteChooser
              title="Beside this note"
              verb="Put beside:"
              onDismiss={() => setChoosing(false)}
              onChoose={(note) => {
                setChoosing(false);
                dispatch(putBeside(note));
              }}
            />
          )}
          {web && <ToTheWeb url={web} onDone={() => setWeb(null)} />}
          <NoteDialogs
            asked={asked}
            onAsk={setAsked}
            onDone={() => undefined}
            extra={extra}
          />
        </>
      )}
      </View>
      {side && open && !elsewhere && <HandDeck source={sourceStore} />}
    </View>
  );
}

const zoomed = (percent: number, fit: boolean): void => zoomShown.set({ percent, fit });

/** The deck of the side that is in hand. */
function HandDeck({ source }: { source: Store | null }) {
  const taken = useAppSelector((s) => s.beside.hand === 'source');
  if (!source || !taken) return <Deck />;
  return (
    <Provider store={source}>
      <SourceDeck />
    </Provider>
  );
}

/** While the source is on its way the deck stays the note's. */
function SourceDeck() {
  const open = useAppSelector((s) => s.note.status === 'open');
  return open ? (
    <View role="group" aria-label="Tools of the source">
      <Deck />
    </View>
  ) : (
    <OfNote>
      <Deck />
    </OfNote>
  );
}

/** An address that a page names is opened on wish alone: it tells somebody that it was asked for. */
function ToTheWeb({ url, onDone }: { url: string; onDone: () => void }) {
  return (
    <Dialog onDismiss={onDone}>
      <Dialog.Title>Open on the web?</Dialog.Title>
      <Dialog.Content>
        <Text selectable>{url}</Text>
      </Dialog.Content>
      <Dialog.Actions>
        <Button onPress={onDone}>Stay here</Button>
        <Button
          onPress={() => {
            openAddress(url);
            onDone();
          }}
        >
          Open
        </Button>
      </Dialog.Actions>
    </Dialog>
  );
}

/** Which page is in sight, of how many; all of them, their bookmarks and headings are behind it. */
function PagesButton() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const on = useAppSelector((s) => s.tools.sheet === 'pages');
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const at = useLive(pageShown);
  const number = Math.max(0, pages.findIndex((p) => p.id === at)) + 1;
  return (
    <DeckButton name={`Pages, ${number} / ${pages.length} in sight`} toggles on={on} onPress={() => dispatch(toolsSlice.actions.set({ sheet: on ? 'none' : 'pages' }))}>
      <Icon name="pages" size={18} color={on ? colors.onSecondary : colors.onSurfaceVariant} />
      <Text {...data({ testid: 'page-place' })} style={{ color: on ? colors.onSecondary : colors.onSurfaceVariant, fontSize: rowPx(14), fontVariant: ['tabular-nums'] }}>
        {number} / {pages.length}
      </Text>
    </DeckButton>
  );
}

function ZoomButton() {
  const dispatch = useAppDispatch();
  const on = useAppSelector((s) => s.tools.sheet === 'zoom');
  const locked = useAppSelector((s) => s.settings.zoomLocked);
  const { percent } = useLive(zoomShown);
  const { colors } = useTheme();
  const color = on ? colors.onSecondary : colors.onSurfaceVariant;
  return (
    <DeckButton name={`Zoom, ${percent} %`} toggles on={on} onPress={() => dispatch(toolsSlice.actions.set({ sheet: on ? 'none' : 'zoom' }))}>
      {locked && <Icon name="pin" size={14} color={color} />}
      <Text {...data({ testid: 'zoom-value' })} style={{ color, fontSize: rowPx(14), fontVariant: ['tabular-nums'] }}>
        {percent} %
      </Text>
    </DeckButton>
  );
}

function Centered({ children }: { children: React.ReactNode }) {
  return <View style={styles.center}>{children}</View>;
}

function Title({ title, locked }: { title: string; locked: boolean }) {
  const dispatch = useAppDispatch();
  const [draft, setDraft] = useState<string | null>(null);
  const done = () => {
    const next = draft?.trim();
    if (next && next !== title) dispatch(change({ rows: [put('note', 'title', { value: next.slice(0, 200) })] }));
    setDraft(null);
  };
  const offer = useAppSelector((s) => (draft === null ? null : selectTitleOffer(s)));
  if (draft !== null) {
    return (
      <View style={styles.title}>
        <TextInput
          mode="outlined"
          dense
          autoFocus
          selectTextOnFocus
          accessibilityLabel="Title of the note"
          value={draft}
          onChangeText={setDraft}
          onBlur={done}
          onSubmitEditing={done}
          onKeyPress={(e) => e.nativeEvent.key === 'Escape' && setDraft(null)}
        />
        {offer && offer !== draft && (
          // The field keeps the keys while it is pressed: leaving it would end the naming.
          <button type="button" className="title-offer" onPointerDown={(e) => e.preventDefault()} onMouseDown={(e) => e.preventDefault()} onClick={() => setDraft(offer)}>
            Call it “{offer}”
          </button>
        )}
      </View>
    );
  }
  return (
    <View role="heading" aria-level={1} style={styles.title}>
      <TouchableRipple role="button" aria-label={`Rename ${title}`} disabled={locked} onPress={() => setDraft(title)} style={styles.titleTouch}>
        <Text variant="titleLarge" numberOfLines={1} style={styles.titleText}>
          {title}
        </Text>
      </TouchableRipple>
    </View>
  );
}

const SAVE = { saved: { icon: 'saved', text: 'Saved' }, saving: { icon: 'saving', text: 'Saving' }, failed: { icon: 'warning', text: 'Not saved' } } as const;

function SaveState() {
  const { colors } = useTheme();
  const note = useAppSelector((s) => s.note.save);
  const trouble = useAppSelector((s) => s.recording.soundFailed);
  const following = useAppSelector((s) => s.note.following);
  const state = trouble ? 'failed' : note;
  const { wide } = useRoom();
  const { icon, text } = SAVE[state];
  const color = state === 'failed' ? colors.error : colors.onSurfaceVariant;
  return (
    <View {...data({ testid: 'save-state', state })} role="status" style={styles.save}>
      {following ? (
        <Text variant="labelMedium">Following</Text>
      ) : (
        <>
          <Icon name={icon} size={18} color={color} />
          <Text variant="labelMedium" style={wide || state === 'failed' ? { color } : styles.unseen}>
            {text}
          </Text>
        </>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, minWidth: 0, minHeight: 0 },
  beside: { flexDirection: 'row' },
  top: { flexDirection: 'row', alignItems: 'center', borderBottomWidth: 1, paddingRight: 8, minHeight: 48, zIndex: 5 },
  icon: { margin: 0, width: 44, height: 44 },
  title: { flex: 1, minWidth: 0 },
  titleTouch: { minHeight: 44, justifyContent: 'center', borderRadius: 8, paddingHorizontal: 4 },
  titleText: { fontSize: rowPx(18) },
  // There for a screen reader; on a phone the sign says it.
  unseen: { position: 'absolute', width: 1, height: 1, overflow: 'hidden', opacity: 0 },
  save: { flexDirection: 'row', gap: 4, alignItems: 'center', marginLeft: 2 },
  middle: { flex: 1, flexDirection: 'row', minHeight: 0 },
  pages: { flex: 1, minWidth: 0, minHeight: 0 },
  stacked: { flexDirection: 'column' },
  center: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 16, padding: 24 },
  centered: { textAlign: 'center', maxWidth: 420 },
});
