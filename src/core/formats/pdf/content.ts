/**
 * A page's content as a PDF draws it (ISO 32000-1, chapter 8): ink as curves, its ruling, areas and pictures. Nothing but text comes out of here; the file around
 * it is `document.ts`.
 *
 * Whoever puts it on a page sets a matrix before it in which 1 is 1/50 mm, from the upper left corner, y down.
 */
import type { PlacedBase, Stroke, Box } from '../../ink/stroke';
import { pointsOf } from '../../ink/stroke';
import { runsOf } from '../../ink/curves';
import { sampleStroke, tracePen, type PathSink } from '../../ink/outline';
import { headsOf, isOpen } from '../../ink/shapes/shape';
import type { Matrix, Way } from '../../note/kinds/drawn';
import { textIn, drawingOrder, figuresOf, isTogether, inSight, type Placed } from '../../note/kinds/kinds';
import type { Picture } from '../../note/kinds/picture';
import { outlineOf } from '../../note/kinds/picture';
import { linesOf, markOf, type Typed } from '../../note/kinds/typed';
import { PRINT, rulingOf, sheetColor, lineColor } from '../../note/paper';
import type { Page } from '../../note/schema';
import { faceName, MM_PER_PT, type Look } from '../../text/faces';
import type { Line } from '../../text/layout';

/** To the mm. */
export const UNITS = 50;
/** How far ink may leave the pen's own line, mm: a third of a pixel at 300 dpi; and how far the chords may that it is fitted to. */
const FINE = { off: 0.03, thick: 0.028 } as const;
const FLAT = 0.02;
/** Grain of a pencil covers so much of its line. */
const PENCIL_COVER = 0.87;
/** So many strokes are placed one from another before places are said anew: readers add up in their own precision. */
const ANEW = 64;

/** How strong ruled lines are, mm, and how wide dots. */
const [HAIR, STRONG, DOT] = [0.16, 0.35, 0.56];

export interface Letters {
  /** A text by the fonts that have its letters, those of its face first: name of the font in the page's resources, its glyphs in hexadecimal, and how wide they are at a size of 1. */
  runs(text: string, face?: string): readonly { readonly font: string; readonly hex: string; readonly width: number }[];
}

export interface ContentOf {
  /** What was used, by what the page's resources have to name: opacity to its name, content hash to its name. */
  readonly alphas: ReadonlyMap<number, string>;
  readonly pictures: ReadonlyMap<string, string>;
  readonly fonts: ReadonlySet<string>;
  /** Empty when nothing was drawn. */
  readonly text: string;
}

const num = (v: number): string => String(Math.round(v * 1000) / 1000);
const at = (mm: number): number => Math.round(mm * UNITS);
const rgb = (color: string): string => [1, 3, 5].map((i) => num(Number.parseInt(color.slice(i, i + 2), 16) / 255)).join(' ');

/** How far handles of a quarter circle reach, in radii (common practice: within 0.03 % of the circle). */
const QUARTER = 0.5523;

export class PageContent {
  private readonly out: string[] = [];
  private readonly alphas = new Map<number, string>();
  private readonly pictures = new Map<string, string>();
  private readonly fonts = new Set<string>();
  private stroking = '';
  private filling = '';
  private width = -1;
  private alpha = 1;
  private dash = '';
  private round = false;
  /** What the places that follow are counted from. */
  private ox = 0;
  private oy = 0;
  private sinceAnew = 0;

  constructor(private readonly letters: Letters = { runs: () => [] }) {}

  result(): ContentOf {
    if (this.out.length) this.out.push('Q');
    return { alphas: this.alphas, pictures: this.pictures, fonts: this.fonts, text: this.out.join('\n') };
  }

  /** The colour of the sheet. */
  paper(page: Page): void {
    this.begin();
    this.fillColor(sheetColor(page.paper));
    this.out.push(`0 0 ${at(page.w)} ${at(page.h)} re f`);
  }

