/** Hostile archives and bundles: each is refused or restored in words, changes nothing that is here, and never blocks the page. */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect } from '@playwright/test';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { ROOT, button, startBrowser, startServer, tempFolder } from '../helpers/app';
import { records } from '../helpers/disk';
import { pageErrors } from '../helpers/tap';
import { attempt, chance, demoStands, longestTask, pick, type Result, stands, watchTasks } from './kit';

/** No page is blocked for longer, ms. */
const BLOCKED_MS = 1000;
/** Everything is told within, ms. */
const TOLD_MS = 60_000;

type Files = Record<string, Uint8Array>;
type Random = () => number;

const ABSURD: readonly unknown[] = [9e15, -1, 1e308, null, '', 'x'.repeat(100_000), [], {}, { __proto__: { polluted: 1 } }, true, '../../etc', Array.from({ length: 10_000 }, () => ({})), NaN];

/** Something in a JSON value is replaced by something absurd. */
function spoil(value: unknown, random: Random): unknown {
  if (typeof value !== 'object' || value === null || random() < 0.15) return pick(random, ABSURD);
  const entries = Object.entries(value);
  if (!entries.length) return pick(random, ABSURD);
  const [key] = pick(random, entries);
  const changed = { ...(value as Record<string, unknown>), [key]: spoil((value as Record<string, unknown>)[key], random) };
  return Array.isArray(value) ? Object.values(changed) : changed;
}

const spoiledJson = (bytes: Uint8Array, random: Random): Uint8Array => strToU8(JSON.stringify(spoil(JSON.parse(Buffer.from(bytes).toString()), random)));

/** Rows are what a note is made of: some of them say something absurd, point to what is not there, or come from clocks and counters of another world. */
function spoiledRows(bytes: Uint8Array, random: Random): Uint8Array {
  const json = JSON.parse(Buffer.from(bytes).toString()) as { rows?: { rows: unknown[][]; devices: string[] } };
  const rows = json.rows?.rows ?? [];
  const some = () => pick(random, rows);
  for (let k = 0; k < 1 + Math.floor(random() * 8) && rows.length; k++) {
    const row = some();
    const what = Math.floor(random() * 8);
    if (what === 0) row[2] = spoil(row[2], random);
    else if (what === 1) row[2] = null;
    else if (what === 2) row[1] = pick(random, ['', 'x', '__proto__', String(some()[1]), 'a'.repeat(5000)]);
    else if (what === 3) row[0] = pick(random, ['pages', 'takes', 'stretches', 'kept', 'drafts', 'note', 'constructor']);
    else if (what === 4) row.splice(3, 9, pick(random, [1e308, -1e308, 9e15, 0, -1, '5']), pick(random, [0, -1, 1e300, 0.5]), pick(random, [0, 7, -1]), pick(random, [0, 1e9, -5]), pick(random, [{ mine: 1e9 }, {}, 5, null]), pick(random, [{}, { w: 5 }, 'x']));
    else if (what === 5 && typeof row[2] === 'object' && row[2]) (row[2] as Record<string, unknown>).order = pick(random, ['b', '', 'A'.repeat(30), 'a0', 'zz', 5]);
    else if (what === 6) rows.push([...some()]);
    else rows.push(['kept', `k${k}`, { table: pick(random, ['placed', 'pages', 'x']), id: String(some()[1]), ink: pick(random, ['', '!', btoa('x')]), v: spoil(some()[2], random) }, 5, 0, 0, k]);
  }
  return strToU8(JSON.stringify(json));
}

