/** Typed text: widths against the faces that ship (by opentype.js; against a browser in tests/browser/typed.spec.ts), line breaks against UAX 14's own rules, moments of letters through every kind of edit. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import * as fc from 'fast-check';
import { boxOfLine, caretOn, letterOn, linesOf, makeTyped, momentOf, typedKind, wordStart, type Typed } from '../note/kinds/typed';
import { linked, placesOf, unlinked } from '../note/links';
import { writeSvg } from '../formats/svg';
import { newPage } from '../note/schema';
import { readInk, writeInk } from '../note/records/inkChunk';
import { lettersBy } from '../ink/replay';
import { ADVANCES } from './advances';
import { advanceOf, FACES, fontFiles, hasCuts, MM_PER_PT, type Look } from './faces';
import { fitting, flowFrom, laidFrom, retyped, type Draft, type Place } from './flow';
import { laidOut, letterAt, letterX } from './layout';

const { abs, max } = Math;
const { parse } = createRequire(__filename)('opentype.js') as { parse(bytes: ArrayBuffer): { unitsPerEm: number; charToGlyph(c: string): { index: number; advanceWidth: number } } };
const LOOK: Look = { face: 'sans', size: 12, color: '#16324f' };
const setting = (text: string, width: number, more: Partial<Parameters<typeof laidOut>[0]> = {}) => ({ text, looks: [[text.length, LOOK]] as [number, Look][], width, indent: 0, align: 'left' as const, ...more });
const texts = (text: string, width: number) => laidOut(setting(text, width)).map((l) => text.slice(l.from, l.to));

describe('widths', () => {
  const cuts = FACES.flatMap((face) => (hasCuts(face) ? [{}, { bold: true }, { slant: true }, { bold: true, slant: true }] : [{}]).map((c) => ({ ...LOOK, face, ...c }) as Look));
  test.each(cuts.map((look) => [fontFiles(look)[0], look] as const))('%s: every letter is as wide as the face says', (_, look) => {
    const [latin, more] = fontFiles(look).map((f) => {
      const bytes = readFileSync(`public/fonts/${f}.woff`);
      return parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
    });
    const isWide = (code: number) => [latin, more].flatMap((font) => {
      const glyph = font.charToGlyph(String.fromCodePoint(code));
      return glyph.index ? [Math.abs((glyph.advanceWidth / font.unitsPerEm) * 12 * MM_PER_PT - advanceOf(look, code)) < 1e-6] : [];
    });
    const { runs } = ADVANCES[`${look.face} ${look.bold ? 700 : 400} ${look.slant ? 'italic' : 'normal'}`];
    const codes = runs.flatMap(([first, ...widths]) => widths.map((_w, i) => first + i));
    expect(codes.filter((code) => !isWide(code).includes(true)).map((code) => String.fromCodePoint(code))).toEqual([]);
    // None of those that one writes is missing.
    const known = new Set(codes);
    const wanted = [...'High water at noon: 4.8 m – “springs” & neaps? ÄÖÜäöüß éèñçøå £€ 0123456789 (½)āčēłőřšűžĐđĦħŊŋ'].map((c) => c.codePointAt(0)!);
    expect(wanted.filter((code) => isWide(code).length && !known.has(code))).toEqual([]);
  });
});

describe('lines', () => {
  test('none is wider than it may be, and nothing is lost', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('ebb', 'flood', 'high-water', 'a', 'neaps,', '12:40', 'Slack', 'counter-current', ' ', '  '), { maxLength: 60 }), fc.double({ min: 8, max: 120, noNaN: true }), (words, width) => {
        const text = words.join(' ');
        const lines = laidOut(setting(text, width));
        expect(lines.map((l) => text.slice(l.from, l.to)).join('')).toBe(text);
        for (const l of lines) {
          // One letter at least stands in a line, however narrow it is.
          expect(l.w).toBeLessThanOrEqual(max(width, 5) + 1e-6);
        }
      }),
    );
  });

  // Unicode Standard Annex 14, 6.1: LB7 (no break before blanks), LB13 (none before closing marks), LB14 (none after an opening one), LB21 (a break after a hyphen), LB12 (none beside a no-break space).
  test('they break where UAX 14 allows it', () => {
    expect(texts('ebb and flood', 12)).toEqual(['ebb ', 'and ', 'flood']);
    expect(texts('high-water', 12)).toEqual(['high-', 'water']);
    expect(texts('at 12\u00a0m', 9)).toEqual(['at ', '12\u00a0m']);
    expect(texts('now (ebb)', 10)).toEqual(['now ', '(ebb)']);
    expect(texts('', 50)).toEqual(['']);
  });

  test('a word longer than a line is broken at its letters, after it was given a line of its own', () => {
    const lines = texts('ok Schifffahrtsamt', 15);
    expect(lines[0]).toBe('ok ');
    expect(lines.length).toBeGreaterThan(2);
    expect(lines.slice(1).join('')).toBe('Schifffahrtsamt');
  });

  test('in the middle and on the right they stand so, and a list stands in', () => {
    const [left] = laidOut(setting('ebb', 50));
    const [middle] = laidOut(setting('ebb', 50, { align: 'middle' }));
    const [right] = laidOut(setting('ebb ', 50, { align: 'right', indent: 6 }));
    expect(left.x).toBe(0);
    expect(middle.x).toBeCloseTo((50 - left.w) / 2, 9);
    // The blank at its end hangs.
    expect(right.x + right.w).toBeCloseTo(50, 9);
  });

  test('a letter is found where it stands', () => {
    const text = 'High water at noon';
    const [line] = laidOut(setting(text, 100));
    for (let i = 0; i < text.length; i++) expect(letterAt(line, letterX(line, i) + 0.1)).toBe(i);
    expect(letterAt(line, -5)).toBe(0);
  });
});

describe('flows', () => {
  const place: Place = { flow: 'f', page: 'p', m: [1, 0, 0, 1, 20, 30], width: 60, pitch: 8 };
  let clock = 0;
  let next = 0;
  const now = () => ({ stamp: { take: 't', at: clock }, wall: 1e12 + clock });
  const draft = (id: string | null, text: string, more: Partial<Draft> = {}): Draft => ({ id, text, looks: [[text.length, LOOK]], ...more });
  const edit = (old: readonly Typed[], drafts: readonly Draft[]) => retyped(old, drafts, place, now(), () => `n${next++}`);
  const times = (it: Typed) => Array.from({ length: it.text.length }, (_, i) => momentOf(it, i).stamp!.at);

  beforeEach(() => {
    [clock, next] = [0, 0];
  });

  /** Types letter by letter, 100 ms each. */
  const type = (old: readonly Typed[], text: string): Typed[] => {
    let lines = [...old];
    for (const c of text) {
      const drafts = lines.map((l) => draft(l.id, l.text));
      if (!drafts.length) drafts.push(draft(null, ''));
      if (c === '\n') drafts.push(draft(null, ''));
      else drafts[drafts.length - 1] = draft(drafts[drafts.length - 1].id, drafts[drafts.length - 1].text + c);
      lines = edit(lines, drafts);
      clock += 100;
    }
    return lines;
  };

  test('every letter has the moment of its key, every line that of its first', () => {
    const [a, b] = type([], 'ebb\nflood');
    expect(times(a)).toEqual([0, 100, 200]);
    expect(times(b)).toEqual([400, 500, 600, 700, 800]);
    expect([a.stamp, b.stamp]).toEqual([{ take: 't', at: 0 }, { take: 't', at: 400 }]);
    expect(b.m[5] - a.m[5]).toBe(8);
    expect(a.ms).toBe(200);
  });

  test('what is put into the middle is new, what stands around it keeps its moments', () => {
    const [a] = type([], 'ebb tide');
    clock = 60_000;
    const [b] = edit([a], [draft(a.id, 'ebb or flood tide')]);
    // The same blank stands before and after what was put in: which of the two is the new one nobody can tell.
    const old = times(b).filter((t) => t < 60_000);
    expect(old).toEqual([0, 100, 200, 300, 400, 500, 600, 700]);
    expect(times(b).filter((t) => t === 60_000)).toHaveLength('ebb or flood tide'.length - 8);
    expect(b.id).toBe(a.id);
  });

  test('a line that is split, and joined again, keeps the moments of its letters', () => {
    const [a] = type([], 'ebbflood');
    clock = 9000;
    const split = edit([a], [draft(a.id, 'ebb'), draft(a.id, 'flood')]);
    expect(split.map((l) => l.id)).toEqual([a.id, expect.not.stringMatching(a.id)]);
    expect(split.map(times)).toEqual([[0, 100, 200], [300, 400, 500, 600, 700]]);
    expect(split[1].stamp).toEqual({ take: 't', at: 300 });
    const [joined] = edit(split, [draft(split[0].id, 'ebbflood')]);
    expect(times(joined)).toEqual(times(a));
  });

  test('a line that grows to two pushes those below down, and only those change', () => {
    const lines = type([], 'ebb\nflood\nslack');
    const more = edit(lines, [draft(lines[0].id, 'ebb'), draft(lines[1].id, 'flood runs in for six hours and then some more'), draft(lines[2].id, 'slack')]);
    expect(more[0]).toBe(lines[0]);
    expect(linesOf(more[1])).toHaveLength(2);
    expect(more[2].m[5] - lines[2].m[5]).toBe(8);
    expect(flowFrom([...more].reverse(), place)).toEqual(more);
    // From any of them all are found; what was moved away is by itself, and what follows it too.
    expect(flowFrom(more, more[2])).toEqual(more);
    const away = typedKind.map(more[1], { a: 1, b: 0, c: 0, d: 1, e: 5, f: 90 }) as Typed;
    expect(flowFrom([more[0], away, more[2]], place)).toEqual([more[0]]);
    expect(flowFrom([more[0], away, more[2]], away)).toEqual([away]);
    expect(flowFrom([more[0], away, more[2]], more[2])).toEqual([more[2]]);
  });

  test('what does not end above the foot of a page goes on elsewhere, with its moments', () => {
    const lines = type([], 'ebb\nflood\nslack\nneaps');
    // The first foot line is at 38 mm, one every 8 mm.
    expect(fitting(lines, 1000)).toBe(4);
    expect(fitting(lines, 54)).toBe(3);
    expect(fitting(lines, 53.9)).toBe(2);
    // One at least, or a line too long for any page would go on for ever.
    expect(fitting(lines, 10)).toBe(1);
    const there: Place = { ...place, page: 'q', m: [1, 0, 0, 1, 20, 16] };
    const laid = laidFrom(lines.slice(2), there);
    expect(laid.map((l) => [l.page, l.n, l.m[5], l.id])).toEqual([['q', 0, 16, lines[2].id], ['q', 1, 24, lines[3].id]]);
    expect(laid.map(times)).toEqual(lines.slice(2).map(times));
    expect(laidFrom(laid, there)).toEqual(laid);
    expect(laidFrom(laid, there)[0]).toBe(laid[0]);
  });

  test('numbers of a list count on, and begin anew after other text', () => {
    const of = (list?: 'number' | 'dot') => (text: string) => draft(null, text, list ? { list } : {});
    const lines = edit([], [of('number')('a'), of('number')('b'), of()('c'), of('number')('d'), of('dot')('e')]);
    expect(lines.map((l) => l.nth)).toEqual([1, 2, undefined, 1, undefined]);
  });

  test('whatever is typed, taken away and put in, moments stay with their letters', () => {
    const step = fc.record({ at: fc.nat(40), cut: fc.nat(6), put: fc.stringMatching(/^[a-e\n]{0,4}$/) });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
        [clock, next] = [0, 0];
        let lines: Typed[] = [];
        for (const { at, cut, put } of steps) {
          clock += 1000;
          const text = lines.map((l) => l.text).join('\n');
          const from = Math.min(at, text.length);
          const changed = text.slice(0, from) + put + text.slice(from + cut);
          lines = edit(lines, changed.split('\n').map((t, i) => draft(lines[i]?.id ?? null, t)));
          expect(lines.map((l) => l.text).join('\n')).toBe(changed);
          expect(new Set(lines.map((l) => l.id)).size).toBe(lines.length);
          for (const l of lines) {
            expect(l.times.reduce((n, b) => n + b.t.length, 0)).toBe(l.text.length);
            expect(times(l).every((t) => t > 0 && t <= clock)).toBe(true);
          }
        }
      }),
    );
  });

  test('lines of no height, which only a foreign file brings, end the search for their flow', () => {
    const lines = type([], 'ebb\nflood').map((l) => typedKind.map(l, { a: 0, b: 0, c: 0, d: 0, e: 5, f: 5 }) as Typed);
    expect(flowFrom(lines, lines[0]).length).toBe(2);
  });

  test('letter by letter: how many stand there at a moment', () => {
    const [a] = type([], 'ebbs');
    const entry = { from: 5000, to: 5300, placed: a };
    expect([4900, 5000, 5099, 5100, 5299, 5300].map((t) => lettersBy(entry, t))).toEqual([0, 1, 1, 2, 3, 4]);
  });

  test('where it plays, a drawing has every letter with its moment, and where the line has it', () => {
    const [a] = type([], 'ebb & 𝄞 so');
    const page = { page: { ...newPage('p'), id: 'p' }, placed: [a], behind: null };
    const svg = writeSvg([page], { paper: false, title: 'x', pictures: new Map(), heard: (_, letter) => (letter === undefined ? 0 : 100 * letter) });
    const letters = [...svg.matchAll(/<text x="([\d.]+)"[^>]*data-from="(\d+)"[^>]*>([^<]*)<\/text>/g)];
    expect(letters.map((m) => m[3].replace('&amp;', '&')).join('')).toBe(a.text);
    expect(letters.map((m) => Number(m[2]))).toEqual([0, 100, 200, 300, 400, 500, 600, 800, 900, 1000]);
    letters.forEach((m) => expect(Number(m[1])).toBeCloseTo(letterX(linesOf(a)[0], Number(m[2]) / 100), 1));
    // Where nothing plays it stays one piece.
    expect([...writeSvg([page], { paper: false, title: 'x', pictures: new Map() }).matchAll(/<text /g)]).toHaveLength(1);
  });

  test('a word of a line leads somewhere: the letters keep it through edits, and it is where they stand', () => {
    const [a] = type([], 'the pilot boards at the outer buoy');
    const named = linked(a, 4, 9, 'n');
    expect(named.looks.map(([n, look]) => [n, look.link ?? ''])).toEqual([[4, ''], [5, 'n'], [25, '']]);
    const ref = { placed: [a.id], letters: 'n' };
    const [box] = placesOf(ref, [named]);
    const [line] = linesOf(named);
    expect(box[0]).toBeCloseTo(named.m[4] + letterX(line, 4), 6);
    expect(box[2]).toBeCloseTo(named.m[4] + letterX(line, 9), 6);
    // Letters put in before it push it on, also into another line.
    const [, next] = edit([named], [draft(a.id, 'so'), { ...draft(null, 'The pilot boards'), looks: [[4, LOOK], [5, { ...LOOK, link: 'n' }], [7, LOOK]] }]);
    expect(placesOf(ref, [next])).toHaveLength(1);
    expect(readInk(writeInk([named])).placed).toEqual([named]);
    // Wrapped it is in two places; without its letters nowhere; a thing as a whole is in one.
    const narrow = makeTyped({ ...named, width: letterX(line, 7) });
    expect(placesOf(ref, [makeTyped({ ...linked(narrow, 4, 24, 'n') })]).length).toBeGreaterThan(1);
    expect(unlinked('n', [named])[0].looks).toEqual(a.looks);
    expect([unlinked('n', [a]), placesOf(ref, unlinked('n', [named])), placesOf({ placed: [a.id] }, [a])]).toEqual([[], [], [a.box]]);
    // In a drawing the word is a link; where touching plays, a sign after it.
    const page = { page: { ...newPage('p'), id: 'p' }, placed: [named], behind: null, links: [{ box, href: 'https://tides.example/?a=1&b=2', name: 'Link to it' }] };
    const wide = (svg: string) => Number(/<a href="https:\/\/tides\.example\/\?a=1&amp;b=2" aria-label="Link to it" target="_blank" rel="noopener">.*<rect x="[\d.]+" y="[\d.]+" width="([\d.]+)"/.exec(svg)![1]);
    expect(wide(writeSvg([page], { paper: false, title: 'x', pictures: new Map() }))).toBeGreaterThan(box[2] - box[0]);
    expect(wide(writeSvg([page], { paper: false, title: 'x', pictures: new Map(), heard: () => 0 }))).toBeCloseTo(6.4, 6);
  });

  test('it moves, is written to a record and read again, and its lines and letters are found by their place', () => {
    const [a, b] = type([], 'flood runs in for six hours and then some more\nebb');
    const moved = typedKind.map(a, { a: 0, b: 1, c: -1, d: 0, e: 100, f: 50 }) as Typed;
    expect(moved.stamp).toEqual(a.stamp);
    expect(moved.box[2] - moved.box[0]).toBeCloseTo(a.box[3] - a.box[1], 9);
    const { placed, lost } = readInk(writeInk([a, b]));
    expect(lost).toBe(0);
    expect(placed).toEqual([a, b]);
    const [l, t, r, bottom] = boxOfLine(a, 1);
    expect(letterOn(a, l + 0.2, (t + bottom) / 2)).toEqual({ line: 1, index: linesOf(a)[1].from });
    expect(letterOn(a, r + 20, (t + bottom) / 2).index).toBe(a.text.length - 1);
    const second = linesOf(a)[1];
    const at = (i: number) => a.m[4] + letterX(second, i);
    expect([0.2, 0.8].map((share) => caretOn(a, at(second.from + 2) + share * (at(second.from + 3) - at(second.from + 2)), (t + bottom) / 2))).toEqual([second.from + 2, second.from + 3]);
    expect(caretOn(a, r + 20, (t + bottom) / 2)).toBe(a.text.length);
    expect(wordStart(a.text, 8)).toBe(6);
    expect(abs(t - a.box[1])).toBeGreaterThan(7);
    // One whose letters and times do not agree is none that can be shown; it stays as it is.
    const odd = { ...a, times: [] } as unknown as Typed;
    expect(readInk(writeInk([odd])).placed[0].kind).toBe('unknown');
  });
});
