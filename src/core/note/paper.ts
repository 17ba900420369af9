/** Sizes of sheets, and what is ruled on them. All in mm, origin top left, y down. */
import type { Page, Paper, PaperKind } from './schema';

const INCH = 25.4;

/** Half of the longer side, cut to whole millimetres, at every step: ISO 216 (A and B), ISO 269 (C). */
function series(letter: string, w: number, h: number): [string, Size][] {
  const sizes: [string, Size][] = [];
  for (let n = 0; n <= 10; n++) {
    sizes.push([`${letter}${n}`, { w, h }]);
    [w, h] = [Math.floor(h / 2), w];
  }
  return sizes;
}

export interface Size {
  readonly w: number;
  readonly h: number;
}

/** Upright sheets by name. ISO 216 and ISO 269; Letter and Legal after ANSI/ASME Y14.1 (8.5 in x 11 in) and common practice (8.5 in x 14 in). */
export const SIZES: ReadonlyMap<string, Size> = new Map([
  ...series('A', 841, 1189),
  ...series('B', 1000, 1414),
  ...series('C', 917, 1297),
  ['US Letter', { w: 8.5 * INCH, h: 11 * INCH }],
  ['US Legal', { w: 8.5 * INCH, h: 14 * INCH }],
]);

/** Side of a sheet, mm: what is smaller cannot be written on, what is larger no longer drawn at once. */
export const LEAST_SIDE = 40;
export const MOST_SIDE = 1500;

/** The name of a size, upright or lying; null for one of the writer's own. */
export function sizeName({ w, h }: Size): string | null {
  const [a, b] = [Math.min(w, h), Math.max(w, h)];
  for (const [name, s] of SIZES) if (Math.abs(s.w - a) < 0.05 && Math.abs(s.h - b) < 0.05) return name;
  return null;
}

/** Distances of ruled paper by their usual names, mm: 11/32 in, 9/32 in, 1/4 in. */
export const RULED_WIDTHS = { wide: (11 / 32) * INCH, college: (9 / 32) * INCH, narrow: INCH / 4 } as const;


/** The Cornell sheet as its makers give it, on US Letter: cue column 2.5 in, summary 2 in high (Cornell University, Learning Strategies Center). */
export const CORNELL = { cue: 2.5 * INCH, summary: 2 * INCH } as const;

/** Distance between lines (or squares, dots, lines of a staff) that a kind begins with, mm. */
export const FIRST_SPACING: Readonly<Record<PaperKind, number>> = { plain: 8, ruled: 8, squared: 5, dotted: 5, isometric: 7, cornell: 7.1, columns: 8, staves: 2, week: 8, cover: 14 };
export const FIRST_TOP: Readonly<Record<PaperKind, number>> = { plain: 24, ruled: 24, squared: 0, dotted: 5, isometric: 0, cornell: 20, columns: 24, staves: 22, week: 18, cover: 60 };

/** Colours of sheet and lines. */
export const SHEET = '#fffdf8';
export const LINE = '#cfd9e2';
/** Lines of a table, and behind its header row. */
export const [GRID, HEAD] = ['#6d7c8b', '#e6ebf0'] as const;
/** What is printed on a sheet beside its lines. */
export const PRINT = '#5d6b78';
/** The colour of a cover that has none of its own. */
export const COVER = '#16324f';

/** Sheets and lines that are offered; the first ones are the usual. */
export const SHEET_TINTS = [
  { color: undefined, name: 'White' },
  { color: '#fbf3dc', name: 'Cream' },
  { color: '#f2f6ea', name: 'Pale green' },
  { color: '#eaf2f8', name: 'Pale blue' },
  { color: '#f6ecf0', name: 'Pale rose' },
] as const;
export const COVER_TINTS = [
  { color: undefined, name: 'Navy' },
  { color: '#1f7a6d', name: 'Green' },
  { color: '#b5382a', name: 'Brick' },
  { color: '#8a5a00', name: 'Amber' },
  { color: '#6b3f73', name: 'Plum' },
  { color: '#4d5f70', name: 'Slate' },
] as const;
export const LINE_TINTS = [
  { color: undefined, name: 'Blue grey' },
  { color: '#a9c4d8', name: 'Blue' },
  { color: '#b9cfae', name: 'Green' },
  { color: '#d8b4a6', name: 'Red' },
  { color: '#9aa3ab', name: 'Grey' },
] as const;

export const sheetColor = ({ kind, sheet }: Pick<Paper, 'kind' | 'sheet'>): string => sheet ?? (kind === 'cover' ? COVER : SHEET);
export const lineColor = ({ line }: Pick<Paper, 'line'>): string => line ?? LINE;

