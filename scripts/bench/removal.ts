// The sweep of a cutter over a field of cells: 100,000 blocks on 4 million cells, in one thread. Prints JSON.
import { createBlank } from '../../src/core/job/defaults';
import { createConeShape } from '../../src/core/removal/cutterShape';
import { createCellGrid, DepthField } from '../../src/core/removal/field';
import { createPiece } from '../../src/core/removal/piece';
import { Sweeper } from '../../src/core/removal/sweep';
import { createSurface } from '../../src/core/surface/registry';
import type { Surface } from '../../src/core/surface/surface';

const BLOCKS = 100_000;
const RUNS = 3;
const BLOCKS_A_LINE = 1000;

/** Lines along the blank that wave in depth and round it, 0.3 mm deep on the mean, cut with a sharp 60° V. */
function sweepLines(surface: Surface): number {
  const field = new DepthField(createCellGrid(surface, Math.sqrt((60 * 132) / 4e6)), surface);
  const sweeper = new Sweeper(field, surface);
  sweeper.use(createConeShape(Math.tan(Math.PI / 6), 0, 3));
  const piece = createPiece();
  const f = new Float64Array(6),
    from = new Float64Array(6),
    to = new Float64Array(6);
  const pose = (k: number, out: Float64Array) => {
    const line = Math.floor(k / BLOCKS_A_LINE),
      share = (k % BLOCKS_A_LINE) / BLOCKS_A_LINE;
    const depth = 0.3 + 0.1 * Math.sin(k * 0.01);
    surface.frameInto(3 + 54 * (line % 2 ? 1 - share : share), -60 + 1.2 * line + 0.1 * Math.sin(50 * share), f);
    for (let j = 0; j < 3; j++) {
      out[j] = f[j]! - depth * f[3 + j]!;
      out[3 + j] = f[3 + j]!;
    }
  };
  const start = process.cpuUsage();
  pose(0, from);
  for (let k = 1; k <= BLOCKS; k++) {
    pose(k, to);
    for (let j = 0; j < 3; j++) {
      piece.tip[j] = from[j]!;
      piece.move[j] = to[j]! - from[j]!;
      piece.axis[j] = from[3 + j]!;
      piece.axisMove[j] = to[3 + j]! - from[3 + j]!;
    }
    from.set(to);
    if (k % BLOCKS_A_LINE === 0) sweeper.breakOff();
    else sweeper.sweep(piece, k);
  }
  sweeper.breakOff();
  return process.cpuUsage(start).user / 1000;
}

const least = (surface: Surface): number => Math.min(...Array.from({ length: RUNS }, () => sweepLines(surface)));
const cylinder = least(createSurface({ ...createBlank('cylinder'), diameterMm: 42, lengthMm: 60 } as never));
const plate = least(createSurface({ ...createBlank('plate'), lengthMm: 60, widthMm: 132 } as never));
console.log(
  JSON.stringify([
    { what: '100,000 blocks on 4 million cells, cylinder', value: `${cylinder.toFixed(0)} ms of CPU`, against: 'limit 1000 ms' },
    { what: 'the same on a plate', value: `${plate.toFixed(0)} ms of CPU`, against: `${(plate / cylinder).toFixed(2)} × the cylinder` },
  ]),
);
