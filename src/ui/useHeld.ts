/** A right click, or a finger that stays, on something that has a menu. */
import { useEffect, useRef } from 'react';

/** A finger that stays so long asks for the menu, ms, and how far it may tremble, px. */
const HELD_MS = 500;
const STILL_PX = 10;

/** The touch that asked presses nothing when it lifts, wherever that would land by then. */
function swallowClick(): void {
  const swallow = (e: Event) => {
    e.preventDefault();
    e.stopPropagation();
    end();
  };
  const end = () => {
    document.removeEventListener('click', swallow, true);
    document.removeEventListener('pointerdown', end, true);
  };
  document.addEventListener('click', swallow, true);
  document.addEventListener('pointerdown', end, true);
}

/** Listeners for an element: `onHeld` is called once for each right click or long touch. */
export function useHeld(onHeld: () => void) {
  const down = useRef<{ x: number; y: number; timer: ReturnType<typeof setTimeout>; held: boolean } | null>(null);
  const letGo = () => {
    if (down.current) clearTimeout(down.current.timer);
  };
  // What is gone from the screen asks for no menu any more.
  useEffect(() => () => clearTimeout(down.current?.timer), []);
  return {
    onContextMenu: (e: React.MouseEvent) => {
      e.preventDefault();
      letGo();
      // A long touch asks by itself, and some browsers report it as a right click as well.
      if (down.current?.held) return;
      if (down.current) swallowClick();
      onHeld();
    },
    onPointerDown: (e: React.PointerEvent) => {
      letGo();
      if (e.pointerType === 'mouse') return void (down.current = null);
      const at = {
        x: e.clientX,
        y: e.clientY,
        held: false,
        timer: setTimeout(() => {
          at.held = true;
          swallowClick();
          onHeld();
        }, HELD_MS),
      };
      down.current = at;
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (down.current && Math.hypot(e.clientX - down.current.x, e.clientY - down.current.y) > STILL_PX) letGo();
    },
    onPointerUp: letGo,
    onPointerCancel: letGo,
  };
}
