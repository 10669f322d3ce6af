import type { Steps } from '../base/steps';
import type { Tool } from '../job/schema';
import { computeTimes, findAtTime, getAxisLimits } from '../machine/time';
import type { Setup } from '../pipeline/setup';
import type { ProgramReading } from '../program/interpreter';
import { toMachineValues } from '../machine/kinematics';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { createCutterShape, type CutterShape } from './cutterShape';
import { clearChanged, findSame, followLoad } from './change';
import { createCellGrid } from './cellGrid';
import { createLoad, DepthField, type Load } from './field';
import type { Tile } from './tile';
import { Keys } from './keys';
import { Sweeper } from './sweep';
import { Way } from './way';

/** A program's motions in one row, all parts, as the removal runs them. */
export interface Track {
  count: number;
  /** Values of the machine's axes at the end of each motion, in the kinematics' order. */
  values: Float64Array;
  /** End time of each motion, s. */
  timesS: Float64Array;
  /** What its feed word makes each motion last, s; 0 for a rapid. */
  wantedS: Float64Array;
  rapid: Uint8Array;
  part: Uint8Array;
  /** Whether nobody knows from where a motion comes: the first of a file, and one from the machine's top. */
  fresh: Uint8Array;
  line: Uint32Array;
  /** Tool in the spindle: index into `tools`, or −1 if none of the job's is. */
  tool: Int16Array;
  spindleRpm: Float64Array;
  tools: readonly Tool[];
}

/** Work between two keys, in cells asked. At least; few motions of a large cutter may take more. */
const MIN_KEY_CELLS = 100_000;
/** A stroke that takes more than so many times the work between two keys is kept in its middle. */
const LONGEST_STROKE = 8;
/** A program of which more than this differs from another is run from the start. */
const NEAR_SHARE = 0.6;
/** Motions swept between two reports. */
const MOTIONS_A_STEP = 500;

/**
 * The motions of a program as read back, with their tools and times.
 * @param readings One a part. Motions before every axis was stated once are left out: nobody knows where they start.
 * @param hand Tools in the order in which they are put in by hand, where the machine has no changer.
 */
export function createTrack(setup: Setup, readings: readonly ProgramReading[], hand: readonly Tool[]): Track {
  const { job, kinematics, work } = setup;
  const index = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const n = index.length;
  const tools = [...job.tools];
  const total = readings.reduce((sum, r) => sum + r.motions.count, 0);
  const track: Track = {
    count: 0,
    values: new Float64Array(n * total),
    timesS: new Float64Array(0),
    wantedS: new Float64Array(total),
    rapid: new Uint8Array(total),
    part: new Uint8Array(total),
    fresh: new Uint8Array(total),
    line: new Uint32Array(total),
    tool: new Int16Array(total),
    spindleRpm: new Float64Array(total),
    tools,
  };
  const waitS = new Float64Array(total);
  let by = 0;
  for (const [part, { motions, stops, dwells, placedBy }] of readings.entries()) {
    const known = Math.max(0, ...index.map((k) => placedBy[k]!));
    let stop = 0,
      dwell = 0;
    for (let m = 0; m < motions.count; m++) {
      for (; stop < stops.length && stops[stop]!.afterMotions <= m; stop++) if (stops[stop]!.kind === 'pause') by++;
      let wait = 0;
      for (; dwell < dwells.length && dwells[dwell]!.afterMotions <= m; dwell++) wait += dwells[dwell]!.seconds;
      if (m < known || motions.away[m] === AWAY.stays) continue;
      waitS[track.count] = wait;
      const i = track.count++;
      for (let k = 0; k < n; k++) track.values[n * i + k] = motions.end[AXIS_COUNT * m + index[k]!]!;
      track.rapid[i] = motions.rapid[m]!;
      track.part[i] = part;
      track.fresh[i] = i === 0 || track.part[i - 1] !== part || motions.away[m] === AWAY.arrives ? 1 : 0;
      track.line[i] = motions.line[m]!;
      track.spindleRpm[i] = motions.spindleRpm[m]!;
      const number = job.machine.toolChanger ? motions.tool[m]! : (hand[by]?.number ?? -1);
      track.tool[i] = tools.findIndex((t) => t.number === number);
      track.wantedS[i] = 60 * motions.timeMin[m]!;
    }
    // Parts are run one after the other, each with its own cutter put in before.
    if (part + 1 < readings.length) by++;
  }
  const limits = getAxisLimits(kinematics.axes, job.machine.cornerToleranceMm, Math.abs(work.topMm));
  track.timesS = computeTimes(
    toMachineValues(kinematics, track.values.subarray(0, n * track.count)),
    track.wantedS.subarray(0, track.count),
    limits,
  );
  let late = 0;
  for (let i = 0; i < track.count; i++) {
    late += waitS[i]!;
    track.timesS[i]! += late;
  }
  return track;
}

