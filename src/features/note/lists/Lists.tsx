/** Gaps, marks, moments and takes of the note, each entry a touch away from its sound and its place. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Text, TouchableRipple, useTheme } from 'react-native-paper';
import { useAppSelector } from '../../../store/store';
import { GapList } from './GapList';
import { MarkList } from './MarkList';
import { MomentList } from './MomentList';
import type { Places } from './places';
import { TakeList } from './TakeList';
import { textPx } from '../../../ui/textScale';

const NAMES = ['Gaps', 'Marks', 'Moments', 'Takes'] as const;
type Name = (typeof NAMES)[number];

export function Lists({ places }: { places: Places }) {
  const { colors } = useTheme();
  const [name, setName] = useState<Name>('Gaps');
  const listen = useAppSelector((s) => s.note.mode === 'listen');
  // While one writes only the takes are of use: the rest is for going back.
  const shown = listen ? name : 'Takes';
  return (
    <View style={styles.all}>
      {listen ? (
        <View role="tablist" aria-label="Lists" style={[styles.tabs, { borderColor: colors.outline }]}>
          {NAMES.map((n) => (
            <TouchableRipple key={n} role="tab" aria-selected={n === shown} aria-label={n} onPress={() => setName(n)} style={[styles.tab, n === shown && { backgroundColor: colors.secondary }]}>
              <Text style={{ fontSize: textPx(13), fontWeight: n === shown ? '700' : '400', color: n === shown ? colors.onSecondary : colors.onSurface }}>{n}</Text>
            </TouchableRipple>
          ))}
        </View>
      ) : (
        <Text variant="titleMedium" role="heading" aria-level={2}>
          Takes
        </Text>
      )}
      {shown === 'Gaps' && <GapList places={places} />}
      {shown === 'Marks' && <MarkList />}
      {shown === 'Moments' && <MomentList places={places} />}
      {shown === 'Takes' && <TakeList />}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10 },
  tabs: { flexDirection: 'row', borderWidth: 1, borderRadius: 12, overflow: 'hidden' },
  tab: { flex: 1, minHeight: 44, alignItems: 'center', justifyContent: 'center' },
});
