// Installs what is missing, and only that. Shared by the demo, the tests and the command line.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const stamp = path.join(root, 'node_modules/.hobel-installed');
export const CHROMIUM = '/usr/bin/chromium';

const run = (command, args, options = {}) => {
  const { status } = spawnSync(command, args, { cwd: root, stdio: ['ignore', 2, 2], ...options });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')} ended with ${status}`);
};

/** The packages of the lock file; `npm ci` trips over optional binaries of other platforms, so `npm install` it is. */
export function ensurePackages() {
  const want = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .update(process.version)
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === want) return;
  console.error('Installing packages; the first time takes about five minutes …');
  run('npm', ['install', '--no-audit', '--no-fund', '--prefer-offline']);
  writeFileSync(
    stamp,
    createHash('sha256')
      .update(readFileSync(path.join(root, 'package-lock.json')))
      .update(process.version)
      .digest('hex'),
  );
}

/** Debian's Chromium for the end-to-end tests. */
export function ensureChromium() {
  if (existsSync(CHROMIUM)) return;
  console.error('Installing Chromium …');
  run('apt-get', ['update', '-qq']);
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
}

/** Newest change of the sources that a build depends on. */
function newestSource() {
  const files = execFileSync(
    'find',
    ['src', 'resources', 'next.config.ts', 'package-lock.json', 'tsconfig.json', '-type', 'f', '!', '-name', '*.test.ts*'],
    { cwd: root, encoding: 'utf8' },
  )
    .trim()
    .split('\n');
  return Math.max(...files.map((f) => statSync(path.join(root, f)).mtimeMs));
}

/** A production build, if there is none or the sources are newer. */
export function ensureBuild() {
  const id = path.join(root, '.next/BUILD_ID');
  if (existsSync(id) && statSync(id).mtimeMs > newestSource()) return;
  console.error('Building …');
  run(process.execPath, ['node_modules/next/dist/bin/next', 'build'], { env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } });
}
