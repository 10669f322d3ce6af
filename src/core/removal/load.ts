import type { Setup } from '../pipeline/setup';
import { createCutterShape, widthAt, type CutterShape } from './cutterShape';
import type { Removal } from './removal';

/** What a trace of the load shows: rate of removal, mm³/min; mean section of the chip, mm²; share of the cutter's own section that cuts. */
export type LoadKind = 'rate' | 'section' | 'engaged';

/** Material taken away along a program, span by span. */
export interface LoadTrace extends Record<LoadKind, Float32Array> {
  /** End of each span, s. */
  timesS: Float64Array;
}

/** Steps of the integral over a cutter's height. */
const SECTION_STEPS = 24;

/**
 * Section of a cutter below the surface when it stands upright at a depth, mm²: what it takes in full material for each millimetre of way.
 * @param depthMm At least 0.
 */
export function getFullSection(shape: CutterShape, depthMm: number): number {
  let sum = 0;
  for (let k = 0; k < SECTION_STEPS; k++) sum += 2 * widthAt(shape, ((k + 0.5) / SECTION_STEPS) * depthMm);
  return (sum * depthMm) / SECTION_STEPS;
}

/**
 * The load of a program that was run whole, in spans of some length: blocks of a hundredth of a second say nothing each by itself.
 * Volumes are depths over the sheet's cells. O(motions).
 */
export function traceLoad(
  { kinematics, work }: Pick<Setup, 'kinematics' | 'work'>,
  { track, load, field }: Pick<Removal, 'track' | 'load' | 'field'>,
  spanS: number,
): LoadTrace {
  const area = field.grid.cellX * field.grid.cellY;
  const n = kinematics.axes.length;
  const shapes = track.tools.map(createCutterShape);
  const tip = new Float64Array(3),
    last = new Float64Array(3),
    axis = new Float64Array(3);
  const times: number[] = [];
  const traces: Record<LoadKind, number[]> = { rate: [], section: [], engaged: [] };
  let from = 0,
    volume = 0,
    way = 0,
    full = 0;
  for (let i = 0; i < track.count; i++) {
    const taken = load.taken[i]! * area;
    volume += taken;
    kinematics.forward(track.values.subarray(n * i, n * (i + 1)), tip, axis);
    if (taken > 0 && i > 0) {
      const length = Math.sqrt((tip[0]! - last[0]!) ** 2 + (tip[1]! - last[1]!) ** 2 + (tip[2]! - last[2]!) ** 2);
      const depth = Math.max(0, -work.toSheet(tip[0]!, tip[1]!, tip[2]!).heightMm);
      const shape = shapes[track.tool[i]!];
      way += length;
      if (shape) full += length * getFullSection(shape, depth);
    }
    last.set(tip);
    const end = track.timesS[i]!;
    if (end - from < spanS && i + 1 < track.count) continue;
    times.push(end);
    traces.rate.push(end > from ? (60 * volume) / (end - from) : 0);
    traces.section.push(way > 0 ? volume / way : 0);
    traces.engaged.push(full > 0 ? Math.min(1, volume / full) : 0);
    from = end;
    volume = way = full = 0;
  }
  const [rate, section, engaged] = [traces.rate, traces.section, traces.engaged].map((t) => Float32Array.from(t)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  return { timesS: Float64Array.from(times), rate, section, engaged };
}
