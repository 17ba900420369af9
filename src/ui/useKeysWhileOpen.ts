import { useEffect, useRef } from 'react';
import type { View } from 'react-native';

/** For what opens over the page: who opens it by keys goes on at this element of it, and comes back to where it was opened. */
export function useKeysWhileOpen(): React.RefObject<View | null> {
  const first = useRef<View>(null);
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    (first.current as unknown as HTMLElement | null)?.focus();
    return () => {
      if (before?.isConnected) before.focus();
    };
  }, []);
  return first;
}
