import type { Setup } from '../pipeline/setup';
import type { Track } from './removal';
import { createCutterShape, widthAt } from './cutterShape';

/** Cells across the narrowest stroke. */
const CELLS_ACROSS = 12;
/** Share of the way cut, from the narrowest up, that may be narrower: where strokes run out. */
const RUN_OUT_SHARE = 0.1;
const MIN_CELL_MM = 0.004;
const MAX_CELL_MM = 0.1;
/** Bytes a cell takes with its frame and, about, with what is kept of it at other times. */
const CELL_BYTES = 80;
export const MEMORY_LIMIT_BYTES = 320e6;
/** Whole tiles are made where a stroke touches one: a stroke is that much wider, in cells. */
const TILE_ROOM = 40;
const CLASSES = 400;

/** The size of cells for a program, and what limits it. */
export interface CellChoice {
  cellMm: number;
  /** The finest that fits into memory, mm. */
  finestMm: number;
  /** Narrowest stroke that was found, mm; 0 for none. */
  narrowestMm: number;
}

/** Places along a motion at which its width is taken. */
const PARTS = 4;

/**
 * Chooses cells so that the narrowest stroke has twelve across, within the memory limit.
 * Widths are the cutter's at depths along each feed motion. O(motions).
 */
export function chooseCellMm(setup: Setup, track: Track): CellChoice {
  const { kinematics, work } = setup;
  const n = kinematics.axes.length;
  const shapes = track.tools.map(createCutterShape);
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    last = new Float64Array(3);
  const lengths = new Float64Array(CLASSES);
  let total = 0,
    area = 0;
  const { minX, maxX, minY, maxY } = work.domain;
  const step = Math.max(1, Math.floor(track.count / 20_000));
  for (let i = 1; i < track.count; i += step) {
    const shape = shapes[track.tool[i]!];
    if (track.rapid[i] || !shape) continue;
    kinematics.forward(track.values.subarray(n * (i - 1), n * i), last, axis);
    kinematics.forward(track.values.subarray(n * i, n * (i + 1)), tip, axis);
    const depth = -work.toSheet(tip[0]!, tip[1]!, tip[2]!).heightMm,
      before = -work.toSheet(last[0]!, last[1]!, last[2]!).heightMm;
    const length = (step * Math.hypot(tip[0]! - last[0]!, tip[1]! - last[1]!, tip[2]! - last[2]!)) / PARTS;
    // A motion that runs out may be long: its width changes on the way.
    for (let k = 0; k < PARTS; k++) {
      const own = before + ((k + 0.5) / PARTS) * (depth - before);
      if (!(own > 0)) continue;
      const width = 2 * widthAt(shape, own);
      // Classes of width, each 2 % wider than the one before, from 1 µm.
      lengths[Math.min(CLASSES - 1, Math.max(0, Math.round(Math.log(width / 0.001) / Math.log(1.02))))]! += length;
      total += length;
      area += length * width;
    }
  }
  let sum = 0,
    narrowestMm = 0;
  for (let k = 0; k < CLASSES && total > 0; k++) {
    sum += lengths[k]!;
    if (sum < RUN_OUT_SHARE * total) continue;
    narrowestMm = 0.001 * 1.02 ** k;
    break;
  }
  const whole = (maxX - minX) * (maxY - minY);
  const bytes = (cell: number): number => (CELL_BYTES * Math.min(whole, area + total * TILE_ROOM * cell)) / (cell * cell);
  let finestMm = 0.001;
  while (bytes(finestMm) > MEMORY_LIMIT_BYTES) finestMm *= 1.05;
  const wanted = narrowestMm > 0 ? narrowestMm / CELLS_ACROSS : MAX_CELL_MM;
  return { cellMm: Math.max(finestMm, Math.min(MAX_CELL_MM, Math.max(MIN_CELL_MM, wanted))), finestMm, narrowestMm };
}
