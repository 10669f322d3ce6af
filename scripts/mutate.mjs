// Plants small faults in the core, one at a time, and counts how many the tests see.
//   node scripts/mutate.mjs [--count 300] [--seed 1] [--jobs 2] [--folders cut,lay,machine,program,proof] [--out FILE] [--only FILE:LINE,…]
// Each fault is tried in a copy of the tree: first against the tests beside it, then those of the whole core that are quick, then a part
// of the external checks. What none of them sees is a survivor, listed with its place.
import { spawn } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import ts from 'typescript';
import { root } from './ensure.mjs';

const { values: options } = parseArgs({
  options: {
    count: { type: 'string', default: '300' },
    seed: { type: 'string', default: '1' },
    jobs: { type: 'string', default: '2' },
    folders: { type: 'string', default: 'cut,lay,machine,program,proof' },
    out: { type: 'string', default: 'mutants.json' },
    only: { type: 'string' },
  },
});

/** Longest that one stage of tests may take before the fault counts as seen: it hangs, ms. */
const STAGE_MS = 240_000;

const SWAPS = {
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
  '<': '>=',
  '<=': '<',
  '>': '<=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '&&': '||',
  '||': '&&',
  '+=': '-=',
  '-=': '+=',
};
const WORDS = { min: 'max', max: 'min', sin: 'cos', cos: 'sin', floor: 'ceil', ceil: 'floor' };

/** Every fault that can be planted in a file: where, and what stands there instead. */
function listMutants(file) {
  const text = readFileSync(path.join(root, file), 'utf8');
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.ES2023, true);
  const out = [];
  const add = (node, replacement, what) => {
    const from = node.getStart(source);
    out.push({ file, from, to: node.getEnd(), replacement, what, line: source.getLineAndCharacterOfPosition(from).line + 1 });
  };
  const visit = (node) => {
    if (ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node)) return;
    if (ts.isBinaryExpression(node)) {
      const { operatorToken: op } = node;
      const swap = SWAPS[op.getText(source)];
      const joinsText = ts.isStringLiteral(node.left) || ts.isStringLiteral(node.right) || ts.isTemplateExpression(node.right);
      if (swap && !joinsText) add(op, swap, `${op.getText(source)} → ${swap}`);
    } else if (ts.isNumericLiteral(node) && !ts.isElementAccessExpression(node.parent)) {
      const value = Number(node.text);
      const other = value === 0 ? 1 : value * 2;
      add(node, String(other), `${node.text} → ${other}`);
    } else if (node.kind === ts.SyntaxKind.TrueKeyword) add(node, 'false', 'true → false');
    else if (node.kind === ts.SyntaxKind.FalseKeyword) add(node, 'true', 'false → true');
    else if (ts.isPrefixUnaryExpression(node) && ['-', '!'].includes(ts.tokenToString(node.operator))) {
      add(node, node.operand.getText(source), `${ts.tokenToString(node.operator)} left out`);
    } else if (ts.isPropertyAccessExpression(node) && node.expression.getText(source) === 'Math' && WORDS[node.name.text]) {
      add(node.name, WORDS[node.name.text], `Math.${node.name.text} → ${WORDS[node.name.text]}`);
    } else if (ts.isExpressionStatement(node) && ts.isCallExpression(node.expression)) add(node, ';', 'call left out');
    else if (ts.isStringLiteral(node) && /^[GM]\d+$/.test(node.text)) add(node, `'${node.text}1'`, `${node.text} → ${node.text}1`);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
}

const folders = options.folders.split(',').map((f) => `src/core/${f}`);
const files = folders.flatMap((folder) =>
  readdirSync(path.join(root, folder), { recursive: true })
    .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts') && !f.endsWith('.d.ts'))
    .map((f) => path.join(folder, f)),
);
const all = files.flatMap(listMutants);

