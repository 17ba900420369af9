import { asleep, awake, isAsleep } from './asleep';

// Event handler content attributes begin with `on` (HTML Living Standard, 8.1.8.1, from memory).
test('what would run is put to sleep by every way of writing it, and other words come back as they were', () => {
  const names = (markup: string) => [...asleep(markup).matchAll(/([\w-]+)\s*=/g)].map(([, name]) => name);
  expect(names('<svg onload="a()" ONCLICK = "b" width="3"/>').map(isAsleep)).toEqual([true, true, false]);
  expect(names('<p\nonmouseover\n=c kept-onload="d">').map(isAsleep)).toEqual([true, true]);
  const words = '<text>valve on = open, Once = 1, station=4, ?online=1</text>';
  expect(awake(asleep(words))).toBe(words);
});
