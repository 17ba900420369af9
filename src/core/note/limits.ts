/** Bounds of numbers that come from outside. */

/** The last moment that a date can say, ms (ECMA-262, Time Values and Time Range). */
export const LAST_MS = 8.64e15;
/** Of sound: a thousand hours, ms; a number beyond it is none. */
export const LONGEST_MS = 3.6e9;
