// npm run bench: the figures to hold, as a table; ratios are taken in one run, since machines differ and are noisy.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { CHROMIUM, ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureChromium();
ensureBuild();
const core = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/bench/core.ts'], { cwd: root, encoding: 'utf8', stdio: ['ignore', 'pipe', 'inherit'] });
if (core.status !== 0) process.exit(core.status ?? 1);
const rows = JSON.parse(core.stdout.trim().split('\n').at(-1));

const port = 4397;
const server = spawn(process.execPath, ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)], {
  cwd: root, stdio: 'ignore', env: { ...process.env, HOBEL_DATA: mkdtempSync(path.join(tmpdir(), 'hobel-bench-')), NEXT_TELEMETRY_DISABLED: '1' },
});
try {
  const { measureBrowser } = await import('./bench/browser.mjs');
  rows.push(...(await measureBrowser(`http://127.0.0.1:${port}`, CHROMIUM)));
} finally {
  server.kill('SIGKILL');
}
const width = (key) => Math.max(...rows.map((r) => r[key].length));
for (const r of rows) console.log(`${r.what.padEnd(width('what'))}  ${r.value.padStart(width('value'))}  ${r.against}`);
