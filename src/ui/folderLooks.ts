/** How folders look: eight colours and eight emblems of the harbour, drawn on a field of 24. White on each colour has 4.5:1 and more (palette.test.ts). */
import { HUES } from './palette';
import type { EMBLEMS, FOLDER_COLORS } from '../core/library/folder';

export const FOLDER_TINTS: Readonly<Record<(typeof FOLDER_COLORS)[number], string>> = {
  navy: HUES.navy, green: HUES.green, amber: HUES.brass, brick: HUES.brick, slate: HUES.slate, plum: HUES.plum, teal: HUES.teal, sand: HUES.sand,
};

export const EMBLEM_PATHS: Readonly<Record<(typeof EMBLEMS)[number], string>> = {
  wave: 'M3 9c3-4 6 4 9 0s6 4 9 0M3 15c3-4 6 4 9 0s6 4 9 0',
  buoy: 'M12 3v3M9.500 6h5l2.500 10H7zM4 19c2.700-2 5.300 2 8 0s5.300 2 8 0M8.300 11h7.400',
  bell: 'M12 4v1.500M7 16V11a5 5 0 0 1 10 0v5l1.500 2h-13zM10.500 20h3',
  lamp: 'M9 9h6l1.500 11h-9zM10 9V6h4v3M12 3v3M5 6.500l2 1M19 6.500l-2 1',
  knot: 'M3 9c5 0 5 8 9 8s4-6 0-6-4 6 0 6 4-8 9-8M3 16c3 0 3-2 4.500-4M21 16c-3 0-3-2-4.500-4',
  compass: 'M20 12a8 8 0 1 1-16 0 8 8 0 0 1 16 0zM15 9l-2 4.500L9 15l2-4.500z',
  flag: 'M6 3v18M6 4.500c4-2 7 2 12 0v8c-5 2-8-2-12 0',
  anchor: 'M12 8v12M14.500 5.500a2.500 2.500 0 1 1-5 0 2.500 2.500 0 0 1 5 0zM8 11h8M5 14c0 4 3.500 6 7 6s7-2 7-6',
};
