import { getDwellS } from '../job/schema';
import { MOVE, type LaidPaths } from '../lay/laidPaths';
import type { AxisMoves } from '../machine/axisMoves';
import { toMachineValues } from '../machine/kinematics';
import { computeTimes, getAxisLimits } from '../machine/time';
import type { Setup } from './setup';

/** How long a plan takes: its moves, block by block, and what comes on top. */
export function timePlan({ kinematics, job, work, runs }: Setup, laid: LaidPaths, moves: AxisMoves) {
  const { machine } = job;
  const wantedS = moves.feedTimeMin.map((t) => t * 60);
  const own = toMachineValues(kinematics, moves.values);
  const timeBy = (cornerMm: number): Float64Array =>
    computeTimes(own, wantedS, getAxisLimits(kinematics.axes, cornerMm, Math.abs(work.topMm)));
  const timesS = timeBy(machine.cornerToleranceMm);
  let dwellS = 0;
  for (let i = 0; i < moves.count; i++) {
    timesS[i]! += dwellS;
    const move = moves.move[i]!;
    if (laid.kind[move] === MOVE.plunge && moves.move[i + 1] !== move) dwellS += getDwellS(runs[laid.run[move]!]!.cut);
  }
  const last = (times: Float64Array): number => times[times.length - 1] ?? 0;
  // The first cutter is called by a changer, and put in before the start by hand.
  let changes = 0,
    runUps = 0,
    tool = '';
  let run = -1;
  for (const own of laid.run.subarray(0, laid.count)) {
    if (own === run) continue;
    run = own;
    const { id } = runs[own]!.tool;
    if (id === tool) continue;
    if (tool !== '' || machine.toolChanger) changes++;
    runUps++;
    tool = id;
  }
  const standingS = changes * machine.toolChangeS + runUps * machine.spindleRunUpS;
  return { timesS, timeS: last(timesS), stopTimeS: last(timeBy(0)) + dwellS, standingS };
}
