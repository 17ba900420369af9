import { hintOf } from './hintWords';

test('a symbol says name, key and use; what is written out says no more than it shows', () => {
  expect(hintOf('Eraser', '')).toBe('Eraser (E): erases strokes or an area');
  expect(hintOf('Next page', '›')).toBe('Next page');
  expect(hintOf('Cancel', 'Cancel')).toBeNull();
});
