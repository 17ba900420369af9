/** Things in numbered chunks: what changes marks its chunk and no other, and what comes goes into the last that has room. */
import { Chunks } from './chunks';

const ids = (drained: ReturnType<Chunks<string>['drain']>) => drained.map(([k, entries]) => [k, entries.map(([id]) => id).join('')]);

test('new things fill the last chunk, and then the next', () => {
  const chunks = new Chunks<string>(2);
  expect([chunks.count, chunks.isDirty]).toEqual([0, false]);
  for (const id of 'abcde') chunks.put(id, id);
  expect([chunks.count, chunks.has('c'), chunks.has('x')]).toEqual([3, true, false]);
  expect(ids(chunks.drain())).toEqual([[0, 'ab'], [1, 'cd'], [2, 'e']]);
  expect(chunks.isDirty).toBe(false);
  chunks.put('c', 'C');
  expect(chunks.drain()).toEqual([[1, [['c', 'C'], ['d', 'd']]]]);
});

test('of what is on disk the highest number is the last, in whatever order it is loaded; a chunk that was emptied is written over', () => {
  const chunks = new Chunks<string>(2);
  chunks.load(3, [['g', 'g']]);
  expect([...chunks.load(0, [['a', 'a'], ['b', 'b']])]).toEqual([]);
  expect([chunks.count, chunks.isDirty]).toEqual([4, false]);
  chunks.put('h', 'h');
  chunks.put('i', 'i');
  expect(ids(chunks.drain())).toEqual([[3, 'gh'], [4, 'i']]);
  chunks.drop('i');
  chunks.drop('i');
  chunks.drop('nobody');
  expect(ids(chunks.drain())).toEqual([[4, '']]);
  // What comes back goes where it was.
  chunks.put('i', 'i');
  expect(ids(chunks.drain())).toEqual([[4, 'i']]);
  expect([...chunks.load(0, [['b', 'B']])]).toEqual([['a', 'a'], ['b', 'b']]);
});

test('what could not be written waits again, some of it or all', () => {
  const chunks = new Chunks<string>(1);
  for (const id of 'abc') chunks.put(id, id);
  chunks.drain();
  chunks.soil([1]);
  expect(ids(chunks.drain())).toEqual([[1, 'b']]);
  chunks.soil();
  expect(chunks.drain().length).toBe(3);
  chunks.put('a', 'A');
  chunks.clean();
  expect([chunks.isDirty, chunks.drain()]).toEqual([false, []]);
});
