import { defineConfig } from '@playwright/test';
import names from './sound.json';

/** Tests that hold what is heard against what was spoken, or measure how things go on in time. */
const SOUND = new RegExp(`/(${names.join('|')})\\.spec\\.ts$`);

export default defineConfig({
  testDir: './browser',
  outputDir: '../test-results',
  // No retries: a race is to be found.
  workers: 1,
  // `npm test` runs those that need whole sound or a steady pace one at a time, since two would starve each other on a small machine, and the others beside them in
  // what time they leave.
  projects: [
    { name: 'sound', testMatch: SOUND },
    { name: 'others', testIgnore: SOUND },
  ],
  use: { actionTimeout: 60_000 },
  retries: 0,
  timeout: 300_000,
  // Long enough for a machine that others load: what is wrong is wrong after that time too.
  expect: { timeout: 60_000 },
  reporter: [['list'], ...(process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['json'] as ['json']] : [])],
});
