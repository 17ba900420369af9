/** The signs of Scrivo, drawn with one line weight on a field of 24. */
import Svg, { Circle, Path } from 'react-native-svg';
import { HUES } from './palette';

const LINES = {
  today: 'M4 18h16M6 18a6 6 0 0 1 12 0M12 4v4M4.5 9.5l2 2M19.5 9.5l-2 2',
  library: 'M5 4v16M9 4v16M13 5l5 14.5M3.5 20h17',
  settings: 'M4 7h9M17 7h3M4 12h3M11 12h9M4 17h11M19 17h1M13 5v4M7 10v4M15 15v4',
  back: 'M14.5 5l-7 7 7 7',
  forward: 'M9.500 5l7 7-7 7',
  close: 'M6 6l12 12M18 6L6 18',
  undo: 'M5 5v5h5M5.5 10A7.5 7.5 0 1 1 5 15',
  redo: 'M19 5v5h-5M18.5 10A7.5 7.5 0 1 0 19 15',
  eraser: 'M4 16l9-10 7 6.5L13.5 20H8zM8.5 11l7 6.5',
  pen: 'M4 20l2-6L16.5 3.5l4 4L10 18z M14 6l4 4',
  listen: 'M6 10a6 6 0 0 1 12 0c0 4-4 4.5-4 8a3 3 0 0 1-5.5 1.5M9.500 10a2.500 2.500 0 0 1 5 0c0 1.500-2 2-2 3.500',
  back10: 'M11 6L5 12l6 6M19 6l-6 6 6 6',
  forward10: 'M13 6l6 6-6 6M5 6l6 6-6 6',
  plus: 'M12 5v14M5 12h14',
  typed: 'M5 6.500V4h14v2.500M12 4v16M8.500 20h7',
  slip: 'M4.500 4h15v10l-6 6h-9zM19.500 14h-6v6M8 8.500h8M8 12h5',
  table: 'M4 5h16v14H4zM4 10h16M4 14.500h16M10 5v14',
  axes: 'M6 3v15h15M6 3L4 5.500M6 3l2 2.500M21 18l-2.500-2M21 18l-2.500 2M6 14c4 0 6-2 8-8',
  board: 'M4 4h12v12H4zM19 4v16H4M8 8l4 4M12 8v4H8',
  sticker: 'M4.500 12a7.500 7.500 0 0 1 15 0c-4 0-7.500 3-7.500 7.500A7.500 7.500 0 0 1 4.500 12zM12 19.500C16 18.500 18.500 16 19.500 12',
  link: 'M4 18h10M14 6h6v6M20 6l-9 9M4 12h5',
  trash: 'M5 7h14M10 7V4h4v3M7 7l1 13h8l1-13M10.500 11v5M13.500 11v5',
  saved: 'M5 12.500l4.500 4.500L19 7',
  saving: 'M5 12h.01M12 12h.01M19 12h.01',
  warning: 'M12 4L3 20h18zM12 10v5M12 17.500v.01',
  info: 'M12 11v6M12 7v.01M21 12a9 9 0 1 1-18 0 9 9 0 0 1 18 0z',
  note: 'M6 3h9l4 4v14H6zM9 10h6M9 14h6M9 18h3',
  minus: 'M5 12h14',
  menu: 'M4 7h16M4 12h16M4 17h16',
  cup: 'M6.500 10h11l-1.500 11h-8zM9 10V4M12.500 10V3M15.500 10l1.500-5.500',
  lasso: 'M12 4.500c5 0 8.500 2.500 8.500 5.500S17 15.500 12 15.500 3.500 13 3.500 10 7 4.500 12 4.500zM8 15c-2 1.500-1.500 4 .500 5',
  room: 'M4 4h16M4 20h16M12 8v8M9 10.500L12 7.500l3 3M9 13.500l3 3 3-3',
  shapes: 'M3.500 20.500h8v-8h-8zM19.500 17a3.200 3.200 0 1 1-6.400 0 3.200 3.200 0 0 1 6.400 0zM12 3l4.500 6.500h-9z',
  ruler: 'M3 15L15 3l6 6L9 21zM7 11l2 2M10 8l3 3M13 5l2 2',
  strip: 'M3 13h18v7H3zM6 17.500c2-4 3 1 5-1.500s3 1 6 0M5 4.500h7M5 8.500h3M16 4v6M13.500 7.500L16 10l2.500-2.500',
  move: 'M12 3v18M3 12h18M9.500 5.500L12 3l2.500 2.500M9.500 18.500L12 21l2.500-2.500M5.500 9.500L3 12l2.500 2.500M18.500 9.500L21 12l-2.500 2.500',
  up: 'M6 14.500l6-6 6 6',
  down: 'M6 9.500l6 6 6-6',
  edit: 'M5 7h14M5 12h8M5 17h5M14 19l1-3 5-5 2 2-5 5z',
  pin: 'M12 14v7M8 4h8l-1 6 3 4H6l3-4z',
  lock: 'M6 11h12v9H6zM8.500 11V8a3.500 3.500 0 0 1 7 0v3',
  unlock: 'M6 11h12v9H6zM8.500 11V7a3.500 3.500 0 0 1 6.800-1.200',
  eye: 'M2.500 12C5 7.500 8.500 5.500 12 5.500s7 2 9.500 6.500c-2.500 4.500-6 6.500-9.500 6.500S5 16.500 2.500 12zM15 12a3 3 0 1 1-6 0 3 3 0 0 1 6 0z',
  eyeOff: 'M2.500 12C5 7.500 8.500 5.500 12 5.500s7 2 9.500 6.500c-2.500 4.500-6 6.500-9.500 6.500S5 16.500 2.500 12zM4.500 20L19.500 4',
  repeat: 'M4 11V9a3 3 0 0 1 3-3h11M15 3l3 3-3 3M20 13v2a3 3 0 0 1-3 3H6M9 21l-3-3 3-3',
  unheard: 'M4 9.500v5h4l5 4v-13l-5 4zM16.500 9.500l5 5M21.500 9.500l-5 5',
  list: 'M9 6h11M9 12h11M9 18h11M4 6h.01M4 12h.01M4 18h.01',
  keys: 'M3 6h18v12H3zM7 10h.01M11 10h.01M15 10h.01M18 10h.01M8 14h8',
  search: 'M10.500 4a6.500 6.500 0 1 1 0 13 6.500 6.500 0 0 1 0-13zM15.200 15.200L20.500 20.500',
  pages: 'M8 3h11v14H8zM5 7v14h11M11 7h5M11 10.500h5',
  paper: 'M5 3h14v18H5zM5 8h14M5 12h14M5 16h14',
  folder: 'M3 6.500h6l2 2.500h10v10H3z',
  newFolder: 'M3 6.500h6l2 2.500h10v10H3zM12 11.500v5M9.500 14h5',
  screen: 'M3 5h18v11H3zM9 20h6M12 16v4M8 8v5h8',
  camera: 'M4 8h4l1.500-2.500h5L16 8h4v11H4zM12 10.500a3 3 0 1 0 .010 0',
  bringIn: 'M12 3.500v11M7.500 10l4.500 4.500L16.500 10M4 15v5h16v-5',
  archive: 'M4 4h16v5H4zM5.500 9v11h13V9M9.500 13h5',
  tag: 'M3.500 4h8l9 9-8 8-9-9zM8 8.200h.01',
  copy: 'M8 8h12v12H8zM4 16V4h12',
  memo: 'M12 3a3 3 0 0 1 3 3v5a3 3 0 0 1-6 0V6a3 3 0 0 1 3-3zM6 11a6 6 0 0 0 12 0M12 17v4',
  pictures: 'M4 4h7v9H4zM13 4h7v9h-7zM4 15.500h7V20H4zM13 15.500h7V20h-7z',
  more: 'M12 5h.01M12 12h.01M12 19h.01',
  jobs: 'M7 4h10M7 20h10M8 4v3l4 5-4 5v3M16 4v3l-4 5 4 5v3',
  review: 'M5 4h14v16H5zM8 9h8M8 13h4M13 16l2 2 3-4',
} as const;

