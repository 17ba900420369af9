/**
 * What is in a text that something can be done with: telephone numbers (`libphonenumber-js`), web and mail addresses (`linkify-it`), dates and times
 * (`chrono-node`), and things to do. Handwriting is read with spaces where a hand lifts, so numbers and addresses are looked for with such spaces taken out too.
 */
import { en, type ParsedResult } from 'chrono-node';
import { findPhoneNumbersInText, getCountries, isSupportedCountry, type CountryCode } from 'libphonenumber-js/min';
import { LinkifyIt } from 'linkify-it';
import type { Box } from '../ink/stroke';
import type { Stamp } from '../time/timeline';
import type { TextRun } from './runs';

/** Local time: a day of the calendar, and minutes of that day where a time was said. */
export interface Moment {
  readonly year: number;
  /** 1 to 12. */
  readonly month: number;
  readonly day: number;
  /** Minutes after midnight; null for the whole day. */
  readonly minute: number | null;
}

interface Place {
  readonly page: string;
  /** Names it: the run, and where in it. */
  readonly id: string;
  /** As it stands there. */
  readonly text: string;
  /** The whole line. */
  readonly line: string;
  readonly box: Box;
  readonly stamp: Stamp | null;
}

export type InText = Place &
  (
    | { readonly is: 'phone'; /** E.164. */ readonly number: string }
    | { readonly is: 'mail' | 'web'; readonly url: string }
    | { readonly is: 'date'; readonly from: Moment; readonly to: Moment | null }
    | { readonly is: 'do'; /** Ticked in the text itself, as typed boxes are. */ readonly ticked: boolean }
  );

export interface Asked {
  /** The day that “tomorrow” counts from, ms since the epoch. */
  readonly day: number;
  /** Where numbers without a country are at home (ISO 3166-1), such as `GB`; in the US 3/4 is the fourth of March. */
  readonly region: string;
}

/** Those whose numbers are known, ISO 3166-1. */
export const countries = (): readonly string[] => getCountries();

const links = new LinkifyIt({ fuzzyLink: true, fuzzyEmail: true, fuzzyIP: false });

/** Text in which spaces inside numbers and addresses are taken out, and which letter of the other each letter was. */
function closed(text: string): { text: string; at: readonly number[] } {
  const at: number[] = [];
  let out = '';
  for (let i = 0; i < text.length; i++) {
    if (text[i] === ' ') {
      const token = out.slice(out.lastIndexOf(' ') + 1);
      const after = text.slice(i + 1);
      const joins =
        // An address goes on after its at sign, its points and slashes; a name goes on to the at sign.
        (/[@/]$/.test(token) && /^\w/.test(after)) || (/^@/.test(after) && /\w$/.test(token)) || (/^\/\w/.test(after) && /^(www\.|\w+:\/\/)/.test(token)) || (/\.$/.test(token) && (/[@/]|^www\./.test(token) || /^[^\s@]+ ?@/.test(after))) ||
        (/^\.\s?\w/.test(after) && /[a-z]$/i.test(token) && /@|^www\b|\/\/|^\.\s?\w+\s?@/i.test(token + after.slice(0, 40))) ||
        // A time around its colon.
        (/^:\d\d/.test(after) && /\d$/.test(token)) || (/\d:$/.test(token) && /^\d\d/.test(after));
      if (joins) continue;
    }
    at.push(i);
    out += text[i];
  }
  return { text: out, at: [...at, text.length] };
}

const momentOf = (c: ParsedResult['start']): Moment => ({ year: c.get('year')!, month: c.get('month')!, day: c.get('day')!, minute: c.isCertain('hour') ? c.get('hour')! * 60 + (c.get('minute') ?? 0) : null });

/** A day or a time that somebody meant: “1/12” is a share of a range as often as a day, “3.15” a height, “in 3 hours” counts from when it was said, and “sun” shines. `after`: what follows. */
function isMeant({ text, start }: ParsedResult, after: string): boolean {
  // By hand a capital S or W differs from a small one by its size alone, so it tells little: “Sun helps” shines too, “Sun: jetty” does not.
  if (/second|minute|hour|\bnow\b/i.test(text) || /^(on )?(sun|sat|wed|mon)$/.test(text) || (/^(Sun|Sat|Wed)$/.test(text) && /^ \p{L}/u.test(after)) || (start.isCertain('month') && !start.isCertain('day'))) return false;
  if (/\p{L}{3}/u.test(text)) return true;
  return start.isCertain('year') ? /\d{4}/.test(text) : start.isCertain('hour') && /\d:\d\d|\d\s?[ap]m/i.test(text);
}

/** A time of day without a day is that of the day itself, also where that is over. */
const onDay = (m: Moment, day: number): Moment => {
  const d = new Date(day);
  return { ...m, year: d.getFullYear(), month: d.getMonth() + 1, day: d.getDate() };
};
const TIME_ONLY = /^(at |from )?\d{1,2}([:.]\d\d)?\s?([ap]m)?(\s?(-|–|to|until)\s?\d{1,2}([:.]\d\d)?\s?([ap]m)?)?$/i;

/** What is in these lines, in their order. */
export function findInText(runs: readonly TextRun[], { day, region }: Asked): InText[] {
  const country = isSupportedCountry(region) ? region : ('GB' as CountryCode);
  const order = country === 'US' ? en.casual : en.GB;
  const out: InText[] = [];
  for (const run of runs) {
    const { text, at } = closed(run.text);
    const taken: [number, number][] = [];
    const free = (from: number, to: number): boolean => taken.every(([f, t]) => to <= f || from >= t);
    const place = (from: number, to: number): Place => ({ page: run.page, id: `${run.id} ${from}`, text: text.slice(from, to), line: run.text.trim(), box: run.boxOf(at[from], at[to]), stamp: run.stamp });
    if (run.begins && run.text.trim()) out.push({ ...place(0, text.length), id: run.id, text: run.text.trim(), box: run.box, is: 'do', ticked: run.begins === 'ticked' });
    for (const { index, lastIndex, url, schema } of links.match(text) ?? []) {
      taken.push([index, lastIndex]);
      out.push({ ...place(index, lastIndex), is: schema === 'mailto:' ? 'mail' : 'web', url: schema === '//' ? `https:${url}` : url });
    }
    for (const { startsAt, endsAt, number } of findPhoneNumbersInText(text, { defaultCountry: country, extended: true })) {
      // A row of numbers such as heights of tides is none: those have seven digits at least, and no point between them.
      if (!free(startsAt, endsAt) || text.slice(startsAt, endsAt).replace(/\D/g, '').length < 7 || /\d\.\d/.test(text.slice(startsAt, endsAt))) continue;
      taken.push([startsAt, endsAt]);
      out.push({ ...place(startsAt, endsAt), is: 'phone', number: number.number });
    }
    for (const found of order.parse(text, new Date(day), { forwardDate: true })) {
      const to = found.index + found.text.length;
      if (!free(found.index, to) || !isMeant(found, text.slice(to))) continue;
      taken.push([found.index, to]);
      const own = (c: ParsedResult['start']) => (TIME_ONLY.test(found.text) ? onDay(momentOf(c), day) : momentOf(c));
      out.push({ ...place(found.index, to), is: 'date', from: own(found.start), to: found.end ? own(found.end) : null });
    }
  }
  return out;
}
