import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: './browser',
  outputDir: '../test-results',
  // One at a time: two recordings at once would starve each other on a small machine. No retries: a race is to be found.
  workers: 1,
  use: { actionTimeout: 10_000 },
  retries: 0,
  timeout: 180_000,
  expect: { timeout: 10_000 },
  reporter: [['list'], ...(process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['json'] as ['json']] : [])],
});
