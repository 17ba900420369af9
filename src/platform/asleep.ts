/** Markup of others before it is read: what would run in it is put to sleep, since the policy of the page complains of it even where nothing ever shows it. */

/** Names of what runs when something happens (`onload` and its like) get a prefix, wherever they stand. */
export const asleep = (markup: string): string => markup.replace(/\b(on)(?=[a-z]+\s*=)/gi, 'kept-$1');
/** The same words again, of markup from which attributes that are asleep were removed. */
export const awake = (markup: string): string => markup.replace(/kept-(on)/gi, '$1');
/** An attribute that would run. */
export const isAsleep = (name: string): boolean => /^(kept-)*on/i.test(name);