  ruling(page: Page): void {
    this.begin();
    const { lines, dots, words, plate } = rulingOf(page);
    if (plate) {
      this.fillColor(sheetColor({ ...page.paper, kind: 'plain', sheet: undefined }));
      this.out.push(`${at(plate.x)} ${at(plate.y)} ${at(plate.w)} ${at(plate.h)} re f`);
      this.strokeColor(sheetColor({ ...page.paper, kind: 'plain', sheet: undefined }));
      this.lineWidth(0.5);
      this.out.push(`${at(6)} ${at(6)} ${at(page.w - 12)} ${at(page.h - 12)} re S`);
    }
    this.strokeColor(lineColor(page.paper));
    for (const strong of [false, true]) {
      const some = lines.filter((l) => Boolean(l.strong) === strong);
      if (!some.length) continue;
      this.lineWidth(strong ? STRONG : HAIR);
      this.out.push(`${some.map((l) => `${at(l.x1)} ${at(l.y1)} m ${at(l.x2)} ${at(l.y2)} l`).join('\n')}\nS`);
    }
    if (dots.length) {
      this.lineWidth(DOT);
      this.roundEnds();
      this.out.push(`${dots.map(({ x, y }) => `${at(x)} ${at(y)} m ${at(x)} ${at(y)} l`).join('\n')}\nS`);
    }
    for (const { x, y, size, text } of words) this.words(text, x, y, size * 1.35, PRINT);
  }

  /** A line of text whose foot begins at x, y, with letters of `size` (mm). `seen`: false for what is only found and copied. */
  words(text: string, x: number, y: number, size: number, color: string, seen = true): void {
    for (const { font, hex, width } of this.letters.runs(text)) {
      this.begin();
      this.opacity(1);
      this.fillColor(color);
      this.fonts.add(font);
      // Letters stand upright in a page that counts downwards.
      this.out.push(`BT ${seen ? 0 : 3} Tr /${font} ${num(size * UNITS)} Tf 1 0 0 -1 ${at(x) - this.ox} ${at(y) - this.oy} Tm ${hex} Tj ET`);
      x += width * size;
    }
  }

  /** What lies on the page, in the order in which it is drawn. */
  placed(placed: readonly Placed[]): void {
    for (const it of drawingOrder(inSight(placed))) {
      if (isTogether(it)) this.together(it);
      else if (it.kind === 'stroke') this.stroke(it);
      else if (it.kind === 'area') this.area(it, it.fill);
      else if (it.kind === 'picture') this.picture(it);
      else if (it.kind === 'typed') this.typed(it);
      else this.drawn(it);
    }
  }

  /** Highlighter of one colour is one area, so that it does not darken where it crosses. */
  private together(light: readonly Stroke[]): void {
    const by = new Map<string, Stroke[]>();
    for (const it of light) by.set(`${it.pen.color} ${it.pen.opacity ?? 1}`, [...(by.get(`${it.pen.color} ${it.pen.opacity ?? 1}`) ?? []), it]);
    for (const some of by.values()) {
      this.begin();
      this.opacity(some[0].pen.opacity ?? 1);
      this.fillColor(some[0].pen.color);
      for (const it of some) this.trace(it);
      this.out.push('f');
    }
  }

  private stroke(it: Stroke): void {
    const { pen } = it;
    if (it.fill) this.area(it, it.fill);
    this.begin();
    const alpha = (pen.opacity ?? 1) * (pen.kind === 'pencil' ? PENCIL_COVER : 1);
    this.opacity(alpha);
    // Ink that lets through what lies under it would darken where its own runs meet; a nib is no round line.
    if (alpha < 1 || pen.kind === 'chisel' || (pen.line && it.shape?.heads)) {
      this.fillColor(pen.color);
      this.trace(it);
      this.out.push('f');
      return;
    }
    this.strokeColor(pen.color);
    this.roundEnds();
    const samples = sampleStroke(pointsOf(it), pen, FLAT);
    const heads = it.shape && isOpen(it.shape) ? headsOf(it.shape, pen.width) : [];
    // A broken line is one run: each would begin its dashes anew.
    for (const { width, xy } of runsOf(samples, pen.line ? { ...FINE, thick: Infinity } : FINE)) {
      this.lineWidth(width);
      this.dashes(pen.line === 'dashed' ? [4 * pen.width, 3 * pen.width] : pen.line === 'dotted' ? [0, 2.5 * pen.width] : []);
      this.curves(xy);
    }
    for (const head of heads) {
      this.lineWidth(pen.width);
      this.dashes([]);
      this.out.push(`${head.map(([x, y], i) => `${at(x) - this.ox} ${at(y) - this.oy} ${i ? 'l' : 'm'}`).join(' ')} S`);
    }
  }

