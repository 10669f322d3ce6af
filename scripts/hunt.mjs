// npm run hunt -- --jobs N --seed S: draws jobs at random, plans and judges them, and spoils good programs.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { ensurePackages, root } from './ensure.mjs';

ensurePackages();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', path.join(root, 'checks/hunt/main.ts'), ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, HOBEL_RESOURCES: process.env.HOBEL_RESOURCES ?? path.join(root, 'resources') },
});
process.exit(status ?? 1);
