/** Which folder a new note probably belongs to. */

export interface Filed {
  /** Wall clock at which the note was made, ms. */
  readonly made: number;
  readonly folder: string | null;
}

/** A lesson begins within so many minutes of when it began last week. */
const NEAR_MIN = 50;
const WEEK_MIN = 7 * 24 * 60;
/** Older notes say little about this term. */
const WEEKS = 16;
/** The folder used last is a guess for so long, ms. */
const LAST_MS = 3 * 3_600_000;

/** Minute of the week in the local time of `offset` minutes behind UTC (`Date.getTimezoneOffset`). */
const minuteOfWeek = (wall: number, offset: number): number => (((Math.floor(wall / 60_000) - offset) % WEEK_MIN) + WEEK_MIN) % WEEK_MIN;

/**
 * The folder most notes of this weekday and hour lie in, a more recent one before an older one where they tie; else the folder used last, if
 * that was a moment ago; else null. `offset(wall)`: minutes behind UTC at that time.
 */
export function suggestFolder(notes: readonly Filed[], now: number, offset: (wall: number) => number): string | null {
  const here = minuteOfWeek(now, offset(now));
  const votes = new Map<string, { n: number; last: number }>();
  let last: Filed | null = null;
  for (const note of notes) {
    if (note.folder === null || note.made > now) continue;
    if (!last || note.made > last.made) last = note;
    const away = Math.abs(minuteOfWeek(note.made, offset(note.made)) - here);
    if (now - note.made > WEEKS * WEEK_MIN * 60_000 || Math.min(away, WEEK_MIN - away) > NEAR_MIN) continue;
    const vote = votes.get(note.folder) ?? { n: 0, last: 0 };
    votes.set(note.folder, { n: vote.n + 1, last: Math.max(vote.last, note.made) });
  }
  const best = [...votes].sort(([, a], [, b]) => b.n - a.n || b.last - a.last)[0];
  if (best) return best[0];
  return last && now - last.made <= LAST_MS ? last.folder : null;
}
