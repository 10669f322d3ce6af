import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';

/** The committed module is what its source makes. Needs Debian's clang with the WASI libraries and Boost. */
const has =
  spawnSync('clang++', ['--version']).status === 0 &&
  existsSync('/usr/include/boost/polygon/voronoi.hpp') &&
  existsSync('/usr/include/wasm32-wasi');

describe.skipIf(!has)('voronoi.wasm', () => {
  it('is rebuilt from its source, byte for byte', () => {
    const out = path.join(mkdtempSync(path.join(tmpdir(), 'hobel-wasm-')), 'voronoi.wasm');
    execFileSync('bash', ['native/voronoi/build.sh', out], { stdio: 'ignore' });
    expect(readFileSync(out).equals(readFileSync('resources/voronoi.wasm'))).toBe(true);
  });
});

describe('voronoi.wasm', () => {
  it('asks for nothing from outside', async () => {
    expect(WebAssembly.Module.imports(await WebAssembly.compile(readFileSync('resources/voronoi.wasm')))).toEqual([]);
  });
});

const hasCompiler = spawnSync('clang++', ['--version']).status === 0 && existsSync('/usr/include/wasm32-wasi');

describe.skipIf(!hasCompiler)('the sweep’s module', () => {
  it('is rebuilt from its source, byte for byte', () => {
    const out = path.join(mkdtempSync(path.join(tmpdir(), 'hobel-wasm-')), 'kernelBytes.ts');
    execFileSync('bash', ['native/sweep/build.sh', out], { stdio: 'ignore' });
    expect(readFileSync(out, 'utf8')).toBe(readFileSync('src/core/removal/kernelBytes.ts', 'utf8'));
  });
});
