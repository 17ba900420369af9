/** Work that goes on while one does something else, on every screen: a strip of its own where there is room, a sign in the bar of a note, where the page has it. */
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Surface, Text, TouchableRipple, useTheme } from 'react-native-paper';
import { stopJob } from '../../store/jobs';
import type { Job } from '../../store/slices';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { Icon } from '../../ui/icons';
import { JobLine } from '../../ui/JobLine';

/** In the flow of a screen, so that it covers nothing. */
export function JobsRow() {
  const { colors } = useTheme();
  // Sealing keeps everybody waiting with a dialog of its own.
  const jobs = useAppSelector((s) => s.jobs).filter((j) => j.kind !== 'sealing');
  const [open, setOpen] = useState(false);
  if (!jobs.length) return null;
  return (
    <View role="status" aria-label="Work under way" style={[styles.strip, { borderColor: colors.outlineVariant, backgroundColor: colors.surface }]}>
      {open && <Lines jobs={jobs} />}
      <TouchableRipple role="button" aria-expanded={open} aria-label={called(jobs, open)} onPress={() => setOpen(!open)} style={styles.sign}>
        <View style={styles.row}>
          <Icon name="jobs" size={18} color={colors.primary} />
          <Text variant="labelMedium" numberOfLines={1} style={styles.grow}>
            {open ? 'Close' : sign(jobs)}
          </Text>
        </View>
      </TouchableRipple>
    </View>
  );
}

/** As small as a sign can be; the list lies over the page only while one has it open. */
export function JobsButton() {
  const { colors } = useTheme();
  // The deck of a note says itself what is found in its sound.
  const jobs = useAppSelector((s) => s.jobs).filter((j) => j.kind !== 'sealing' && j.kind !== 'hearing');
  const [open, setOpen] = useState(false);
  if (!jobs.length) return null;
  return (
    <View role="status" aria-label="Work under way">
      <TouchableRipple role="button" aria-expanded={open} aria-label={called(jobs, open)} onPress={() => setOpen(!open)} style={styles.button}>
        <Icon name="jobs" size={20} color={colors.primary} />
      </TouchableRipple>
      {open && (
        <Surface style={[styles.card, { borderColor: colors.outlineVariant }]} elevation={2}>
          <Lines jobs={jobs} />
        </Surface>
      )}
    </View>
  );
}

function Lines({ jobs }: { jobs: readonly Job[] }) {
  const dispatch = useAppDispatch();
  return jobs.map((j) => <JobLine key={j.id} {...j} small onStop={() => dispatch(stopJob({ id: j.id }))} stopLabel={`Stop: ${j.title}`} />);
}

const sign = (jobs: readonly Job[]): string => (jobs.length > 1 ? `${jobs.length} under way` : `${jobs[0].title}${jobs[0].share === null ? '' : `, ${Math.round(100 * jobs[0].share)} %`}`);

const called = (jobs: readonly Job[], open: boolean): string => `${sign(jobs)}. ${open ? 'Close the list' : 'Show what is under way'}`;

const styles = StyleSheet.create({
  strip: { borderTopWidth: 1, paddingHorizontal: 16 },
  card: { position: 'absolute', top: 48, right: 0, width: 320, borderRadius: 12, borderWidth: 1, paddingHorizontal: 12, paddingVertical: 4, zIndex: 5 },
  button: { width: 44, height: 44, borderRadius: 12, alignItems: 'center', justifyContent: 'center' },
  sign: { minHeight: 44, justifyContent: 'center' },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  grow: { flex: 1 },
});
