/** The demo notes in a browser as if one had been here before. */
import { expect, type BrowserContext } from '@playwright/test';
import { startBrowser, startServer, type DemoNotes, type TestServer } from './app';
import { records } from './disk';

type State = Awaited<ReturnType<BrowserContext['storageState']>>;
/** What Playwright's types leave out of a state that was asked for with databases. */
interface Databases {
  indexedDB?: { readonly name: string; readonly stores: { records: { readonly key?: unknown }[] }[] }[];
}

const taken = new Map<DemoNotes, Promise<State>>();

/** What a browser has stored in which the application took in the demo notes. */
async function takeIn(demo: DemoNotes): Promise<State> {
  const server = await startServer(demo);
  const context = await startBrowser();
  const page = context.pages()[0];
  await page.goto(server.url);
  await expect
    .poll(async () => {
      const all = await records(page, 'scrivo');
      const count = (what: string) => Object.keys(all).filter((k) => k.startsWith(what)).length;
      return (all.settings ?? '').includes('"demoSettled":true') && count('picture/') === count('note/');
    })
    .toBe(true);
  const state = await context.storageState({ indexedDB: true });
  await context.close();
  await server.close();
  for (const origin of state.origins as Databases[]) {
    // The room that is kept for a full disk is laid by each browser anew, and each browser is a device of its own.
    origin.indexedDB = origin.indexedDB?.filter((db) => db.name !== 'scrivo-reserve');
    for (const table of origin.indexedDB?.flatMap((db) => db.stores) ?? []) table.records = table.records.filter((r) => r.key !== 'device');
  }
  return state;
}

/** Lays the demo notes of a server into a browser that has not been there: the application took them in once, for all tests; to do so anew was half of what opening one costs. */
export async function bringDemo(context: BrowserContext, { url, withDemo }: TestServer): Promise<void> {
  if (!taken.has(withDemo)) taken.set(withDemo, takeIn(withDemo));
  const state = await taken.get(withDemo)!;
  await context.setStorageState({ ...state, origins: state.origins.map((o) => ({ ...o, origin: url })) });
}
