// The sweep of a cutter over a field of cells: 100,000 blocks on 4 million cells, in one thread, beside the same sweep in native code
// (native/sweep/bench.cpp, -O2, scalar), built where there is a compiler. Prints JSON.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createBlank } from '../../src/core/job/defaults';
import { createConeShape } from '../../src/core/removal/cutterShape';
import { createCellGrid } from '../../src/core/removal/cellGrid';
import { DepthField } from '../../src/core/removal/field';
import { createPiece } from '../../src/core/removal/piece';
import { Sweeper } from '../../src/core/removal/sweep';
import { createSurface } from '../../src/core/surface/registry';
import type { Surface } from '../../src/core/surface/surface';

const BLOCKS = 100_000;
const RUNS = 5;
/** Runs of a process: a job is swept again and again while it is worked on, and the first ones compile. The least of them counts. */
const REPEATS = 6;
const BLOCKS_A_LINE = 1000;

/** CPU time, cells asked, and the sum of all depths, mm: by which two sweeps are known to be the same. */
interface Measured {
  cpuMs: number;
  asked: number;
  depthSum: number;
}

/** Lines along the blank that wave in depth and round it, 0.3 mm deep on the mean, cut with a sharp 60° V. */
function sweepLines(surface: Surface): Measured {
  const field = new DepthField(createCellGrid(surface, Math.sqrt((60 * 132) / 4e6)), surface);
  const sweeper = new Sweeper(field, surface);
  sweeper.use(createConeShape(Math.tan(Math.PI / 6), 0, 3));
  const piece = createPiece();
  const f = new Float64Array(6);
  // Tip and axis after each block.
  const poses = new Float64Array(6 * (BLOCKS + 1));
  for (let k = 0; k <= BLOCKS; k++) {
    const line = Math.floor(k / BLOCKS_A_LINE),
      share = (k % BLOCKS_A_LINE) / BLOCKS_A_LINE;
    const depth = 0.3 + 0.1 * Math.sin(k * 0.01);
    surface.frameInto(3 + 54 * (line % 2 ? 1 - share : share), -60 + 1.2 * line + 0.1 * Math.sin(50 * share), f);
    for (let j = 0; j < 3; j++) {
      poses[6 * k + j] = f[j]! - depth * f[3 + j]!;
      poses[6 * k + 3 + j] = f[3 + j]!;
    }
  }
  const start = process.cpuUsage();
  for (let k = 1; k <= BLOCKS; k++) {
    const o = 6 * (k - 1);
    for (let j = 0; j < 3; j++) {
      piece.tip[j] = poses[o + j]!;
      piece.move[j] = poses[o + 6 + j]! - poses[o + j]!;
      piece.axis[j] = poses[o + 3 + j]!;
      piece.axisMove[j] = poses[o + 9 + j]! - poses[o + 3 + j]!;
    }
    if (k % BLOCKS_A_LINE === 0) sweeper.breakOff();
    else sweeper.sweep(piece, k);
  }
  sweeper.breakOff();
  const cpuMs = process.cpuUsage(start).user / 1000;
  let depthSum = 0;
  for (const { depth } of field.tiles) for (const d of depth) depthSum += d;
  return { cpuMs, asked: sweeper.cells, depthSum };
}

/** Surfaces it is measured on; of the last the module is told nothing: it asks for every place. */
const SURFACES: Record<'cylinder' | 'plate' | 'any', () => Surface> = {
  cylinder: () => createSurface({ ...createBlank('cylinder'), diameterMm: 42, lengthMm: 60 } as never),
  plate: () => createSurface({ ...createBlank('plate'), lengthMm: 60, widthMm: 132 } as never),
  any: () => ({ ...SURFACES.cylinder(), homogeneous: 'nowhere' }),
};
type Name = keyof typeof SURFACES;

/** A process a run, as a job has one surface: what is compiled for two at once is slower with both. */
const runOwn = (name: Name): Measured =>
  JSON.parse(execFileSync(process.execPath, [...process.execArgv, process.argv[1]!, name], { encoding: 'utf8' })) as Measured;

/** Builds the same in native code; null where there is no compiler. */
function createNative(): ((blank: 'cylinder' | 'plate') => Measured) | null {
  if (spawnSync('g++', ['--version'], { stdio: 'ignore' }).status !== 0) return null;
  const dir = mkdtempSync(path.join(tmpdir(), 'hobel-sweep-'));
  const program = path.join(dir, 'sweep');
  execFileSync('g++', ['-O2', '-fno-tree-vectorize', '-std=c++17', 'native/sweep/bench.cpp', '-o', program]);
  process.on('exit', () => rmSync(dir, { recursive: true, force: true }));
  // A process a run: memory that was used before would be had for nothing, and no run here has that.
  return (blank) => {
    const runs = Array.from({ length: REPEATS }, () => execFileSync(program, [blank, '1'], { encoding: 'utf8' }).split(' ').map(Number));
    const [, asked, depthSum] = runs[0]!;
    return { cpuMs: Math.min(...runs.map((r) => r[0]!)), asked: asked!, depthSum: depthSum! };
  };
}

function assertSame(own: Measured, other: Measured): void {
  const same = own.asked === other.asked && Math.abs(own.depthSum - other.depthSum) < 1e-6 * own.depthSum;
  if (!same) throw new Error(`the two sweeps differ: ${JSON.stringify([own, other])}`);
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** All in turn, so that each round is of one time: the machine is slower at one than at another. */
function measure(): void {
  const native = createNative();
  const rounds = Array.from({ length: RUNS }, () => {
    const own = { cylinder: runOwn('cylinder'), any: runOwn('any'), plate: runOwn('plate') };
    const other = native && { cylinder: native('cylinder'), plate: native('plate') };
    if (other) {
      assertSame(own.cylinder, other.cylinder);
      assertSame(own.plate, other.plate);
    }
    return { own, other };
  });
  const leastMs = (name: Name): string => `${Math.min(...rounds.map((r) => r.own[name].cpuMs)).toFixed(0)} ms of CPU`;
  const onNative = (name: 'cylinder' | 'plate'): string =>
    native
      ? `${median(rounds.map((r) => r.own[name].cpuMs / r.other![name].cpuMs)).toFixed(2)} × native (${Math.min(...rounds.map((r) => r.other![name].cpuMs)).toFixed(0)} ms), median of ${RUNS}`
      : 'no compiler here';
  const onCylinder = median(rounds.map((r) => r.own.any.cpuMs / r.own.cylinder.cpuMs));
  console.log(
    JSON.stringify([
      {
        what: 'removal: 100,000 blocks on 4 million cells, cylinder',
        value: leastMs('cylinder'),
        against: `limit 1000 ms; ${onNative('cylinder')}, limit 1.5`,
      },
      {
        what: 'removal: the same on any surface, the cylinder as one',
        value: leastMs('any'),
        against: `${onCylinder.toFixed(2)} × the cylinder’s own, median of ${RUNS}, limit 1.3`,
      },
      { what: 'removal: the same on a plate', value: leastMs('plate'), against: onNative('plate') },
    ]),
  );
}

const wanted = process.argv[2] as Name | undefined;
if (wanted) {
  const surface = SURFACES[wanted]();
  const runs = Array.from({ length: REPEATS }, () => sweepLines(surface));
  console.log(JSON.stringify({ ...runs[0]!, cpuMs: Math.min(...runs.map((r) => r.cpuMs)) }));
} else measure();