/** What a program takes away, at any moment of it. */
export class Removal {
  readonly field: DepthField;
  private readonly sweeper: Sweeper;
  private readonly way: Way;
  private readonly shapes: CutterShape[];
  private keys: Keys;
  private readonly from: Float64Array;
  private readonly to: Float64Array;
  /** Motions that the field shows as done, and the share of the next. */
  private done = 0;
  private part = 0;
  private tool = -1;
  /** What each motion took, from the run of the whole program. */
  load: Load;

  /** Whether the whole program was run, so that another may go on from it. */
  private isWhole = false;

  constructor(
    private readonly setup: Setup,
    readonly track: Track,
    readonly cellMm: number,
    /** Which motions cut; the others are as if they were in the air. */
    private readonly takes: (motion: number) => boolean = () => true,
    field?: DepthField,
  ) {
    const { work, kinematics } = setup;
    this.field = field ?? new DepthField(createCellGrid(work, cellMm), work);
    this.keys = new Keys(this.field);
    this.sweeper = new Sweeper(this.field, work);
    this.way = new Way(kinematics, work);
    this.shapes = track.tools.map(createCutterShape);
    this.load = createLoad(track.count);
    this.from = new Float64Array(kinematics.axes.length);
    this.to = new Float64Array(kinematics.axes.length);
  }

  /** Cells asked so far. */
  get cells(): number {
    return this.sweeper.cells;
  }

  /** Runs the whole program, keeping keys on the way. Yields the share done. */
  *run(): Steps<number, void> {
    yield* this.sweepAll(() => true);
    this.isWhole = true;
  }

  /**
   * Runs a program that is partly another one, on what that left: only tiles that the difference reaches are cut anew, with all that
   * reaches them. The other's field goes over to this one. Yields the share done.
   * @param old Of a whole run on the same blank and machine, with cells of this size. It must not be used again.
   */
  *runAfter(old: Removal): Steps<number, void> {
    old.goTo(Infinity);
    const same = findSame(old.track, this.track);
    const keys = this.findReached(same.from, this.track.count - same.behind);
    const needed = new Uint8Array(this.track.count);
    const change = { ...same, oldCount: old.track.count, newCount: this.track.count };
    const fresh = clearChanged(this.field, keys, change, needed);
    this.keys = old.keys.follow(change, fresh);
    followLoad(old.load, this.load, change, needed);
    yield* this.sweepAll((i) => needed[i] === 1);
    this.isWhole = true;
  }

  /** Whether a program differs from this one so little that it had better go on from it. */
  isNear(track: Track): boolean {
    if (!this.isWhole) return false;
    const { from, behind } = findSame(this.track, track);
    return track.count - from - behind < NEAR_SHARE * track.count;
  }

  /** Tiles that motions from one to before another would reach. */
  private findReached(from: number, to: number): Set<number> {
    const reached = new Set<number>();
    this.sweeper.collect(reached);
    for (let i = from; i < to; i++) this.sweepMotion(i, 1);
    this.sweeper.breakOff();
    this.sweeper.collect(null);
    return reached;
  }

