/** Marks in order of the timeline: go there, add words, move, remove. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text, TextInput, useTheme } from 'react-native-paper';
import type { Mark } from '../../../core/note/schema';
import { markQuestion } from '../../../core/reading/inTime';
import { clockText, spokenTime } from '../../../core/time/format';
import { toTimeline } from '../../../core/time/timeline';
import { selectWordsInTime } from '../../../store/noteText';
import { changeMark, markName, moveMark, removeMark } from '../../../store/reviewing';
import { canChange } from '../../../store/change';
import { playAt } from '../../../store/touching';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { MarkShape } from '../../../ui/MarkShape';
import { Entry } from '../../../ui/Entry';

/** What is heard before a mark, ms. */
const BEFORE_MS = 1000;

export function MarkList() {
  const marks = useAppSelector((s) => s.note.note!.header.marks);
  const timeline = useAppSelector((s) => s.note.note!.header.timeline);
  if (!marks?.length) return <Text variant="bodySmall">No marks yet. Press Missed, Key, Ask or Do while recording or listening.</Text>;
  const list = marks.map((mark) => ({ mark, ms: toTimeline(timeline, mark) })).sort((a, b) => (a.ms ?? Infinity) - (b.ms ?? Infinity));
  return (
    <View role="list" aria-label="Marks" style={styles.list}>
      {list.map(({ mark, ms }) => (
        <MarkEntry key={mark.id} mark={mark} ms={ms} />
      ))}
    </View>
  );
}

function MarkEntry({ mark, ms }: { mark: Mark; ms: number | null }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const can = useAppSelector(canChange);
  const words = useAppSelector(selectWordsInTime);
  const asks = ms === null || mark.text ? null : markQuestion(words, mark.kind, ms);
  const [draft, setDraft] = useState<string | null>(null);
  const name = markName(mark.kind);
  const when = ms === null ? 'not on the timeline' : clockText(ms);
  const spoken = ms === null ? 'not on the timeline' : `at ${spokenTime(ms)}`;
  const done = () => {
    const text = draft?.trim();
    if (draft !== null && text !== (mark.text ?? '')) dispatch(changeMark(mark.id, { text: text || undefined }));
    setDraft(null);
  };
  return (
    <Entry
      label={`${name} ${spoken}${mark.text ? `, ${mark.text}` : ''}${asks ? `. ${asks} Play it` : ': play it'}`}
      disabled={ms === null}
      onPress={() => ms !== null && dispatch(playAt(Math.max(0, ms - BEFORE_MS)))}
      actions={
        draft !== null ? (
          <TextInput mode="outlined" dense autoFocus accessibilityLabel={`Words of the mark ${name} ${spoken}`} value={draft} onChangeText={setDraft} onBlur={done} onSubmitEditing={done} maxLength={300} style={styles.input} />
        ) : (
          <>
            <Button compact disabled={!can} accessibilityLabel={`Words for ${name} ${spoken}`} onPress={() => setDraft(mark.text ?? '')}>
              Words
            </Button>
            <Button compact disabled={!can || ms === null} accessibilityLabel={`Move ${name} ${spoken} a second earlier`} onPress={() => dispatch(moveMark(mark.id, -1000))}>
              −1 s
            </Button>
            <Button compact disabled={!can || ms === null} accessibilityLabel={`Move ${name} ${spoken} a second later`} onPress={() => dispatch(moveMark(mark.id, 1000))}>
              +1 s
            </Button>
            <Button compact disabled={!can} textColor={colors.error} accessibilityLabel={`Remove ${name} ${spoken}`} onPress={() => dispatch(removeMark(mark.id))}>
              Remove
            </Button>
          </>
        )
      }
    >
      <MarkShape kind={mark.kind} />
      <View style={styles.words}>
        <Text variant="labelLarge">
          {name} · {when}
        </Text>
        {(mark.text ?? asks) && <Text variant="bodySmall">{mark.text ?? asks}</Text>}
      </View>
    </Entry>
  );
}

const styles = StyleSheet.create({ list: { gap: 8 }, words: { flex: 1, minWidth: 0 }, input: { flex: 1, margin: 4 } });
