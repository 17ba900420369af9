/** Work that goes on while one does something else, on every screen: a small sign, which opens to a list. */
import { usePathname } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Surface, Text, TouchableRipple, useTheme } from 'react-native-paper';
import { stopJob } from '../../store/jobs';
import type { Job } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Icon } from '../../ui/icons';
import { JobLine } from '../../ui/JobLine';

export function JobsPlace() {
  const { colors } = useTheme();
  const dispatch = useAppDispatch();
  const inNote = usePathname().startsWith('/note/');
  const all = useAppSelector((s) => s.jobs);
  const [open, setOpen] = useState(false);
  // The deck of a note says itself what is found in its sound, and sealing keeps everybody waiting with a dialog of its own.
  const jobs = all.filter((j) => j.kind !== 'sealing' && !(inNote && j.kind === 'hearing'));
  if (!jobs.length) return null;
  return (
    <View style={styles.place} pointerEvents="box-none">
      <Surface style={[styles.card, { borderColor: colors.outlineVariant }]} elevation={2}>
        {open && jobs.map((j) => <JobLine key={j.id} {...j} small onStop={() => dispatch(stopJob({ id: j.id }))} stopLabel={`Stop: ${j.title}`} />)}
        <TouchableRipple role="button" aria-expanded={open} aria-label={`${sign(jobs)}. ${open ? 'Close the list' : 'Show what is under way'}`} onPress={() => setOpen(!open)} style={styles.sign}>
          <View style={styles.row}>
            <Icon name="saving" size={18} color={colors.primary} />
            <Text variant="labelMedium">{open ? 'Close' : sign(jobs)}</Text>
          </View>
        </TouchableRipple>
      </Surface>
    </View>
  );
}

const sign = (jobs: readonly Job[]): string => (jobs.length > 1 ? `${jobs.length} under way` : `${jobs[0].title}${jobs[0].share === null ? '' : `, ${Math.round(100 * jobs[0].share)} %`}`);

const styles = StyleSheet.create({
  place: { position: 'absolute', top: 56, right: 8, left: 8, alignItems: 'flex-end', zIndex: 5 },
  card: { borderRadius: 12, borderWidth: 1, paddingHorizontal: 10, maxWidth: 420 },
  sign: { minHeight: 44, justifyContent: 'center' },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
});