  private *sweepAll(needs: (motion: number) => boolean): Steps<number, void> {
    const { count } = this.track;
    const { sweeper, keys } = this;
    sweeper.startNoting(this.load);
    let budget = MIN_KEY_CELLS,
      keyed = 0,
      skipped = false;
    for (let i = 0; i < count; i++) {
      if (needs(i)) {
        this.sweepMotion(i, 1);
        skipped = false;
      } else if (!skipped) {
        sweeper.breakOff();
        skipped = true;
      }
      this.done = i + 1;
      if (keys.isDue(this.done)) keys.keep(this.done);
      // Where the tool is in the air: on from within a stroke the same depth may be put down to the motion beside.
      const since = sweeper.cells - keyed;
      if (since > budget && (this.track.rapid[i] === 1 || since > LONGEST_STROKE * budget)) {
        keys.keep(this.done);
        keyed = sweeper.cells;
        // The whole is not known before it is done: keys get wider as it goes on, and stay about as many.
        if (keys.thin()) budget *= 2;
      }
      if (i % MOTIONS_A_STEP === 0) yield i / count;
    }
    sweeper.breakOff();
    this.load = sweeper.stopNoting();
    keys.keep(this.done);
  }

  /**
   * Brings the field to a moment.
   * @returns Tiles whose depths may be others than before.
   */
  goTo(timeS: number): Set<Tile> {
    const { track } = this;
    const changed = new Set<Tile>();
    if (track.count === 0) return changed;
    const motion = findAtTime(track.timesS, timeS);
    const start = motion === 0 ? 0 : track.timesS[motion - 1]!;
    const span = track.timesS[motion]! - start;
    const share = timeS >= track.timesS[track.count - 1]! || !(span > 0) ? 1 : Math.min(1, Math.max(0, (timeS - start) / span));
    const key = this.keys.findBefore(motion);
    const from = this.keys.motionsOf(key);
    // Going on from where it stands is cheaper where no key lies between and nothing was begun.
    const goesOn = this.part === 0 && this.done <= motion && this.done >= from;
    this.keys.forgetChanged();
    if (!goesOn) {
      this.keys.restore(key, changed);
      this.done = from;
      this.part = 0;
    }
    for (const tile of this.field.tiles) tile.changed = false;
    this.sweeper.breakOff();
    for (let i = this.done; i < motion; i++) this.sweepMotion(i, 1);
    this.done = motion;
    this.sweepMotion(motion, share);
    if (share >= 1) {
      this.done = motion + 1;
      this.part = 0;
    } else this.part = share;
    this.sweeper.breakOff();
    for (const tile of this.field.tiles) if (tile.changed) changed.add(tile);
    return changed;
  }

  private sweepMotion(i: number, share: number): void {
    const { track, from, to, way, sweeper } = this;
    const n = from.length;
    const tool = track.tool[i]!;
    if (tool < 0 || track.fresh[i] === 1 || !this.takes(i)) return sweeper.breakOff();
    if (tool !== this.tool) {
      this.tool = tool;
      sweeper.use(this.shapes[tool]!);
    }
    for (let k = 0; k < n; k++) {
      from[k] = track.values[n * (i - 1) + k]!;
      to[k] = from[k]! + share * (track.values[n * i + k]! - from[k]!);
    }
    if (track.rapid[i]) this.sweepApart(i);
    const pieces = way.countPieces(from, to);
    if (pieces === 0) return sweeper.breakOff();
    for (let k = 0; k < pieces; k++) sweeper.sweep(way.setPiece(from, to, k, pieces), i);
  }

  /** A rapid as it runs on a control that does not run rapids straight: each axis at its own speed, until it is there. */
  private sweepApart(i: number): void {
    const { from, to, way, sweeper } = this;
    const { axes } = this.setup.kinematics;
    const minutes = axes.map((a, k) => Math.abs(to[k]! - from[k]!) / a.maxPerMin);
    const stops = [...new Set(minutes.filter((m) => m > 0))].sort((a, b) => a - b);
    if (stops.length < 2) return;
    const at = (m: number): Float64Array =>
      Float64Array.from(axes, (_, k) => from[k]! + (minutes[k]! > 0 ? Math.min(1, m / minutes[k]!) : 1) * (to[k]! - from[k]!));
    sweeper.breakOff();
    let last = at(0);
    for (const stop of stops) {
      const next = at(stop);
      const pieces = way.countPieces(last, next);
      if (pieces === 0) sweeper.breakOff();
      for (let k = 0; k < pieces; k++) sweeper.sweep(way.setPiece(last, next, k, pieces), i);
      last = next;
    }
    sweeper.breakOff();
  }

  /** Bytes that field and keys take. */
  get bytes(): number {
    return this.field.bytes + this.keys.bytes;
  }
}
