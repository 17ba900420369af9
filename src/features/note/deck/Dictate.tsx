/** Writes down what is spoken where the caret stands. Before the first time it says where the sound may go. */
import { useEffect, useRef, useState } from 'react';
import { Button, Text } from 'react-native-paper';
import { dictate, dictationObstacle } from '../../../platform/dictation';
import { say } from '../../../store/messages';
import { settingsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { typeWords } from '../../../store/typing';
import { Dialog } from '../../../ui/Dialog';
import { DeckButton } from './DeckButton';

const AGREED = 'dictation';

export function Dictate() {
  const dispatch = useAppDispatch();
  const told = useAppSelector((s) => s.settings.told);
  const [on, setOn] = useState(false);
  const [asks, setAsks] = useState(false);
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);
  const begin = () => {
    setOn(true);
    stop.current = dictate({
      heard: (text) => {
        if (!dispatch(typeWords(text))) dispatch(say('tool', 'info', 'Touch the line where the words are to stand.'));
      },
      ended: (why) => {
        setOn(false);
        stop.current = null;
        if (why) dispatch(say('tool', 'info', why));
      },
    });
  };
  const press = () => {
    if (on) return stop.current?.();
    const obstacle = dictationObstacle();
    if (obstacle) return dispatch(say('tool', 'info', obstacle));
    if (told.includes(AGREED)) begin();
    else setAsks(true);
  };
  return (
    <>
      <DeckButton name="Dictate" toggles on={on} onPress={press}>
        Dictate
      </DeckButton>
      {asks && (
        <Dialog onDismiss={() => setAsks(false)}>
          <Dialog.Title>Dictate?</Dialog.Title>
          <Dialog.Content>
            <Text>Your browser writes down what you say. Many browsers send the sound to their maker for that. Scrivo itself sends nothing, and keeps no sound of it.</Text>
          </Dialog.Content>
          <Dialog.Actions>
            <Button onPress={() => setAsks(false)}>Not now</Button>
            <Button
              mode="contained"
              onPress={() => {
                setAsks(false);
                dispatch(settingsSlice.actions.patched({ told: [...told, AGREED] }));
                begin();
              }}
            >
              Dictate
            </Button>
          </Dialog.Actions>
        </Dialog>
      )}
    </>
  );
}
