import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { defineConfig } from '@playwright/test';

const port = 4399;
process.env.HOBEL_E2E_DATA ??= mkdtempSync(path.join(tmpdir(), 'hobel-e2e-'));

export default defineConfig({
  testDir: 'e2e',
  timeout: 90_000,
  // How fast anything comes is asked by the bench; here a slow machine is let be slow.
  expect: { timeout: 20_000 },
  workers: 2,
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] },
    acceptDownloads: true,
  },
  webServer: {
    // Connections are kept longer than a test lasts: a request of the test's own (a browser asks again, that does not)
    // which meets a connection the server is just closing is reset. Measured with the default: 6 of 120 about 6 s after the last.
    command: `node node_modules/next/dist/bin/next start -H 127.0.0.1 -p ${port} --keepAliveTimeout 120000`,
    url: `http://127.0.0.1:${port}/api/jobs`,
    reuseExistingServer: false,
    env: { HOBEL_DATA: process.env.HOBEL_E2E_DATA, HOBEL_RUNNER_PORT: '4393', NEXT_TELEMETRY_DISABLED: '1' },
  },
});
