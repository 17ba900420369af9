/** Arrow keys on a part of the surface that has the focus: they move it, and nothing behind it answers them. */
import { tinykeys } from 'tinykeys';

const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const;

/** `moved`: to the right and down, -1..1; `far`: with Shift. */
export function onArrows(el: HTMLElement, moved: (dx: number, dy: number, far: boolean) => void): void {
  const bindings = Object.entries(WAYS).flatMap(([key, [dx, dy]]) =>
    [false, true].map((far) => {
      const act = (e: KeyboardEvent) => {
        e.preventDefault();
        e.stopPropagation();
        moved(dx, dy, far);
      };
      return [far ? `Shift+${key}` : key, act] as const;
    }),
  );
  tinykeys(el, Object.fromEntries(bindings));
}

/** The way an arrow key goes, -1..1 to the right and down; null for other keys. */
export const arrowWay = (key: string): readonly [number, number] | null => (key in WAYS ? WAYS[key as keyof typeof WAYS] : null);
