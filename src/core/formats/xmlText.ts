/** Characters that XML 1.0 (fifth edition, 2.2) has no place for, not even by their numbers: typed text may hold them, and one would make a whole file unreadable. */
const NONE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|\p{Surrogate}/gu;

/** The same text as XML can hold it. A vertical tab or form feed, which word processors use for breaks, becomes a space. */
export const xmlText = (text: string): string => text.replace(NONE, (c) => (c === '\u000b' || c === '\u000c' ? ' ' : ''));
