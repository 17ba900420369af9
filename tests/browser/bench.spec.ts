/** The bench in the browser still runs to its end, with a little of everything: what a figure is read from has not gone from the interface unseen. Its figures tell nothing here. */
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { expect, test } from '@playwright/test';
import { ROOT } from '../helpers/app';

/** A row of each part that it ends with. The others (`--few sound library typing things board bring film eight`) take minutes of a machine also with a little of everything, and are run by hand. */
const PARTS: Readonly<Record<string, string>> = {
  phone: 'touch to sound in 90 s',
};

test('the bench runs', async () => {
  test.setTimeout(600_000);
  const { stdout } = await promisify(execFile)('npx', ['tsx', 'tests/bench/main.ts', '--few', ...Object.keys(PARTS)], { cwd: ROOT, maxBuffer: 1 << 24, env: { ...process.env, SCRIVO_WAIT_MS: '150000' } });
  for (const [part, row] of Object.entries(PARTS)) expect([part, stdout.includes(row)]).toEqual([part, true]);
  expect(stdout).toContain('All goals hold.');
});
