/** All notes: folders in folders, a list or page pictures, search, several at once, the archive and the bin. */
import { useRouter, type Href } from 'expo-router';
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { FlatList, StyleSheet, useWindowDimensions, View } from 'react-native';
import { ActivityIndicator, Button, IconButton, Searchbar, Text, useTheme } from 'react-native-paper';
import { tinykeys } from 'tinykeys';
import { HIDDEN_TITLE } from '../../core/formats/archive';
import { NO_FILTER, passes, search, searchTexts, SORTS, sorted, type Sort } from '../../core/library/find';
import { daysLeft, foldersIn, pathTo, type Folder } from '../../core/library/folder';
import type { NoteSummary } from '../../core/note/schema';
import type { Cover } from '../../core/vault/vault';
import { beginNote } from '../../store/beginNote';
import { askToBring } from '../../store/bringing';
import { moveNotes, putFolder, undoFiling } from '../../store/filing';
import { ask } from '../../store/lockState';
import { messagesSlice, settingsSlice } from '../../store/slices';
import { store, useAppDispatch, useAppSelector } from '../../store/store';
import { Choice } from '../../ui/Choice';
import { Select } from '../../ui/Select';
import { textPx } from '../../ui/textScale';
import { WIDE } from '../../ui/theme';
import { FolderRow } from './FolderRow';
import { TextHits } from './TextHits';
import { FolderTree } from './FolderTree';
import type { Where } from './where';
import type { Asked } from '../filing/asked';
import { NoteDialogs } from '../filing/NoteDialogs';
import { LibraryNote } from './LibraryNote';
import { LockedNote } from './LockedNote';
import { SearchFilter } from './SearchFilter';
import { SelectionBar } from './SelectionBar';

/** A note, or the cover of one that is locked. */
type Listed = NoteSummary | { readonly cover: Cover; readonly id: string; readonly title: string; readonly made: number; readonly changed: number };

/** Where one was in the Library, and what was searched: a note that was opened from there comes back to it. */
const lastSeen: { where: Where; query: string } = { where: { kind: 'folder', folder: null }, query: '' };

const SORT_WORDS: Readonly<Record<Sort, string>> = { name: 'Name', made: 'Made', changed: 'Changed' };
const ROW_PX = textPx(92) + 10;
const CARD_PX = { least: 164, wide: 220, text: textPx(84) };
const NOBODY: readonly string[] = [];
const leftWords = (days: number): string => (days === 0 ? 'goes within days' : `${days} ${days === 1 ? 'day' : 'days'} left`);

