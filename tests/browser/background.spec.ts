/** A take that runs in a tab nobody looks at, and the screen that stays awake meanwhile. */
import { expect, test } from '@playwright/test';
import { button, spelledMicrophone, startBrowser, startServer, tempFolder } from '../helpers/app';
import { inkOnDisk } from '../helpers/disk';
import { wholeSound } from '../helpers/machine';
import { openFromToday } from '../helpers/spelled';
import { startRealTabs } from '../helpers/tabsForReal';
import { clearSpeaker, installTap, pageErrors, penDowns, speaker } from '../helpers/tap';

/** Keeps what the browser gave when it was asked to leave the screen on. */
const SPY = `globalThis.locks = [];
const request = navigator.wakeLock.request.bind(navigator.wakeLock);
navigator.wakeLock.request = async (type) => { const lock = await request(type); locks.push(lock); return lock; };`;
const AWAKE = 'locks.filter((l) => !l.released).length';
const CLOCK = `Number(document.querySelector('[data-testid="recording-clock"]')?.dataset.ms)`;
const STORED = `new Promise((resolve) => {
  const open = indexedDB.open('scrivo-sound');
  open.onsuccess = () => {
    const db = open.result;
    const count = db.transaction(db.objectStoreNames[0]).objectStore(db.objectStoreNames[0]).count();
    count.onsuccess = () => { db.close(); resolve(count.result); };
  };
})`;

test('a take goes on in a tab in the background, and the screen is kept awake while it is in front', wholeSound(async () => {
  const folder = tempFolder();
  const server = await startServer();
  const browser = await startRealTabs(server.url, folder, spelledMicrophone(folder, 90), `globalThis.__name ??= (f) => f;\n(${installTap.toString()})();\n${SPY}`);
  const { tab } = browser;
  await tab.press('Record');
  await tab.until(`${CLOCK} > 3000`);
  expect(await tab.evaluate(AWAKE)).toBe(1);
  await tab.line(120, 300);

  await browser.coverTab();
  await tab.until(`document.visibilityState === 'hidden'`);
  const stored = await tab.evaluate<number>(STORED);
  // The browser lets go of the screen; sound goes on being stored meanwhile, in pieces of five seconds. (The clock on the page stands: nothing is drawn.)
  await tab.until(`${AWAKE} === 0`);
  const since = await tab.evaluate<number>('performance.now()');
  await tab.until(`${STORED}.then((n) => n >= ${stored + 3})`);
  const until = await tab.evaluate<number>('performance.now()');
  expect(await tab.evaluate('document.visibilityState')).toBe('hidden');

  await tab.toFront();
  await tab.until(`document.visibilityState === 'visible' && ${AWAKE} === 1`);
  await tab.press('Stop recording');
  await tab.until(`${AWAKE} === 0 && document.querySelector('[aria-label="Record"]')`);
  await tab.until(`document.querySelector('[data-testid="save-state"][data-state="saved"]')`);
  const downs = await penDowns(tab);
  await browser.close();

  // What was said meanwhile is there.
  const context = await startBrowser({ profile: folder });
  const page = await openFromToday(context, server.url);
  const slider = page.getByRole('slider', { name: 'Playback position' });
  // The stroke ties the clock of the page to the time of the take.
  const [stroke] = await inkOnDisk(page);
  const origin = downs[0] - stroke.stamp!.at;
  // The browser gives no packet that is not full, and one holds 60 ms: so much can be missing at the end.
  expect(Number(await slider.getAttribute('max'))).toBeGreaterThan(until - origin - 60);
  for (const share of [0.1, 0.5, 0.9]) {
    await slider.fill(String(Math.round(since + share * (until - since) - origin)));
    await clearSpeaker(page);
    await button(page, 'Play').click();
    // A second of sound that is not silence. Which second it is cannot be held against anything here: a hidden page has no clock to compare
    // with, and the stand-in microphone loses sound on a busy machine. The clock of a take is what promise.spec.ts is about.
    await speaker(page, 1000);
    await button(page, 'Pause').click();
  }
  expect(await pageErrors(page)).toEqual([]);
  await context.close();
  await server.close();
}));
