/** Taking hold of ink: by a loop around it, or by touching words and lines. */
import { inLoop } from '../../../../core/ink/lasso';
import type { Vec } from '../../../../core/ink/shapes/shape';
import { distanceTo, isGround, isLocked, withGroups, type Placed } from '../../../../core/note/kinds/kinds';
import type { PageView } from '../pageView';
import { touchMm, type At, type Tool, type ToolHost } from './tool';

/** A touch this far from ink still means it, mm. */
const REACH_MM = 2.5;

export class LassoTool implements Tool {
  private view: PageView | null = null;
  private loop: Vec[] = [];
  private length = 0;
  private readonly line = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
  private readonly path = document.createElementNS('http://www.w3.org/2000/svg', 'path');

  constructor(private readonly host: ToolHost) {
    this.line.setAttribute('class', 'lasso-line');
    this.line.append(this.path);
  }

  begin(view: PageView, at: At): void {
    this.view = view;
    this.loop = [[at.x, at.y]];
    this.length = 0;
    this.path.setAttribute('d', '');
    view.ground.append(this.line);
  }

  move(points: readonly At[]): void {
    for (const { x, y } of points) {
      const [px, py] = this.loop[this.loop.length - 1];
      const d = Math.hypot(x - px, y - py);
      if (d < 0.3) continue;
      this.length += d;
      this.loop.push([x, y]);
    }
    const k = this.host.scale;
    this.path.setAttribute('d', this.loop.map(([x, y], i) => `${i ? 'L' : 'M'}${(x * k).toFixed(1)} ${(y * k).toFixed(1)}`).join(''));
  }

  end(): void {
    const { host, view, loop } = this;
    this.cancel();
    if (!view) return;
    if (host.state.cropping && this.length >= touchMm(host.scale)) return host.events.crop(view.page.id, loop);
    const chosen = this.length < touchMm(host.scale) ? this.touched(view, loop[0]) : withGroups(inLoop(view.placed, loop), view.placed);
    host.events.select(chosen.length ? view.page.id : null, chosen.map((s) => s.id));
  }

  /** A touch takes the word, a second one on it the whole line; on another word it is added. Beside all ink it lets go. */
  private touched(view: PageView, [x, y]: Vec): readonly Placed[] {
    const { selection } = this.host.state;
    const near = view.index.at(x, y, Math.max(REACH_MM, 12 / this.host.scale)).filter((it) => !isLocked(it));
    const hit = near.find((it) => !isGround(it)) ?? near.find((it) => distanceTo(it, x, y) === 0) ?? near[0];
    if (!hit) return [];
    const word = view.wordOf.get(hit.id)?.strokes ?? [hit.id];
    const before = new Set(selection?.page === view.page.id ? selection.ids : []);
    const grouping = view.wordsFrom?.grouping;
    let ids: ReadonlySet<string>;
    if (word.every((id) => before.has(id))) {
      const line = grouping?.lines.find((l) => l.words.some((w) => grouping.words[w].strokes.includes(hit.id)));
      const all = line?.words.flatMap((w) => grouping!.words[w].strokes) ?? [];
      // The line is whole already: the touch lets the word go.
      ids = all.length && !all.every((id) => before.has(id)) ? new Set([...before, ...all]) : new Set([...before].filter((id) => !word.includes(id)));
    } else ids = new Set([...before, ...word]);
    return withGroups(view.placed.filter((s) => ids.has(s.id)), view.placed);
  }

  cancel(): void {
    this.line.remove();
    this.view = null;
  }
}
