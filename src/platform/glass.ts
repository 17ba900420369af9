/** What is written on. */

/** A phone under a finger: a sheet as wide as the glass has its lines too close there to write on. */
export const isSmallUnderFinger = (): boolean => window.innerWidth < 600 && window.matchMedia('(pointer: coarse)').matches;
