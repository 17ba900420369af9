/** What a tool is: it takes the contacts of one pen from down to up. */
import type { Box } from '../../../../core/ink/stroke';
import type { Placed } from '../../../../core/note/kinds/kinds';
import type { Ruler } from '../../../../core/ink/ruler';
import type { PageView } from '../pageView';
import type { SurfaceState, ToolEvents } from '../state';
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
  liftOff(view: PageView, placed: readonly Placed[], box: Box): void;
  /** Takes all stand-ins of a page back. */
  settle(view: PageView): void;
  /** Words beside the pen, null for none: sizes while a shape changes. */
  label(view: PageView, text: string | null, x?: number, y?: number): void;
  request(): void;
  /** The caret goes to a place of a page, mm. */
  typeAt(view: PageView, x: number, y: number): void;
  /** Holds cells of a table from one place to another, mm; where there is none a text begins that is as wide as they are apart. */
  typeWithin(view: PageView, from: { readonly x: number; readonly y: number }, to: { readonly x: number; readonly y: number }): void;
}

/** A contact that moves less than this is a touch, mm at a phone's fit width (about 3 px). */
export const touchMm = (scale: number): number => Math.max(0.8, 5 / scale);
