/** Where the caret is on the pages: opens the editor over a flow, or a new one on the ruling, and keeps it in step with the note. */
import { newId } from '../../../../core/id';
import { PX_PER_MM } from '../../../../core/ink/ruler';
import { slipAt, type Placed } from '../../../../core/note/kinds/kinds';
import { textPlace } from '../../../../core/note/kinds/slip';
import { boxOfLine, caretOn, linesOf, type Typed } from '../../../../core/note/kinds/typed';
import { labelOf, labelPlace, shapeAt } from '../../../../core/note/labels';
import { BOARD_LINE, linesToWriteOn } from '../../../../core/note/paper';
import { extentOf } from '../../../../core/note/board';
import { MM_PER_PT } from '../../../../core/text/faces';
import { flowFrom, type Draft, type Place } from '../../../../core/text/flow';
import type { Box } from '../../../../core/ink/stroke';
import type { Flowed } from '../../../../store/typing';
import type { PageView } from '../pageView';
import { Resting } from '../resting';
import { TypingEditor, type Typing, type TypingHost } from './editor';

/** A touch so near a typed line is meant for it, mm; beyond its end, where one goes on with it, from farther away. */
const [NEAR_MM, BEYOND_MM] = [1.5, 15];
/** Between the text and the right edge of the page, mm; and of a text that begins close to that edge at least its width. */
const [RIGHT_MM, LEAST_MM] = [10, 30];
/** Where other text on the page begins within this, text begins there too, mm. */
const FLUSH_MM = 12;
/** From the edges of an empty page to where it is begun without a touch, mm. */
const START_MM = 20;
/** Letters need so much to be typed, px. */
const READABLE_PX = 15;

export interface TypingViewHost {
  typed(place: Place, drafts: readonly Draft[], time: number): Flowed | null;
  /** The page as it is shown; null while it is not. */
  viewOf(page: string): PageView | null;
  typingAt(typing: Typing): void;
  undo(): void;
  redo(): void;
  /** px per mm. */
  readonly scale: number;
  readonly typing: Typing;
  zoomTo(share: number, view: PageView, x: number): void;
  reveal(view: PageView, box: Box): void;
  caret: TypingHost['caret'];
}

export class TypingView {
  private open: { editor: TypingEditor; view: PageView } | null = null;
  private readonly resting = new Resting();

  constructor(private readonly host: TypingViewHost) {}

  /** A key was pressed a moment ago; `rested` is called when none comes any more. */
  isBusy(rested: () => void): boolean {
    return this.resting.isBusy(rested);
  }

  get isOpen(): boolean {
    return this.open !== null;
  }

  at(view: PageView, x: number, y: number): void {
    const { host } = this;
    this.close();
    const touched = view.index.at(x, y, NEAR_MM).find((it): it is Typed => it.kind === 'typed');
    const shape = touched ? null : shapeAt(view.placed, x, y);
    const hit = touched ?? (shape ? labelOf(view.placed, shape.id).at(-1) : endBefore(view, x, y));
    const { typing } = host;
    if (shape && !hit) return this.label(view, shape);
    const place = hit ? placeOf(hit, view) : newPlace(view, x, y, typing);
    this.readable(view, place.m[4] - 3);
    this.put(view, place, hit ? { line: hit.id, index: caretOn(hit, x, y) } : null, hit?.box);
  }

  /** A label begins in the middle of its shape. */
  private label(view: PageView, shape: NonNullable<ReturnType<typeof shapeAt>>): void {
    const { host } = this;
    const { typing } = host;
    const place: Place = { flow: newId(), page: view.page.id, on: shape.id, align: 'middle', ...labelPlace(shape, 1.25 * typing.look.size * MM_PER_PT) };
    this.readable(view, place.m[4] - 3);
    this.put(view, place, null);
  }

  /** A text of its own from a place on (mm), and so wide, wherever the lines of the page run. */
  within(view: PageView, x: number, y: number, width: number): void {
    const { host } = this;
    this.close();
    const { look } = host.typing;
    const pitch = 1.4 * look.size * MM_PER_PT;
    const [l, t, r] = extentOf(view.page);
    const place: Place = { flow: newId(), page: view.page.id, m: [1, 0, 0, 1, Math.max(l + 1, x), Math.max(t, y)], width: Math.max(2 * pitch, Math.min(width, r - x - 1)), pitch };
    this.readable(view, place.m[4] - 3);
    this.put(view, place, null);
  }

  private readable(view: PageView, x: number): void {
    const { host } = this;
    const size = host.typing.look.size * MM_PER_PT;
    if (size * host.scale < READABLE_PX) host.zoomTo(READABLE_PX / size / PX_PER_MM, view, x);
  }

