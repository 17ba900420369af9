/** Titles in a sentence, told apart from each other and from it: “Tides”, “Lights” and 3 more. A title may have commas of its own. */
export const quoted = (titles: readonly string[], most = 8): string => `${titles.slice(0, most).map((t) => `“${t}”`).join(', ')}${titles.length > most ? ` and ${titles.length - most} more` : ''}`;
