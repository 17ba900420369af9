import { StyleSheet, View } from 'react-native';
import { useTheme } from 'react-native-paper';
import { meterShare, type Level } from '../core/audio/level';
import type { Live } from '../platform/live';
import { useLive } from './useLive';

const SEGMENTS = 14;

/** Level in steps, the tall ones at the end for too loud: read by height as well as by colour. */
export function LevelMeter({ live, still }: { live: Live<Level>; still: boolean }) {
  const { colors } = useTheme();
  const level = useLive(live);
  const share = still ? 0 : meterShare(level.rms + 9);
  const lit = Math.round(share * SEGMENTS);
  const words = still ? 'paused' : level.peak >= 0.985 ? 'too loud' : share < 0.12 ? 'very quiet' : 'good';
  return (
    <View role="meter" aria-label="Microphone level" aria-valuenow={Math.round(share * 100)} aria-valuemin={0} aria-valuemax={100} aria-valuetext={words} style={styles.meter}>
      {Array.from({ length: SEGMENTS }, (_, i) => (
        <View
          key={i}
          style={[styles.segment, { height: 8 + i * 1.2, backgroundColor: i < lit ? (i >= SEGMENTS - 2 ? colors.error : colors.primary) : colors.outlineVariant }]}
        />
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  meter: { flexGrow: 1, flexShrink: 1, flexBasis: 68, maxWidth: 130, minWidth: 40, flexDirection: 'row', alignItems: 'flex-end', justifyContent: 'center', gap: 2, height: 28 },
  segment: { flex: 1, maxWidth: 6, borderRadius: 2 },
});
