/** The time margin: beside each written line the time it was written and the take it belongs to. */
import type { Grouping } from '../../../core/ink/words';
import type { Stroke } from '../../../core/ink/stroke';
import type { Note } from '../../../core/note/edit';
import type { Page } from '../../../core/note/schema';
import { spokenTime } from '../../../core/time/format';
import { heardAt } from '../../../store/session';

export interface MarginLine {
  /** Middle of the line on the page and its extent, mm. */
  readonly y: number;
  readonly top: number;
  readonly bottom: number;
  /** The stroke to play from. */
  readonly stroke: Stroke;
  /** Timeline time, ms; null without sound. */
  readonly ms: number | null;
  /** Index of the take; -1 without sound. */
  readonly take: number;
  readonly text: string;
  readonly label: string;
}

/** Lines and drawings of a page, top to bottom, each dated by its first stroke that has sound. */
export function marginLines(note: Note, page: Page, grouping: Grouping): MarginLine[] {
  const byId = new Map((note.ink[page.id] ?? []).map((s) => [s.id, s]));
  const rows = [
    ...grouping.lines.map((l) => ({ box: l.box, ids: l.words.flatMap((w) => grouping.words[w].strokes), what: 'Line' })),
    ...grouping.drawings.map((d) => ({ box: d.box, ids: d.strokes, what: 'Drawing' })),
  ];
  const lines: MarginLine[] = [];
  for (const row of rows) {
    const strokes = row.ids.flatMap((id) => byId.get(id) ?? []).sort((a, b) => a.wall - b.wall);
    if (!strokes.length) continue;
    let stroke = strokes[0];
    let heard = null;
    for (const s of strokes) {
      heard = heardAt(note, s);
      if (!heard) continue;
      stroke = s;
      break;
    }
    const take = heard ? note.header.takes[heard.take] : null;
    lines.push({
      y: (row.box[1] + row.box[3]) / 2,
      top: row.box[1],
      bottom: row.box[3],
      stroke,
      ms: heard?.ms ?? null,
      take: heard?.take ?? -1,
      text: heard?.text ?? '–',
      label: heard ? `${row.what} written at ${spokenTime(heard.ms)}, ${take?.name ?? ''}: play from here` : `${row.what} written without sound`,
    });
  }
  return lines.sort((a, b) => a.y - b.y);
}

/** Buttons need this much room, px; where lines stand closer, the time of the first is shown and the others are reached on the page. */
const ROW_PX = 15;

export class MarginView {
  private shown: { el: HTMLButtonElement; line: MarginLine }[] = [];

  constructor(
    private readonly host: HTMLElement,
    private readonly play: (stroke: Stroke) => void,
  ) {}

  /** `top`: px of the page in the margin; `scale`: px per mm. */
  show(lines: readonly MarginLine[], top: number, scale: number, active: boolean): void {
    this.clear();
    let free = -Infinity;
    for (const line of lines) {
      const y = top + line.y * scale;
      const bar = document.createElement('div');
      bar.className = `margin-bar ${line.take < 0 ? 'take-none' : `take-${line.take % 5}`}`;
      Object.assign(bar.style, { top: `${top + line.top * scale}px`, height: `${Math.max(4, (line.bottom - line.top) * scale)}px` });
      this.host.append(bar);
      if (y - ROW_PX / 2 < free) continue;
      free = y + ROW_PX / 2;
      const el = document.createElement('button');
      el.type = 'button';
      el.className = 'margin-line';
      el.textContent = line.text;
      el.setAttribute('aria-label', line.label);
      el.disabled = !active;
      Object.assign(el.style, { top: `${y - ROW_PX / 2}px`, height: `${ROW_PX}px` });
      el.addEventListener('click', () => this.play(line.stroke));
      this.host.append(el);
      this.shown.push({ el, line });
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
  nearest(y: number, top: number, scale: number): MarginLine | null {
    let best: MarginLine | null = null;
    for (const { line } of this.shown) if (!best || Math.abs(top + line.y * scale - y) < Math.abs(top + best.y * scale - y)) best = line;
    return best;
  }

  clear(): void {
    this.host.replaceChildren();
    this.shown = [];
  }
}
