import { useEffect, useState, useSyncExternalStore } from 'react';
import type { Live } from '../platform/live';

export const useLive = <T>(live: Live<T>): T => useSyncExternalStore(live.subscribe, live.get, live.get);

/** Calls `read` with every frame while `active` and gives its value, and once more when that ends; renders only when it changes. */
export function useFrame<T>(read: () => T, active: boolean): T {
  const [value, setValue] = useState(read);
  useEffect(() => {
    let frame = 0;
    const tick = () => {
      setValue(read());
      if (active) frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
    // `read` is expected to be stable in what it reads.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [active]);
  return value;
}
