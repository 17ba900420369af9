/** Names stand in one order on every machine. */
import { compareLoosely, compareNames } from './collation';
import { foldersIn, type Folder } from './library/folder';

test('numbers by their value, capitals and accents no difference unless nothing else is', () => {
  expect(['Take 10', 'Take 2', 'take 1', 'Ärger', 'Zulu', 'ebb', 'Ebb', 'Éclipse'].sort(compareNames)).toEqual(['Ärger', 'ebb', 'Ebb', 'Éclipse', 'take 1', 'Take 2', 'Take 10', 'Zulu']);
  expect([compareLoosely('Éclipse', 'eclipse'), Math.sign(compareNames('Éclipse', 'eclipse')), compareNames('a', 'a')]).toEqual([0, 1, 0]);
  // Of what looks the same the order is still one: a list that is sorted anew does not jump.
  const same = ['\u00e9', 'e\u0301'];
  expect([...same].sort(compareNames)).toEqual([...same].reverse().sort(compareNames));
});

test('folders stand by the number in their name', () => {
  const folder = (id: string, name: string): Folder => ({ v: 1, id, name, parent: null, color: 'navy', emblem: 'wave', made: 0, changed: 0 }) as Folder;
  const all = new Map(['Watch 10', 'watch 9', 'Watch 2'].map((name, i) => [`f${i}`, folder(`f${i}`, name)]));
  expect(foldersIn(all, null).map((f) => f.name)).toEqual(['Watch 2', 'watch 9', 'Watch 10']);
});
