/** The ruler on the page, and true sizes on the screen. */

/** CSS: an inch has 96 px (CSS Values and Units Level 4, section 6.2), so a millimetre at true size has this many. */
export const PX_PER_MM = 96 / 25.4;

export interface Ruler {
  /** Its middle on the page, mm. */
  readonly x: number;
  readonly y: number;
  /** Against the line of writing, degrees counter-clockwise. */
  readonly angle: number;
}

/** mm. */
export const RULER_LENGTH = 150;
export const RULER_WIDTH = 18;
/** A pen this close to an edge is led along it, mm. */
const GUIDE_MM = 5;

/** Along and across the ruler, from its middle, mm; across is positive below it. */
export function onRuler({ x, y, angle }: Ruler, px: number, py: number): { along: number; across: number } {
  const a = (angle * Math.PI) / 180;
  const [c, s] = [Math.cos(a), -Math.sin(a)];
  return { along: (px - x) * c + (py - y) * s, across: -(px - x) * s + (py - y) * c };
}

export function offRuler({ x, y, angle }: Ruler, along: number, across: number): [number, number] {
  const a = (angle * Math.PI) / 180;
  const [c, s] = [Math.cos(a), -Math.sin(a)];
  return [x + along * c - across * s, y + along * s + across * c];
}

/** Which edge leads a pen that is set down here: -1 upper, 1 lower, null for none. */
export function edgeAt(ruler: Ruler, px: number, py: number): -1 | 1 | null {
  const { along, across } = onRuler(ruler, px, py);
  if (Math.abs(along) > RULER_LENGTH / 2 + GUIDE_MM) return null;
  const off = Math.abs(across) - RULER_WIDTH / 2;
  return off > GUIDE_MM ? null : across < 0 ? -1 : 1;
}

/** The place on the edge where a pen half a line's width off it draws. */
export function alongEdge(ruler: Ruler, edge: -1 | 1, px: number, py: number, width: number): [number, number] {
  return offRuler(ruler, onRuler(ruler, px, py).along, edge * (RULER_WIDTH / 2 + width / 2));
}

/** Angles are shown and stop at whole degrees; near a multiple of 15 they stay there. */
export function settledAngle(degrees: number): number {
  const whole = ((Math.round(degrees) % 180) + 180) % 180;
  const near = Math.round(whole / 15) * 15;
  return Math.abs(whole - near) <= 2 ? near % 180 : whole;
}