export interface Ruling {
  /** Ends of each line, mm; `strong` ones divide the sheet. */
  readonly lines: readonly { readonly x1: number; readonly y1: number; readonly x2: number; readonly y2: number; readonly strong?: boolean }[];
  readonly dots: readonly { readonly x: number; readonly y: number }[];
  /** The place of a cover's title, on which one writes; null on all other paper. */
  readonly plate: { readonly x: number; readonly y: number; readonly w: number; readonly h: number } | null;
  /** Words printed on the sheet; x, y is the left end of their foot line, `size` the height of their letters. */
  readonly words: readonly { readonly x: number; readonly y: number; readonly size: number; readonly text: string }[];
}

/** The lower edge stays free of lines. */
const FOOT = 8;
/** Spaces from one staff to the next: four within it and six between. */
const STAFF_PITCH = 10;
const SIDE = 12;
const COLUMN_GUTTER = 4;
/** A text on a board is as wide as on a sheet; it could go on for metres. */
export const BOARD_LINE = 120;
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday', 'Notes'] as const;

/** Parts of a Cornell sheet: a smaller one has smaller parts. */
export function cornellParts({ w, h }: Size): { cue: number; summary: number } {
  const k = Math.min(1, w / SIZES.get('US Letter')!.w, h / SIZES.get('US Letter')!.h);
  return { cue: CORNELL.cue * k, summary: CORNELL.summary * k };
}

/** The level lines that are written on: the first and the distance of the others, mm, and how far a text goes that begins at `x`; null where there are none. */
export function linesToWriteOn({ w, paper, board }: Page, x: number): { readonly top: number; readonly spacing: number; readonly right: number } | null {
  const { kind, top, spacing } = paper;
  if (kind !== 'ruled' && kind !== 'squared' && kind !== 'dotted' && kind !== 'cornell' && kind !== 'columns') return null;
  return { top, spacing, right: board ? x + BOARD_LINE : kind === 'columns' && x < w / 2 ? w / 2 - COLUMN_GUTTER : w - SIDE };
}

const cache = new WeakMap<Page, Ruling>();

/** What is ruled on a page; worked out once. */
export function rulingOf(page: Page): Ruling {
  let ruling = cache.get(page);
  if (!ruling) cache.set(page, (ruling = page.ruled ? shifted(ruleWithin(page, page.ruled), -page.ruled[0], -page.ruled[1]) : rule(page)));
  return ruling;
}

const shifted = ({ lines, dots, ...rest }: Ruling, dx: number, dy: number): Ruling => ({
  ...rest,
  lines: lines.map((l) => ({ ...l, x1: l.x1 + dx, y1: l.y1 + dy, x2: l.x2 + dx, y2: l.y2 + dy })),
  dots: dots.map((p) => ({ x: p.x + dx, y: p.y + dy })),
});

/** What is ruled within a part (mm) of a board: it goes on to every side. */
export function ruleWithin({ paper: { kind, spacing: d, top } }: Pick<Page, 'paper'>, [l, t, r, b]: readonly [number, number, number, number]): Ruling {
  const lines: Ruling['lines'][number][] = [];
  const dots: { x: number; y: number }[] = [];
  const places = (from: number, to: number, first: number, step: number) => {
    const k = Math.ceil((from - first) / step - 1e-9);
    return Array.from({ length: Math.max(0, Math.floor((to - first) / step + 1e-9) - k + 1) }, (_, i) => first + (k + i) * step);
  };
  const [ys, xs] = [places(t, b, top, d), places(l, r, 0, d)];
  if (kind === 'ruled' || kind === 'squared') for (const y of ys) lines.push({ x1: l, y1: y, x2: r, y2: y });
  if (kind === 'squared') for (const x of xs) lines.push({ x1: x, y1: t, x2: x, y2: b });
  if (kind === 'dotted') for (const y of ys) for (const x of xs) dots.push({ x, y });
  if (kind === 'isometric') {
    for (const x of places(l, r, 0, (d * Math.sqrt(3)) / 2)) lines.push({ x1: x, y1: t, x2: x, y2: b });
    for (const way of [1, -1]) {
      const [rl, rr] = [(way * l) / Math.sqrt(3), (way * r) / Math.sqrt(3)];
      for (const y of places(t - Math.max(rl, rr), b - Math.min(rl, rr), 0, d)) {
        const line = clipped(l, y + rl - t, r, y + rr - t, b - t);
        lines.push({ x1: line.x1, y1: line.y1 + t, x2: line.x2, y2: line.y2 + t });
      }
    }
  }
  return { lines: lines.filter((x) => x.x1 !== x.x2 || x.y1 !== x.y2), dots, words: [], plate: null };
}

