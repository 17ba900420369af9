/** What the surface is told, and what it asks for. */
import type { PrintedHost } from './printed';
import type { LeafHost } from '../../../platform/drawing/leaves';
import type { Seen } from '../../../storage/seenFile';
import { onlyPenWrites, type Settings } from '../../../storage/settingsFile';
import type { PenSetting } from '../../../core/ink/pen';
import type { Shape, Vec } from '../../../core/ink/shapes/shape';
import type { StripSetting } from '../../../core/ink/strip';
import type { Box, Stroke } from '../../../core/ink/stroke';
import type { Slip } from '../../../core/note/kinds/slip';
import type { Affine } from '../../../core/ink/transform';
import type { Edit, Note } from '../../../core/note/edit';
import type { Placed } from '../../../core/note/kinds/kinds';
import type { Said } from '../../../core/reading/said';
import type { Gap } from '../../../core/review/gaps';
import type { Stamp } from '../../../core/time/timeline';
import type { Mode, PageWords } from '../../../store/noteSlice';
import type { Draft, Place } from '../../../core/text/flow';
import type { Lit, ToolName } from '../../../store/slices';
import type { Flowed } from '../../../store/typing';
import type { Ref } from '../../../core/note/schema';
import type { Cells } from '../../../store/tables';
import type { Typing } from './typing/editor';

/** What the time margin takes of the side, px. */
export const MARGIN_PX = 52;

const STRIP_PX = { phone: 168, wide: 190 };
export const STRIP_BAR_PX = 44;
/** What the writing strip takes of the view with its bar, px. */
export const stripHeight = (wide: boolean): number => (wide ? STRIP_PX.wide : STRIP_PX.phone) + STRIP_BAR_PX;

export interface SurfaceState {
  readonly note: Note;
  readonly mode: Mode;
  readonly canWrite: boolean;
  readonly tool: ToolName;
  /** How what is typed next looks. */
  readonly typing: Typing;
  readonly cells: Cells | null;
  readonly pen: PenSetting;
  readonly eraser: Settings['eraser'];
  readonly onlyPen: boolean;
  readonly fingerUndo: boolean;
  readonly holdShapes: boolean;
  readonly snap: boolean;
  readonly scratchOut: boolean;
  readonly zoomLocked: boolean;
  readonly leftHanded: boolean;
  readonly handRest: number;
  readonly ruler: boolean;
  readonly stripOn: boolean;
  /** Printed text is taken hold of. */
  readonly text: boolean;
  /** The next loop crops the selected picture. */
  readonly cropping: 'rectangle' | 'loop' | 'out' | null;
  readonly found: { readonly page: string; readonly boxes: readonly Box[] } | null;
  /** What was read stands over the ink. */
  readonly overInk: boolean;
  readonly strip: StripSetting;
  readonly selection: { readonly page: string; readonly ids: readonly string[] } | null;
  readonly words: Readonly<Record<string, PageWords>>;
  /** What of each page was read. */
  readonly said: Readonly<Record<string, Said>>;
  readonly lit: Lit | null;
  readonly playing: boolean;
  /** The pen writes while one listens. */
  readonly second: boolean;
  /** Where what was missed is to be written, mm. */
  readonly answering: { readonly page: string; readonly box: Box } | null;
  readonly secondShown: boolean;
  readonly unheardShown: boolean;
  readonly ahead: Settings['ahead'];
  readonly gaps: readonly Gap[];
  /** How late the writer writes, ms. */
  readonly late: number;
  /** Pages look as on dark paper. */
  readonly dark: boolean;
  /** Page by page, turned sideways, instead of one below the other. */
  readonly sideways: boolean;
}

/** What happens to the note because of a tool. */
export interface ToolEvents {
  /** The sound at an event's time. */
  stampAt(time: number): Stamp | null;
  /** What is heard then on the other side of the screen, to which this page is written; null where nothing is. */
  heardBeside(time: number): Stamp | null;
  change(edit: Edit): void;
  select(page: string | null, ids: readonly string[]): void;
  transform(m: Affine): void;
  /** What is selected was let go over the other side of the screen, px of the window. */
  takeOver(x: number, y: number): void;
  reshape(stroke: Stroke, shape: Shape): void;
  room(page: string, y: number, dy: number): void;
  /** Of the selected picture only what lies in the loop (mm) is shown. */
  crop(page: string, loop: readonly Vec[]): void;
  fill(page: string, x: number, y: number, time: number): void;
  unfold(slip: Slip): void;
  /** Something was scratched out: says so, with a way back. */
  scratched(words: number): void;
  /** Erasing is done; the pen comes back where the writer wants it. */
  erased(): void;
}

/** The settings that the surface works by. */
export const surfaceSettings = (settings: Settings) => {
  const { cup, pen, eraser, fingerUndo, holdShapes, snap, scratchOut, zoomLocked, leftHanded, handRest, strip, ahead, secondShown, unheardShown, sideways } = settings;
  return { pen: cup[Math.min(pen, cup.length - 1)], onlyPen: onlyPenWrites(settings), eraser, fingerUndo, holdShapes, snap, scratchOut, zoomLocked, leftHanded, handRest, strip, ahead, secondShown, unheardShown, sideways };
};

export interface SurfaceEvents extends ToolEvents {
  penSeen(): void;
  /** The pen, or a finger that writes, came down on a page. */
  begun(): void;
  /** A pen came down where it does not write. */
  penIdle(): void;
  /** A finger is down on what it will likely touch: its sound can be made ready. */
  aimed(it: Placed): void;
  /** `line`: by its line in the time margin. */
  touched(it: Placed | null, line?: boolean): void;
  /** Plays from a moment of the timeline, ms. */
  playAt(ms: number): void;
  /** `fit`: the page fills the width. */
  zoomed(percent: number, fit: boolean): void;
  /** The pages have come to rest at a place. */
  rested(seen: Seen): void;
  /** What is printed on them, and where their links lead. */
  readonly printed: PrintedHost;
  /** Pages of PDF that lie behind pages. */
  readonly leaves: Pick<LeafHost, 'size' | 'draw'>;
  /** Another page is in the middle of the view. */
  paged(page: string): void;
  /** Lines of a flow as they were typed; null where the note takes no change. */
  typed(place: Place, drafts: readonly Draft[], time: number): Flowed | null;
  /** Where a link leads in words, and why it leads nowhere. */
  refText(ref: Ref): { readonly text: string; readonly broken: string | null };
  follow(ref: Ref): void;
  /** Cells of a table are held; none. */
  holdCells(cells: Cells | null): void;
  typedInCell(text: string): void;
  pastedInCell(text: string): void;
  /** False when there is no further cell. */
  stepCell(by: -1 | 1): boolean;
  resizeTable(axis: 'row' | 'col', at: number, mm: number): void;
  /** How text looks where the caret stands. */
  typingAt(typing: Typing): void;
  undo(): void;
  redo(): void;
  nudge(dx: number, dy: number): void;
  setStrip(setting: StripSetting): void;
  setHandRest(px: number): void;
  /** The bytes of a picture; null when they are not here, or damaged. */
  content(hash: string): Promise<Uint8Array | null>;
  /** A picture behind a page cannot be shown: a clause why. */
  pictureFailed(why: string): void;
}
