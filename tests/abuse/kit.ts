/** What the abuses share: chance that can be repeated, the browser, and what has to hold afterwards. */
import { execFileSync } from 'node:child_process';
import { expect, type BrowserContext, type Page } from '@playwright/test';
import { readInk } from '../../src/core/note/records/inkChunk';
import { records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';

/** Numbers in [0, 1) (linear congruential generator, Park and Miller 1988). */
export function chance(seed: number): () => number {
  let s = (seed % 2_147_483_646) + 1;
  return () => (s = (s * 48_271) % 2_147_483_647) / 2_147_483_647;
}
export const pick = <T>(random: () => number, list: readonly T[]): T => list[Math.floor(random() * list.length)];

/** One line of the table at the end. */
export interface Result {
  readonly what: string;
  readonly times: number;
  /** What did not hold, with how to see it again. */
  readonly broken: string[];
  readonly notes?: string;
}

/** Every process of the browser that works on this folder, at once and without notice. */
export function killBrowser(profile: string): void {
  try {
    execFileSync('pkill', ['-9', '-f', `user-data-dir=${profile}`]);
  } catch {
    // There was none.
  }
}

/** Ids of strokes on disk, by note; of a locked note none are known. */
export async function strokesByNote(page: Page): Promise<Map<string, Set<string>>> {
  const out = new Map<string, Set<string>>();
  for (const [key, text] of Object.entries(await records(page, 'scrivo'))) {
    if (!key.startsWith('ink/') || text.startsWith('scrivo-sealed')) continue;
    const note = key.split('/')[1];
    const set = out.get(note) ?? new Set<string>();
    for (const it of readInk(text).placed) set.add(it.id);
    out.set(note, set);
  }
  return out;
}

export const soundKeys = async (page: Page): Promise<string[]> => Object.keys(await records(page, 'scrivo-sound')).filter((k) => !k.startsWith('heard/'));

/** The application stands, with its notes, and nothing went wrong in it. */
export async function stands(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await page.getByRole('tab', { name: 'Today' }).waitFor({ timeout: 20_000 });
  await page.getByRole('button', { name: /^Open / }).first().or(page.getByText(/^No notes yet/)).first().waitFor({ timeout: 20_000 });
  // What was left undone is gone on with.
  await expect.poll(async () => Object.keys(await records(page, 'scrivo')).filter((key) => /^(gone|replacing)\//.test(key)), { timeout: 10_000 }).toEqual([]);
  expect(await pageErrors(page)).toEqual([]);
}

/** The demo's three notes are there. */
export const demoStands = (page: Page): Promise<void> => expect(page.getByRole('button', { name: /^Open / })).toHaveCount(3, { timeout: 20_000 });

/** Longest task of the page since it was last asked, ms. */
export const watchTasks = (context: BrowserContext): Promise<unknown> =>
  context.addInitScript(() => {
    const w = window as unknown as { longest: number };
    w.longest = 0;
    new PerformanceObserver((list) => list.getEntries().forEach((e) => (w.longest = Math.max(w.longest, e.duration)))).observe({ type: 'longtask' });
  });
export const longestTask = (page: Page): Promise<number> =>
  page.evaluate(() => {
    const w = window as unknown as { longest: number };
    const { longest } = w;
    w.longest = 0;
    return longest;
  });

/** What the page says and asks just now: of a step that failed it tells most. */
const saidBy = async (page: Page): Promise<string> => {
  const texts = await Promise.all([page.getByRole('dialog'), page.getByRole('alert'), page.getByRole('status')].map((l) => l.allInnerTexts().catch(() => [])));
  return texts.flat().map((t) => t.replace(/\s+/g, ' ').trim().slice(0, 300)).filter(Boolean).join(' | ');
};

/** @param page what it said is noted beside what failed. */
export async function attempt(broken: string[], how: string, work: () => Promise<void>, page?: Page): Promise<void> {
  try {
    await work();
  } catch (e) {
    const first = String(e instanceof Error ? e.message : e).split('\n').map((l) => l.trim()).filter(Boolean).slice(0, 5).join(' ');
    const said = page ? await saidBy(page) : '';
    broken.push(`${how}: ${first}${said && ` (on the screen: ${said})`}`);
    console.log(`  broken, ${broken.at(-1)}`);
  }
}
