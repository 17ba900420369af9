/** What lies on the pages besides ink, in its order: a touch away, taken hold of without a pointer, sticky notes folded and opened, tables gone into. */
import { useMemo, useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import type { Box } from '../../../core/ink/stroke';
import { unionBox } from '../../../core/ink/stroke';
import { heldBy, placesOf } from '../../../core/note/links';
import { coveredBy, isLocked, withGroups, type Placed } from '../../../core/note/kinds/kinds';
import type { Picture } from '../../../core/note/kinds/picture';
import { slipOutline, type Slip } from '../../../core/note/kinds/slip';
import { SOLID_WORDS } from '../../../core/note/kinds/names';
import { axesText, type Axes } from '../../../core/note/kinds/axes';
import type { Solid } from '../../../core/note/kinds/solid';
import type { Table } from '../../../core/note/kinds/table';
import type { Typed } from '../../../core/note/kinds/typed';
import { textsOf } from '../../../core/note/tableEdits';
import { clockText } from '../../../core/time/format';
import { toTimeline } from '../../../core/time/timeline';
import { foldSlips } from '../../../store/slips';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { followRef, leadingHere, refText, notesOf, unlink } from '../../../store/refs';
import { openTable } from '../../../store/tables';
import { hold } from '../../../store/tools';
import { InkPicture } from '../../../ui/InkPicture';
import { Select } from '../../../ui/Select';
import { Entry } from '../../../ui/Entry';

const NAMES = { slip: 'Sticky note', table: 'Table', picture: 'Picture', solid: 'Solid', axes: 'Axes', typed: 'Typed text' } as const;
type Kind = keyof typeof NAMES;
const KINDS = Object.keys(NAMES) as Kind[];

interface Thing {
  readonly kind: Kind;
  /** The first of it: a text has many lines. */
  readonly it: Slip | Table | Picture | Solid | Axes | Typed;
  readonly all: readonly Placed[];
  readonly page: number;
  /** As it is when it is open. */
  readonly placed: readonly Placed[];
  readonly box: Box;
  readonly text: string;
}

function thingOf(it: Slip | Table | Picture | Solid | Axes | Typed, list: readonly Placed[], page: number): Thing {
  if (it.kind === 'typed') {
    const all = list.filter((p): p is Typed => p.kind === 'typed' && p.flow === it.flow).sort((a, b) => a.n - b.n);
    return { kind: 'typed', it, all, page, placed: all, box: all.map((p) => p.box).reduce(unionBox), text: all.map((p) => p.text).join(' ') };
  }
  const all = withGroups<Placed>([it], list);
  if (it.kind !== 'slip') return { kind: it.kind, it, all, page, placed: all, box: it.box, text: it.kind === 'table' ? textsOf(it).map((row) => row.filter(Boolean).join(', ')).join('; ') : it.kind === 'solid' ? SOLID_WORDS[it.solid] : it.kind === 'axes' ? axesText(it) : (it.text ?? it.name ?? '') };
  const { folded: _, ...open } = it;
  const corners = slipOutline(open);
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return { kind: 'slip', it, all, page, placed: all.map((p) => (p === it ? (Object.freeze(open) as Slip) : p)), box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)], text: all.flatMap((p) => (p.kind === 'typed' && p.text ? [p.text] : [])).join(' ') };
}

function useThings(): Thing[] {
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const ink = useAppSelector((s) => s.note.note!.ink);
  return useMemo(
    () =>
      pages.flatMap(({ id }, i) => {
        const list = ink[id] ?? [];
        const flows = new Set<string>();
        const found = list.filter((it): it is Slip | Table | Picture | Solid | Axes | Typed => {
          if (it.kind === 'slip' || it.kind === 'table' || it.kind === 'picture' || it.kind === 'solid' || it.kind === 'axes') return true;
          // What is typed on a sticky note is read with it.
          if (it.kind !== 'typed' || it.on !== undefined || flows.has(it.flow)) return false;
          flows.add(it.flow);
          return true;
        });
        return found.sort((a, b) => a.box[1] - b.box[1] || a.box[0] - b.box[0]).map((it) => thingOf(it, list, i + 1));
      }),
    [pages, ink],
  );
}

interface ThingsProps {
  readonly writes: boolean;
  /** Shows a place of a page. */
  readonly onOpen: (page: string, box: Box) => void;
  /** Opens another note, and an address of the web. */
  readonly go: (note: string) => void;
  readonly onWeb: (url: string) => void;
}

