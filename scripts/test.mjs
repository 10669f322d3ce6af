// npm test: installs what is missing, then lint, types, layers, unit tests, external checks, build and end-to-end tests.
import { spawnSync } from 'node:child_process';
import { ensureBuild, ensureChromium, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureChromium();
const results = [];
const step = (name, work) => {
  const start = Date.now();
  let ok = true;
  try {
    work();
  } catch (error) {
    ok = false;
    console.error(error.message);
  }
  results.push({ name, ok, seconds: ((Date.now() - start) / 1000).toFixed(1) });
};
const npm = (script) => () => {
  const { status } = spawnSync('npm', ['run', '-s', script], { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] });
  if (status !== 0) throw new Error(`${script} failed`);
};
// The build writes the route types that the type check reads.
step('build', ensureBuild);
for (const script of ['lint', 'types', 'layers', 'unit', 'checks', 'e2e']) step(script, npm(script));
console.log('');
for (const { name, ok, seconds } of results) console.log(`${ok ? 'ok    ' : 'FAILED'} ${name} (${seconds} s)`);
const failed = results.filter((r) => !r.ok).length;
console.log(`${results.length - failed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
