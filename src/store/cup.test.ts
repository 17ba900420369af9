/** What is offered of colours, and what a note is called that nobody named. */
import { offeredColors } from './cup';
import { isUnnamed } from './library';

test('colours used last come first, each once; tints are for highlighters', () => {
  const dark = offeredColors(['#123456', '#2456a6', '#f2c94c'], false);
  expect(dark.slice(0, 3)).toEqual(['#123456', '#2456a6', '#1d1d1b']);
  expect(new Set(dark).size).toBe(dark.length);
  expect(dark).not.toContain('#f2c94c');
  expect(offeredColors(['#123456', '#9ccbe8'], true).slice(0, 2)).toEqual(['#9ccbe8', '#f2c94c']);
});

test('only a title that nobody gave is a time at its beginning', () => {
  expect(['09:05, Mon 2 Nov', 'Navigation, 09:05, Mon 2 Nov', 'Tides', '9 o’clock'].map(isUnnamed)).toEqual([true, false, false, false]);
});
