/** The three ways to touch a page, each through the browser's own events. */
import type { Page } from '@playwright/test';
import { Pen } from './app';

export interface Spot {
  readonly x: number;
  readonly y: number;
}

export type Hand = 'pen' | 'mouse' | 'finger';

/** Draws through points of the view. */
export async function drawWith(hand: Hand, page: Page, pen: Pen, points: readonly Spot[]): Promise<void> {
  if (hand === 'pen') return pen.stroke(points);
  if (hand === 'mouse') {
    await page.mouse.move(points[0].x, points[0].y);
    await page.mouse.down();
    for (const p of points.slice(1)) await page.mouse.move(p.x, p.y);
    return page.mouse.up();
  }
  await pen.fingers('touchStart', [points[0]]);
  for (const p of points.slice(1)) await pen.fingers('touchMove', [p]);
  return pen.fingers('touchEnd', []);
}

/** Points on the way between corners, both ends included. */
export function along(corners: readonly Spot[], step = 6): Spot[] {
  const points: Spot[] = [corners[0]];
  for (let i = 1; i < corners.length; i++) {
    const [a, b] = [corners[i - 1], corners[i]];
    const n = Math.max(1, Math.round(Math.hypot(b.x - a.x, b.y - a.y) / step));
    for (let k = 1; k <= n; k++) points.push({ x: a.x + ((b.x - a.x) * k) / n, y: a.y + ((b.y - a.y) * k) / n });
  }
  return points;
}

export const around = (x: number, y: number, rx: number, ry: number): Spot[] => Array.from({ length: 33 }, (_, i) => ({ x: x + rx * Math.cos((i / 32) * 2 * Math.PI), y: y + ry * Math.sin((i / 32) * 2 * Math.PI) }));
