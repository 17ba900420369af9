import { quoted } from './quoted';

test('titles with commas are told apart, and of many it is said how many more there are', () => {
  expect(quoted(['Fenwick, retired pilot', 'Lights'])).toBe('“Fenwick, retired pilot”, “Lights”');
  expect([quoted(['a', 'b', 'c'], 3), quoted(['a', 'b', 'c', 'd', 'e'], 3), quoted([])]).toEqual(['“a”, “b”, “c”', '“a”, “b”, “c” and 2 more', '']);
});
