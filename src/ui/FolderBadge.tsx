/** The emblem of a folder on its colour. */
import Svg, { Path, Rect } from 'react-native-svg';
import type { Folder } from '../core/library/folder';
import { EMBLEM_PATHS, FOLDER_TINTS } from './folderLooks';

export function FolderBadge({ color, emblem, size = 40 }: Pick<Folder, 'color' | 'emblem'> & { size?: number }) {
  return (
    <Svg width={size} height={size} viewBox="0 0 40 40" aria-hidden>
      <Path d="M3 9a4 4 0 0 1 4-4h9l4 4h13a4 4 0 0 1 4 4v1H3z" fill={FOLDER_TINTS[color]} opacity={0.75} />
      <Rect x={3} y={10} width={34} height={26} rx={4} fill={FOLDER_TINTS[color]} />
      <Path d={EMBLEM_PATHS[emblem]} transform="translate(8.5 11.5) scale(0.95)" fill="none" stroke="#FFFFFF" strokeWidth={1.9} strokeLinecap="round" strokeLinejoin="round" />
    </Svg>
  );
}
