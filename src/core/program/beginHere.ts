import { runSteps } from '../base/steps';
import type { Job } from '../job/schema';
import { isArrival } from '../lay/laidPaths';
import type { Kinematics } from '../machine/kinematics';
import { createKinematics, getStance } from '../machine/registry';
import { levelOf, upInto } from '../machine/stance';
import type { Program, ProgramInput, ProgramSplit } from './dialect';
import { toPartText } from './dialect';
import { readProgram, type ProgramReading } from './interpreter';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from './motions';
import { DIALECTS } from './registry';

/** The block with which the tool comes to the stroke that a block belongs to: its rapid across. O(blocks of the stroke). */
export function findStrokeStart({ laid, moves }: Pick<ProgramInput, 'laid' | 'moves'>, block: number): number {
  let i = Math.min(block, moves.count - 1);
  const isStart = (k: number): boolean => {
    const kind = laid.kind[moves.move[k]!];
    return isArrival(kind!) && (k === 0 || moves.move[k] !== moves.move[k - 1]);
  };
  while (i > 0 && !isStart(i)) i--;
  return Math.max(0, i);
}

/**
 * The program from a stroke on: what it says at its start, then up to park height, across, down to where it hops, and on as before.
 * What comes before the stroke is taken to be cut. @param fromBlock As `findStrokeStart` has it.
 */
export const writeFrom = (input: ProgramInput, split: ProgramSplit, fromBlock: number): Program =>
  runSteps(DIALECTS[input.job.machine.dialect].write(input, split, fromBlock));

/** What a program that begins between two strokes comes to when it is read back beside the whole one. */
export interface BeginProof {
  /** Whether all that it cuts is what the whole program cuts from there on, word by word, at the same times and speeds. */
  same: boolean;
  /** Whether it goes up to park height before anything else moves, and crosses there. */
  safe: boolean;
  faults: number;
}

/** Reads both and compares them from the first cut of the begun one on. O(motions). */
export function proveBegin({ job, moves }: Pick<ProgramInput, 'job' | 'moves'>, whole: Program, begun: Program): BeginProof {
  const { rules } = DIALECTS[job.machine.dialect];
  const keepsPoint = rules.keepsPoint !== undefined;
  const read = (program: Program) => program.parts.map((part) => runSteps(readProgram(toPartText(part), rules)));
  const [all, some] = [read(whole), read(begun)];
  const faults = some.reduce((sum, r) => sum + r.faults.length, 0);
  const [a, b] = [all.flatMap(listMotions), some.flatMap(listMotions)];
  const firstCut = b.findIndex((m) => !m.rapid);
  const tail = b.slice(firstCut);
  const offset = a.length - tail.length;
  const same =
    firstCut > 0 &&
    offset > 0 &&
    // Where the tool's point is kept the first is the way down to the stroke, at another feed than across.
    tail.every((m, k) => isAlike(m, a[offset + k]!, keepsPoint && k === 0)) &&
    // It comes down to the place from which the whole program goes on.
    (keepsPoint || b[firstCut - 1]!.end.every((v, k) => v === a[offset - 1]!.end[k]));
  const parkMm = moves.values[2]!;
  const lead = b.slice(0, firstCut);
  const moved = (k: number): boolean => lead[k]!.end.some((v, axis) => axis !== 2 && v !== (lead[k - 1]?.end[axis] ?? 0));
  let safe = lead.length > 0 && Math.abs(lead[0]!.end[2]! - parkMm) < PARK_SLACK_MM && !moved(0);
  if (keepsPoint) {
    // From the machine's top straight to a place as high over the blank as the whole program starts from.
    const kinematics = createKinematics(job);
    const last = lead[lead.length - 1];
    safe = lead.length > 0 && lead.every((m) => m.away !== AWAY.no) && last!.away === AWAY.arrives;
    if (safe) safe = Math.abs(levelOfWords(job, kinematics, last!.end) - levelOfWords(job, kinematics, startOf(a))) < PARK_SLACK_MM;
    return { same, safe, faults };
  }
  for (let k = 1; k < lead.length; k++) if (moved(k) && lead[k]!.end[2]! < parkMm - PARK_SLACK_MM && k < 2) safe = false;
  return { same, safe, faults };
}

/** The first place that a program of a control that keeps the tool's point goes to. */
const startOf = (motions: readonly Motion[]): readonly number[] => motions.find((m) => m.away === AWAY.arrives)!.end;

/** Height of the tip straight up on the machine for the words of a motion, mm. */
function levelOfWords(job: Job, kinematics: Kinematics, end: readonly number[]): number {
  const stance = getStance(job);
  const tip = new Float64Array(3),
    frame = new Float64Array(6),
    up = new Float64Array(3);
  kinematics.forward(
    kinematics.axes.map((a) => end[AXIS_LETTERS.indexOf(a.letter)]!),
    tip,
    frame.subarray(3),
  );
  upInto(stance, frame, up);
  return levelOf(stance, tip, up);
}

/** Digits of the program, mm. */
const PARK_SLACK_MM = 0.01;

interface Motion {
  end: number[];
  rapid: boolean;
  timeMin: number;
  rpm: number;
  away: number;
}

const listMotions = ({ motions }: ProgramReading): Motion[] =>
  Array.from({ length: motions.count }, (_, m) => ({
    end: Array.from(motions.end.subarray(AXIS_COUNT * m, AXIS_COUNT * (m + 1))),
    rapid: motions.rapid[m]! === 1,
    timeMin: motions.timeMin[m]!,
    rpm: motions.spindleRpm[m]!,
    away: motions.away[m]!,
  }));

/** A feed that is worked out from rounded words may differ in its last digit. */
const TIME_SLACK = 1e-4;

const isAlike = (m: Motion, o: Motion, atAnyFeed = false): boolean =>
  m.rapid === o.rapid &&
  m.rpm === o.rpm &&
  m.end.every((v, k) => v === o.end[k]) &&
  (atAnyFeed || Math.abs(m.timeMin - o.timeMin) <= TIME_SLACK * Math.max(m.timeMin, o.timeMin));
