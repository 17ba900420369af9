/** How typed text looks: of what is marked in it, or of what is typed next. */
import { ScrollView, StyleSheet } from 'react-native';
import { Text, useTheme } from 'react-native-paper';
import { TINTS } from '../../../core/ink/inks';
import { FAMILIES, hasCuts, type Look } from '../../../core/text/faces';
import { offeredColors } from '../../../store/cup';
import { askForLink } from '../../../store/refs';
import { toolsSlice } from '../../../store/slices';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { colorName } from '../pens/names';
import { Swatch } from '../pens/Swatch';
import { DeckButton } from './DeckButton';
import { Dictate } from './Dictate';
import { LetterSelects } from './LetterSelects';

const LISTS = [
  ['dot', 'List', '•'],
  ['number', 'Numbered list', '1.'],
  ['open', 'Check boxes', '☐'],
] as const;
const NEXT_ALIGN = { left: 'middle', middle: 'right', right: 'left' } as const;

export function TypeOptions() {
  const dispatch = useAppDispatch();
  const { colors } = useTheme();
  const { typing } = useAppSelector((s) => s.tools);
  const last = useAppSelector((s) => s.settings.lastColors);
  const { look, list, align } = typing;
  const set = (patch: Partial<typeof typing>) => dispatch(toolsSlice.actions.set({ typing: { ...typing, ...patch } }));
  const restyle = (patch: Partial<{ [K in keyof Look]: Look[K] | undefined }>) => {
    // What is not there is not said, so that looks that are the same are written the same.
    const next = Object.fromEntries(Object.entries({ ...look, ...patch }).filter(([, v]) => v !== undefined)) as unknown as Look;
    set({ look: next });
  };
  const mark = TINTS[0];
  return (
    <ScrollView horizontal style={styles.all} contentContainerStyle={styles.row}>
      <LetterSelects look={look} onChange={restyle} />
      <DeckButton name="Bold" toggles on={look.bold === true} disabled={!hasCuts(look.face)} onPress={() => restyle({ bold: look.bold ? undefined : true })}>
        <Text style={{ fontWeight: '700', fontFamily: FAMILIES.sans, color: look.bold ? colors.onSecondary : colors.onSurface }}>Bold</Text>
      </DeckButton>
      <DeckButton name="Slant" toggles on={look.slant === true} disabled={!hasCuts(look.face)} onPress={() => restyle({ slant: look.slant ? undefined : true })}>
        <Text style={{ fontStyle: 'italic', fontFamily: FAMILIES.serif, color: look.slant ? colors.onSecondary : colors.onSurface }}>Slant</Text>
      </DeckButton>
      <DeckButton name="Highlight" toggles on={look.marked !== undefined} onPress={() => restyle({ marked: look.marked ? undefined : mark.color })}>
        Highlight
      </DeckButton>
      {offeredColors(last, false).slice(0, 4).map((c) => (
        <Swatch key={c} color={c} name={colorName(c)} on={look.color === c} onPress={() => restyle({ color: c })} />
      ))}
      {LISTS.map(([value, name, sign]) => (
        <DeckButton key={value} name={name} toggles on={list === value || (value === 'open' && list === 'done')} onPress={() => set({ list: list === value || (value === 'open' && list === 'done') ? null : value })}>
          {sign}
        </DeckButton>
      ))}
      {(list === 'open' || list === 'done') && (
        <DeckButton name="Done" toggles on={list === 'done'} onPress={() => set({ list: list === 'done' ? 'open' : 'done' })}>
          Done
        </DeckButton>
      )}
      <DeckButton name="Link the word at the caret, or what is marked" onPress={() => dispatch(askForLink())}>
        Link
      </DeckButton>
      <Dictate />
      <DeckButton name={`Aligned ${align === 'middle' ? 'in the middle' : align ?? 'left'}: press for the next`} onPress={() => set({ align: NEXT_ALIGN[align ?? 'left'] === 'left' ? null : (NEXT_ALIGN[align ?? 'left'] as 'middle' | 'right') })}>
        {align === 'middle' ? 'Middle' : align === 'right' ? 'Right' : 'Left'}
      </DeckButton>
    </ScrollView>
  );
}

const styles = StyleSheet.create({ all: { flexShrink: 1 }, row: { alignItems: 'center', gap: 2 } });
