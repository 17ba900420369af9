/** What lies over the end of the page, one above the other: the page itself stays where it is, and keeps what is not covered. */
import { StyleSheet, View } from 'react-native';
import { isTextSheet, toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Choice } from '../../../ui/Choice';
import { useRoom } from '../../../ui/useRoom';
import { Messages, type MessagesProps } from '../../../ui/Messages';
import { HearingState } from './HearingState';
import { Adding, More } from './More';
import { Options } from './Options';
import { PenRow } from './PenRow';
import type { Places } from '../lists/places';
import { ListSheet } from '../sheets/ListSheet';
import { TextSheet } from '../text/TextSheet';

/** `bottom`: px that the writing strip takes; `onPaste`: pastes in the middle of the view; `onAll`: takes all ink of the page in view; `onWeb`: something leads to the web. */
export function PageEnd({ bottom, messages, places, onWeb, ...acts }: { bottom: number; messages: MessagesProps; places: Places; onPaste: () => void; onAll: () => void; onWeb: (url: string) => void }) {
  const sheet = useAppSelector((s) => s.tools.sheet);
  const { wide } = useRoom();
  // Where the note has the whole of a wide screen its text stands beside the page.
  const over = useAppSelector((s) => s.beside.note !== null && s.beside.note !== s.note.id) || !wide;
  const listens = useAppSelector((s) => s.note.mode === 'listen');
  return (
    <View style={[styles.all, { bottom }]}>
      {/* Above the lists: what comes and goes by itself moves nothing from under a finger. */}
      <Messages inline {...messages} />
      {listens && <HearingState />}
      {sheet === 'lists' && <ListSheet places={places} />}
      {isTextSheet(sheet) && over && <TextSheet places={places} />}
      {!isTextSheet(sheet) && <OverInk />}
      <Options onWeb={onWeb} {...acts} />
      {sheet === 'pens' && <PenRow />}
      {sheet === 'more' && <More />}
      {sheet === 'add' && <Adding />}
    </View>
  );
}

/** What was read stands over the ink, and goes again with a touch. */
function OverInk() {
  const dispatch = useAppDispatch();
  const on = useAppSelector((s) => s.tools.overInk);
  if (!on) return null;
  return (
    <View style={styles.chip}>
      <Choice role="button" name="Text over the ink" on onPress={() => void dispatch(toolsSlice.actions.set({ overInk: false }))} />
    </View>
  );
}

const styles = StyleSheet.create({ chip: { alignItems: 'flex-start', paddingHorizontal: 8, paddingBottom: 6 }, all: { position: 'absolute', left: 0, right: 0, top: '6%', justifyContent: 'flex-end', pointerEvents: 'box-none', zIndex: 20 } });
