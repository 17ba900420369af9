/** Where something on a page is heard, as the time margin shows it. */
import type { Note } from '../note/edit';
import type { PlacedBase } from '../ink/stroke';
import { clockText } from './format';
import { timelineLength, toTimeline } from './timeline';

/** Time on the timeline, ms, and the take's place among the takes; null without sound. */
export function heardAt({ header: { takes, timeline } }: Pick<Note, 'header'>, { stamp }: Pick<PlacedBase, 'stamp'>): { ms: number; take: number; text: string } | null {
  if (!stamp) return null;
  const take = takes.findIndex((t) => t.id === stamp.take);
  // What runs comes to the end of the timeline as it is recorded; of it that is laid there what was recorded before its last pause.
  const running = takes[take]?.state === 'recording';
  const ms = toTimeline(timeline, stamp) ?? (running ? timelineLength(timeline) + stamp.at - takes[take].ms : null);
  return ms === null ? null : { ms, take, text: clockText(ms) };
}
