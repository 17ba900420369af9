/** Speech that went on while nothing was written: play it, write there, or say that nothing is needed. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Switch, Text, useTheme } from 'react-native-paper';
import { hearingObstacle } from '../../../platform/hearing';
import { gapLength } from '../../../core/review/gaps';
import { gapQuestion } from '../../../core/reading/inTime';
import { clockText, spokenTime } from '../../../core/time/format';
import { selectReview } from '../../../store/listening';
import { selectWordsInTime } from '../../../store/noteText';
import { settleGap, writeAtGap } from '../../../store/reviewing';
import { canChange } from '../../../store/change';
import { playAt } from '../../../store/touching';
import { settingsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { Select } from '../../../ui/Select';
import { Entry } from '../../../ui/Entry';
import type { Places } from './places';
import '../../../ui/takes.css';

export function GapList({ places }: { places: Places }) {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const review = useAppSelector(selectReview);
  const can = useAppSelector(canChange);
  const sound = useAppSelector((s) => s.note.note!.header.timeline.length > 0);
  const failed = useAppSelector((s) => s.hearing.reason);
  const gapPlays = useAppSelector((s) => s.settings.gapPlays);
  const words = useAppSelector(selectWordsInTime);
  const [order, setOrder] = useState(0);
  if (!sound) return <Text variant="bodySmall">This note has no sound, so there are no gaps in it.</Text>;
  if (!review) return <Text variant="bodySmall">{hearingObstacle() ?? 'The sound is still being looked at. Gaps stand here as soon as that is done.'}</Text>;
  const { gaps, share } = review.coverage;
  const list = order === 0 ? [...gaps].sort((a, b) => b.speech - a.speech) : gaps;
  return (
    <View style={styles.list}>
      <Text variant="bodySmall">
        {Math.round(100 * share)} % of the speech was written along with. {review.lag ? `You write ${(review.lag.ms / 1000).toFixed(1)} s after hearing.` : 'There is too little writing to tell how late you write.'}
      </Text>
      {failed && <Text variant="bodySmall">Speech was told from other sounds by its loudness alone: the speech model could not be used ({failed}).</Text>}
      {can && gaps.length > 0 && (
        <View style={styles.line}>
          <Text variant="bodySmall" style={styles.words}>
            “Write here” plays the gap at once
          </Text>
          <Switch value={gapPlays} onValueChange={(on) => void dispatch(settingsSlice.actions.patched({ gapPlays: on }))} aria-label="“Write here” plays the gap at once" />
        </View>
      )}
      {gaps.length > 1 && <Select label="Order" value={order} options={[{ value: 0, text: 'longest first' }, { value: 1, text: 'earliest first' }]} onChange={setOrder} />}
      <View role="list" aria-label="Gaps" style={styles.list}>
        {list.length === 0 && <Text>No gaps: nothing that was said went by unwritten.</Text>}
        {list.map((g) => [g, gapQuestion(words, g)] as const).map(([g, question]) => (
          <Entry
            key={g.from}
            label={`${question ? `${question} ` : ''}Gap of ${spokenTime(gapLength(g))} at ${spokenTime(g.from)}: play it`}
            onPress={() => dispatch(playAt(Math.max(0, g.from - 500)))}
            actions={
              <>
                <Button
                  compact
                  disabled={!can}
                  accessibilityLabel={`Write here, gap at ${spokenTime(g.from)}`}
                  onPress={() => {
                    const place = dispatch(writeAtGap(g));
                    if (place) places.showPlace(place.page, place.box);
                  }}
                >
                  Write here
                </Button>
                <Button compact disabled={!can} accessibilityLabel={`Nothing needed, gap at ${spokenTime(g.from)}`} onPress={() => dispatch(settleGap(g))}>
                  Nothing needed
                </Button>
              </>
            }
          >
            <div className="gap-swatch" aria-hidden />
            <View style={styles.words}>
              <Text variant="labelLarge">{question ?? clockText(g.from)}</Text>
              <Text variant="bodySmall" style={{ color: colors.onSurfaceVariant }}>
                {question ? `${clockText(g.from)} · ` : ''}
                {gapLength(g) / 1000} s, {Math.min(gapLength(g) / 1000, Math.round(g.speech / 1000))} s of it speech
              </Text>
            </View>
          </Entry>
        ))}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({ list: { gap: 8 },
  line: { flexDirection: 'row', alignItems: 'center' }, words: { flex: 1, minWidth: 0 } });
