/** A right click, or a finger that stays, on something that has a menu. */
import { useRef } from 'react';

/** A finger that stays so long asks for the menu, ms, and how far it may tremble, px. */
const HELD_MS = 500;
const STILL_PX = 10;

/** Listeners for an element: `onHeld` is called once for each right click or long touch, and the touch does nothing else then. */
export function useHeld(onHeld: () => void) {
  const down = useRef<{ x: number; y: number; timer: ReturnType<typeof setTimeout>; held: boolean } | null>(null);
  const letGo = () => {
    if (down.current) clearTimeout(down.current.timer);
  };
  return {
    onContextMenu: (e: React.MouseEvent) => {
      e.preventDefault();
      // A long touch asks by itself, and some browsers report it as a right click as well.
      if (!down.current?.held) onHeld();
      letGo();
    },
    onPointerDown: (e: React.PointerEvent) => {
      if (e.pointerType === 'mouse') return void (down.current = null);
      const at = { x: e.clientX, y: e.clientY, held: false, timer: setTimeout(() => ((at.held = true), onHeld()), HELD_MS) };
      down.current = at;
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (down.current && Math.hypot(e.clientX - down.current.x, e.clientY - down.current.y) > STILL_PX) letGo();
    },
    onPointerUp: letGo,
    onPointerCancel: letGo,
    onClickCapture: (e: React.MouseEvent) => {
      if (!down.current?.held) return;
      down.current = null;
      e.preventDefault();
      e.stopPropagation();
    },
  };
}