  private area(it: Pick<PlacedBase, 'box'> & { readonly pts: Uint8Array }, fill: string): void {
    const { n, xy } = pointsOf(it);
    if (!n) return;
    this.begin();
    this.opacity(1);
    this.fillColor(fill);
    const path: string[] = [];
    for (let i = 0; i < n; i++) path.push(`${at(xy[2 * i] / 100) - this.ox} ${at(xy[2 * i + 1] / 100) - this.oy} ${i ? 'l' : 'm'}`);
    this.out.push(`${path.join(' ')} f*`);
  }

  private picture(it: Picture): void {
    let name = this.pictures.get(it.content);
    if (!name) this.pictures.set(it.content, (name = `P${this.pictures.size}`));
    this.anew();
    this.opacity(1);
    const loop = outlineOf(it).map(([x, y], i) => `${at(x)} ${at(y)} ${i ? 'l' : 'm'}`);
    const [a, b, c, d, e, f] = it.m.map((v) => v * UNITS);
    // A picture stands on its lower left corner (ISO 32000-1, 8.9.5.1).
    this.out.push(`q ${it.crop ? `${loop.join(' ')} h W n ` : ''}${[a, b, -c, -d, c + e, d + f].map(num).join(' ')} cm /${name} Do Q`);
  }

  /** What is made of lines, areas and text: sticky notes, tables. */
  private drawn(it: Placed): void {
    for (const { ways, fill, line, width = 0.2, dash = [] } of figuresOf(it)) {
      this.begin();
      this.opacity(1);
      if (fill) this.fillColor(fill);
      if (line) {
        this.strokeColor(line);
        this.lineWidth(width);
        this.dashes(dash);
        this.roundEnds();
      }
      this.out.push(`${ways.map((way) => this.way(way)).join(' ')} ${fill && line ? 'B*' : fill ? 'f*' : 'S'}`);
    }
    for (const { m, lines, pitch } of textIn(it)) {
      this.place(m);
      this.lines(lines, pitch);
      this.anew();
    }
  }

  private way({ from, to, closed }: Way): string {
    const put = (xy: readonly number[]) => xy.map((v, i) => at(v) - (i % 2 ? this.oy : this.ox)).join(' ');
    return `${put(from)} m ${to.map((p) => `${put(p)} ${p.length === 2 ? 'l' : 'c'}`).join(' ')}${closed ? ' h' : ''}`;
  }

  /** What follows counts from a thing's own place. */
  private place([a, b, c, d, e, f]: Matrix): void {
    this.anew();
    this.out.push(`${[a, b, c, d, e * UNITS, f * UNITS].map(num).join(' ')} cm`);
  }

  private set(text: string, look: Look, x: number, y: number): void {
    for (const { font, hex, width } of this.letters.runs(text, faceName(look))) {
      this.fonts.add(font);
      this.fillColor(look.color);
      const size = look.size * MM_PER_PT;
      this.out.push(`BT 0 Tr /${font} ${num(size * UNITS)} Tf 1 0 0 -1 ${num(x * UNITS)} ${num(y * UNITS)} Tm ${hex} Tj ET`);
      x += width * size;
    }
  }

  private lines(lines: readonly Line[], pitch: number): void {
    lines.forEach((line, i) => {
      const y = (i + 1) * pitch;
      for (const { text, x, w, look } of line.pieces) {
        const size = look.size * MM_PER_PT;
        if (look.marked) {
          this.fillColor(look.marked);
          this.out.push(`${num(x * UNITS)} ${num((y - 0.82 * size) * UNITS)} ${num(w * UNITS)} ${num(1.08 * size * UNITS)} re f`);
        }
        this.set(text, look, x, y);
      }
    });
  }

  private typed(it: Typed): void {
    this.place(it.m);
    const mark = markOf(it);
    if (mark?.is === 'text') this.set(mark.text, mark.look, mark.right - this.letters.runs(mark.text, faceName(mark.look)).reduce((w, r) => w + r.width, 0) * mark.size, mark.y);
    else if (mark) {
      const { x, y, r } = mark;
      this.strokeColor(mark.look.color);
      this.lineWidth(mark.is === 'dot' ? 2 * r : 0.08 * mark.size);
      if (mark.is === 'dot') {
        this.roundEnds();
        this.out.push(`${at(x)} ${at(y)} m ${at(x)} ${at(y)} l S`);
      } else this.out.push(`${at(x - r)} ${at(y - r)} ${at(2 * r)} ${at(2 * r)} re S${mark.done ? ` ${at(x - 0.6 * r)} ${at(y)} m ${at(x - 0.15 * r)} ${at(y + 0.5 * r)} l ${at(x + 0.7 * r)} ${at(y - 0.6 * r)} l S` : ''}`);
    }
    this.lines(linesOf(it), it.pitch);
    this.anew();
  }

