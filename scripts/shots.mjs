// npm run shots: the pictures in docs/screenshots/, from the demo jobs on a fresh database.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { CHROMIUM, ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';
import { shots } from './shotList.mjs';

ensurePackages();
ensureChromium();
ensureBuild();
const out = path.resolve(root, process.argv[3] ?? 'docs/screenshots');
mkdirSync(out, { recursive: true });
const port = 4396;
const address = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)], {
  cwd: root,
  stdio: 'ignore',
  env: { ...process.env, HOBEL_DATA: mkdtempSync(path.join(tmpdir(), 'hobel-shots-')), NEXT_TELEMETRY_DISABLED: '1' },
});
try {
  for (
    let k = 0;
    k < 100 &&
    !(await fetch(`${address}/api/jobs`).then(
      (r) => r.ok,
      () => false,
    ));
    k++
  )
    await new Promise((r) => setTimeout(r, 100));
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox'] });
  for (const [name, go] of Object.entries(shots)) {
    if (process.argv[2] && process.argv[2] !== 'all' && !process.argv[2].split(',').includes(name)) continue;
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    page.on('pageerror', (e) => console.error(name, e.message));
    page.on('console', (m) => m.type() === 'error' && console.error(name, m.text()));
    await go(page, address);
    await page.screenshot({ path: path.join(out, `${name}.png`) });
    await page.close();
    console.log(name);
  }
  await browser.close();
} finally {
  server.kill('SIGKILL');
}
