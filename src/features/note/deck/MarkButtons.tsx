/** Missed, Key, Ask, Do: one press flags the moment that is being recorded or heard. */
import { StyleSheet, View } from 'react-native';
import { Text, useTheme } from 'react-native-paper';
import { addMark, MARKS } from '../../../store/reviewing';
import { canChange } from '../../../store/change';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { MarkShape } from '../../../ui/MarkShape';
import { DeckButton } from './DeckButton';
import { rowPx } from '../../../ui/textScale';

export function MarkButtons({ column = false, disabled = false }: { column?: boolean; disabled?: boolean }) {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const can = useAppSelector(canChange);
  return (
    <View role="group" aria-label="Mark this moment" style={column ? styles.column : styles.row}>
      {MARKS.map(({ kind, name }) => (
        <DeckButton key={kind} name={`Mark ${kind}`} disabled={!can || disabled} onPress={() => dispatch(addMark(kind, performance.now()))}>
          <View style={styles.mark}>
            <MarkShape kind={kind} size={18} />
            <Text style={[styles.word, { color: colors.onSurface }]}>{name}</Text>
          </View>
        </DeckButton>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  column: { alignItems: 'center' },
  row: { flexDirection: 'row', alignItems: 'center' },
  mark: { alignItems: 'center', gap: 2 },
  word: { fontSize: rowPx(11), lineHeight: rowPx(13) },
});