const SOLID = {
  play: 'M7 4.500v15l12.500-7.500z',
  pause: 'M6.500 5h4v14h-4zM13.500 5h4v14h-4z',
  stop: 'M6 6h12v12H6z',
} as const;

export type IconName = keyof typeof LINES | keyof typeof SOLID | 'record';

/** What some controls of the component library ask for by their own names. */
const ALIAS: Record<string, IconName> = { 'arrow-left': 'back', check: 'saved', 'chevron-left': 'back', 'check-circle': 'saved' };

export function Icon({ name, size = 24, color = HUES.navy }: { name: string; size?: number; color?: string }) {
  const key = (ALIAS[name] ?? name) as IconName;
  if (key === 'record') {
    return (
      <Svg width={size} height={size} viewBox="0 0 24 24" aria-hidden>
        <Circle cx={12} cy={12} r={6.5} fill={color} />
      </Svg>
    );
  }
  const solid = key in SOLID;
  const d = solid ? SOLID[key as keyof typeof SOLID] : LINES[key as keyof typeof LINES];
  if (!d) return null;
  return (
    <Svg width={size} height={size} viewBox="0 0 24 24" aria-hidden>
      <Path d={d} fill={solid ? color : 'none'} stroke={solid ? 'none' : color} strokeWidth={1.9} strokeLinecap="round" strokeLinejoin="round" />
    </Svg>
  );
}
