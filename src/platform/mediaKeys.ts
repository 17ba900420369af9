/** The keys for playing on keyboards and headphones (W3C Media Session). */
export interface MediaActions {
  play(): void;
  pause(): void;
  /** By some ms; back where negative. */
  skip(by: number): void;
}

/** While it stands, the keys do these. Call what is given to let go of them. */
export function onMediaKeys({ play, pause, skip }: MediaActions): () => void {
  const session = navigator.mediaSession as MediaSession | undefined;
  if (!session) return () => undefined;
  const handlers: [MediaSessionAction, () => void][] = [['play', play], ['pause', pause], ['seekbackward', () => skip(-10_000)], ['seekforward', () => skip(10_000)]];
  for (const [action, handler] of handlers) session.setActionHandler(action, handler);
  return () => {
    for (const [action] of handlers) session.setActionHandler(action, null);
  };
}
