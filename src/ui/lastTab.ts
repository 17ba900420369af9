/** The tab one was in last: a note goes back to where it was opened from. */
export const lastTab = { path: '/', name: 'Today' };
