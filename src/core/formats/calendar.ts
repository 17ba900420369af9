/** Dates as a calendar file (iCalendar, RFC 5545). Package `ics`. */
import { createEvents, type DateArray, type EventAttributes } from 'ics';
import type { Moment } from '../reading/inText';

export interface CalendarEntry {
  /** Stays the same when it is put in again, so that a calendar changes what it has instead of adding another. */
  readonly uid: string;
  readonly title: string;
  readonly description?: string;
  /** Local time, as it was written. */
  readonly from: Moment;
  readonly to: Moment | null;
}

/** A time without an end is so long, minutes. */
const USUAL_MIN = 60;

const whole = ({ year, month, day }: Moment): DateArray => [year, month, day];
const timed = (m: Moment): DateArray => [m.year, m.month, m.day, Math.floor(m.minute! / 60), m.minute! % 60];
/** The day after: the end of a day is not part of it (RFC 5545, 3.6.1). */
function next({ year, month, day }: Moment): DateArray {
  const after = new Date(Date.UTC(year, month - 1, day + 1));
  return [after.getUTCFullYear(), after.getUTCMonth() + 1, after.getUTCDate()];
}

function eventOf({ uid, title, description, from, to }: CalendarEntry): EventAttributes {
  const base = { uid, title, ...(description ? { description } : {}), productId: '-//Scrivo//Dates of a note//EN', calName: 'Scrivo' };
  if (from.minute === null) return { ...base, start: whole(from), end: next(to ?? from) };
  // As on a clock where it is read, whatever the zone: that is what was written down.
  const local = { start: timed(from), startInputType: 'local', startOutputType: 'local' } as const;
  if (to && to.minute !== null) return { ...base, ...local, end: timed(to), endInputType: 'local', endOutputType: 'local' };
  return { ...base, ...local, duration: { minutes: USUAL_MIN } };
}

/** @throws Error with a clause when a date cannot be said */
export function writeCalendar(entries: readonly CalendarEntry[]): string {
  const { error, value } = createEvents(entries.map(eventOf));
  if (error || !value) throw new Error(error?.message ?? 'the dates cannot be written');
  return value;
}
