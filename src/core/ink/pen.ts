/** Pens: what a line looks like, and how the hand is read. */

export const PEN_KINDS = ['ball', 'fountain', 'chisel', 'brush', 'pencil', 'felt', 'highlighter'] as const;
export type PenKind = (typeof PEN_KINDS)[number];

/** How a line looks on the page; kept with every stroke. */
export interface Pen {
  readonly kind: PenKind;
  /** CSS colour, `#rrggbb`. */
  readonly color: string;
  /** Line width at middle pressure, mm; of the chisel its long edge. */
  readonly width: number;
  /** 0..1; absent where the ink is full. */
  readonly opacity?: number;
  /** Absent for a line without breaks. */
  readonly line?: 'dashed' | 'dotted';
  /** Of the chisel: its long edge against the line of writing, degrees, counter-clockwise. */
  readonly angle?: number;
}

/** A pen as the writer has set it: its look, and how it follows the hand. */
export interface PenSetting extends Pen {
  readonly id: string;
  /** What the writer uses it for; may be empty. */
  readonly name: string;
  /** -1 (a light hand gets the full width) .. 1 (only a firm hand does). */
  readonly response: number;
  /** 0 (every tremor) .. 1 (very smooth). */
  readonly steadiness: number;
  /** Of the highlighter: keeps straight along the line of writing. */
  readonly straight: boolean;
}

export const NIB_ANGLE = 40;
/** The short edge of a chisel, share of the long one. */
export const NIB_EDGE = 0.18;

export const penOf = ({ kind, color, width, opacity, line, angle }: Pen): Pen => ({
  kind,
  color,
  width,
  ...(opacity !== undefined && opacity < 1 ? { opacity } : {}),
  ...(line ? { line } : {}),
  ...(kind === 'chisel' ? { angle: angle ?? NIB_ANGLE } : {}),
});

/** Two pens with the same key draw the same line. */
export const penKey = (p: Pen): string => `${p.kind} ${p.color} ${p.width} ${p.opacity ?? 1} ${p.line ?? ''} ${p.angle ?? ''}`;

/** Half the line width in mm at a pressure of 0..1 and a pace in mm per ms (a hand writes at 0.05 to 0.15: common practice, no source). */
export function radiusAt(pen: Pen, pressure: number, pace = 0.085): number {
  const half = pen.width / 2;
  switch (pen.kind) {
    case 'ball':
      return half * (0.92 + 0.16 * pressure);
    case 'fountain':
      return half * (0.35 + 1.3 * pressure) * (1.15 - 0.35 * Math.min(1.4, pace / 0.2));
    case 'brush':
      return half * (0.15 + 1.7 * pressure);
    case 'pencil':
      return half * (0.7 + 0.6 * pressure);
    case 'chisel':
    case 'felt':
    case 'highlighter':
      return half;
  }
}

/** How far ink reaches beyond the box of its points, mm; heads of an arrow reach further. */
export const radiusBeyond = (pen: Pen, heads: boolean): number => pen.width + (heads ? 2.6 + 5 * pen.width : 0);

/** Over how much of its ends a line grows from a point, mm. */
export function taperOf(pen: Pen): number {
  if (pen.line) return 0;
  return pen.kind === 'fountain' ? 2.5 * pen.width : pen.kind === 'brush' ? 4 * pen.width : 0;
}

/** Pressure as the writer's hand means it; both 0..1. */
export const respond = (pressure: number, response: number): number => Math.pow(Math.min(1, Math.max(0, pressure)), 2 ** (1.2 * response));

/** Time constant of the steadiest pen, ms. */
const STEADY_MS = 70;

/** Takes the tremor out of a line: each point moves towards where the hand is, the slower the steadier. Times stay the hand's own. */
export class Steadier {
  private x = 0;
  private y = 0;
  private t = -1;

  constructor(private readonly steadiness: number) {}

  /** mm, ms. */
  next(x: number, y: number, t: number): { x: number; y: number } {
    if (this.t < 0 || this.steadiness <= 0) [this.x, this.y] = [x, y];
    else {
      const share = 1 - Math.exp(-Math.max(0.5, t - this.t) / (this.steadiness * STEADY_MS));
      this.x += share * (x - this.x);
      this.y += share * (y - this.y);
    }
    this.t = t;
    return { x: this.x, y: this.y };
  }
}