const MEANS: Record<string, (bundle: Uint8Array, files: Files, random: Random) => Uint8Array> = {
  'a flipped bit': (b, _, r) => {
    const out = b.slice();
    out[Math.floor(r() * out.length)] ^= 1 << Math.floor(r() * 8);
    return out;
  },
  'cut short': (b, _, r) => b.slice(0, Math.floor(r() * b.length)),
  'a stretch of noise': (b, _, r) => {
    const out = b.slice();
    const at = Math.floor(r() * out.length);
    for (let i = at; i < Math.min(out.length, at + 1 + r() * 4000); i++) out[i] = Math.floor(r() * 256);
    return out;
  },
  'another order of its bytes': (b, _, r) => {
    const at = Math.floor(r() * b.length);
    return Uint8Array.from([...b.subarray(at), ...b.subarray(0, at)]);
  },
  'an absurd note': (_, f, r) => zipSync({ ...f, 'note.json': spoiledJson(f['note.json'], r) }, { level: 1 }),
  'spoiled rows': (_, f, r) => zipSync({ ...f, 'note.json': spoiledRows(f['note.json'], r) }, { level: 1 }),
  'very spoiled rows': (_, f, r) => zipSync({ ...f, 'note.json': Array.from({ length: 8 }).reduce<Uint8Array>((json) => spoiledRows(json, r), f['note.json']) }, { level: 1 }),
  'very absurd': (_, f, r) => {
    let json = f['note.json'];
    for (let i = 0; i < 6; i++) json = spoiledJson(json, r);
    return zipSync({ ...f, 'note.json': json }, { level: 1 });
  },
  'spoiled ink': (_, f, r) => {
    const text = Buffer.from(f['ink.inkml']).toString();
    const at = Math.floor(r() * text.length);
    return zipSync({ ...f, 'ink.inkml': strToU8(text.slice(0, at) + pick(r, ['<', '&', '"', '</ink>', '<!DOCTYPE x [<!ENTITY a "aaaa">]>', '9e999', '\u0000', ' -']) + text.slice(at + Math.floor(r() * 40))) }, { level: 1 });
  },
  'spoiled sound': (_, f, r) => {
    const name = Object.keys(f).find((n) => n.startsWith('takes/'))!;
    const sound = f[name].slice(0, Math.floor(r() * f[name].length));
    for (let i = 0; i < 20 && sound.length; i++) sound[Math.floor(r() * sound.length)] = Math.floor(r() * 256);
    return zipSync({ ...f, [name]: sound }, { level: 0 });
  },
  'names that lead elsewhere': (_, f, r) => zipSync({ ...f, [pick(r, ['../x', '/etc/x', 'takes/../../x.webm', 'toString', 'contents/zz', 'a'.repeat(600)])]: new Uint8Array(10) }, { level: 1 }),
  'a bomb': (_, f, r) => zipSync({ ...f, [pick(r, ['ink.inkml', 'note.json', 'contents/' + 'a'.repeat(64), 'x'])]: new Uint8Array(50_000_000 + Math.floor(r() * 100_000_000)) }, { level: 9 }),
  'an absurd archive': (b, _, r) => {
    const index = { format: 'scrivo archive', v: 1, made: 5, folders: [], places: [{ v: 1, note: 'mine', folder: null, tags: [], archived: null, binned: 1, changed: 9e15 }], notes: [{ id: 'n1', title: 'X', changed: 5, bytes: b.length, sha256: 'a'.repeat(64) }] };
    return zipSync({ 'archive.json': strToU8(JSON.stringify(spoil(index, r))), 'notes/n1.scrivo': b }, { level: 0 });
  },
  'deep nesting': (_, f, r) => {
    const deep = Math.floor(1000 + r() * 50_000);
    return zipSync({ ...f, 'note.json': strToU8('['.repeat(deep) + ']'.repeat(deep)) }, { level: 1 });
  },
};

export async function files(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const bundle = new Uint8Array(readFileSync(path.join(ROOT, 'demo/notes/demo-tides-0000000001.scrivo')));
  const inside = unzipSync(bundle);
  // A note of another name, so that what is brought is told from what is here.
  inside['note.json'] = strToU8(Buffer.from(inside['note.json']).toString().replaceAll('demo-tides-0000000001', 'hostile-note-1'));
  const whole = zipSync(inside, { level: 0 });
  const folder = tempFolder();
  const server = await startServer(true);
  const context = await startBrowser();
  await watchTasks(context);
  const page = context.pages()[0];
  await stands(page, server.url);
  await demoStands(page);
  const mine = async () => Object.fromEntries(Object.entries(await records(page, 'scrivo')).filter(([k]) => /demo-/.test(k) && /^(note|ink|rows|place)\//.test(k)));
  const before = await mine();
  expect(Object.keys(before).length).toBeGreaterThan(9);
  await page.getByRole('tab', { name: 'Settings' }).click();
  let longest = 0;
  const told: Record<string, number> = {};
  for (let k = 0; k < times; k++) {
    const [name, make] = pick(random, Object.entries(MEANS));
    const how = `file ${k} of seed ${seed}, ${name}`;
    await attempt(broken, how, async () => {
      const file = path.join(folder, 'hostile.scrivo');
      writeFileSync(file, make(whole, inside, random));
      const message = button(page, 'Put this message away');
      // Of a file before this one, when something did not hold with it.
      while (await message.count()) await message.first().click();
      const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Restore').click()]);
      await longestTask(page);
      await chooser.setFiles(file);
      const done = button(page, 'Done');
      await done.or(message).first().waitFor({ timeout: TOLD_MS });
      const blocked = await longestTask(page);
      longest = Math.max(longest, blocked);
      if (await done.count()) {
        told.restored = (told.restored ?? 0) + 1;
        await done.click();
      } else {
        told.refused = (told.refused ?? 0) + 1;
        const text = await page.locator('[role="alert"], [role="status"]').allTextContents();
        expect(text.join(' '), 'a sentence for people').toMatch(/[A-Z][^.]{10,}\./);
        expect(text.join(' '), 'no words of the program').not.toMatch(/undefined|\[object|TypeError|NaN|ZodError|at \w+ \(/);
        while (await message.count()) await message.first().click();
      }
      expect(blocked, 'the page was blocked, ms').toBeLessThanOrEqual(BLOCKED_MS);
      if (k % 10 === 9 || k === times - 1) {
        expect(await mine()).toEqual(before);
        expect(await pageErrors(page)).toEqual([]);
      }
    });
    if (await page.getByRole('button', { name: 'Restore', exact: true }).isDisabled().catch(() => true)) {
      await stands(page, server.url);
      await page.getByRole('tab', { name: 'Settings' }).click();
    }
  }
  // And the application stands with what was brought in.
  await attempt(broken, 'after all files', async () => {
    await stands(page, server.url);
    await page.getByRole('tab', { name: 'Library' }).click();
    await page.getByRole('button', { name: /^Open / }).first().waitFor();
  });
  await context.close().catch((e: unknown) => broken.push(String(e)));
  await server.close();
  return { what: 'hostile files', times, broken, notes: `${told.refused ?? 0} refused, ${told.restored ?? 0} restored; longest task ${longest.toFixed(0)} ms` };
}
