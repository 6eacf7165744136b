import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: './tests',
  // They tell what hangs from what is slow, on a machine that is a few times slower than ours too.
  timeout: 600_000,
  expect: { timeout: 120_000 },
  workers: 1,
  fullyParallel: false,
  reporter: [['list'], ['json', { outputFile: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ?? 'test-results/report.json' }]],
  outputDir: 'test-results',
  use: {
    baseURL: process.env.UMBRAL_URL ?? 'http://127.0.0.1:4300',
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    actionTimeout: 120_000,
    navigationTimeout: 120_000,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        // Fewer processes for one page at a time: a sixth less of the processor, which is what the whole run waits for.
        '--in-process-gpu',
        '--renderer-process-limit=1',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost',
      ],
    },
  },
});
