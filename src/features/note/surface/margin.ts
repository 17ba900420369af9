/** The time margin: beside each written line the time it was written and the take it belongs to. */
import type { Said } from '../../../core/reading/said';
import type { Grouping } from '../../../core/ink/words/grouping';
import type { Placed } from '../../../core/note/kinds/kinds';
import type { Note } from '../../../core/note/edit';
import type { MarkKind, Page } from '../../../core/note/schema';
import { spokenTime } from '../../../core/time/format';
import { timedLines } from '../../../core/review/timedLines';
import { MARK_SHAPES } from '../../../ui/markShapes';
import { reaches } from './reaches';
import './margin.css';
import '../../../ui/takes.css';

export interface MarginLine {
  /** Middle of the line on the page and its extent, mm. */
  readonly y: number;
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
  /** What to play from. */
  readonly first: Placed;
  readonly ids: ReadonlySet<string>;
  /** Timeline time, ms; null without sound. */
  readonly ms: number | null;
  /** Index of the take; -1 without sound. */
  readonly take: number;
  readonly text: string;
  readonly label: string;
}

/** Lines and drawings of a page, top to bottom, each dated by its first stroke that has sound. */
export function marginLines(note: Note, page: Page, grouping: Grouping, said: Said | undefined): MarginLine[] {
  return timedLines(note, page, grouping, said).map(({ what, box, ids, first, heard, text }) => ({
    y: (box[1] + box[3]) / 2,
    top: box[1],
    bottom: box[3],
    left: box[0],
    right: box[2],
    first,
    ids: new Set(ids),
    ms: heard?.ms ?? null,
    take: heard?.take ?? -1,
    text: heard?.text ?? '–',
    label: heard ? `${what} written at ${spokenTime(heard.ms)}, ${note.header.takes[heard.take]?.name ?? ''}${text ? `, “${text}”` : ''}: play from here` : `${what} written without sound${text ? `, “${text}”` : ''}`,
  }));
}

/** A mark or a gap beside the line that was being written then. */
export type Sign = { readonly line: MarginLine; readonly ms: number } & ({ readonly kind: MarkKind; readonly text?: string } | { readonly kind: 'gap'; readonly length: number });

/** Room between two lines that the hatching of a gap takes at least, px. */
const GAP_LEAST_PX = 12;

/** A time needs this much room, px, and less where lines are tight; where they stand closer still, only the first shows it. */
const ROW_PX = 15;
const TIGHT_ROW_PX = 13;

export class MarginView {
  private active = false;
  private shown: { el: HTMLButtonElement; line: MarginLine }[] = [];

  constructor(
    private readonly host: HTMLElement,
    private readonly play: (first: Placed) => void,
    private readonly playAt: (ms: number) => void,
  ) {}

  /** Lines in mm of the sheet; `scale`: px per mm. */
  show(lines: readonly MarginLine[], scale: number, active: boolean): void {
    // Lines come and go with the pages; the keyboard stays on the line it was on.
    const focused = this.shown.find(({ el }) => el === document.activeElement)?.line.first.id;
    this.clear();
    this.active = active;
    let free = -Infinity;
    const list = document.createElement('div');
    list.className = 'margin-lines';
    list.setAttribute('role', 'list');
    list.setAttribute('aria-label', 'Lines on these pages');
    if (lines.length) this.host.append(list);
    const buttons = reaches(lines.map((line) => line.y * scale));
    lines.forEach((line, i) => {
      const y = line.y * scale;
      const { column, above, below } = buttons[i];
      const row = column === 'both' ? ROW_PX : TIGHT_ROW_PX;
      const bar = document.createElement('div');
      bar.className = `margin-bar ${line.take < 0 ? 'take-none' : `take-${line.take % 5}`}`;
      Object.assign(bar.style, { top: `${line.top * scale}px`, height: `${Math.max(4, (line.bottom - line.top) * scale)}px` });
      this.host.append(bar);
      // Half a pixel between rows is not seen, and a ruling is seldom whole pixels.
      const shows = y - row / 2 >= free - 0.5;
      if (shows) free = y + row / 2;
      const el = document.createElement('button');
      el.type = 'button';
      el.className = column === 'both' ? 'margin-line' : `margin-line margin-line-tight margin-line-${column}`;
      if (shows) {
        const time = document.createElement('span');
        time.textContent = line.text;
        time.style.top = `${above - row / 2}px`;
        el.append(time);
      }
      el.setAttribute('aria-label', shows ? `${line.label}, ${line.text}` : line.label);
      el.disabled = !active;
      Object.assign(el.style, { top: `${y - above}px`, height: `${above + below}px` });
      el.addEventListener('click', () => this.play(line.first));
      const item = document.createElement('div');
      item.setAttribute('role', 'listitem');
      item.append(el);
      list.append(item);
      this.shown.push({ el, line });
      if (line.first.id === focused) el.focus({ preventScroll: true });
    });
  }

