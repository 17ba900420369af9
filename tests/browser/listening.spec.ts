/** Listening back in the real interface: replay, gaps, marks, moments, the lock. */
import { expect, test } from '@playwright/test';
import { pointsOf } from '../../src/core/ink/stroke';
import { button, Pen, PHONE, recordNew, saved, spelledMicrophone, startBrowser, startServer, tempFolder, WIDE, choose, inMore, press, turn } from '../helpers/app';
import { headersOnDisk, strokesOnDisk } from '../helpers/disk';
import { drawn, inkSeen } from '../helpers/inkSeen';
import { pageErrors } from '../helpers/tap';
import { at, looked, openTides, slider, tides } from '../helpers/tides';

test('the page is as it stood at any moment, forward and back, and whole ink comes back with Ink ahead', async () => {
  const { page, end } = await openTides(WIDE);
  const { timeline, pages } = await tides(page);
  const first = pages[0].id;
  const strokes = (await strokesOnDisk(page)).filter((s) => {
    const { pen } = s;
    return s.page === first && s.stamp?.take === timeline[0].take && pen.kind !== 'highlighter' && pointsOf(s).n >= 5;
  });
  await turn(page, 'Ink ahead');
  // Middles of strokes that lie clear of all others, so that what is seen there is that stroke's.
  const middle = (s: (typeof strokes)[number]) => {
    const { n, xy } = pointsOf(s);
    const i = n >> 1;
    return [xy[2 * i] / 100, xy[2 * i + 1] / 100] as const;
  };
  const alone = strokes.filter((s) => {
    const [x, y] = middle(s);
    return strokes.every((o) => o === s || x < o.box[0] - 1.2 || x > o.box[2] + 1.2 || y < o.box[1] - 1.2 || y > o.box[3] + 1.2);
  });
  expect(alone.length).toBeGreaterThan(12);
  let told = 0;
  for (const t of [150_000, 20_000, 95_000, 40_000, 265_000, 5000]) {
    await slider(page).fill(String(t));
    await drawn(page, t);
    const seen = await inkSeen(page, 1, alone.map(middle));
    for (const [i, s] of alone.entries()) {
      const [down, up] = [s.stamp!.at, s.stamp!.at + s.ms];
      // By the definition: there when its middle point was written before t. Strokes under way are cut there and tell nothing here.
      if (seen[i] === null || (down <= t && up > t)) continue;
      told++;
      expect(seen[i], `stroke of ${down} to ${up} ms at ${t} ms`).toBe(up <= t);
    }
  }
  expect(told).toBeGreaterThan(60);
  await turn(page, 'Ink ahead');
  await choose(page, 'It shows', { label: 'full' });
  await drawn(page);
  expect((await inkSeen(page, 1, alone.map(middle))).every((seen) => seen !== false)).toBe(true);
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('ink without sound has a row of dots under it, unless that is switched off, and is gone through word by word', async () => {
  const { page, end } = await openTides(WIDE);
  await button(page, 'Write').click();
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  const view = (await page.locator('.surface-scroller').boundingBox())!;
  const words = [0, 1, 2].map((i) => ({ x: box.x + box.width - 30 - 60 * (i + 1), y: view.y + 100 + 90 * i }));
  for (const { x, y } of words) await pen.scribble(x, y, 40, 8);
  await saved(page);
  await button(page, 'Listen').click();
  await drawn(page);
  /** Runs of ink along a row of pixels under a word, at most. */
  const under = async (i: number) => {
    const [x, y] = [words[i].x, words[i].y + 8];
    return page.evaluate(
      ([x0, y0]) => {
        const el = document.querySelector('[data-testid="page-1"]')!;
        let most = 0;
        for (const c of el.querySelectorAll('canvas')) {
          const b = c.getBoundingClientRect();
          const s = c.width / b.width;
          for (let dy = 1; dy <= 4; dy += 0.5) {
            const { data } = c.getContext('2d')!.getImageData((x0 - b.left) * s, (y0 + dy - b.top) * s, 40 * s, 1);
            let runs = 0;
            for (let i = 0, was = false; i < data.length; i += 4) {
              const dark = data[i + 3] > 40 && data[i] + data[i + 1] + data[i + 2] < 600;
              if (dark && !was) runs++;
              was = dark;
            }
            most = Math.max(most, runs);
          }
        }
        return most;
      },
      [x, y],
    );
  };
  await expect.poll(() => under(1)).toBeGreaterThan(3);
  await turn(page, 'Mark ink without sound');
  await expect.poll(() => under(1)).toBeLessThan(2);
  const lit = page.locator('.word-lit:not([hidden])');
  const seen = new Set<string>();
  for (let i = 0; i < 3; i++) {
    await press(page, 'Next ink without sound');
    await expect.poll(async () => seen.has(JSON.stringify(await lit.boundingBox()))).toBe(false);
    seen.add(JSON.stringify(await lit.boundingBox()));
  }
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('a gap: listed with its length, written into by a second pass with its sound, closed by that, and taken back; or settled', async () => {
  const { page, end } = await openTides(WIDE);
  await looked(page);
  const gaps = page.getByRole('list', { name: 'Gaps' }).getByRole('listitem');
  await expect(gaps.first()).toBeVisible();
  const count = await gaps.count();
  const longest = page.getByRole('button', { name: /^Gap of .*: play it/ }).first();
  const spoken = (await longest.locator('.unseen').textContent())!.replace(/, $/, '');
  await expect(page.getByRole('button', { name: /^Nothing written for/ }).first()).toBeAttached();
  const lower = (await strokesOnDisk(page)).filter((s) => s.stamp && s.stamp.at > 160_000 && s.stamp.at < 175_000);
  await page.getByRole('button', { name: /^Write here/ }).first().click();
  await expect(button(page, 'Write while listening')).toHaveAttribute('aria-pressed', 'true');
  const from = await at(page);
  // Room was made: what was written after the gap has gone down.
  await saved(page);
  const moved = (await strokesOnDisk(page)).filter((s) => lower.some((o) => o.id === s.id));
  expect(moved.every((s) => s.page !== lower.find((o) => o.id === s.id)!.page || s.box[1] > lower.find((o) => o.id === s.id)!.box[1] + 5)).toBe(true);
  // Written into the room, along with the sound that goes on.
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  // It plays without another press.
  await page.waitForFunction((ms) => document.querySelector('audio')!.currentTime * 1000 > ms, from + 1000);
  const place = page.locator('.surface-scroller');
  const view = (await place.boundingBox())!;
  for (let i = 0; i < 12; i++) {
    await pen.scribble(box.x + 60 + (i % 6) * 70, view.y + view.height * 0.42 + (i > 5 ? 24 : 0), 40, 10);
    await page.waitForFunction((ms) => document.querySelector('audio')!.currentTime * 1000 > ms, from + 1000 + (i + 1) * 1500, { timeout: 30_000 });
  }
  await button(page, 'Pause').click();
  await saved(page);
  const second = (await strokesOnDisk(page)).filter((s) => s.second);
  expect(second.length).toBe(12);
  for (const s of second) expect(s.stamp!.at).toBeGreaterThan(from);
  await expect(page.getByRole('button', { name: spoken })).toHaveCount(0);
  // Hidden and shown as a layer.
  const places = second.map((s) => {
    const { n, xy } = pointsOf(s);
    return [xy[2 * (n >> 1)] / 100, xy[2 * (n >> 1) + 1] / 100] as const;
  });
  await drawn(page);
  const shown = (await inkSeen(page, 1, places)).filter(Boolean).length;
  expect(shown).toBeGreaterThan(6);
  await turn(page, 'Show ink of the second pass');
  await drawn(page);
  // Here and there ink of the first pass lies under it.
  expect((await inkSeen(page, 1, places)).filter(Boolean).length).toBeLessThan(shown / 2);
  for (let i = 0; i < 13; i++) await page.keyboard.press('Control+z');
  await turn(page, 'Show ink of the second pass');
  await expect(page.getByRole('button', { name: spoken })).toHaveCount(1);
  await page.getByRole('button', { name: /^Nothing needed/ }).first().click();
  await expect(page.getByRole('button', { name: spoken })).toHaveCount(0);
  await expect(gaps).toHaveCount(count - 1);
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('marks: pressed while recording they are put back; listed, worded, moved, removed and taken back; found again in Review', async () => {
  const folder = tempFolder();
  const server = await startServer();
  const context = await startBrowser({ microphone: spelledMicrophone(folder, 60) });
  const page = context.pages()[0];
  await page.goto(server.url);
  await recordNew(page);
  const recorded = (ms: number) => page.waitForFunction((least) => Number(document.querySelector('[data-testid="recording-clock"]')?.getAttribute('data-ms')) >= least, ms);
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 40, box.y + 80, 60, 12);
  await recorded(4000);
  await press(page, 'Mark missed');
  // A second after it was pressed, whenever that was.
  await recorded(1000 + Number(await page.getByTestId('recording-clock').getAttribute('data-ms')));
  await page.keyboard.press('Shift+A');
  await recorded(6000);
  await button(page, 'Stop recording').click();
  await button(page, 'Record').waitFor();
  await saved(page);
  const marks = async () => (await headersOnDisk(page)).flatMap((h) => h.marks ?? []);
  const [missed, ask] = await marks();
  expect([missed.kind, ask.kind]).toEqual(['missed', 'ask']);
  // Nothing is known of this writer yet: two and a half seconds.
  expect(missed.at).toBeGreaterThan(1400);
  expect(missed.at).toBeLessThan(3500);
  expect(ask.at - missed.at).toBeGreaterThan(500);

  await button(page, 'Listen').click();
  await expect(page.locator('.timeline-mark')).toHaveCount(2);
  await page.keyboard.press('d');
  await expect(page.locator('.timeline-mark')).toHaveCount(3);
  await button(page, 'Lists').click();
  await page.getByRole('tab', { name: 'Marks', exact: true }).click();
  const list = page.getByRole('list', { name: 'Marks' });
  await expect(list.getByRole('listitem')).toHaveCount(3);
  await page.getByRole('button', { name: /^Words for Missed/ }).click();
  await page.keyboard.type('what is the datum?');
  await page.keyboard.press('Enter');
  await expect(list.getByText('what is the datum?', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: /^Move Missed .* a second later$/ }).click();
  // What is said goes by itself: nothing of the list may move from under a finger by that.
  await page.getByRole('status').filter({ hasText: 'Touch a word' }).waitFor();
  const before = await list.boundingBox();
  await button(page, 'Put this message away').click();
  await expect(page.getByRole('status').filter({ hasText: 'Touch a word' })).toHaveCount(0);
  expect(await list.boundingBox()).toEqual(before);
  await page.getByRole('button', { name: /^Remove Do/ }).click();
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await button(page, 'Undo').click();
  await expect(list.getByRole('listitem')).toHaveCount(3);
  await saved(page);
  const after = (await marks()).find((m) => m.kind === 'missed')!;
  expect(after.at).toBe(missed.at + 1000);
  expect(after.text).toBe('what is the datum?');
  // Touched, it plays from just before.
  await list.getByRole('button', { name: /^Missed at/ }).click();
  await button(page, 'Pause').waitFor();
  await button(page, 'Pause').click();

  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Review' }).click();
  await page.getByRole('button', { name: /^Missed at .*what is the datum/ }).click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Pause').waitFor();
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
});

test('moments: small pictures that lead to their place; tags filter them and are found in Review across notes', async () => {
  const { page, end } = await openTides(PHONE);
  await looked(page);
  await button(page, 'Lists').click();
  await page.getByRole('tab', { name: 'Moments', exact: true }).click();
  const list = page.getByRole('list', { name: 'Moments' });
  const all = await list.getByRole('listitem').count();
  expect(all).toBeGreaterThan(8);
  await page.getByRole('button', { name: /^Tag the moment at/ }).nth(2).click();
  await page.keyboard.type('exam, springs');
  await page.keyboard.press('Enter');
  await page.getByLabel('Show', { exact: true }).selectOption({ label: 'tag exam' });
  await expect(list.getByRole('listitem')).toHaveCount(1);
  await list.getByRole('button', { name: /show and play it/ }).click();
  await button(page, 'Pause').waitFor();
  await expect(page.locator('.word-lit:not([hidden])')).toBeInViewport();
  await button(page, 'Pause').click();
  await button(page, 'Back to Today').click();
  await page.getByRole('tab', { name: 'Review' }).click();
  await page.getByRole('button', { name: 'Tag springs, 1' }).click();
  await page.getByRole('list', { name: 'Moments tagged springs' }).getByRole('button').click();
  await page.getByTestId('page-1').waitFor();
  await button(page, 'Pause').waitFor();
  // Notes nobody has listened to yet are looked through by themselves.
  await button(page, 'Back to Review').click();
  await page.getByRole('tab', { name: 'Review' }).click();
  await expect(page.getByText(/not been looked through/)).toHaveCount(0, { timeout: 60_000 });
  await expect(page.getByRole('list', { name: /^Unfinished in/ })).not.toHaveCount(0);
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('read only: nothing can be changed, everything can be heard; unlocked it can be written again', async () => {
  const { page, end } = await openTides(PHONE);
  await press(page, 'Read only');
  await button(page, 'Write').click();
  await expect(page.getByText(/read only\. Its menu/)).toBeVisible();
  await expect(button(page, 'Listen')).toHaveAttribute('aria-pressed', 'true');
  await inMore(page, async () => {
    for (const name of ['Mark missed', 'Write while listening']) await expect(button(page, name)).toBeDisabled();
  });
  const before = await strokesOnDisk(page);
  await page.keyboard.press('w');
  await page.keyboard.press('m');
  const pen = await Pen.on(page);
  const box = (await page.getByTestId('page-1').boundingBox())!;
  await pen.scribble(box.x + 100, box.y + 40, 80, 10);
  await saved(page);
  expect((await strokesOnDisk(page)).length).toBe(before.length);
  await page.getByRole('button', { name: /^Line written at/ }).nth(3).click();
  await button(page, 'Pause').waitFor();
  await button(page, 'Pause').click();
  // It is locked after a reload as well.
  await page.reload();
  await press(page, 'Read only');
  await button(page, 'Write').click();
  await expect(button(page, 'Write')).toHaveAttribute('aria-pressed', 'true');
  expect(await pageErrors(page)).toEqual([]);
  await end();
});

test('by keyboard alone: from word to word, seconds, speed, lead-in, gaps, repeat, timeline, keys', async () => {
  const { page, end } = await openTides(WIDE);
  await looked(page);
  const audio = () => page.evaluate(() => document.querySelector('audio')!.currentTime * 1000);
  await page.locator('.surface-scroller').focus();
  await page.keyboard.press('ArrowDown');
  await button(page, 'Pause').waitFor();
  const first = await page.locator('.word-lit:not([hidden])').boundingBox();
  await page.keyboard.press('ArrowDown');
  await expect.poll(async () => JSON.stringify(await page.locator('.word-lit:not([hidden])').boundingBox())).not.toBe(JSON.stringify(first));
  await page.keyboard.press(' ');
  await button(page, 'Play').waitFor();
  await page.keyboard.press('Home');
  await expect(slider(page)).toHaveAttribute('aria-valuenow', '0');
  await page.keyboard.press('ArrowRight');
  await expect(slider(page)).toHaveAttribute('aria-valuenow', '10000');
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(slider(page)).toHaveAttribute('aria-valuenow', '9000');
  await page.keyboard.press('+');
  await inMore(page, () => expect(page.getByLabel('Speed')).toHaveValue('1.25'));
  await page.keyboard.press('-');
  await page.keyboard.press('.');
  await inMore(page, () => expect(page.getByLabel('Lead-in')).not.toHaveValue('-1'));
  await page.keyboard.press('g');
  await expect.poll(audio).toBeGreaterThan(60_000);
  await page.keyboard.press('r');
  await inMore(page, () => expect(button(page, 'Repeat')).toHaveAttribute('aria-pressed', 'true'));
  await page.keyboard.press('Escape');
  await inMore(page, () => expect(button(page, 'Repeat')).toHaveAttribute('aria-pressed', 'false'));
  await page.keyboard.press('u');
  await expect(page.getByText(/while nothing was being recorded/)).toBeVisible();
  await expect(page.locator('.word-lit:not([hidden])')).toBeInViewport();
  const shown = async () => Number(await page.getByTestId('timeline').getAttribute('data-to')) - Number(await page.getByTestId('timeline').getAttribute('data-from'));
  const whole = await shown();
  await page.keyboard.press(']');
  await expect.poll(shown).toBeLessThan(whole * 0.8);
  for (let i = 0; i < 20; i++) await page.keyboard.press(']');
  await expect.poll(shown).toBeLessThan(4100);
  for (let i = 0; i < 20; i++) await page.keyboard.press('[');
  await expect.poll(shown).toBe(whole);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toHaveCount(0);
  // A finger on the timeline tells its time and goes there.
  const strip = (await page.getByTestId('timeline').boundingBox())!;
  await page.mouse.move(strip.x + strip.width / 2, strip.y + 30);
  await page.mouse.down();
  await page.mouse.move(strip.x + strip.width * 0.75, strip.y + 30);
  await expect(page.locator('.timeline-under')).toHaveText(/^3:2\d$/);
  await page.mouse.up();
  await expect.poll(() => at(page)).toBeGreaterThan(200_000);
  expect(await pageErrors(page)).toEqual([]);
  await end();
});
