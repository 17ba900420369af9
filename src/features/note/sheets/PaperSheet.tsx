/** The paper of the page in sight, or of all pages, with the ink that stands on it. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, SegmentedButtons } from 'react-native-paper';
import type { PageForm } from '../../../core/note/schema';
import { choosePicture, dropPicture, usePageBackdrop, usePlacedPictures } from '../../../store/backdrops';
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
  const [form, setForm] = useState<PageForm>({ w: current.w, h: current.h, paper: current.paper });
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
                dispatch(setPaper(all ? null : current.id, form));
                dispatch(toolsSlice.actions.set({ sheet: 'none' }));
              }}
            >
              Use this paper
            </Button>
            {current.backdrop ? (
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
      <PaperControls form={form} onChange={setForm} />
    </Sheet>
  );
}

const styles = StyleSheet.create({
  head: { flexDirection: 'row', gap: 14, paddingHorizontal: 16, paddingBottom: 12, alignItems: 'center' },
  side: { flex: 1, gap: 10 },
});
