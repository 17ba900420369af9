/** The paper of the page in sight, or of all pages, with the ink that stands on it. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, SegmentedButtons } from 'react-native-paper';
import type { Page, PageForm } from '../../../core/note/schema';
import { choosePicture, dropPicture, usePageBackdrop, usePlacedPictures } from '../../../store/backdrops';
import { makeBoard } from '../../../store/boards';
import { setPaper } from '../../../store/pages';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { PaperControls } from '../../../ui/paper/PaperControls';
import { PaperPreview } from '../../../ui/paper/PaperPreview';
import { Sheet } from './Sheet';

const NO_INK = [] as const;

export function PaperSheet({ page }: { page: string | null }) {
  const dispatch = useAppDispatch();
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  // Chosen when the sheet opens: the page must not change under the hand when the note moves.
  const [index] = useState(() => Math.max(0, pages.findIndex((p) => p.id === page)));
  const current = pages[Math.min(index, pages.length - 1)];
  const ink = useAppSelector((s) => s.note.note!.ink[current.id] ?? NO_INK);
  const [form, setForm] = useState<PageForm & Pick<Page, 'board'>>({ w: current.w, h: current.h, paper: current.paper, ...(current.board ? { board: current.board } : {}) });
  const backdrop = usePageBackdrop({ ...form, backdrop: current.backdrop }, 150);
  const pictures = usePlacedPictures(ink, 150 / current.w);
  const [all, setAll] = useState(pages.length === 1);
  return (
    <Sheet
      title="Paper"
      head={
        <View style={styles.head}>
          <PaperPreview form={form} placed={ink} backdrop={backdrop} pictures={pictures} width={150} height={150} label={`Page ${index + 1} on this paper`} />
          <View style={styles.side}>
            {pages.length > 1 && (
              <SegmentedButtons
                value={all ? 'all' : 'one'}
                onValueChange={(v) => setAll(v === 'all')}
                buttons={[
                  { value: 'one', label: `Page ${index + 1}` },
                  { value: 'all', label: 'All pages' },
                ]}
              />
            )}
            <Button
              mode="contained"
              onPress={() => {
                dispatch(setPaper(all ? null : current.id, { w: form.w, h: form.h, paper: form.paper }, current.board !== undefined));
                dispatch(toolsSlice.actions.set({ sheet: 'none' }));
              }}
            >
              Use this paper
            </Button>
            {!current.board && !current.backdrop && (
              <Button
                mode="outlined"
                onPress={() => {
                  dispatch(makeBoard(current.id));
                  dispatch(toolsSlice.actions.set({ sheet: 'none' }));
                }}
              >
                Let it grow
              </Button>
            )}
            {current.board ? null : current.backdrop ? (
              <Button mode="outlined" onPress={() => dispatch(dropPicture(current.id))}>
                Remove picture
              </Button>
            ) : (
              <Button mode="outlined" onPress={() => void dispatch(choosePicture(current.id))}>
                Picture behind it
              </Button>
            )}
          </View>
        </View>
      }
    >
      <PaperControls form={form} board={current.board !== undefined} onChange={(to) => setForm({ ...form, ...to })} />
    </Sheet>
  );
}

const styles = StyleSheet.create({
  head: { flexDirection: 'row', gap: 14, paddingHorizontal: 16, paddingBottom: 12, alignItems: 'center' },
  side: { flex: 1, gap: 10 },
});
