/** What lies over the end of the page, one above the other: the page itself stays where it is, and keeps what is not covered. */
import { StyleSheet, View } from 'react-native';
import { useAppSelector } from '../../../store/store';
import { Messages, type MessagesProps } from '../../../ui/Messages';
import { HearingState } from './HearingState';
import { Adding, More } from './More';
import { Options } from './Options';
import { PenRow } from './PenRow';
import type { Places } from '../lists/places';
import { ListSheet } from '../sheets/ListSheet';

/** `bottom`: px that the writing strip takes; `onPaste`: pastes in the middle of the view; `onAll`: takes all ink of the page in view; `onWeb`: something leads to the web. */
export function PageEnd({ bottom, messages, places, onWeb, ...acts }: { bottom: number; messages: MessagesProps; places: Places; onPaste: () => void; onAll: () => void; onWeb: (url: string) => void }) {
  const sheet = useAppSelector((s) => s.tools.sheet);
  const listens = useAppSelector((s) => s.note.mode === 'listen');
  return (
    <View style={[styles.all, { bottom }]}>
      {/* Above the lists: what comes and goes by itself moves nothing from under a finger. */}
      <Messages inline {...messages} />
      {listens && <HearingState />}
      {sheet === 'lists' && <ListSheet places={places} />}
      <Options onWeb={onWeb} {...acts} />
      {sheet === 'pens' && <PenRow />}
      {sheet === 'more' && <More />}
      {sheet === 'add' && <Adding />}
    </View>
  );
}

const styles = StyleSheet.create({ all: { position: 'absolute', left: 0, right: 0, top: '6%', justifyContent: 'flex-end', pointerEvents: 'box-none', zIndex: 20 } });
