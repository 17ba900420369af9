export const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 2.5, 3] as const;

/** The next speed up (1) or down (-1). */
export function nextSpeed(speed: number, by: 1 | -1): number {
  const next = by > 0 ? SPEEDS.find((s) => s > speed + 0.01) : [...SPEEDS].reverse().find((s) => s < speed - 0.01);
  return next ?? speed;
}
