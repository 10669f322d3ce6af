import { runSteps } from '../base/steps';
import { isFeedMove, MOVE } from '../lay/laidPaths';
import type { Setup } from '../pipeline/setup';
import { writeFrom } from '../program/beginHere';
import type { Program, ProgramInput } from '../program/dialect';
import { toPartText } from '../program/dialect';
import { readProgram, type ProgramReading } from '../program/interpreter';
import { AWAY, AXIS_COUNT } from '../program/motions';
import { getRules } from '../program/registry';
import { findConductFaults, type Conducted, type CutBefore } from './conduct';

/** What a program that begins between two strokes comes to when it is read back beside the whole one. */
export interface BeginProof {
  /** Whether all that it cuts is what the whole program cuts from there on, word by word, at the same times and speeds. */
  same: boolean;
  /** Whether every file of it goes up to park height before anything else moves, and it keeps off what stands, as any program does. */
  safe: boolean;
  /** What cannot be read of it, in number. */
  faults: number;
}

/** A feed that is worked out from rounded words may differ in its last digit. */
const TIME_SLACK = 1e-4;
/** Digits of the program, mm. */
const PARK_SLACK_MM = 0.01;

/**
 * Reads both and compares what the begun one cuts with what the whole one cuts from its first block to the end of that file.
 * @param from The block that the begun one begins with: what the whole one cuts before that is taken to be cut. O(motions).
 */
export function proveBegin(
  setup: Setup,
  { laid, moves }: Pick<Conducted, 'laid'> & Pick<ProgramInput, 'moves'>,
  whole: Program,
  begun: Program,
  from: number,
): BeginProof {
  const rules = getRules(setup.job.machine);
  const read = (program: Program): ProgramReading[] => program.parts.map((part) => runSteps(readProgram(toPartText(part), rules)));
  const [all, some] = [read(whole), read(begun)];
  const faults = some.reduce((sum, r) => sum + r.faults.length, 0);
  const written = { laid, moves };
  const file = whole.partOfBlock[from];
  const wanted = listCuts({ ...written, program: whole }, all, from).filter((cut) => cut.part === file);
  const made = listCuts({ ...written, program: begun }, some, from);
  const same = made.length > 0 && made.length === wanted.length && made.every((cut, k) => isAlike(cut, wanted[k]!));
  const first = wanted[0];
  const cutBefore: CutBefore = { readings: first ? all.slice(0, first.part + 1) : [], program: whole, upTo: first?.motion ?? 0 };
  const conduct = findConductFaults(setup, { ...written, program: begun }, some, cutBefore);
  const keepsPoint = rules.keepsPoint !== undefined;
  const safe = conduct.length === 0 && some.every((reading) => beginsHigh(reading, moves.values[2]!, keepsPoint));
  return { same, safe, faults };
}

/**
 * The rest of a file from a stroke on, proved; null where it is not what the whole program does from there.
 * @param from As `findStrokeStart` has it.
 */
export function beginProven(setup: Setup, plan: Pick<ProgramInput, 'laid' | 'moves'>, whole: Program, from: number): Program | null {
  const begun = writeFrom({ ...setup, ...plan }, whole, from);
  const { same, safe, faults } = proveBegin(setup, plan, whole, begun, from);
  return same && safe && faults === 0 ? begun : null;
}

/** A motion that cuts. */
interface Cutting {
  part: number;
  /** Its place among the motions of its part. */
  motion: number;
  start: ArrayLike<number>;
  end: ArrayLike<number>;
  timeMin: number;
  rpm: number;
}

/** The motions on lines of blocks that cut, from a block on, in running order. */
function listCuts({ program, laid, moves }: Conducted, readings: readonly ProgramReading[], from: number): Cutting[] {
  const lines = readings.map(() => new Set<number>());
  for (let i = from; i < moves.count; i++) {
    const kind = laid.kind[moves.move[i]!]!;
    if (isFeedMove(kind) && kind !== MOVE.across) lines[program.partOfBlock[i]!]?.add(program.lineOfBlock[i]!);
  }
  return readings.flatMap(({ motions }, part) => {
    const placeOf = (m: number): ArrayLike<number> => (m < 0 ? NOWHERE : motions.end.subarray(AXIS_COUNT * m, AXIS_COUNT * (m + 1)));
    const out: Cutting[] = [];
    for (let m = 0; m < motions.count; m++) {
      if (motions.rapid[m] || !lines[part]!.has(motions.line[m]!)) continue;
      const own = { start: placeOf(m - 1), end: placeOf(m), timeMin: motions.timeMin[m]!, rpm: motions.spindleRpm[m]! };
      out.push({ part, motion: m, ...own });
    }
    return out;
  });
}
const NOWHERE = new Float64Array(AXIS_COUNT).fill(NaN);

const isAlike = (m: Cutting, o: Cutting): boolean =>
  m.rpm === o.rpm &&
  isSame(m.start, o.start) &&
  isSame(m.end, o.end) &&
  Math.abs(m.timeMin - o.timeMin) <= TIME_SLACK * Math.max(m.timeMin, o.timeMin);

function isSame(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
  for (let k = 0; k < AXIS_COUNT; k++) if (a[k] !== b[k]) return false;
  return true;
}

/** Whether a file goes to park height before any other axis moves; where the tool's point is kept, by way of the machine's top. */
function beginsHigh({ motions }: ProgramReading, parkMm: number, keepsPoint: boolean): boolean {
  if (motions.count === 0) return false;
  if (keepsPoint) return motions.away[0] !== AWAY.no;
  const { end } = motions;
  for (let k = 0; k < AXIS_COUNT; k++) if (k !== 2 && end[k] !== 0) return false;
  return motions.rapid[0] === 1 && Math.abs(end[2]! - parkMm) < PARK_SLACK_MM;
}