  /** Shapes of marks beside their lines, and hatched bars below the line before a gap. */
  showSigns(marks: readonly Sign[], scale: number): void {
    const beside = new Map<MarginLine, number>();
    const tops = this.shown.map(({ line }) => line.top).sort((a, b) => a - b);
    for (const mark of marks) {
      const { line } = mark;
      const el = document.createElement('button');
      el.type = 'button';
      el.disabled = !this.active;
      if (mark.kind === 'gap') {
        const next = tops.find((t) => t > line.bottom);
        const [from, to] = [line.bottom * scale + 1, Math.min((next ?? line.bottom + 8) * scale - 1, line.bottom * scale + 60)];
        // Without room between the lines the hatching stands at the edge, clear of the times.
        const tight = to - from < GAP_LEAST_PX;
        el.className = tight ? 'margin-gap margin-gap-tight' : 'margin-gap';
        // The times that stand there make way.
        if (tight) for (const { el: button, line: by } of this.shown) if (Math.abs(by.y * scale - from - GAP_LEAST_PX / 2) < (GAP_LEAST_PX + TIGHT_ROW_PX) / 2) button.classList.add('margin-line-beside');
        const words = document.createElement('span');
        words.textContent = `${mark.length / 1000} s`;
        el.append(words);
        el.setAttribute('aria-label', `Nothing written for ${spokenTime(mark.length)} from ${spokenTime(mark.ms)}: play it, ${words.textContent}`);
        Object.assign(el.style, { top: `${from}px`, height: `${Math.max(GAP_LEAST_PX, to - from)}px` });
      } else {
        const n = beside.get(line) ?? 0;
        beside.set(line, n + 1);
        el.className = `margin-mark mark-${mark.kind}`;
        el.innerHTML = `<svg viewBox="0 0 24 24" aria-hidden="true"><path d="${MARK_SHAPES[mark.kind].path}"/></svg>`;
        el.setAttribute('aria-label', `${MARK_SHAPES[mark.kind].name} at ${spokenTime(mark.ms)}${mark.text ? `: ${mark.text}` : ''}`);
        Object.assign(el.style, { top: `${line.y * scale - 7 - 13 * n}px` });
      }
      el.addEventListener('click', () => this.playAt(mark.ms));
      this.host.append(el);
    }
  }

  /** Marks the line that is heard at a timeline position, ms; null marks none. */
  mark(position: number | null): void {
    let now: MarginLine | null = null;
    if (position !== null) for (const { line } of this.shown) if (line.ms !== null && line.ms <= position && (!now || line.ms >= now.ms!)) now = line;
    for (const { el, line } of this.shown) {
      const on = line === now;
      if ((el.dataset.now === 'true') !== on) el.dataset.now = String(on);
    }
  }

  /** Wide targets for fingers: a touch anywhere on the strip goes to the nearest line. */
  nearest(y: number, scale: number): MarginLine | null {
    let best: MarginLine | null = null;
    for (const { line } of this.shown) if (!best || Math.abs(line.y * scale - y) < Math.abs(best.y * scale - y)) best = line;
    return best;
  }

  clear(): void {
    this.host.replaceChildren();
    this.shown = [];
  }
}
