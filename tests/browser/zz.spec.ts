import { execSync } from 'node:child_process';
import { test } from '@playwright/test';
import { button, PHONE, startBrowser, startServer } from '../helpers/app';
const cpu = (_: string): Record<string, number> => {
  const rows = execSync('ps -eo pid,ppid,args').toString().trim().split('\n').slice(1).map((l) => /^\s*(\d+)\s+(\d+)\s+(.*)/.exec(l)!);
  const root = rows.find((r) => r[3].includes('scrivo-tag=zzz') && !r[3].includes('--type='))![1];
  const mine = new Set([root]);
  for (let i = 0; i < 5; i++) for (const r of rows) if (mine.has(r[2])) mine.add(r[1]);
  const out: Record<string, number> = {};
  for (const r of rows) if (mine.has(r[1])) { let st; try { st = execSync(`cat /proc/${r[1]}/stat 2>/dev/null`).toString().split(') ')[1].split(' '); } catch { continue; }
    const k = /--type=(\S+)/.exec(r[3])?.[1] ?? 'browser'; out[k] = (out[k] ?? 0) + (Number(st[11]) + Number(st[12])) / 100; }
  return out;
};
test('cpu', async () => {
  const server = await startServer();
  const t0 = Date.now();
  const context = await startBrowser({ viewport: PHONE, args: ['--scrivo-tag=zzz'] });
  console.log('launch', Date.now() - t0);
  const page = context.pages()[0];
  const prof = execSync(`ps -eo args | grep 'user-data-dir=' | grep -o 'user-data-dir=[^ ]*' | head -1`).toString().trim();
  const tag = /scrivo-\w+/.exec(execSync(`ps -eo args | grep scrivo-tag=zzz | head -1`).toString())![0];
  console.log(prof, tag);
  console.log('after launch', cpu(tag));
  await page.goto(server.url);
  await button(page, 'Write without sound').waitFor();
  console.log('today', Date.now() - t0, cpu(tag));
  await page.waitForTimeout(5000);
  console.log('today idle 5', cpu(tag));
  await button(page, 'Write without sound').click();
  await page.getByTestId('page-1').waitFor();
  await page.waitForTimeout(1000);
  console.log('note', Date.now() - t0, cpu(tag));
  await page.waitForTimeout(10000);
  console.log('note idle 10', cpu(tag));
  await context.close();
  await server.close();
});
