/** Sticky notes of all pages in their order, each with what is on it: a touch away, and folded or opened from here. */
import { useMemo } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Button, Text, useTheme } from 'react-native-paper';
import type { Box } from '../../../core/ink/stroke';
import { coveredBy, withGroups, type Placed } from '../../../core/note/kinds/kinds';
import { slipOutline, type Slip } from '../../../core/note/kinds/slip';
import { clockText } from '../../../core/time/format';
import { toTimeline } from '../../../core/time/timeline';
import { foldSlips } from '../../../store/slips';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { InkPicture } from '../../../ui/InkPicture';
import { Entry } from '../lists/Entry';

interface Thing {
  readonly it: Slip;
  readonly page: number;
  /** As it is when it is open. */
  readonly placed: readonly Placed[];
  readonly box: Box;
  readonly text: string;
}

function useThings(): Thing[] {
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const ink = useAppSelector((s) => s.note.note!.ink);
  return useMemo(
    () =>
      pages.flatMap(({ id }, i) => {
        const list = ink[id] ?? [];
        const slips = list.filter((it): it is Slip => it.kind === 'slip').sort((a, b) => a.box[1] - b.box[1] || a.box[0] - b.box[0]);
        return slips.map((it): Thing => {
          const { folded: _, ...open } = it;
          const corners = slipOutline(open);
          const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
          const placed = withGroups([it], list).map((p) => (p === it ? (Object.freeze(open) as Slip) : p));
          return { it, page: i + 1, placed, box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)], text: placed.flatMap((p) => (p.kind === 'typed' && p.text ? [p.text] : [])).join(' ') };
        });
      }),
    [pages, ink],
  );
}

export function Things({ writes, onOpen }: { writes: boolean; onOpen: (page: string, box: Box) => void }) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const things = useThings();
  return (
    <ScrollView contentContainerStyle={styles.list}>
      <View role="list" aria-label="Sticky notes" style={styles.list}>
        {things.map(({ it, page, placed, box, text }) => {
          const ms = toTimeline(timeline, it.stamp);
          const when = ms === null ? new Date(it.wall).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }) : clockText(ms);
          return (
            <Entry
              key={it.id}
              label={`Sticky note on page ${page}${text ? `, ${text.slice(0, 80)}` : ''}: show it`}
              onPress={() => onOpen(it.page, coveredBy(it))}
              actions={
                writes && (
                  <Button compact accessibilityLabel={`${it.folded ? 'Unfold' : 'Fold'} the sticky note on page ${page}${text ? `, ${text.slice(0, 40)}` : ''}`} onPress={() => dispatch(foldSlips([it], !it.folded))}>
                    {it.folded ? 'Unfold' : 'Fold'}
                  </Button>
                )
              }
            >
              <InkPicture placed={placed} box={box} width={120} height={84} />
              <Text style={{ color: colors.onSurfaceVariant }}>
                page {page} · {when}
              </Text>
            </Entry>
          );
        })}
      </View>
      {things.length === 0 && <Text style={styles.empty}>No sticky notes yet. Add, Sticky note puts one into the middle of the page; with the lasso, “Onto a slip” makes one of what is taken hold of.</Text>}
    </ScrollView>
  );
}

const styles = StyleSheet.create({ list: { gap: 8, padding: 6 }, empty: { padding: 12 } });
