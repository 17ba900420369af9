/** Where what is selected is to lead: a page, another note, a moment of the sound, or an address of the web. */
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, HelperText, SegmentedButtons, Text, TextInput } from 'react-native-paper';
import type { RefTarget } from '../../../core/note/schema';
import { clockText } from '../../../core/time/format';
import { timelineLength, toTimeline } from '../../../core/time/timeline';
import { position } from '../../../store/playing';
import { webAddress } from '../../../store/printed';
import { backToText, linkSelected, momentAt, refOfSelected, refText, notesOf, unlink } from '../../../store/refs';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector, useAppStore } from '../../../store/store';
import { select } from '../../../store/tools';
import { Dialog } from '../../../ui/Dialog';
import { NoteChooser } from '../pages/NoteChooser';

export function LinkSheet() {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const ref = useAppSelector(refOfSelected);
  const pages = useAppSelector((s) => s.note.note!.header.pages);
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  const length = timelineLength(timeline);
  const [is, setIs] = useState<RefTarget['is']>(ref?.to.is ?? 'page');
  const [page, setPage] = useState(() => String(ref?.to.is === 'page' ? Math.max(1, pages.findIndex((p) => p.id === (ref.to as { page: string }).page) + 1) : 1));
  const [time, setTime] = useState(() => clockText(ref?.to.is === 'moment' ? (toTimeline(timeline, ref.to) ?? 0) : dispatch(position())));
  const [url, setUrl] = useState(ref?.to.is === 'web' ? ref.to.url : 'https://');
  const [choosing, setChoosing] = useState(false);
  const [noteId, setNoteId] = useState(ref?.to.is === 'note' ? ref.to.note : null);
  const there = useAppSelector((s) => (noteId ? (s.library.headers.find((h) => h.id === noteId) ?? null) : null));
  const [heard, setHeard] = useState(() => (ref?.to.is === 'note' && ref.to.take !== undefined && there ? clockText(toTimeline(there.timeline, { take: ref.to.take, at: ref.to.at ?? 0 }) ?? 0) : ''));
  const done = () => dispatch(toolsSlice.actions.set({ sheet: 'none', linking: null }));
  useEffect(() => () => dispatch(backToText()), [dispatch]);
  const lead = (to: RefTarget) => {
    // Let go, so that the link is there to be touched.
    if (dispatch(linkSelected(to))) dispatch(select(null));
    done();
  };
  const number = Number(page);
  const moment = is === 'moment' ? momentAt(time, timeline) : null;
  const lengthThere = there ? timelineLength(there.timeline) : 0;
  const momentThere = there && heard.trim() ? momentAt(heard, there.timeline) : null;
  const address = webAddress(url.trim());
  const good = is === 'page' ? Number.isInteger(number) && number >= 1 && number <= pages.length : is === 'moment' ? moment !== null : is === 'web' ? address !== null && url.trim().length > 8 : there !== null && (!heard.trim() || momentThere !== null);
  const make = () => {
    if (!good) return;
    if (is === 'page') lead({ is, page: pages[number - 1].id });
    else if (is === 'moment') lead({ is, ...moment! });
    else if (is === 'note') lead({ is, note: noteId!, ...momentThere });
    else lead({ is: 'web', url: address! });
  };
  if (choosing) {
    return (
      <NoteChooser
        title="Lead to"
        verb="Lead to"
        onDismiss={() => setChoosing(false)}
        onChoose={(note) => {
          setNoteId(note);
          setHeard('');
          setChoosing(false);
        }}
      />
    );
  }
  return (
    <Dialog onDismiss={done} onEnter={make}>
      <Dialog.Title>Link</Dialog.Title>
      <Dialog.Content style={styles.all}>
        {ref && <Text variant="bodySmall">It leads to {refText(ref, store.getState().note.note!.header, notesOf(store.getState())).text} now.</Text>}
        <SegmentedButtons
          value={is}
          onValueChange={(v) => setIs(v as RefTarget['is'])}
          buttons={[
            { value: 'page', label: 'Page' },
            { value: 'note', label: 'Note' },
            { value: 'moment', label: 'Sound', disabled: length === 0 },
            { value: 'web', label: 'Web' },
          ]}
        />
        {is === 'page' && <TextInput mode="outlined" dense label="Page" accessibilityLabel={`Page, 1 to ${pages.length}`} inputMode="numeric" value={page} onChangeText={setPage} error={!good} />}
        {is === 'note' && (
          <>
            {there && <Text>{there.title || 'Note'}</Text>}
            <Button mode="outlined" onPress={() => setChoosing(true)}>
              {there ? 'Choose another note' : 'Choose a note'}
            </Button>
            {lengthThere > 0 && <TextInput mode="outlined" dense label="Moment of its sound (may stay empty)" accessibilityLabel={`Moment of its sound, up to ${clockText(lengthThere)}; may stay empty`} value={heard} onChangeText={setHeard} error={!good} placeholder="4:07" />}
          </>
        )}
        {is === 'moment' && <TextInput mode="outlined" dense label="Moment" accessibilityLabel={`Moment of the sound, up to ${clockText(length)}`} value={time} onChangeText={setTime} error={!good} placeholder="4:07" />}
        {is === 'web' && (
          <View>
            <TextInput mode="outlined" dense label="Address" accessibilityLabel="Address on the web" inputMode="url" value={url} onChangeText={setUrl} error={!good && url.trim().length > 8} />
            <HelperText type="info">https, http or mailto. It is opened on wish alone, in a tab of its own.</HelperText>
          </View>
        )}
      </Dialog.Content>
      <Dialog.Actions>
        {ref && (
          <Button
            onPress={() => {
              dispatch(unlink(ref));
              done();
            }}
          >
            Remove
          </Button>
        )}
        <Button onPress={done}>Cancel</Button>
        <Button mode="contained" disabled={!good} onPress={make}>
          Lead there
        </Button>
      </Dialog.Actions>
    </Dialog>
  );
}

const styles = StyleSheet.create({ all: { gap: 12 } });
