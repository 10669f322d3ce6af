// npm test: installs what is missing, then build, lint, types, layers, unit tests, external checks and end-to-end tests.
import { spawn } from 'node:child_process';
import { ensureChromium, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureChromium();
const results = [];

/** Runs one step; what it says is shown at once, or when it is done where others run beside it. */
const step = (name, command, args, beside = false) =>
  new Promise((resolve) => {
    const start = Date.now();
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', beside ? 'pipe' : 'inherit', beside ? 'pipe' : 'inherit'] });
    const said = [];
    for (const stream of beside ? [child.stdout, child.stderr] : []) stream.on('data', (part) => said.push(part));
    child.on('close', (status) => {
      for (const part of said) process.stdout.write(part);
      results.push({ name, ok: status === 0, seconds: ((Date.now() - start) / 1000).toFixed(1) });
      resolve();
    });
  });
const npm = (script, beside) => step(script, 'npm', ['run', '-s', script], beside);
const build = () =>
  step('build', process.execPath, ['--input-type=module', '-e', "(await import('./scripts/ensure.mjs')).ensureBuild()"], true);
const inTurn = async (...steps) => {
  for (const own of steps) await own();
};

// Steps of one thread beside others; what counts time runs alone. The build writes the route types that the type check reads.
await Promise.all([build(), npm('lint', true)]);
await Promise.all([
  npm('unit'),
  inTurn(
    () => npm('types', true),
    () => npm('layers', true),
  ),
]);
await npm('checks');
await npm('e2e');
console.log('');
for (const { name, ok, seconds } of results) console.log(`${ok ? 'ok    ' : 'FAILED'} ${name} (${seconds} s)`);
const failed = results.filter((r) => !r.ok).length;
console.log(`${results.length - failed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
