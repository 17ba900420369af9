/** Pictures of notes for lists: those in sight are looked up or drawn, one after another, the ones asked for last first. */
import { useEffect, useReducer } from 'react';
import { isOf, madeOf, type MadeOf, type NoteSummary } from '../core/note/schema';
import { backdropBitmap } from './backdrops';
import { isIn, keepsReadable } from './forgetting';
import { pictureUrl } from '../platform/shownUrl';
import { drawPage } from '../platform/drawing/pictures';
import { readContent } from '../storage/contentFile';
import { firstInk, readPicture, writePicture } from '../storage/pictureFile';

/** px across; twice what the largest list shows. */
const WIDTH = 320;
/** So many pictures are held ready; older ones are read again. */
const READY = 240;

interface Ready {
  readonly of: MadeOf;
  readonly url: string;
}
const ready = new Map<string, Ready>();
let queue: { header: NoteSummary; show: () => void }[] = [];
let running = false;

function keep(note: string, entry: Ready): void {
  const before = ready.get(note);
  if (before) URL.revokeObjectURL(before.url);
  ready.delete(note);
  ready.set(note, entry);
  if (ready.size <= READY) return;
  const [oldest, { url }] = ready.entries().next().value!;
  ready.delete(oldest);
  URL.revokeObjectURL(url);
}

keepsReadable('pictures of notes', {
  forget: (of) => {
    for (const [id, { url }] of ready) {
      if (!isIn(of, id)) continue;
      URL.revokeObjectURL(url);
      ready.delete(id);
    }
  },
});

/** True when there is a picture now. */
async function draw(header: NoteSummary): Promise<boolean> {
  const kept = await readPicture(header.id);
  let of = madeOf(header);
  let bytes = isOf(kept?.of, header) ? kept!.bytes : null;
  if (!bytes) {
    await atRest();
    const { first } = header;
    // What cannot be shown is told where the page is open.
    const behind = await backdropBitmap(first, WIDTH / first.w).catch(() => null);
    const ink = await firstInk(header.id);
    bytes = await drawPage(first, ink.texts, WIDTH, behind, readContent);
    if (!bytes) return false;
    // Kept to be quick the next time; without room it is drawn again.
    of = ink.of;
    await writePicture(header.id, { of, bytes }).catch(() => undefined);
  }
  const url = pictureUrl(bytes);
  keep(header.id, { of, url });
  return true;
}

/** So long after the last scrolling a list counts as at rest, ms. */
const REST_MS = 150;
let scrolledAt = -Infinity;
if (typeof document !== 'undefined') document.addEventListener('scroll', () => void (scrolledAt = performance.now()), { capture: true, passive: true });

/** Frames come before pictures: nothing is drawn while a list is being scrolled. */
async function atRest(): Promise<void> {
  for (let left = REST_MS; left > 0; left = scrolledAt + REST_MS - performance.now()) {
    if (performance.now() - scrolledAt >= REST_MS) return;
    await new Promise((r) => setTimeout(r, left));
  }
}

async function work(): Promise<void> {
  if (running) return;
  running = true;
  try {
    for (let next = queue.pop(); next; next = queue.pop()) {
      // A note whose records cannot be read shows the empty sheet, and says what is wrong when it is opened.
      if (await draw(next.header).catch(() => false)) next.show();
    }
  } finally {
    running = false;
  }
}

/** The address of a picture of the note's first page, the one of before while a new one is drawn; null until there is one. */
export function usePicture(header: NoteSummary): string | null {
  const [, showAnew] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    if (isOf(ready.get(header.id)?.of, header)) return undefined;
    const wish = { header, show: showAnew };
    queue.push(wish);
    void work();
    return () => {
      queue = queue.filter((w) => w !== wish);
    };
  }, [header]);
  return ready.get(header.id)?.url ?? null;
}
