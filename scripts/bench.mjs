// npm run bench: the figures to hold, as a table; ratios are taken in one run, since machines differ and are noisy.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { CHROMIUM, ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureChromium();
ensureBuild();
// Bundled as the browser gets it: a loader that compiles file by file keeps names, and that costs a third.
const { buildSync } = await import('esbuild');
const bundle = (name) => {
  // Beside the packages, so that they are found from there.
  const outfile = path.join(root, 'node_modules/.cache/hobel-bench', `${name}.mjs`);
  const entryPoints = [path.join(root, `scripts/bench/${name}.ts`)];
  buildSync({ entryPoints, bundle: true, platform: 'node', format: 'esm', packages: 'external', outfile });
  return outfile;
};
const rows = [bundle('core'), 'scripts/bench/blanks.ts', bundle('removal')].flatMap((source) => {
  const part = spawnSync(process.execPath, ['--expose-gc', '--max-old-space-size=4096', '--import', 'tsx', source], {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 1 << 26,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  if (part.status !== 0) process.exit(part.status ?? 1);
  return JSON.parse(part.stdout.trim().split('\n').at(-1));
});

const port = 4397;
const server = spawn(process.execPath, ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)], {
  cwd: root,
  stdio: 'ignore',
  env: { ...process.env, HOBEL_DATA: mkdtempSync(path.join(tmpdir(), 'hobel-bench-')), NEXT_TELEMETRY_DISABLED: '1' },
});
try {
  const { measureBrowser } = await import('./bench/browser.mjs');
  rows.push(...(await measureBrowser(`http://127.0.0.1:${port}`, CHROMIUM)));
} finally {
  server.kill('SIGKILL');
}
const width = (key) => Math.max(...rows.map((r) => r[key].length));
for (const r of rows) console.log(`${r.what.padEnd(width('what'))}  ${r.value.padStart(width('value'))}  ${r.against}`);
