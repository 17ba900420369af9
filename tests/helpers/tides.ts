/** The demo note on the tides, opened in the real interface. */
import type { BrowserContext, Page } from '@playwright/test';
import { inMore, startBrowser, startServer, type PHONE } from './app';
import { bringDemo } from './demoNotes';
import { headersOnDisk } from './disk';

export const tides = async (page: Page) => (await headersOnDisk(page)).find((h) => h.title.startsWith('Tides'))!;

/** `demo`: with what is known of its sound, or as if nobody had looked at it. */
export async function openTides(viewport: typeof PHONE, demo: true | 'unheard' = true, more: { readonly idle?: boolean } = {}): Promise<{ page: Page; end: () => Promise<void>; context: BrowserContext; url: string }> {
  const server = await startServer(demo);
  const context = await startBrowser({ viewport, ...more });
  if (demo === true) await bringDemo(context, server);
  const page = context.pages()[0];
  await page.goto(server.url);
  await page.getByRole('button', { name: /^Open Tides/ }).click();
  await page.getByTestId('page-1').waitFor();
  return { page, context, url: server.url, end: async () => (await context.close(), await server.close()) };
}

export const slider = (page: Page) => page.getByRole('slider', { name: 'Playback position' });
/** Where it stands, ms. */
export const at = async (page: Page) => Number(await slider(page).getAttribute('aria-valuenow'));

/** The sound has been looked at: the writer's lag is known. */
export const looked = (page: Page) => inMore(page, () => page.getByLabel('Lead-in').filter({ hasText: /Auto \d/ }).waitFor({ timeout: 60_000 }));
