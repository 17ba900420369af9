/** What a tool is: it takes the contacts of one pen from down to up. */
import type { Edit } from '../../../../core/note/edit';
import type { Box, Stroke } from '../../../../core/ink/stroke';
import type { Placed } from '../../../../core/note/kinds/kinds';
import type { Ruler } from '../../../../core/ink/ruler';
import type { Shape } from '../../../../core/ink/shapes/shape';
import type { Affine } from '../../../../core/ink/transform';
import type { Stamp } from '../../../../core/time/timeline';
import type { SurfaceState } from '../surface';
import type { PageView } from '../pageView';
import type { WetInk } from '../wetInk';

/** A contact on a page: mm, pressure 0..1, event time in ms (time base of performance.now()). */
export interface At {
  readonly x: number;
  readonly y: number;
  readonly pressure: number;
  readonly time: number;
}

export interface Tool {
  begin(view: PageView, at: At): void;
  move(points: readonly At[], foretold: readonly At[]): void;
  end(): void;
  cancel(): void;
}

/** What happens to the note because of a tool. */
export interface ToolEvents {
  /** The sound at an event's time. */
  stampAt(time: number): Stamp | null;
  change(edit: Edit): void;
  select(page: string | null, ids: readonly string[]): void;
  transform(m: Affine): void;
  reshape(stroke: Stroke, shape: Shape): void;
  room(page: string, y: number, dy: number): void;
  fill(page: string, x: number, y: number, time: number): void;
  /** Something was scratched out: says so, with a way back. */
  scratched(words: number): void;
  /** Erasing is done; the pen comes back where the writer wants it. */
  erased(): void;
}

/** What a tool may use of the surface. */
export interface ToolHost {
  readonly state: SurfaceState;
  readonly events: ToolEvents;
  readonly wet: WetInk;
  /** px per mm. */
  readonly scale: number;
  /** The ruler, where it lies on this page. */
  rulerOn(view: PageView): Ruler | null;
  /** Where the page's corner lies in the view, px. */
  cornerOf(view: PageView): { x: number; y: number };
  isLast(view: PageView): boolean;
  /** Others in the place of one until the note changes; redraws `box`. */
  standIn(view: PageView, id: string, by: readonly Placed[], box: Box): void;
  /** Things off the page until the note changes; redraws `box`. */
  takeOff(view: PageView, placed: readonly Placed[], box: Box): void;
  /** Takes all stand-ins of a page back. */
  settle(view: PageView): void;
  /** Words beside the pen, null for none: sizes while a shape changes. */
  label(view: PageView, text: string | null, x?: number, y?: number): void;
  request(): void;
}

/** A contact that moves less than this is a touch, mm at a phone's fit width (about 3 px). */
export const touchMm = (scale: number): number => Math.max(0.8, 5 / scale);