  /** Without a touch: at the end of what stands lowest on a page where that is typed, else on the line below it. */
  below(view: PageView): void {
    const lowest = view.placed.reduce<Placed | null>((low, it) => (!low || it.box[3] > low.box[3] ? it : low), null);
    if (lowest?.kind === 'typed') {
      const place = placeOf(lowest, view);
      const last = flowFrom(view.placed, lowest).at(-1)!;
      this.close();
      return this.put(view, place, { line: last.id, index: last.text.length }, last.box);
    }
    const left = view.placed.length ? Math.min(...view.placed.map((it) => it.box[0])) : START_MM;
    this.at(view, Math.max(extentOf(view.page)[0] + 4, left), Math.min(extentOf(view.page)[3] - 12, (lowest?.box[3] ?? START_MM) + 2));
  }

  /** The editor over the lines from a place on, with the caret in one of them. */
  private put(view: PageView, place: Place, at: { readonly line: string; readonly index: number } | null, box?: Box): void {
    const { host } = this;
    const { typing } = host;
    const lines = at ? flowFrom(view.placed, place) : [];
    const editor = new TypingEditor(view.ground, place, lines, typing, host.scale, {
      typed: (p, drafts, time) => {
        this.resting.pressed();
        return host.typed(p, drafts, time);
      },
      at: (t) => host.typingAt(t),
      caret: (box) => host.caret(box),
      undo: () => host.undo(),
      redo: () => host.redo(),
      wentOn: (line, index) => this.goOn(line, index),
      closed: () => this.close(),
    }, at);
    this.open = { editor, view };
    const [, , , d, e, f] = place.m;
    host.reveal(view, box ?? [e, f, e + LEAST_MM, f + d * place.pitch]);
  }

  /** What is being typed has gone on to another page: the caret goes with it. */
  private goOn(line: Typed, index: number): void {
    const view = this.host.viewOf(line.page);
    this.close();
    const own = view?.placed.find((it): it is Typed => it.id === line.id && it.kind === 'typed');
    if (!view || !own) return;
    this.host.reveal(view, own.box);
    // It may not be shown yet, and what is hidden cannot have the keys.
    view.el.hidden = false;
    this.put(view, placeOf(own, view), { line: own.id, index }, own.box);
  }

  /** Words where the caret stands; false when there is none. */
  insert(words: string): boolean {
    this.open?.editor.insert(words);
    return this.open !== null;
  }

  letters(): readonly { line: string; from: number; to: number }[] {
    return this.open?.editor.letters() ?? [];
  }

  /** The caret has the keys again, after what was asked beside it. */
  toCaret(): void {
    const { open } = this;
    open?.editor.toCaret(() => this.open === open);
  }

  /** After every change of the note or of how text is to look. */
  update(): void {
    const { open, host } = this;
    if (!open) return;
    // Its page was deleted under the caret.
    if (host.viewOf(open.view.page.id) !== open.view) return this.close();
    const lines = flowFrom(open.view.placed, open.editor.place);
    // It was moved away from under the caret.
    if (!lines.length && open.view.placed.some((it) => open.editor.has(it.id))) return this.close();
    open.editor.follow(lines);
    open.editor.want(host.typing);
  }

  lay(): void {
    this.open?.editor.lay(this.host.scale);
  }

  /** The pages go. */
  end(): void {
    this.resting.end();
    this.close();
  }

  close(): void {
    const { open } = this;
    this.open = null;
    open?.editor.destroy();
  }
}

/** The line that ends just before a place, in its row. */
const endBefore = (view: PageView, x: number, y: number): Typed | undefined =>
  view.placed.find((it): it is Typed => {
    if (it.kind !== 'typed') return false;
    const [, top, right, bottom] = boxOfLine(it, linesOf(it).length - 1);
    return y >= top && y <= bottom && x >= right && x - right < BEYOND_MM;
  });

const placeOf = (it: Typed, view: PageView): Place => {
  const [first] = flowFrom(view.placed, it);
  return { flow: it.flow, page: view.page.id, m: first.m, width: first.width, pitch: first.pitch };
};

/** On the ruling where there is one: the line below the touch is what the letters stand on. */
function newPlace(view: PageView, x: number, y: number, { look }: Typing): Place {
  const { page } = view;
  const slip = slipAt(view.placed, x, y);
  if (slip && !slip.folded) return { flow: newId(), page: page.id, ...textPlace(slip, x, y, 1.4 * look.size * MM_PER_PT) };
  const ruling = linesToWriteOn(page, x);
  const size = look.size * MM_PER_PT;
  const pitch = ruling && ruling.spacing >= size ? ruling.spacing : 1.4 * size;
  const foot = ruling ? ruling.top + Math.max(page.board ? -Infinity : 0, Math.ceil((y - ruling.top) / ruling.spacing)) * ruling.spacing : y + size / 2;
  const begins = [...(view.wordsFrom?.grouping.lines.map((l) => l.box[0]) ?? []), ...view.placed.flatMap((it) => (it.kind === 'typed' ? [it.m[4]] : []))].filter((l) => Math.abs(l - x) < FLUSH_MM);
  const left = Math.max(extentOf(page)[0] + 4, begins.length ? Math.min(...begins) : x);
  return { flow: newId(), page: page.id, m: [1, 0, 0, 1, left, foot - pitch], width: Math.max(LEAST_MM, (ruling?.right ?? (page.board ? x + BOARD_LINE : page.w - RIGHT_MM)) - left), pitch };
}