function rule({ w, h, paper }: Page): Ruling {
  const { kind, spacing: d, top } = paper;
  const lines: Ruling['lines'][number][] = [];
  const dots: { x: number; y: number }[] = [];
  const words: Ruling['words'][number][] = [];
  let plate: Ruling['plate'] = null;
  const across = (y: number, x1 = 0, x2 = w, strong = false) => lines.push({ x1, y1: y, x2, y2: y, ...(strong ? { strong } : {}) });
  const down = (x: number, y1 = 0, y2 = h, strong = false) => lines.push({ x1: x, y1, x2: x, y2, ...(strong ? { strong } : {}) });
  // Counted and not added up, so that the last line of a long sheet is where it belongs.
  const steps = (from: number, to: number, step: number, at: (v: number) => void) => {
    for (let k = 0; from + k * step <= to + 1e-6; k++) at(from + k * step);
  };
  switch (kind) {
    case 'plain':
      break;
    case 'ruled':
      steps(top, h - FOOT, d, (y) => across(y));
      break;
    case 'squared':
      steps(top, h, d, (y) => across(y));
      steps(0, w, d, (x) => down(x));
      break;
    case 'dotted':
      steps(top, h - d / 2, d, (y) => steps(d, w - d / 2, d, (x) => dots.push({ x, y })));
      break;
    case 'isometric': {
      // Triangles with sides of `spacing`: upright lines, and lines at 30 degrees both ways.
      steps(0, w, (d * Math.sqrt(3)) / 2, (x) => down(x));
      const rise = w / Math.sqrt(3);
      steps(-Math.ceil(rise / d) * d, h, d, (y) => {
        lines.push(clipped(0, y, w, y + rise, h));
        lines.push(clipped(0, y + Math.ceil(rise / d) * d, w, y + Math.ceil(rise / d) * d - rise, h));
      });
      break;
    }
    case 'cornell': {
      const { cue, summary } = cornellParts({ w, h });
      steps(top, h - summary - d / 2, d, (y) => across(y, cue));
      down(cue, 0, h - summary, true);
      across(h - summary, 0, w, true);
      break;
    }
    case 'columns': {
      const gutter = COLUMN_GUTTER;
      steps(top, h - FOOT, d, (y) => {
        across(y, 0, w / 2 - gutter);
        across(y, w / 2 + gutter, w);
      });
      down(w / 2, top - d, h - FOOT, true);
      break;
    }
    case 'staves':
      steps(top, h - FOOT - 4 * d, STAFF_PITCH * d, (y) => {
        for (let k = 0; k < 5; k++) across(y + k * d, SIDE, w - SIDE);
      });
      break;
    case 'week': {
      // Four rows of two: the seven days and a place for notes.
      const row = (h - top - FOOT) / 4;
      DAYS.forEach((text, i) => words.push({ x: i % 2 ? w / 2 + 3 : 5, y: top + Math.floor(i / 2) * row + 6, size: 3.2, text }));
      for (let r = 0; r < 4; r++) {
        across(top + r * row, 0, w, true);
        steps(top + r * row + 8 + d, top + (r + 1) * row - d / 2, d, (y) => {
          across(y, 5, w / 2 - 3);
          across(y, w / 2 + 3, w - 5);
        });
      }
      down(w / 2, top, top + 4 * row, true);
      break;
    }
    case 'cover':
      // A third down, as on a bound book: room for a title and a line below it.
      plate = { x: w * 0.14, y: h * 0.22, w: w * 0.72, h: Math.min(h * 0.3, 3.4 * d) };
      across(plate.y + plate.h * 0.5, plate.x + 8, plate.x + plate.w - 8);
      across(plate.y + plate.h * 0.8, plate.x + 8, plate.x + plate.w - 8);
  }
  if (paper.margin) down(paper.margin, 0, h, true);
  return { lines: lines.filter((l) => l.x1 !== l.x2 || l.y1 !== l.y2), dots, words, plate };
}

/** A slanting line cut at the upper and lower edge of a sheet `h` high. */
function clipped(x1: number, y1: number, x2: number, y2: number, h: number): Ruling['lines'][number] {
  const at = (y: number) => x1 + ((y - y1) / (y2 - y1)) * (x2 - x1);
  const cut = (x: number, y: number) => (y < 0 ? { x: at(0), y: 0 } : y > h ? { x: at(h), y: h } : { x, y });
  if ((y1 < 0 && y2 < 0) || (y1 > h && y2 > h)) return { x1, y1: 0, x2: x1, y2: 0 };
  const [a, b] = [cut(x1, y1), cut(x2, y2)];
  return { x1: a.x, y1: a.y, x2: b.x, y2: b.y };
}

/** Lines to write on: their distance and the first one, mm. Fine squares are written over by twos and threes, music by staves. */
export function writingLines({ kind, spacing, top }: Paper): { spacing: number; top: number } {
  if (kind === 'staves') return { spacing: STAFF_PITCH * spacing, top: top + 4 * spacing };
  if (kind === 'squared' || kind === 'dotted' || kind === 'isometric') {
    const step = spacing * Math.max(1, Math.ceil(6 / spacing));
    return { spacing: step, top: top < step ? top + step : top };
  }
  return { spacing, top };
}
