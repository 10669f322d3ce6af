// npm run -s hobel -- …: the command line, from the sources.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { ensurePackages, root } from './ensure.mjs';

ensurePackages();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', path.join(root, 'src/cli/main.ts'), ...process.argv.slice(2)], {
  cwd: process.env.INIT_CWD ?? process.cwd(),
  stdio: 'inherit',
  env: { ...process.env, HOBEL_RESOURCES: process.env.HOBEL_RESOURCES ?? path.join(root, 'resources') },
});
process.exit(status ?? 1);