/** Where the note leads, and which notes lead here. */
function Links({ writes, onOpen, go, onWeb }: ThingsProps) {
  const dispatch = useAppDispatch();
  const note = useAppSelector((s) => s.note.note!);
  const headers = useAppSelector((s) => s.library.headers);
  const titles = useMemo(() => notesOf({ library: { headers } }), [headers]);
  const here = useAppSelector(leadingHere, (a, b) => JSON.stringify(a) === JSON.stringify(b));
  const { refs = [], pages } = note.header;
  return (
    <>
      {refs.length > 0 && (
        <>
          <Text variant="titleMedium" role="heading" aria-level={3}>
            Links
          </Text>
          <View role="list" aria-label="Links" style={styles.list}>
            {refs.map((ref) => {
              const { text, broken } = refText(ref, note.header, titles);
              const page = pages.findIndex((p) => heldBy(ref, note.ink[p.id] ?? []).length > 0);
              const placed = page < 0 ? [] : heldBy(ref, note.ink[pages[page].id]).map((h) => h.placed);
              const box = placesOf(ref, placed)[0];
              if (!box) return null;
              return (
                <Entry
                  key={ref.id}
                  label={`Link on page ${page + 1} to ${text}: show it`}
                  onPress={() => onOpen(pages[page].id, box)}
                  actions={
                    <>
                      <Button compact disabled={broken !== null} accessibilityLabel={`Follow the link to ${text}`} onPress={() => dispatch(followRef(ref, go, onWeb))}>
                        Follow
                      </Button>
                      {writes && (
                        <Button compact accessibilityLabel={`Remove the link to ${text}`} onPress={() => dispatch(unlink(ref))}>
                          Remove
                        </Button>
                      )}
                    </>
                  }
                >
                  <InkPicture placed={placed} box={box} width={120} height={44} />
                  <View style={styles.words}>
                    <Text variant="bodyMedium" numberOfLines={2}>
                      {broken ?? `to ${text}`}
                    </Text>
                    <Text variant="bodySmall">page {page + 1}</Text>
                  </View>
                </Entry>
              );
            })}
          </View>
        </>
      )}
      {here.length > 0 && (
        <>
          <Text variant="titleMedium" role="heading" aria-level={3}>
            What links here
          </Text>
          <View role="list" aria-label="What links here" style={styles.list}>
            {here.map(({ id, title, count }) => (
              <Entry key={id} label={`“${title}” links here${count > 1 ? ` ${count} times` : ''}: open it`} onPress={() => go(id)}>
                <Text>
                  {title || 'Note'}
                  {count > 1 ? ` · ${count} links` : ''}
                </Text>
              </Entry>
            ))}
          </View>
        </>
      )}
    </>
  );
}

export function Things({ writes, onOpen, go, onWeb }: ThingsProps) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const things = useThings();
  const [only, setOnly] = useState<Kind | 'all'>('all');
  const there = KINDS.filter((k) => things.some((t) => t.kind === k));
  const shown = things.filter((t) => only === 'all' || t.kind === only);
  return (
    <ScrollView contentContainerStyle={styles.list}>
      {there.length > 1 && <Select label="Show" value={only} options={[{ value: 'all' as const, text: 'all' }, ...there.map((value) => ({ value, text: NAMES[value] }))]} onChange={setOnly} />}
      <View role="list" aria-label="Things on the pages" style={styles.list}>
        {shown.map(({ kind, it, all, page, placed, box, text }) => {
          const ms = toTimeline(timeline, it.stamp);
          const when = ms === null ? new Date(it.wall).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }) : clockText(ms);
          const name = `${NAMES[kind]}${text ? ` “${text.length > 40 ? `${text.slice(0, 39)}…` : text}”` : ''} on page ${page}`;
          const go = () => onOpen(it.page, coveredBy(it));
          return (
            <Entry
              key={it.id}
              label={`${NAMES[kind]} on page ${page}${text ? `, ${text.slice(0, 200)}` : ''}: show it`}
              onPress={go}
              actions={
                writes && (
                  <>
                    {!isLocked(it) && (
                      <Button
                        compact
                        accessibilityLabel={`Take hold of ${name}`}
                        onPress={() => {
                          go();
                          dispatch(hold(it.page, all));
                        }}
                      >
                        Take hold
                      </Button>
                    )}
                    {it.kind === 'table' && (
                      <Button
                        compact
                        accessibilityLabel={`Type into ${name}`}
                        onPress={() => {
                          go();
                          dispatch(openTable(it));
                        }}
                      >
                        Type into it
                      </Button>
                    )}
                    {it.kind === 'slip' && (
                      <Button compact accessibilityLabel={`${it.folded ? 'Unfold' : 'Fold'} ${name}`} onPress={() => dispatch(foldSlips([it], !it.folded))}>
                        {it.folded ? 'Unfold' : 'Fold'}
                      </Button>
                    )}
                  </>
                )
              }
            >
              <InkPicture placed={placed} box={box} width={120} height={84} />
              <View style={styles.words}>
                <Text variant="labelLarge">{NAMES[kind]}</Text>
                {text !== '' && (
                  <Text variant="bodySmall" numberOfLines={2}>
                    {text}
                  </Text>
                )}
                <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
                  page {page} · {when}
                </Text>
              </View>
            </Entry>
          );
        })}
      </View>
      <Links writes={writes} onOpen={onOpen} go={go} onWeb={onWeb} />
      {things.length === 0 && <Text style={styles.empty}>Nothing but ink yet. “Add” puts sticky notes, tables and typed text onto the page; with the lasso, “Onto a slip” makes a sticky note of what is taken hold of.</Text>}
    </ScrollView>
  );
}

const styles = StyleSheet.create({ list: { gap: 8, padding: 6 }, empty: { padding: 12 }, words: { flex: 1, minWidth: 0 } });