/** mulberry32, public domain (from memory). */
function createRandom(seed) {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Faults drawn alike from every folder, so that a small one is not lost beside a large one. */
function draw(count, random) {
  const byFolder = folders.map((folder) => all.filter((m) => m.file.startsWith(`${folder}/`)));
  const out = [];
  for (let k = 0; out.length < Math.min(count, all.length); k++) {
    const from = byFolder[k % byFolder.length];
    if (from.length > 0) out.push(from.splice(Math.floor(random() * from.length), 1)[0]);
  }
  return out;
}

const wanted = options.only?.split(',');
const drawn = wanted
  ? all.filter((m) => wanted.includes(`${m.file}:${m.line}`))
  : draw(Number(options.count), createRandom(Number(options.seed)));

/** A copy of the tree that faults can be planted in. */
function copyTree(k) {
  const folder = mkdtempSync(path.join(tmpdir(), `hobel-mutants-${k}-`));
  for (const name of ['src', 'tests', 'checks', 'resources', 'package.json', 'tsconfig.json', 'vitest.config.ts']) {
    cpSync(path.join(root, name), path.join(folder, name), { recursive: true });
  }
  symlinkSync(path.join(root, 'node_modules'), path.join(folder, 'node_modules'));
  return folder;
}

const testOf = (m) => m.file.replace(/\.ts$/, '.test.ts');

/** Stages of tests, quick ones first; a fault seen by one needs no more. */
const STAGES = [
  { name: 'by its own test', args: (m) => (existsSync(path.join(root, testOf(m))) ? ['--project', 'unit', testOf(m)] : null) },
  { name: 'beside it', args: (m) => ['--project', 'unit', path.dirname(m.file)] },
  {
    name: 'in the core',
    args: () => ['--project', 'unit', ...['program', 'proof', 'findings', 'machine', 'export'].map((f) => `src/core/${f}/`)],
  },
  { name: 'outside', args: () => ['--project', 'checks', 'checks/curvedDepth', 'checks/rs274', 'checks/random'] },
];

const runTests = (folder, args) =>
  new Promise((resolve) => {
    const child = spawn(
      process.execPath,
      ['node_modules/vitest/vitest.mjs', 'run', '--bail', '1', '--maxWorkers', '1', '--no-isolate', '--pool', 'threads', ...args],
      {
        cwd: folder,
        stdio: 'ignore',
        env: { ...process.env, HOBEL_SEEDS: '1-4' },
      },
    );
    const timer = setTimeout(() => child.kill('SIGKILL'), STAGE_MS);
    child.on('exit', (code) => {
      clearTimeout(timer);
      resolve(code === 0);
    });
  });

async function tryMutant(folder, m) {
  const target = path.join(folder, m.file);
  const text = readFileSync(target, 'utf8');
  writeFileSync(target, text.slice(0, m.from) + m.replacement + text.slice(m.to));
  try {
    for (const { name, args } of STAGES) {
      const wantedTests = args(m);
      if (wantedTests && !(await runTests(folder, wantedTests))) return name;
    }
    return null;
  } finally {
    writeFileSync(target, text);
  }
}

const results = [];
let next = 0;
const work = async (k) => {
  const folder = copyTree(k);
  while (next < drawn.length) {
    const m = drawn[next++];
    const seenBy = await tryMutant(folder, m);
    results.push({ file: m.file, line: m.line, what: m.what, seenBy });
    console.log(`${results.length}/${drawn.length} ${seenBy ? `seen ${seenBy}` : 'SURVIVES'}: ${m.file}:${m.line} ${m.what}`);
    writeFileSync(options.out, JSON.stringify(results, null, 1));
  }
};
console.log(`${drawn.length} of ${all.length} faults in ${files.length} files`);
await Promise.all(Array.from({ length: Number(options.jobs) }, (_, k) => work(k)));
const seen = results.filter((r) => r.seenBy).length;
console.log(`${seen} of ${results.length} seen (${((100 * seen) / results.length).toFixed(1)} %)`);
for (const r of results.filter((x) => !x.seenBy)) console.log(`survivor ${r.file}:${r.line} ${r.what}`);
