import { isBackupOld } from './backup';

test('a backup is old after 14 days, and one that a clock ahead of time dated is none', () => {
  const day = 86_400_000;
  const now = 100 * day;
  const old = (last: number | null, first = now - 30 * day) => isBackupOld(last, 3, first, now);
  expect([old(now - 13 * day), old(now - 15 * day), old(null), old(null, now - 2 * day)]).toEqual([false, true, true, false]);
  expect([old(now + 300 * day), old(now + 300 * day, now - 2 * day), isBackupOld(null, 0, Infinity, now)]).toEqual([true, false, false]);
});