  /** A picture that fills a box of the page, mm. */
  backdrop(content: string, [l, t, r, b]: Box): void {
    let name = this.pictures.get(content);
    if (!name) this.pictures.set(content, (name = `P${this.pictures.size}`));
    this.anew();
    this.out.push(`q ${at(r - l)} 0 0 ${-at(b - t)} ${at(l)} ${at(b)} cm /${name} Do Q`);
  }

  /** The outline of a line as a path that waits to be filled. */
  private trace(it: Stroke): void {
    const { ox, oy, out } = this;
    const put = (x: number, y: number) => `${at(x) - ox} ${at(y) - oy}`;
    const sink: PathSink = {
      moveTo: (x, y) => void out.push(`${put(x, y)} m`),
      lineTo: (x, y) => void out.push(`${put(x, y)} l`),
      arc: (x, y, r) => {
        const q = QUARTER * r;
        for (const [ax, ay, bx, by, cx, cy] of [[r, q, q, r, 0, r], [-q, r, -r, q, -r, 0], [-r, -q, -q, -r, 0, -r], [q, -r, r, -q, r, 0]]) out.push(`${put(x + ax, y + ay)} ${put(x + bx, y + by)} ${put(x + cx, y + cy)} c`);
      },
    };
    const { pen, shape } = it;
    tracePen(pen, sampleStroke(pointsOf(it), pen), sink);
    if (!shape || !isOpen(shape)) return;
    const r = pen.width / 2;
    for (const [a, tip, b] of headsOf(shape, pen.width)) tracePen({ ...pen, line: undefined }, Float32Array.from([...a, r, ...tip, r, ...b, r]), sink);
  }

  /** Places are counted from where the curve before began: small numbers are short ones. */
  private curves(xy: readonly number[]): void {
    const [x, y] = [at(xy[0]), at(xy[1])];
    const [dx, dy] = [x - this.ox, y - this.oy];
    const to: string[] = [];
    for (let i = 2; i < xy.length; i += 6) to.push(`${at(xy[i]) - x} ${at(xy[i + 1]) - y} ${at(xy[i + 2]) - x} ${at(xy[i + 3]) - y} ${at(xy[i + 4]) - x} ${at(xy[i + 5]) - y} c`);
    [this.ox, this.oy] = [x, y];
    this.out.push(`${dx || dy ? `1 0 0 1 ${dx} ${dy} cm ` : ''}0 0 m ${to.length ? to.join(' ') : '0 0 l'} S`);
  }

  private begin(): void {
    if (this.out.length === 0) this.out.push('q');
    else if (++this.sinceAnew >= ANEW) this.anew();
  }

  private anew(): void {
    if (this.out.length) this.out.push('Q');
    this.out.push('q');
    [this.stroking, this.filling, this.width, this.alpha, this.dash, this.round, this.ox, this.oy, this.sinceAnew] = ['', '', -1, 1, '', false, 0, 0, 0];
  }

  private strokeColor(color: string): void {
    if (color !== this.stroking) this.out.push(`${rgb((this.stroking = color))} RG`);
  }

  private fillColor(color: string): void {
    if (color !== this.filling) this.out.push(`${rgb((this.filling = color))} rg`);
  }

  /** mm. */
  private lineWidth(width: number): void {
    const w = Math.max(1, at(width));
    if (w !== this.width) this.out.push(`${(this.width = w)} w`);
  }

  private dashes(mm: readonly number[]): void {
    const dash = mm.map((v) => at(v)).join(' ');
    if (dash !== this.dash) this.out.push(`[${(this.dash = dash)}] 0 d`);
  }

  private roundEnds(): void {
    if (!this.round) this.out.push('1 J 1 j');
    this.round = true;
  }

  private opacity(alpha: number): void {
    if (alpha === this.alpha) return;
    let name = this.alphas.get(alpha);
    if (!name) this.alphas.set(alpha, (name = `A${this.alphas.size}`));
    this.alpha = alpha;
    this.out.push(`/${name} gs`);
  }
}
