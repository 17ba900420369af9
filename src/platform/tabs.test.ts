/** Who may hold a note. The locks of this tab stand in for the browser's, and are held against what the Web Locks API says of `request` (https://w3c.github.io/web-locks/). */
import { holdIfFree, heldNotes, holdToChange, holdToShow } from './tabs';
import { makeTabLocks } from './tabLocks';

// Node of later versions has locks of its own.
Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
Object.defineProperty(globalThis, 'BroadcastChannel', { value: undefined, configurable: true });
const locks = makeTabLocks();

test('locks of one name are held one after another, in the order they were asked for', async () => {
  const order: string[] = [];
  const ask = (id: string) => locks.request('a', async () => {
    order.push(`${id} begins`);
    await new Promise((resolve) => setImmediate(resolve));
    order.push(`${id} ends`);
    if (id === '2') throw new Error('no');
    return id;
  });
  const done = await Promise.allSettled([ask('1'), ask('2'), ask('3')]);
  expect(done).toMatchObject([{ value: '1' }, { reason: { message: 'no' } }, { value: '3' }]);
  expect(order).toEqual(['1 begins', '1 ends', '2 begins', '2 ends', '3 begins', '3 ends']);
  expect((await locks.query()).held).toEqual([]);
});

test('a lock is not waited for when it is only wanted if free, and no longer than its signal says', async () => {
  let end = () => {};
  const held = locks.request('a', {}, () => new Promise<void>((resolve) => (end = resolve)));
  expect(await locks.request('a', { ifAvailable: true }, (lock) => lock)).toBeNull();
  expect(await locks.request('b', { ifAvailable: true }, (lock) => lock?.name)).toBe('b');
  const stop = new AbortController();
  const waiting = locks.request('a', { signal: stop.signal }, () => 'held');
  const later = locks.request('a', {}, () => 'held');
  stop.abort(new DOMException('enough', 'AbortError'));
  await expect(waiting).rejects.toThrow('enough');
  await expect(locks.request('c', { signal: stop.signal }, () => 'held')).rejects.toThrow('enough');
  end();
  await held;
  expect(await later).toBe('held');
});

test('a change of a stored note waits for another change, and not for who shows the note', async () => {
  const first = (await holdToChange('n'))!;
  expect(await holdIfFree('n')).toBeNull();
  const second = holdToChange('n');
  await first.release();
  await (await second)!.release();
  const shown = (await holdToShow('n'))!;
  expect([await holdToChange('n'), await holdIfFree('n'), await holdToShow('n'), [...(await heldNotes())]]).toEqual([null, null, null, ['n']]);
  await shown.release();
  expect(await heldNotes()).toEqual(new Set());
});

test('who opens a note waits for a change that is under way, and has it before a change that comes later', async () => {
  const changing = (await holdToChange('n'))!;
  const opening = holdToShow('n');
  expect(await holdToChange('n')).toBeNull();
  await changing.release();
  const shown = (await opening)!;
  expect(shown.note).toBe('n');
  // Another tab asks to write it here; it waits until this one lets go.
  const handedOver = holdToShow('n', AbortSignal.timeout(5000));
  await shown.release();
  await (await handedOver)!.release();
  const stays = (await holdToShow('n'))!;
  expect(await holdToShow('n', AbortSignal.timeout(5))).toBeNull();
  await stays.release();
  expect(await heldNotes()).toEqual(new Set());
});
