// npm run e2e: the end-to-end tests in headless Chromium, against a production build on a database of their own.
import { spawnSync } from 'node:child_process';
import { ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureChromium();
ensureBuild();
const { status } = spawnSync(process.execPath, ['node_modules/@playwright/test/cli.js', 'test', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);
