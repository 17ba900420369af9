/** A short line as the pen writes it: colour and line together say which pen it is. */
import { StyleSheet, View } from 'react-native';
import { Text } from 'react-native-paper';
import Svg, { Path } from 'react-native-svg';
import { radiusAt } from '../../../core/ink/outline';
import type { Pen } from '../../../core/ink/stroke';

/** Drawn at twice its size on paper, so that fine pens differ on a small button. */
const PX_PER_MM = 7;

export function PenSample({ pen, selected }: { pen: Pen; selected: boolean }) {
  const width = (pressure: number) => 2 * radiusAt(pen, pressure) * PX_PER_MM;
  return (
    <View style={[styles.card, selected && styles.selected]}>
      <Svg width={36} height={22} viewBox="0 0 36 22" aria-hidden>
        <Path d="M3 15c4-12 8-12 9 0" fill="none" stroke={pen.color} strokeWidth={width(0.3)} strokeLinecap="round" />
        <Path d="M12 15c3 4 6-10 12-10" fill="none" stroke={pen.color} strokeWidth={width(0.8)} strokeLinecap="round" />
        <Path d="M24 5c5 0 3 9 9 8" fill="none" stroke={pen.color} strokeWidth={width(0.4)} strokeLinecap="round" />
      </Svg>
      <Text style={styles.size}>{pen.width} mm</Text>
    </View>
  );
}

const styles = StyleSheet.create({
  card: { backgroundColor: '#FFFDF8', borderRadius: 8, paddingHorizontal: 4, paddingTop: 2, alignItems: 'center', borderWidth: 2, borderColor: 'transparent' },
  selected: { borderColor: '#D98E04' },
  size: { fontSize: 11, lineHeight: 13, color: '#43566A' },
});
