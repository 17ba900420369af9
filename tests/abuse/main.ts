/**
 * Abuses the application at random: `npm run abuse`, or parts of it by their names, as in `npm run abuse -- kills files --seed 7 --times 20`. Not part of the
 * tests. Ends with a table, and with 1 when something did not hold; the seed shows it again.
 */
import { clocks } from './clocks';
import { devices } from './devices';
import { files } from './files';
import { imports } from './imports';
import type { Result } from './kit';
import { kills } from './kills';
import { room } from './room';
import { tabs } from './tabs';

const PARTS: Record<string, { readonly run: (seed: number, times: number) => Promise<Result>; readonly times: number }> = {
  kills: { run: kills, times: 200 },
  files: { run: files, times: 1000 },
  imports: { run: imports, times: 150 },
  tabs: { run: tabs, times: 700 },
  room: { run: room, times: 15 },
  clocks: { run: clocks, times: 15 },
  devices: { run: devices, times: 2000 },
};

async function main(): Promise<void> {
  const asked = process.argv.slice(2);
  const value = (name: string): number | undefined => (asked.includes(name) ? Number(asked[asked.indexOf(name) + 1]) : undefined);
  const seed = value('--seed') ?? 1;
  const wanted = Object.entries(PARTS).filter(([name]) => !Object.keys(PARTS).some((n) => asked.includes(n)) || asked.includes(name));
  const results: Result[] = [];
  for (const [name, { run, times }] of wanted) {
    console.log(`-- ${name}, seed ${seed}`);
    const start = Date.now();
    const result = await run(seed, value('--times') ?? times);
    results.push({ ...result, notes: `${result.notes ?? ''}; ${((Date.now() - start) / 60_000).toFixed(1)} min` });
  }
  console.log(`\n${'what'.padEnd(16)} ${'times'.padStart(6)} ${'broken'.padStart(7)}  notes`);
  for (const { what, times, broken, notes } of results) console.log(`${what.padEnd(16)} ${String(times).padStart(6)} ${String(broken.length).padStart(7)}  ${notes}`);
  for (const { broken } of results) for (const line of broken) console.log(`  ${line}`);
  process.exit(results.some((r) => r.broken.length) ? 1 : 0);
}

main().catch((e: unknown) => {
  console.error(e);
  process.exit(1);
});
