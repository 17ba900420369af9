/** Every main view at both sizes held against the rules of WCAG 2.2 A and AA and the good practice that axe-core (Deque, MPL-2.0) checks. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { expect, test, type Page } from '@playwright/test';
import { button, PHONE, press, startBrowser, startServer, WIDE } from '../helpers/app';
import { bringDemo } from '../helpers/demoNotes';

const AXE = readFileSync(createRequire(__filename).resolve('axe-core/axe.min.js'), 'utf8');

interface Finding {
  readonly id: string;
  readonly help: string;
  readonly nodes: readonly { readonly target: readonly string[]; readonly failureSummary: string }[];
}

let server: Awaited<ReturnType<typeof startServer>>;
test.beforeAll(async () => {
  server = await startServer(true);
});
test.afterAll(() => server.close());

/** What axe finds on the page as it stands. */
async function findings(page: Page, rules?: readonly string[]): Promise<string[]> {
  // Through the debugger: the policy of the application lets no script of others in.
  if (!(await page.evaluate('typeof axe !== "undefined"'))) await page.evaluate(AXE);
  const found = (await page.evaluate(`axe.run(document, { resultTypes: ['violations']${rules ? `, runOnly: ${JSON.stringify(rules)}` : ''} }).then((r) => r.violations)`)) as Finding[];
  return found.flatMap((f) => f.nodes.map((n) => `${f.id} (${f.help}): ${n.target.join(' ')}`));
}

for (const [name, viewport] of [['phone, light and dark', PHONE], ['wide', WIDE]] as const) {
  test(`the main views have no finding of axe (${name})`, async () => {
    const context = await startBrowser({ viewport });
    await bringDemo(context, server);
    const page = context.pages()[0];
    const all: string[] = [];
    /** Labels that are on their way to their place are looked at when they are there. */
    const look = async (view: string) => {
      // A pointer that rests on a button is told its name in time, over the view.
      await page.mouse.move(1, 1);
      const seen = async (rules?: readonly string[]) => {
        let found = await findings(page, rules);
        for (let i = 0; i < 5 && found.length; i++) {
          await page.evaluate(() => new Promise((r) => setTimeout(r, 100)));
          found = await findings(page, rules);
        }
        return found;
      };
      all.push(...(await seen()).map((f) => `${view}: ${f}`));
      if (viewport !== PHONE) return;
      // What differs in the dark is colours.
      await page.emulateMedia({ colorScheme: 'dark' });
      all.push(...(await seen(['color-contrast'])).map((f) => `${view}, dark: ${f}`));
      await page.emulateMedia({ colorScheme: 'light' });
    };
    await page.goto(server.url);
    await page.getByRole('button', { name: /^Open Tides/ }).waitFor();
    await look('Today');
    await button(page, `Paper: Ruled, 8 mm, A4`).click();
    await page.getByRole('dialog').waitFor();
    await look('Paper of new notes');
    await button(page, 'Done').click();
    await page.getByRole('tab', { name: 'Library' }).click();
    await page.getByRole('heading', { level: 1, name: 'Library' }).waitFor();
    await look('Library');
    await button(page, 'New folder').click();
    await page.getByRole('dialog').waitFor();
    await look('New folder');
    await page.keyboard.press('Escape');
    await page.getByRole('tab', { name: 'All notes' }).or(button(page, 'All notes')).first().click();
  await page.getByRole('button', { name: /^What to do with Tides/ }).click();
    await page.getByRole('dialog').waitFor();
    await look('Menu of a note');
    await page.keyboard.press('Escape');
    await button(page, 'Show page pictures').click();
    await look('Library, pictures');
    await page.getByRole('tab', { name: 'Review' }).click();
    await page.getByRole('heading', { level: 1, name: 'Review' }).waitFor();
    await look('Review');
    await page.getByRole('tab', { name: 'Settings' }).click();
    await button(page, 'Remove demo notes').waitFor();
    await look('Settings');
    await page.getByRole('tab', { name: 'Today' }).click();
    await page.getByRole('button', { name: /^Open Tides/ }).click();
    await page.getByTestId('timeline').waitFor();
    await look('Listen');
    await button(page, 'More tools').click();
    await look('Listen, unfolded');
    await button(page, 'More tools').click();
    if (viewport === PHONE) await button(page, 'Lists').click();
    for (const list of ['Gaps', 'Marks', 'Moments', 'Takes']) {
      await page.getByRole('tab', { name: list }).click();
      await look(list);
    }
    await button(page, 'Write').click();
    await look('Write');
    await page.getByRole('button', { name: /^(Pens, in hand|Colours and widths)/ }).first().click();
    await look('Pens in a row');
    await press(page, 'Pen cup');
    await page.getByRole('dialog').waitFor();
    await look('Pen cup');
    await page.keyboard.press('Escape');
    await press(page, 'Paper');
    await page.getByRole('dialog').waitFor();
    await look('Paper');
    await page.keyboard.press('Escape');
    await press(page, 'Pages');
    await page.getByRole('dialog').waitFor();
    await look('Pages');
    await page.keyboard.press('Escape');
    await button(page, 'Record').click();
    await page.getByTestId('recording-clock').waitFor();
    await look('Recording');
    await button(page, 'Stop recording').click();
    await button(page, 'Record').waitFor();
    await context.close();
    expect(all).toEqual([]);
  });
}