export function LibraryScreen() {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const { status, headers, folders, places, covers } = useAppSelector((s) => s.library);
  const lockOpen = useAppSelector((s) => s.lock.status === 'open');
  const { colors } = useTheme();
  const { libraryView: view, librarySort: sort } = useAppSelector((s) => s.settings);
  const [where, setWhere] = useState<Where>(() => lastSeen.where);
  const [query, setQuery] = useState(() => lastSeen.query);
  useEffect(() => {
    lastSeen.where = where;
    lastSeen.query = query;
  }, [where, query]);
  const recording = useAppSelector((s) => s.recording.state !== 'idle');
  const [chosen, setChosen] = useState<readonly string[] | null>(null);
  const [now] = useState(() => Date.now());
  const [asked, setAsked] = useState<Asked | null>(null);
  const patch = (p: Parameters<typeof settingsSlice.actions.patched>[0]) => void dispatch(settingsSlice.actions.patched(p));

  const texts = useMemo(() => searchTexts(headers, folders, places), [headers, folders, places]);
  const wanted = useDeferredValue(query);
  const hits = useMemo(() => search(texts, wanted), [texts, wanted]);
  const [filter, setFilter] = useState(NO_FILTER);
  const listed = useMemo(() => {
    const folderHere = where.kind === 'folder' ? where.folder : null;
    const here = (h: NoteSummary): boolean => {
      const place = places[h.id];
      if (where.kind === 'bin') return Boolean(place?.binned);
      if (place?.binned) return false;
      if (where.kind === 'archive') return Boolean(place?.archived);
      // A search goes through everything but the bin; the archive is there to be found in.
      if (hits) return passes(h, filter, folders, places, now);
      if (place?.archived) return false;
      return where.kind === 'all' || (place?.folder && folders.has(place.folder) ? place.folder : null) === folderHere;
    };
    const found: Listed[] = headers.filter((h) => (!hits || hits.has(h.id)) && here(h));
    // A search does not find what is locked.
    const shut = hits || lockOpen ? [] : Object.values(covers).filter((c) => (where.kind === 'bin' ? c.binned : !c.binned && (where.kind === 'archive' ? c.archived : !c.archived && (where.kind === 'all' || (c.folder && folders.has(c.folder) ? c.folder : null) === folderHere))));
    return sorted([...found, ...shut.map((cover) => ({ cover, id: cover.id, title: cover.title ?? HIDDEN_TITLE, made: cover.made, changed: cover.changed }))], sort);
  }, [headers, places, folders, where, hits, filter, now, sort, covers, lockOpen]);
  const counts = useMemo(() => {
    const by = new Map<string, number>();
    let [archive, bin] = [0, 0];
    for (const h of headers) {
      const place = places[h.id];
      if (place?.binned) bin++;
      else if (place?.archived) archive++;
      else for (const f of pathTo(folders, place?.folder ?? null)) by.set(f.id, (by.get(f.id) ?? 0) + 1);
    }
    return { by, archive, bin };
  }, [headers, places, folders]);

  // What lies in the bin is not looked through, except in the bin.
  const searched = useMemo(() => headers.filter((h) => Boolean(places[h.id]?.binned) === (where.kind === 'bin') && passes(h, filter, folders, places, now)), [headers, places, where.kind, filter, folders, now]);
  const at = where.kind === 'folder' ? where.folder : null;
  const inner: Folder[] = where.kind === 'folder' && !hits ? foldersIn(folders, at) : [];
  const path = pathTo(folders, at);
  const go = (to: Where) => {
    setWhere(to);
    setQuery('');
    setChosen(null);
  };
  const dropped = useCallback((notes: readonly string[], folder: string | null) => void dispatch(moveNotes(notes, folder)), [dispatch]);
  const folderDropped = (id: string, parent: string | null) => {
    const f = store.getState().library.folders.get(id);
    if (f && id !== parent) void dispatch(putFolder({ ...f, parent }, id));
  };
  const room = (wide ? width - 104 - 250 : width) - 40;
  const columns = view === 'pictures' ? Math.max(2, Math.floor(room / (wide ? CARD_PX.wide : CARD_PX.least))) : 1;
  const cardHigh = (room / columns - 22) / 0.86 + CARD_PX.text;
  const ids = chosen ?? NOBODY;
  const choose = useCallback((id: string) => setChosen((c) => (c?.includes(id) ? c.filter((x) => x !== id) : [...(c ?? []), id])), []);
  const open = useCallback((id: string) => router.push(`/note/${id}`), [router]);
  const openLocked = useCallback(
    (id: string) => {
      router.push(`/note/${id}`);
      dispatch(ask({ kind: 'unlock' }));
    },
    [router, dispatch],
  );
  const begin = (kind: 'recorded' | 'written') => void dispatch(beginNote(kind, (path) => router.push(path as Href), at));
  const more = useCallback((id: string) => setAsked({ kind: 'note', ids: [id] }), []);
  const selecting = chosen !== null;
  // What is asked of a note goes from the screen with it.
  const [askedWhile, setAskedWhile] = useState(lockOpen);
  if (askedWhile !== lockOpen) {
    setAskedWhile(lockOpen);
    setAsked(null);
  }
  // The last step of filing is taken back by the key too.
  useEffect(
    () =>
      tinykeys(window, {
        '$mod+z': (e) => {
          const el = e.target as HTMLElement;
          if (el.tagName === 'INPUT' || document.querySelector('dialog:modal')) return;
          e.preventDefault();
          void dispatch(undoFiling());
        },
      }),
    [dispatch],
  );
  // What was done here is told here, and not after one has gone elsewhere.
  useEffect(() => () => void dispatch(messagesSlice.actions.dismissed('filing')), [dispatch]);

  const head = (
    <View style={styles.head}>
      {where.kind === 'folder' && path.length > 0 && !hits && (
        <View role="navigation" aria-label="Path" style={styles.row}>
          <Button compact onPress={() => go({ kind: 'folder', folder: null })}>
            Library
          </Button>
          {path.map((f, i) => (
            <View key={f.id} style={styles.row}>
              <Text aria-hidden>/</Text>
              <Button compact disabled={i === path.length - 1} onPress={() => go({ kind: 'folder', folder: f.id })}>
                {f.name}
              </Button>
            </View>
          ))}
        </View>
      )}
      {!wide &&
        inner.map((f) => (
          <FolderRow key={f.id} folder={f} count={counts.by.get(f.id) ?? 0} onOpen={() => go({ kind: 'folder', folder: f.id })} onMore={() => setAsked({ kind: 'folder', folder: f.id })} onNotes={(notes) => dropped(notes, f.id)} onFolder={(id) => folderDropped(id, f.id)} />
        ))}
    </View>
  );

  return (
    <View style={styles.screen}>
      {wide && <FolderTree where={where} counts={counts} go={go} onMore={(folder) => setAsked({ kind: 'folder', folder })} onNew={() => setAsked({ kind: 'new-folder', parent: at })} onNotes={dropped} onFolder={folderDropped} />}
      <View style={styles.all}>
        <View style={styles.row}>
          <Text variant="headlineMedium" role="heading" aria-level={1} style={styles.title} numberOfLines={1}>
            {where.kind === 'archive' ? 'Archive' : where.kind === 'bin' ? 'Bin' : (path.at(-1)?.name ?? 'Library')}
          </Text>
          <IconButton icon={view === 'list' ? 'pictures' : 'list'} aria-label={view === 'list' ? 'Show page pictures' : 'Show a list'} onPress={() => patch({ libraryView: view === 'list' ? 'pictures' : 'list' })} style={styles.icon} />
          <Select label="Sort by" value={sort} options={SORTS.map((value) => ({ value, text: SORT_WORDS[value] }))} onChange={(librarySort) => patch({ librarySort })} />
        </View>
        <Searchbar accessibilityRole={undefined} value={query} onChangeText={setQuery} placeholder="Search library" accessibilityLabel="Search library" icon="search" clearIcon="close" />
        {hits && <SearchFilter filter={filter} onChange={setFilter} folders={folders} places={places} />}
        {!wide && (
          <View style={styles.row} role="tablist" aria-label="What is listed">
            {([['folder', 'Folders'], ['all', 'All notes'], ['archive', `Archive ${counts.archive || ''}`], ['bin', `Bin ${counts.bin || ''}`]] as const).map(([kind, name]) => (
              <Choice key={kind} role="tab" name={name.trim()} on={where.kind === kind} onPress={() => go(kind === 'folder' ? { kind, folder: null } : { kind })} />
            ))}
          </View>
        )}
        <View style={styles.row}>
          <Text variant="bodySmall" style={styles.grow} role="status">
            {hits ? (listed.length ? `${listed.length} found` : `No title, folder, tag or mark matches “${query.trim()}”.`) : `${listed.length} ${listed.length === 1 ? 'note' : 'notes'}`}
          </Text>
          {where.kind === 'folder' && !hits && (
            <>
              <Button compact icon="record" textColor={colors.error} disabled={recording} onPress={() => begin('recorded')} accessibilityLabel={at === null ? 'Record a new note' : 'Record a new note in this folder'}>
                Record
              </Button>
              <Button compact icon="pen" disabled={recording} onPress={() => begin('written')} accessibilityLabel={at === null ? 'Write a new note' : 'Write a new note in this folder'}>
                Write
              </Button>
            </>
          )}
          {where.kind === 'folder' && !hits && <IconButton icon="bringIn" aria-label={at === null ? 'Bring in' : 'Bring in to this folder'} onPress={() => dispatch(askToBring({ into: null, at: null, folder: at }))} style={styles.icon} />}
          {!wide && where.kind === 'folder' && !hits && (
            <IconButton icon="newFolder" aria-label="New folder" onPress={() => setAsked({ kind: 'new-folder', parent: at })} style={styles.icon} />
          )}
          {where.kind === 'bin' && listed.length > 0 && (
            <Button compact icon="trash" onPress={() => setAsked({ kind: 'empty-bin' })}>
              Empty the bin
            </Button>
          )}
          {listed.length > 0 && (
            <Button compact onPress={() => setChosen(selecting ? null : [])}>
              {selecting ? 'Done' : 'Select'}
            </Button>
          )}
        </View>
        {where.kind === 'bin' && <Text variant="bodySmall">Notes in the bin are kept for 30 days at least and then deleted for good.</Text>}
        {status === 'loading' ? (
          <View style={styles.row} role="status">
            <ActivityIndicator />
            <Text>Opening your notes …</Text>
          </View>
        ) : (
          <FlatList
            key={`${view} ${columns}`}
            testID="library-list"
            style={styles.grow}
            data={listed}
            numColumns={columns}
            keyExtractor={(h) => h.id}
            ListHeaderComponent={head}
            ListFooterComponent={hits ? <TextHits query={wanted} headers={searched} open={open} /> : null}
            contentContainerStyle={styles.list}
            initialNumToRender={view === 'list' ? 14 : 18}
            // A few rows at a time and often: a batch must fit into a frame.
            maxToRenderPerBatch={view === 'list' ? 2 : 1}
            updateCellsBatchingPeriod={16}
            windowSize={5}
            renderItem={({ item }) => (
              <View style={view === 'list' ? styles.cell : { width: `${100 / columns}%`, height: cardHigh, padding: 5 }}>
                {'cover' in item ? (
                  <LockedNote cover={item.cover} view={view} color={colors.onSurfaceVariant} onOpen={openLocked} />
                ) : (
                <LibraryNote
                  header={item}
                  locked={item.id in covers}
                  view={view}
                  place={places[item.id]}
                  below={where.kind === 'bin' && places[item.id] ? leftWords(daysLeft(places[item.id], now)) : hits || where.kind === 'all' ? pathTo(folders, places[item.id]?.folder ?? null).map((f) => f.name).join(' / ') || undefined : undefined}
                  selecting={selecting}
                  chosen={ids.includes(item.id)}
                  dragged={ids.includes(item.id) ? ids : undefined}
                  onOpen={open}
                  onChoose={choose}
                  onMore={more}
                />
                )}
              </View>
            )}
            ListEmptyComponent={hits ? null :
              <Text style={styles.empty}>
                {where.kind === 'bin' ? 'The bin is empty.' : where.kind === 'archive' ? 'Nothing is archived. A finished term can be put away here and stays to be found.' : inner.length ? 'No notes lie directly in here.' : headers.length ? 'No notes here yet.' : 'No notes yet. Press Record on Today to make the first.'}
              </Text>
            }
          />
        )}
        {selecting && <SelectionBar where={where.kind} ids={ids} all={listed.flatMap((h) => ('cover' in h ? [] : [h.id]))} onAll={setChosen} onAsk={setAsked} onDone={() => setChosen(null)} />}
      </View>
      <NoteDialogs asked={asked} onAsk={setAsked} onDone={() => setChosen(null)} onGo={(folder) => go({ kind: 'folder', folder })} />
    </View>
  );
}

const styles = StyleSheet.create({
  screen: { flex: 1, flexDirection: 'row', minHeight: 0 },
  all: { flex: 1, padding: 20, paddingBottom: 0, gap: 10, minWidth: 0 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6 },
  grow: { flex: 1 },
  // With large text what stands beside it goes to the next line.
  title: { flex: 1, minWidth: textPx(120) },
  icon: { margin: 0, width: 44, height: 44 },
  head: { gap: 4, paddingBottom: 6 },
  list: { paddingBottom: 20 },
  cell: { height: ROW_PX, paddingBottom: 10 },
  empty: { paddingVertical: 14 },
});
