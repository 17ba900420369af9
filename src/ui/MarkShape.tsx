import Svg, { Path } from 'react-native-svg';
import { useTheme } from 'react-native-paper';
import type { MarkKind } from '../core/note/schema';
import { MARK_SHAPES } from './markShapes';
import { MARK_ROLES } from './palette';

export function MarkShape({ kind, size = 20 }: { kind: MarkKind; size?: number }) {
  const { colors } = useTheme();
  const shape = MARK_SHAPES[kind];
  const color = colors[MARK_ROLES[kind]];
  return (
    <Svg width={size} height={size} viewBox="0 0 24 24" aria-hidden>
      <Path d={shape.path} fill={shape.solid ? color : 'none'} stroke={color} strokeWidth={3} strokeLinejoin="round" />
    </Svg>
  );
}
