/** Two to four tabs doing random things: what was said to be saved is there, and nothing goes wrong in any of them. */
import { expect, type Locator, type Page } from '@playwright/test';
import { button, Pen, press, startBrowser, startServer, tempFolder } from '../helpers/app';
import { records } from '../helpers/disk';
import { place } from '../helpers/spelled';
import { attempt, chance, demoStands, pick, type Result, stands, strokesByNote } from './kit';

/** How long one thing may take on a machine that others load, ms. */
const EACH_MS = 45_000;

const PASS = 'north cardinal 9';

const noteOf = (page: Page): string | null => /\/note\/([^/?]+)/.exec(page.url())?.[1] ?? null;

export async function tabs(seed: number, times: number): Promise<Result> {
  const random = chance(seed);
  const broken: string[] = [];
  const server = await startServer(true);
  const context = await startBrowser({ idle: true });
  const pages = [context.pages()[0]];
  await stands(pages[0], server.url);
  const pens = new Map<Page, Pen>();
  /** Strokes that a tab said were saved, by note; notes that somebody deleted for good. */
  const promised = new Map<string, number>();
  const written = new Map<string, number>();
  const deleted = new Set<string>();
  const counts: Record<string, number> = {};
  const tags: string[] = [];
  const templates: string[] = [];
  const penNames: string[] = [];
  const stickers: string[] = [];
  /** Words that were put right, and where. */
  const words: { readonly text: string; readonly note: string }[] = [];
  const library = `${tempFolder()}/library.zip`;
  {
    await demoStands(pages[0]);
    await pages[0].getByRole('tab', { name: 'Settings' }).click();
    const download = pages[0].waitForEvent('download');
    await button(pages[0], 'Back up').click();
    await (await download).saveAs(library);
  }
  /** What a step that failed left open is put away. */
  const putAway = async (page: Page): Promise<void> => {
    for (let i = 0; i < 3 && (await page.getByRole('dialog').count()); i++) await page.keyboard.press('Escape');
    for (const name of ['Done', 'Close Pages']) if (await button(page, name).count()) await button(page, name).first().click();
  };
  const home = async (page: Page): Promise<void> => {
    await putAway(page);
    if (await button(page, 'Stop recording').count()) await button(page, 'Stop recording').click();
    // Where a note cannot be opened, the same stands in words too.
    if (noteOf(page)) await button(page, 'Back to Today').first().click();
    await page.getByRole('tab', { name: 'Today' }).click();
  };
  /** All notes stand in the Library; gives what opens the menu of each. */
  const listed = async (page: Page): Promise<Locator> => {
    await home(page);
    await page.getByRole('tab', { name: 'Library' }).click();
    await page.getByRole('tab', { name: 'All notes' }).or(button(page, 'All notes')).first().click();
    return page.getByRole('button', { name: /^What to do with / });
  };
  /** What is kept of a note itself, as text. */
  const wordsOf = async (page: Page, note: string): Promise<string> => Object.entries(await records(page, 'scrivo')).flatMap(([key, text]) => (/^(rows|ink|note)\//.test(key) && key.includes(note) ? [text] : [])).join(' ');
  const doings: Record<string, (page: Page) => Promise<void>> = {
    async 'open a note'(page) {
      await home(page);
      const all = page.getByRole('button', { name: /^Open / });
      if (await all.count()) await all.nth(Math.floor(random() * (await all.count()))).click();
    },
    async 'make a note'(page) {
      await home(page);
      await button(page, 'Write without sound').click();
      await page.getByTestId('page-1').waitFor();
    },
    async write(page) {
      const note = noteOf(page);
      if (!note || !(await page.getByTestId('page-1').count())) return;
      if (await button(page, 'Write').count()) await button(page, 'Write').click();
      // Who follows another tab writes nothing, and says so.
      if (await button(page, 'Write here').count()) return;
      let pen = pens.get(page);
      if (!pen) pens.set(page, (pen = await Pen.on(page)));
      const box = (await page.getByTestId('page-1').boundingBox())!;
      const before = (await strokesByNote(page)).get(note)?.size ?? 0;
      for (let i = 0; i < 1 + random() * 3; i++) {
        const { x, y } = place(((written.get(note) ?? 0) * 7 + i) % 50);
        written.set(note, (written.get(note) ?? 0) + 1);
        await pen.scribble(box.x + x, Math.min(box.y + y, 600));
      }
      if (await button(page, 'Write here').count()) return;
      await page.locator('[data-testid="save-state"][data-state="saved"]').waitFor({ timeout: 10_000 });
      const now = (await strokesByNote(page)).get(note)?.size ?? 0;
      expect(now, `strokes of ${note}`).toBeGreaterThanOrEqual(before);
      promised.set(note, Math.max(promised.get(note) ?? 0, now));
    },
    async 'write here'(page) {
      if (await button(page, 'Write here').count()) await button(page, 'Write here').first().click();
    },
    async record(page) {
      if (!noteOf(page) || !(await button(page, 'Record').count()) || (await button(page, 'Write here').count()) || (await button(page, 'Record').isDisabled())) return;
      await button(page, 'Record').click();
      await new Promise((r) => setTimeout(r, 500 + random() * 2000));
      if (await button(page, 'Stop recording').count()) await button(page, 'Stop recording').click();
    },
    async 'put in the bin'(page) {
      const more = await listed(page);
      if ((await more.count()) < 3) return;
      await more.first().click();
      await button(page, 'Delete').click();
    },
    async 'empty the bin'(page) {
      await home(page);
      await page.getByRole('tab', { name: 'Library' }).click();
      await page.getByRole('tab', { name: /^Bin/ }).click();
      if (!(await button(page, 'Empty the bin').count())) return;
      const before = [...(await strokesByNote(page)).keys()];
      const binned = Object.entries(await records(page, 'scrivo')).flatMap(([key, text]) => (key.startsWith('place/') && !text.startsWith('scrivo-sealed') && (JSON.parse(text) as { binned: number | null }).binned !== null ? [key.slice('place/'.length)] : []));
      await button(page, 'Empty the bin').click();
      await button(page, 'Delete for good').click();
      await expect(page.getByText(/The bin is empty\.|is open in another tab/).first()).toBeVisible({ timeout: 10_000 });
      // What another tab holds stays; all else goes, also after it was said that something stays.
      const stands = async (): Promise<string[]> => {
        const held = await page.evaluate(async () => (await navigator.locks.query()).held!.map((l) => l.name!));
        const keys = Object.keys(await records(page, 'scrivo'));
        return [...keys.filter((key) => key.startsWith('gone/')), ...binned.filter((id) => keys.includes(`note/${id}`) && !held.some((name) => name.endsWith(id)))];
      };
      await expect.poll(stands, { timeout: 10_000 }).toEqual([]);
      const after = await strokesByNote(page);
      for (const note of before) if (!after.has(note)) deleted.add(note);
    },
    async restore(page) {
      await home(page);
      await page.getByRole('tab', { name: 'Settings' }).click();
      const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Restore').click()]);
      await chooser.setFiles(library);
      const passphrase = page.getByLabel('Passphrase', { exact: true });
      await button(page, 'Done').or(page.getByText(/is open in another tab|already|still being read|is running/)).or(passphrase).first().waitFor();
      // Notes that are locked by now are opened for it.
      if (await passphrase.count()) {
        await passphrase.fill(PASS);
        await passphrase.press('Enter');
        await button(page, 'Done').or(page.getByText(/is open in another tab|already/)).first().waitFor();
      }
      if (await button(page, 'Done').count()) await button(page, 'Done').click();
    },
    async 'tag a note'(page) {
      // Of a locked note nobody could tell.
      if (Object.keys(await records(page, 'scrivo')).some((key) => key.startsWith('locked/'))) return;
      const more = await listed(page);
      if (!(await more.count())) return;
      await more.nth(Math.floor(random() * (await more.count()))).click();
      const name = `tag ${tags.length + 1}`;
      await button(page, 'Other tags').click();
      await page.getByLabel('New tag').fill(name);
      await button(page, 'Save').click();
      await expect.poll(async () => JSON.stringify(await records(page, 'scrivo')).includes(name)).toBe(true);
      tags.push(name);
    },
    async 'keep a template'(page) {
      if (!noteOf(page) || !(await page.getByTestId('page-1').count()) || (await button(page, 'Write here').count())) return;
      await press(page, 'Pages');
      // On a phone the pages lie beside other lists.
      if (!(await page.getByLabel('Choose page 1', { exact: true }).count())) return;
      await page.getByLabel('Choose page 1', { exact: true }).click();
      await button(page, 'Templates').click();
      const name = `template ${templates.length + 1}`;
      await page.getByLabel('Name of the template').fill(name);
      await button(page, 'Keep').click();
      await button(page, `Add a page from ${name}`).waitFor();
      templates.push(name);
      await button(page, 'Done').click();
      await button(page, 'Close Pages').click();
    },
    async 'lock a note'(page) {
      const more = await listed(page);
      if (!(await more.count())) return;
      const it = more.nth(Math.floor(random() * (await more.count())));
      const name = (await it.getAttribute('aria-label'))!;
      // By its name it is found again.
      if ((await more.and(page.getByRole('button', { name, exact: true })).count()) > 1) return;
      await it.click();
      // One that is open here is not locked.
      if (!(await button(page, 'Lock').count())) return;
      await button(page, 'Lock').click();
      const [fresh, ask, sheet] = [page.getByLabel('New passphrase', { exact: true }), page.getByLabel('Passphrase', { exact: true }), page.getByRole('switch', { name: 'Hide the title too' })];
      await fresh.or(ask).or(sheet).or(page.getByText(/is open in another tab/)).first().waitFor();
      if (await fresh.count()) {
        await fresh.fill(PASS);
        await page.getByLabel('The same once more', { exact: true }).fill(PASS);
        await button(page, 'Set it').click();
      } else if (await ask.count()) {
        await ask.fill(PASS);
        await ask.press('Enter');
      }
      await sheet.or(page.getByText(/is open in another tab/)).first().waitFor();
      if (!(await sheet.count())) return;
      await button(page, 'Lock').last().click();
      await page.getByText(/open in another tab|locked from now on/).first().waitFor();
    },
    async 'take all locks off'(page) {
      await home(page);
      await page.getByRole('tab', { name: 'Settings' }).click();
      if (await button(page, 'Unlock').count()) {
        await button(page, 'Unlock').click();
        await page.getByLabel('Passphrase', { exact: true }).fill(PASS);
        await page.getByLabel('Passphrase', { exact: true }).press('Enter');
        await button(page, 'Lock now').waitFor();
      }
      if (!(await button(page, 'Remove the passphrase').count())) return;
      await button(page, 'Remove the passphrase').click();
      await button(page, 'Remove it').click();
      await page.getByText(/There is no passphrase any more|open in another tab/).first().waitFor();
    },
    async 'add a pen'(page) {
      if (!noteOf(page) || !(await page.getByTestId('page-1').count()) || (await button(page, 'Write here').count()) || !(await button(page, 'Write').or(button(page, 'Pen cup')).count())) return;
      if (await button(page, 'Write').count()) await button(page, 'Write').click();
      await press(page, 'Pen cup');
      if (!(await button(page, 'Add a pen').count()) || (await button(page, 'Add a pen').isDisabled())) return;
      await button(page, 'Add a pen').click();
      const name = `pen ${penNames.length + 1}`;
      await page.getByLabel('Name of the pen', { exact: true }).fill(name);
      await expect.poll(async () => JSON.stringify(await records(page, 'scrivo')).includes(name)).toBe(true);
      penNames.push(name);
    },
    async 'keep a sticker'(page) {
      if (!noteOf(page) || !(await page.getByTestId('page-1').count()) || (await button(page, 'Write here').count())) return;
      if (await button(page, 'Write').count()) await button(page, 'Write').click();
      await press(page, 'Sticker');
      await button(page, 'Put the anchor onto the page').click();
      // While the lock is closed, a picture that is in a locked note too stays there.
      const shut = page.getByText(/The sticker could not be put there: This is locked/);
      await page.getByTestId('selection').or(shut).first().waitFor();
      if (await shut.count()) return;
      const name = `sticker ${stickers.length + 1}`;
      await button(page, 'Keep as sticker').click();
      await page.getByLabel('Name of the sticker').fill(name);
      await button(page, 'Keep').click();
      await page.getByText(`“${name}” is among your stickers now.`).waitFor();
      stickers.push(name);
    },
    async 'put a word right'(page) {
      const note = noteOf(page);
      if (!note || !(await page.getByTestId('page-1').count()) || (await button(page, 'Write here').count())) return;
      await button(page, 'What to do with this note').click();
      // Of a note in the bin no words are put right.
      if (!(await button(page, 'Show text').count())) return;
      await button(page, 'Show text').click();
      const text = page.getByTestId('note-text');
      await text.getByText('Words are being read.').waitFor({ state: 'hidden', timeout: 30_000 });
      const all = text.locator('button[data-word]');
      if (await all.count()) {
        const said = `word${words.length + 1}`;
        await all.nth(Math.floor(random() * Math.min(5, await all.count()))).click();
        await text.getByLabel('What the word says').fill(said);
        await button(page, 'Put right').click();
        const isLocked = async () => (await records(page, 'scrivo'))[`locked/${note}`] !== undefined;
        await expect.poll(async () => (await isLocked()) || (await wordsOf(page, note)).includes(said), { timeout: 10_000 }).toBe(true);
        words.push({ text: said, note });
      }
      await button(page, 'Close Text').click();
    },
    async settings(page) {
      await home(page);
      await page.getByRole('tab', { name: 'Settings' }).click();
      await button(page, pick(random, ['Light', 'Dark', 'System'])).click();
    },
    async reload(page) {
      if (await button(page, 'Stop recording').count()) await button(page, 'Stop recording').click();
      await page.reload();
    },
  };
  for (let k = 0; k < times; k++) {
    if (pages.length < 2 || (pages.length < 4 && random() < 0.05)) {
      const page = await context.newPage();
      await stands(page, server.url);
      pages.push(page);
    }
    const page = pick(random, pages);
    const [doing, work] = pick(random, Object.entries(doings));
    counts[doing] = (counts[doing] ?? 0) + 1;
    await attempt(broken, `step ${k} of seed ${seed}, to ${doing} in tab ${pages.indexOf(page) + 1}`, async () => {
      await page.bringToFront();
      page.setDefaultTimeout(10_000);
      await putAway(page);
      await Promise.race([work(page), new Promise((_, reject) => setTimeout(() => reject(new Error('it took too long')), EACH_MS))]);
      while (await button(page, 'Put this message away').count()) await button(page, 'Put this message away').first().click({ timeout: 2000 }).catch(() => undefined);
    }, page);
    await attempt(broken, `looked at after step ${k} of seed ${seed}, to ${doing} in tab ${pages.indexOf(page) + 1}`, async () => {
      const now = await strokesByNote(page);
      const stored = await records(page, 'scrivo');
      const lost = [...promised].filter(([note, n]) => !deleted.has(note) && stored[`locked/${note}`] === undefined && (now.get(note)?.size ?? 0) < n);
      // Each is told once.
      for (const [note] of lost) promised.delete(note);
      // Nothing of a locked note stays in the open, whichever tab wrote it.
      for (const id of Object.keys(stored).flatMap((key) => (key.startsWith('locked/') ? [key.slice('locked/'.length)] : []))) {
        const isOpen = ([key, text]: [string, string]) => key.includes(`/${id}`) && !/^(extent|locked|gone|replacing)\//.test(key) && !text.startsWith('scrivo-sealed');
        await expect.poll(async () => Object.entries(await records(page, 'scrivo')).filter(isOpen).map(([key]) => key).join(' '), { timeout: 10_000 }).toBe('');
      }
      expect(lost.map(([note, n]) => `${n} strokes of ${note}, now ${now.get(note)?.size ?? 0}`)).toEqual([]);
    });
  }
  await attempt(broken, `at the end of seed ${seed}`, async () => {
    const all = JSON.stringify(await records(pages[0], 'scrivo'));
    // Tags go with the notes that are deleted for good.
    expect(templates.filter((name) => !all.includes(name)), 'templates that are gone').toEqual([]);
    expect(penNames.filter((name) => !all.includes(name)), 'pens that are gone').toEqual([]);
    expect(stickers.filter((name) => !all.includes(name)), 'stickers that are gone').toEqual([]);
    if (!deleted.size) expect(tags.filter((name) => !all.includes(name)), 'tags that are gone').toEqual([]);
  });
  await context.close().catch((e: unknown) => broken.push(String(e)));
  await server.close();
  return { what: 'tabs', times, broken, notes: Object.entries(counts).map(([d, n]) => `${d} ${n}`).join(', ') };
}
