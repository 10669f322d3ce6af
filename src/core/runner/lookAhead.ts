import { toMachineValues, type Kinematics } from '../machine/kinematics';
import { computeTimes, getAxisLimits } from '../machine/time';
import type { LineReader } from '../program/interpreter';
import { AXIS_LETTERS } from '../program/motions';

/** A motion, a stay or a stop that waits to be run. */
export interface PlannedMotion {
  line: number;
  /** Words at its end, X Y Z A B C. */
  end: Float64Array;
  /** Time it ends, ms of the machine's own clock. */
  endMs: number;
  spindleRpm: number;
  tool: number;
  probes: boolean;
  /** What the machine waits for after it: a cutter, a pause, the end. */
  stop: string | null;
}

/** How many motions, stops and stays of a program were taken. */
export interface ReadUpTo {
  motions: number;
  stops: number;
  dwells: number;
}

/**
 * Takes the motions, stays and stops of some lines, in their order.
 * @param batch Lines with how many motions and stops were read when each ended. @param stands The machine before them.
 * @returns They, with how long each is to last at least, s.
 */
export function takeBatch(
  reader: LineReader,
  batch: readonly { line: number; motions: number; stops: number }[],
  from: ReadUpTo,
  stands: Pick<PlannedMotion, 'end' | 'spindleRpm' | 'tool'>,
): { planned: PlannedMotion[]; wantedS: number[]; upTo: ReadUpTo } {
  const planned: PlannedMotion[] = [];
  const wantedS: number[] = [];
  const upTo = { ...from };
  const { spindleRpm, tool } = stands;
  const put = (motion: Omit<PlannedMotion, 'endMs'>, seconds: number): void => {
    planned.push({ ...motion, endMs: 0 });
    wantedS.push(seconds);
  };
  const lastEnd = (): Float64Array => (planned[planned.length - 1]?.end ?? stands.end).slice();
  for (const { line, motions, stops } of batch) {
    let stop: string | null = null;
    for (; upTo.stops < stops; upTo.stops++) {
      const { kind, tool: next } = reader.stops[upTo.stops]!;
      stop = kind === 'end' ? 'end' : kind === 'change' ? `tool ${next}` : 'pause';
    }
    for (; upTo.dwells < reader.dwells.length && reader.dwells[upTo.dwells]!.line <= line; upTo.dwells++)
      put({ line, end: lastEnd(), spindleRpm, tool, probes: false, stop: null }, reader.dwells[upTo.dwells]!.seconds);
    for (; upTo.motions < motions; upTo.motions++) {
      const state = reader.motions.stateOf(upTo.motions);
      const end = reader.motions.endOf(upTo.motions).slice();
      put({ line, end, spindleRpm: state.spindleRpm, tool: state.tool, probes: state.probes, stop: null }, 60 * state.timeMin);
    }
    // A stop of a line stands after its motions, and one that moves nothing takes no time.
    if (stop !== null) put({ line, end: lastEnd(), spindleRpm: 0, tool, probes: false, stop }, 0);
  }
  return { planned, wantedS, upTo };
}

/** What a batch is timed by. */
interface Pace {
  kinematics: Kinematics;
  cornerToleranceMm: number;
  /** Of what turns: an angle's rounding of corners is worth so much there. */
  radiusMm: number;
  fromMs: number;
}

/** Gives a batch its times: axis speeds, accelerations and corners limited, from rest to rest. @param at Words where it begins. */
export function timeBatch(
  planned: readonly PlannedMotion[],
  wantedS: readonly number[],
  at: Float64Array,
  { kinematics, cornerToleranceMm, radiusMm, fromMs }: Pace,
): void {
  const { axes } = kinematics;
  const n = axes.length;
  const values = new Float64Array(n * (planned.length + 1));
  const index = axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  [at, ...planned.map((p) => p.end)].forEach((words, i) => index.forEach((k, j) => (values[n * i + j] = words[k]!)));
  const own = toMachineValues(kinematics, values);
  const ends = computeTimes(own, Float64Array.of(0, ...wantedS), getAxisLimits(axes, cornerToleranceMm, radiusMm));
  planned.forEach((p, i) => (p.endMs = fromMs + 1000 * ends[i + 1]!));
}
