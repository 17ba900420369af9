/** Paper against the standards and published sheets it is made after. */
import { execFileSync } from 'node:child_process';
import { cornellParts, FIRST_SPACING, FIRST_TOP, RULED_WIDTHS, rulingOf, sizeName, SIZES, writingLines } from './paper';
import { PAPER_KINDS } from './schema';
import { formSchema, type Page, type Paper } from './schema';

const page = (w: number, h: number, paper: Partial<Paper> & Pick<Paper, 'kind'>): Page => ({ id: 'p', w, h, paper: { spacing: FIRST_SPACING[paper.kind], top: FIRST_TOP[paper.kind], ...paper } });
const size = (name: string) => [SIZES.get(name)!.w, SIZES.get(name)!.h];

test('A and B sheets are those of ISO 216:2007, C those of ISO 269:1985 (trimmed sizes in mm, tables from memory)', () => {
  const A = [[841, 1189], [594, 841], [420, 594], [297, 420], [210, 297], [148, 210], [105, 148], [74, 105], [52, 74], [37, 52], [26, 37]];
  const B = [[1000, 1414], [707, 1000], [500, 707], [353, 500], [250, 353], [176, 250], [125, 176], [88, 125], [62, 88], [44, 62], [31, 44]];
  const C = [[917, 1297], [648, 917], [458, 648], [324, 458], [229, 324], [162, 229], [114, 162], [81, 114], [57, 81], [40, 57], [28, 40]];
  A.forEach((s, n) => expect(size(`A${n}`)).toEqual(s));
  B.forEach((s, n) => expect(size(`B${n}`)).toEqual(s));
  C.forEach((s, n) => expect(size(`C${n}`)).toEqual(s));
});

test('A, B and C sheets are those that libpaper knows (Debian, libpaper-utils 1.1)', () => {
  const series: readonly (readonly [string, number, number])[] = [['A', 0, 10], ['B', 0, 10], ['C', 2, 8]];
  for (const [letter, from, to] of series) {
    for (let n = from; n <= to; n++) {
      const known = execFileSync('paperconf', ['-p', `${letter.toLowerCase()}${n}`, '-s', '-m'], { encoding: 'utf8' });
      expect([`${letter}${n}`, ...size(`${letter}${n}`)]).toEqual([`${letter}${n}`, ...known.trim().split(/ mm\s*/).filter(Boolean).map(Number)]);
    }
  }
});

test('Letter is 8.5 in x 11 in (ANSI/ASME Y14.1, size A), Legal 8.5 in x 14 in (common practice, no source)', () => {
  expect(size('US Letter').map((v) => v / 25.4)).toEqual([8.5, 11]);
  expect(size('US Legal').map((v) => v / 25.4)).toEqual([8.5, 14]);
  expect(sizeName({ w: 279.4, h: 215.9 })).toBe('US Letter');
  expect(sizeName({ w: 200, h: 200 })).toBeNull();
});

test('ruled paper is 11/32 in wide, 9/32 in college, 1/4 in narrow (the usual fractions), and its lines lie so far apart to the foot', () => {
  expect(Object.fromEntries(Object.entries(RULED_WIDTHS).map(([k, v]) => [k, v / 25.4]))).toEqual({ wide: 11 / 32, college: 9 / 32, narrow: 1 / 4 });
  const { lines } = rulingOf(page(215.9, 279.4, { kind: 'ruled', spacing: RULED_WIDTHS.wide }));
  lines.forEach((l, i) => expect(l.y1).toBeCloseTo(24 + (i * 11 * 25.4) / 32, 9));
  expect(lines.length).toBe(29);
});

test('a Cornell sheet on Letter has a cue column of 2.5 in and a summary of 2 in (Cornell University, Learning Strategies Center)', () => {
  const letter = SIZES.get('US Letter')!;
  const { lines } = rulingOf(page(letter.w, letter.h, { kind: 'cornell' }));
  const strong = lines.filter((l) => l.strong);
  expect(strong.find((l) => l.x1 === l.x2)!.x1).toBeCloseTo(2.5 * 25.4, 9);
  expect(letter.h - strong.find((l) => l.y1 === l.y2)!.y1).toBeCloseTo(2 * 25.4, 9);
  // Notes are ruled beside the cues and above the summary alone.
  for (const l of lines.filter((k) => !k.strong)) {
    expect(l.x1).toBeCloseTo(2.5 * 25.4, 9);
    expect(l.y1).toBeLessThan(letter.h - 2 * 25.4);
  }
  expect(cornellParts({ w: 105, h: 148 }).cue / 105).toBeCloseTo(2.5 / 8.5, 6);
});

test('isometric lines meet at 60 degrees and make triangles with sides of the spacing', () => {
  const { lines } = rulingOf(page(210, 297, { kind: 'isometric', spacing: 7 }));
  const slopes = new Set(lines.map((l) => (l.x1 === l.x2 ? 90 : Math.round((Math.atan((l.y2 - l.y1) / (l.x2 - l.x1)) * 180) / Math.PI))));
  expect([...slopes].sort((a, b) => a - b)).toEqual([-30, 30, 90]);
  const upright = lines.filter((l) => l.x1 === l.x2).map((l) => l.x1);
  expect(upright[1] - upright[0]).toBeCloseTo(7 * Math.cos(Math.PI / 6), 9);
  // Along an upright line falling and rising lines cross in the same places, a side apart.
  const at = (x: number, sign: number) => lines.filter((l) => l.x1 !== l.x2 && Math.sign(l.y2 - l.y1) === sign).map((l) => l.y1 + ((x - l.x1) / (l.x2 - l.x1)) * (l.y2 - l.y1));
  const x = upright[6];
  const down = at(x, 1).filter((y) => y > 60 && y < 200).sort((a, b) => a - b);
  const up = at(x, -1);
  down.slice(1).forEach((y, i) => expect(y - down[i]).toBeCloseTo(7, 6));
  for (const y of down) expect(Math.min(...up.map((v) => Math.abs(v - y)))).toBeLessThan(1e-6);
});

test('a staff has five lines; a week has seven named days (common practice, no source)', () => {
  const music = rulingOf(page(210, 297, { kind: 'staves' })).lines.map((l) => l.y1);
  expect(music.length % 5).toBe(0);
  expect(music.slice(0, 5).map((y) => y - music[0])).toEqual([0, 2, 4, 6, 8]);
  expect(rulingOf(page(210, 297, { kind: 'week' })).words.map((w) => w.text).slice(0, 7)).toEqual(['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']);
});

test.each(PAPER_KINDS)('%s stays on the sheet, of every size, upright and lying', (kind) => {
  for (const { w, h } of SIZES.values()) {
    for (const sheet of [page(w, h, { kind, margin: 20 }), page(h, w, { kind })]) {
      if (Math.min(w, h) < 60) continue;
      const { lines, dots } = rulingOf(sheet);
      const inside = (x: number, y: number) => x >= -1e-6 && x <= sheet.w + 1e-6 && y >= -1e-6 && y <= sheet.h + 1e-6;
      expect(lines.filter((l) => !inside(l.x1, l.y1) || !inside(l.x2, l.y2))).toEqual([]);
      expect(dots.filter((d) => !(d.x > 0 && d.x < sheet.w && d.y > 0 && d.y < sheet.h))).toEqual([]);
      expect(formSchema.safeParse(sheet).success).toBe(true);
      expect(rulingOf(sheet).plate !== null).toBe(kind === 'cover');
      expect(writingLines(sheet.paper).spacing).toBeGreaterThanOrEqual(6);
    }
  }
});
