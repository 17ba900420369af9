/** What stands beside the page on a wide screen: pages on the left, lists on the right; each can be folded away. */
import { useEffect, useRef, useState } from 'react';
import { FlatList, ScrollView, StyleSheet, View } from 'react-native';
import { IconButton, Text, TouchableRipple, useTheme } from 'react-native-paper';
import type { Page } from '../../core/note/schema';
import { usePageBackdrop, usePlacedPictures } from '../../store/backdrops';
import { isTextSheet, settingsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { PaperPreview } from '../../ui/paper/PaperPreview';
import { useLive } from '../../ui/useLive';
import { Lists } from './lists/Lists';
import type { Places } from './lists/places';
import { pageShown } from './shown';
import { TextSheet } from './text/TextSheet';

const PICTURE = { width: 132, height: 168 };
const ITEM_PX = PICTURE.height + 36;
const NO_INK = [] as const;
/** A pen that rests so long lets the pictures be drawn anew, ms. */
const CALM_MS = 1200;

function useFolded(which: 'pages' | 'lists'): readonly [boolean, () => void] {
  const dispatch = useAppDispatch();
  const panels = useAppSelector((s) => s.settings.panels);
  return [!panels[which], () => void dispatch(settingsSlice.actions.patched({ panels: { ...panels, [which]: !panels[which] } }))];
}

export function PagesPanel({ goTo }: { goTo: (index: number) => void }) {
  const { colors } = useTheme();
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const [folded, fold] = useFolded('pages');
  const now = useLive(pageShown);
  const list = useRef<FlatList<Page>>(null);
  const at = pages.findIndex((p) => p.id === now);
  useEffect(() => {
    if (at >= 0) list.current?.scrollToIndex({ index: at, viewPosition: 0.4, animated: false });
  }, [at]);
  const border = { borderRightWidth: 1, borderColor: colors.outlineVariant };
  if (folded) return <Fold name="Show the pages" icon="forward" onPress={fold} style={[styles.folded, border]} />;
  return (
    <View role="region" aria-label="Pages of the note" style={[styles.panel, border]}>
      <View style={styles.head}>
        <Text variant="titleMedium" role="heading" aria-level={2} style={styles.grow}>
          Pages
        </Text>
        <Fold name="Fold the pages away" icon="back" onPress={fold} />
      </View>
      <FlatList
        ref={list}
        data={pages}
        keyExtractor={(p) => p.id}
        getItemLayout={(_, index) => ({ length: ITEM_PX, offset: ITEM_PX * index, index })}
        initialNumToRender={6}
        windowSize={5}
        renderItem={({ item, index }) => <PageItem page={item} number={index + 1} current={item.id === now} onPress={() => goTo(index)} />}
      />
    </View>
  );
}

/** What it was when it last rested: a picture is not drawn anew with every stroke. */
function useCalm<T>(value: T): T {
  const [calm, setCalm] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setCalm(() => value), CALM_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return calm;
}

function PageItem({ page, number, current, onPress }: { page: Page; number: number; current: boolean; onPress: () => void }) {
  const { colors } = useTheme();
  const ink = useCalm(useAppSelector((s) => s.note.note!.ink[page.id] ?? NO_INK));
  return (
    <TouchableRipple role="button" aria-label={`Go to page ${number}`} aria-current={current ? 'page' : undefined} onPress={onPress} borderless style={[styles.item, { borderColor: current ? colors.tertiary : 'transparent' }]}>
      <View style={styles.itemInner}>
        <PaperPreview form={page} placed={ink} backdrop={usePageBackdrop(page, PICTURE.width)} pictures={usePlacedPictures(ink, PICTURE.width / page.w)} width={PICTURE.width} height={PICTURE.height} label={`Picture of page ${number}`} />
        <Text variant="labelMedium" style={{ color: current ? colors.onSurface : colors.onSurfaceVariant, fontWeight: current ? '700' : '400' }}>
          {number}
        </Text>
      </View>
    </TouchableRipple>
  );
}

export function ListPanel({ places }: { places: Places }) {
  const { colors } = useTheme();
  const [folded, fold] = useFolded('lists');
  const text = useAppSelector((s) => isTextSheet(s.tools.sheet));
  if (text) return <TextSheet places={places} beside />;
  const border = { borderLeftWidth: 1, borderColor: colors.outlineVariant };
  if (folded) return <Fold name="Show the lists" icon="back" onPress={fold} style={[styles.folded, border]} />;
  return (
    <View role="region" aria-label="Lists of the note" style={[styles.panel, styles.lists, border]}>
      <View style={styles.head}>
        <View style={styles.grow} />
        <Fold name="Fold the lists away" icon="forward" onPress={fold} />
      </View>
      <ScrollView style={styles.grow} contentContainerStyle={styles.list}>
        <Lists places={places} />
      </ScrollView>
    </View>
  );
}

function Fold({ name, icon, onPress, style }: { name: string; icon: string; onPress: () => void; style?: React.ComponentProps<typeof View>['style'] }) {
  return (
    <View style={style}>
      <IconButton icon={icon} size={18} aria-label={name} onPress={onPress} style={styles.icon} />
    </View>
  );
}

const styles = StyleSheet.create({
  panel: { width: 168, flexGrow: 0, flexShrink: 0, minHeight: 0 },
  folded: { width: 34 },
  head: { flexDirection: 'row', alignItems: 'center', paddingLeft: 14, minHeight: 44 },
  grow: { flex: 1 },
  list: { paddingHorizontal: 14, paddingBottom: 14, gap: 8 },
  item: { height: ITEM_PX, marginHorizontal: 6, borderRadius: 10, borderWidth: 3 },
  itemInner: { alignItems: 'center', gap: 2, paddingTop: 4 },
  lists: { width: 276 },
  icon: { margin: 0, width: 34, height: 44 },
});
