/** What is being done to a new note when the browser is killed, and what of it has to be there afterwards. */
import { expect, type Page } from '@playwright/test';
import { boxAround } from '../../src/core/ink/stroke';
import { isStroke, type Placed } from '../../src/core/note/kinds/kinds';
import type { Table } from '../../src/core/note/kinds/table';
import { textsOf } from '../../src/core/note/tableEdits';
import { blankNote, button, Pen, press, saved } from '../helpers/app';
import { rowsByTable } from '../../src/core/formats/bundle';
import { readInk } from '../../src/core/note/records/inkChunk';
import { readRows } from '../../src/core/note/records/rowChunk';
import { inkOnDisk, records } from '../helpers/disk';

/** Work until the kill; `looked` says what must be found after it, the kill at `killed` (ms since the epoch). */
export interface Doing {
  readonly work: (page: Page, until: () => boolean) => Promise<void>;
  readonly looked: (page: Page, killed: number, placed: readonly Placed[]) => Promise<void>;
}

/** What a pen or a key made is on disk within, ms. */
const KEPT_MS = 1000;

export function typing(): Doing {
  const text = 'The ebb runs for six hours and a bit at the harbour mouth and then it is slack ';
  const at: number[] = [];
  return {
    async work(page, until) {
      await blankNote(page);
      await page.keyboard.press('t');
      const box = (await page.getByTestId('page-1').boundingBox())!;
      await page.mouse.click(box.x + 0.2 * box.width, box.y + 0.3 * box.height);
      await page.getByRole('textbox', { name: 'Typed text' }).waitFor();
      for (let i = 0; i < 400 && !until(); i++) {
        await page.keyboard.type(text[i % text.length]);
        at.push(Date.now());
      }
    },
    looked(_, killed, placed) {
      const kept = placed.filter((it) => it.kind === 'typed').reduce((n, it) => n + (it.kind === 'typed' ? it.text.length : 0), 0);
      expect(kept >= at.length || killed - at[kept] <= KEPT_MS, `letters: ${kept} of ${at.length} kept, the next was typed ${killed - at[kept]} ms before the kill`).toBe(true);
      return Promise.resolve();
    },
  };
}

export function table(): Doing {
  const at: number[] = [];
  return {
    async work(page, until) {
      await blankNote(page);
      await press(page, 'Table');
      await page.getByRole('dialog').getByLabel('Rows, 1 to 500').fill('40');
      await button(page, 'Put it there').click();
      await page.getByTestId('table-field').waitFor();
      for (let i = 0; i < 100 && !until(); i++) {
        await page.keyboard.type(`${i + 1}`);
        await page.keyboard.press('Tab');
        at.push(Date.now());
      }
    },
    looked(_, killed, placed) {
      const it = placed.find((p): p is Table => p.kind === 'table');
      const kept = it ? textsOf(it).flat().filter(Boolean).length : 0;
      expect(kept >= at.length || killed - at[kept] <= KEPT_MS, `cells: ${kept} of ${at.length} kept, the next was left ${killed - at[kept]} ms before the kill`).toBe(true);
      return Promise.resolve();
    },
  };
}

/** Files are brought in: there is a note of them or there is none, and no bytes that nothing leads to. */
export const importing = (files: readonly string[]): Doing => ({
  async work(page) {
    await page.getByRole('button', { name: 'Bring in', exact: true }).click();
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
    await chooser.setFiles([...files]);
    await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
    await page.getByTestId('page-1').waitFor();
  },
  async looked(page) {
    // What was begun and not named is let go of soon after the next start.
    await expect.poll(async () => {
      const all = await records(page, 'scrivo');
      const held = Object.entries(all).filter(([key]) => !key.startsWith('content')).map(([, text]) => text).join('\n');
      return Object.keys(all).filter((key) => /^content\//.test(key) && !held.includes(key.split('/')[1]));
    }, { timeout: 20_000, message: 'bytes that nothing leads to' }).toEqual([]);
  },
});

/** A sticky note with ink on it is carried about: the ink is where it lies on it. */
export function carrying(): Doing {
  let written = 0;
  let beside: [number, number] | null = null;
  const lie = (placed: readonly Placed[]): [number, number] | null => {
    const slip = placed.find((it) => it.kind === 'slip');
    const ink = boxAround(placed.filter((it) => isStroke(it) && it.on === slip?.id));
    return slip && ink ? [ink[0] - slip.box[0], ink[1] - slip.box[1]] : null;
  };
  return {
    async work(page, until) {
      await blankNote(page);
      await press(page, 'Sticky note');
      await saved(page);
      const slip = (await inkOnDisk(page)).find((it) => it.kind === 'slip')!;
      const box = (await page.getByTestId('page-1').boundingBox())!;
      const px = (x: number, y: number) => ({ x: box.x + (x * box.width) / 210, y: box.y + (y * box.width) / 210 });
      const pen = await Pen.on(page);
      for (let i = 0; i < 3; i++) {
        const p = px(slip.box[0] + 6, slip.box[1] + 8 + 8 * i);
        await pen.scribble(p.x, p.y, 12, 4);
      }
      await saved(page);
      written = 3;
      beside = lie(await inkOnDisk(page));
      await press(page, 'Lasso');
      const edge = px(slip.box[0] + 2, slip.box[3] - 2);
      await pen.stroke([edge]);
      await page.getByTestId('selection').waitFor();
      for (let i = 0; i < 40 && !until(); i++) {
        const frame = (await page.getByTestId('selection').boundingBox())!;
        const from = { x: frame.x + frame.width / 2, y: frame.y + frame.height / 2 };
        await pen.stroke(Array.from({ length: 8 }, (_, k) => ({ x: from.x + (i % 2 ? -4 : 4) * k, y: from.y + (i % 4 < 2 ? 5 : -5) * k })));
      }
    },
    looked(_, __, placed) {
      if (written && beside) {
        expect(placed.filter((it) => isStroke(it) && it.on).length, 'strokes on the sticky note').toBe(written);
        const now = lie(placed)!;
        expect(now.map((v, i) => Math.abs(v - beside![i]) < 0.05), `the ink lies ${now.join(', ')} from the corner of its sticky note, not ${beside.join(', ')}`).toEqual([true, true]);
      }
      return Promise.resolve();
    },
  };
}

/** All ink of a demo note becomes text: what is not there as ink is kept with the text that it became. */
export function converting(note: string): Doing {
  let before: readonly string[] = [];
  const placed = async (page: Page) => Object.entries(await records(page, 'scrivo')).filter(([key]) => key.startsWith(`ink/${note}/`)).flatMap(([, text]) => readInk(text).placed.map((it) => it.id));
  return {
    async work(page) {
      before = await placed(page);
      await page.getByRole('button', { name: /^Open Tides/ }).click();
      await page.getByTestId('page-1').waitFor();
      await button(page, 'Write').click();
      await press(page, 'Lasso');
      await button(page, 'Select all').click();
      await button(page, 'Convert to text').click();
      await page.getByText(/^Look it over/).waitFor({ timeout: 60_000 });
    },
    async looked(page) {
      const rows = Object.entries(await records(page, 'scrivo')).filter(([key]) => key.startsWith(`rows/${note}/`)).flatMap(([, text]) => readRows(text).rows);
      const originals = [...(rowsByTable(rows).originals ?? [])].flatMap(([, { v }]) => (v ? readInk(atob((v as { ink: string }).ink)).placed.map((it) => it.id) : []));
      const kept = new Set([...(await placed(page)), ...originals]);
      expect(before.filter((id) => !kept.has(id)), 'strokes that are neither ink nor kept with a text').toEqual([]);
    },
  };
}
