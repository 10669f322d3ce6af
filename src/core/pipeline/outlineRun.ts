import { isEmptyBox } from '../base/rings';
import { runSteps } from '../base/steps';
import { getLetteringBox } from '../export/report';
import { layPaths } from '../lay/laidPaths';
import { computeAxisMoves } from '../machine/axisMoves';
import { toPartText } from '../program/dialect';
import { DIALECTS } from '../program/registry';
import type { Lettering } from './lettering';
import type { Setup } from './setup';

/** The tool comes down to the height of the run from this much higher, mm. */
const ABOVE_MM = 1;

/**
 * A program that runs once round the extent of the lettering, a height over the surface along the tool, with the spindle still: to see at
 * the machine where the lettering will come. With the first cutter; null where there is no lettering or no cut.
 */
export function writeOutlineRun(setup: Setup, lettering: Lettering, heightMm: number): string | null {
  const { job, work, kinematics } = setup;
  const box = getLetteringBox(lettering);
  const first = setup.runs[0];
  if (isEmptyBox(box) || !first) return null;
  const { minX, minY, maxX, maxY } = box;
  const stroke = [
    [minX, minY],
    [maxX, minY],
    [maxX, maxY],
    [minX, maxY],
    [minX, minY],
  ].flatMap(([x, y]) => [x!, y!, -heightMm]);
  const heights = { ...job.motion, hopHeightMm: heightMm + ABOVE_MM, approachGapMm: heightMm };
  const passes = [{ run: 0, level: 0, strokes: [Float64Array.from(stroke)] }];
  const laid = layPaths(work, passes, [{ ...first, hopHeightMm: null }], heights, job.machine.maxFeedMmPerMin, kinematics);
  const moves = runSteps(computeAxisMoves(laid, work, kinematics, job.machine.chordToleranceMm, heightMm));
  const runs = [{ ...first, before: [], spindleRpm: 0, cut: { ...first.cut, name: 'round the lettering, spindle still' } }];
  const own = { ...job, name: `${job.name}: OUTLINE RUN` };
  const program = runSteps(DIALECTS[job.machine.dialect].write({ job: own, kinematics, laid, moves, runs }, 'none'));
  return toPartText(program.parts[0]!);
}
