// Checks the layers with dependency-cruiser, and first that the check can fail: a fixture with forbidden imports must be
// reported, and the real run must have looked at the sources.
import { cruise } from 'dependency-cruiser';
import { createRequire } from 'node:module';
import extractTSConfig from 'dependency-cruiser/config-utl/extract-ts-config';

const config = createRequire(import.meta.url)('../.dependency-cruiser.cjs');
const tsConfig = extractTSConfig('tsconfig.json');
const run = async (paths) =>
  (
    await cruise(
      paths,
      { ...config.options, ruleSet: { forbidden: config.forbidden }, validate: true },
      config.options.enhancedResolveOptions,
      { tsConfig },
    )
  ).output;

const fail = (text) => {
  console.error(`layers: ${text}`);
  process.exitCode = 1;
};

const canary = await run(['scripts/canary']);
const bitten = new Set(canary.summary.violations.map((v) => v.rule.name));
for (const rule of ['core-packages', 'core-imports-nothing-of-ours']) {
  if (!bitten.has(rule)) fail(`the canary was not caught by ${rule}: the check is blind`);
}
const { modules, summary } = await run(['src']);
const own = modules.filter((m) => m.source.startsWith('src/')).length;
if (own < 40) fail(`only ${own} modules were looked at`);
for (const v of summary.violations) fail(`${v.rule.name}: ${v.from} -> ${v.to}`);
if (!process.exitCode) console.log(`layers: ${own} modules, no violation; the canary was caught`);
