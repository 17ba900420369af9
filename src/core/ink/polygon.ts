/** Polygons in mm, whatever their winding. */
import { polygonArea as signedArea, polygonContains } from 'd3-polygon';
import type { Vec } from './shapes/shape';
import type { Box } from './stroke';

type Points = [number, number][];

export const insidePolygon = (polygon: readonly Vec[], x: number, y: number): boolean => polygonContains(polygon as unknown as Points, [x, y]);

/** mm2 */
export const polygonArea = (polygon: readonly Vec[]): number => Math.abs(signedArea(polygon as unknown as Points));

export function polygonBox(polygon: readonly Vec[]): Box {
  const xs = polygon.map((p) => p[0]);
  const ys = polygon.map((p) => p[1]);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}
