/**
 * Back puts away what is open over the screen before it leaves the screen. Where the browser lets a page ask for that (Navigation API, `navigate` event,
 * cancelable for moves through the history that the user began), it is asked; elsewhere Back leaves, and the note is stored as ever.
 */
interface NavigateEventLike extends Event {
  readonly navigationType: 'reload' | 'push' | 'replace' | 'traverse';
  readonly destination: { readonly index: number };
}
interface NavigationLike extends EventTarget {
  readonly currentEntry: { readonly index: number } | null;
}

/** What puts something away, the topmost last. */
const open: (() => void)[] = [];
let listening = false;

function listen(): void {
  const navigation = (window as unknown as { navigation?: NavigationLike }).navigation;
  if (listening || !navigation) return;
  listening = true;
  navigation.addEventListener('navigate', (event) => {
    const e = event as NavigateEventLike;
    const top = open.at(-1);
    if (!top || e.navigationType !== 'traverse' || !e.cancelable || e.destination.index >= (navigation.currentEntry?.index ?? 0)) return;
    e.preventDefault();
    top();
  });
}

/** While it stands, Back does `close` instead. Call what is given when it is closed. */
export function backCloses(close: () => void): () => void {
  listen();
  open.push(close);
  return () => {
    const at = open.lastIndexOf(close);
    if (at >= 0) open.splice(at, 1);
  };
}
