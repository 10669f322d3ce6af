import { AXIS_COUNT } from '../program/motions';
import type { PlannedMotion } from './lookAhead';
import { between } from './machineSpace';

/** What the machine runs, one motion after another by its own clock, and where that has brought it. */
export class MotionQueue {
  private readonly queue: PlannedMotion[] = [];
  /** Words where it stands, X Y Z A B C. */
  readonly at = new Float64Array(AXIS_COUNT);
  /** Words where the motion that runs began. */
  readonly from = new Float64Array(AXIS_COUNT);
  /** The machine's own clock, ms: it stands while held. */
  clockMs = 0;
  private startMs = 0;
  /** Line that runs or ran last, and which share of its motion has run. */
  line = 0;
  share = 0;
  spindleRpm = 0;
  tool = 0;

  get count(): number {
    return this.queue.length;
  }

  /** Puts motions in that begin now. */
  push(motions: readonly PlannedMotion[]): void {
    this.from.set(this.at);
    this.startMs = this.clockMs;
    this.queue.push(...motions);
  }

  /** Nothing of it runs any more; the axes stand where they are, and the spindle stops. */
  drop(): void {
    this.queue.length = 0;
    this.spindleRpm = 0;
  }

  /** The motion that runs now; null where none is left. What comes after that begins now, not when the last ended. */
  enter(): PlannedMotion | null {
    const next = this.queue[0];
    if (!next) {
      this.startMs = this.clockMs;
      return null;
    }
    this.line = next.line;
    this.spindleRpm = next.spindleRpm;
    this.tool = next.tool;
    return next;
  }

  /** Ends the motion that runs at a share of its way. */
  cutShort(motion: PlannedMotion, share: number): void {
    motion.end.set(between(this.from, motion.end, share));
    motion.endMs = this.startMs + share * (motion.endMs - this.startMs);
  }

  /** Brings the machine as far on the motion that runs as the clock is. @returns Whether it has come to its end. */
  advance(motion: PlannedMotion): boolean {
    if (this.clockMs < motion.endMs) {
      const spanMs = motion.endMs - this.startMs;
      this.share = spanMs > 0 ? Math.max(0, Math.min(1, (this.clockMs - this.startMs) / spanMs)) : 1;
      this.at.set(between(this.from, motion.end, this.share));
      return false;
    }
    this.at.set(motion.end);
    this.from.set(motion.end);
    this.startMs = motion.endMs;
    this.share = 1;
    this.queue.shift();
    return true;
  }
}
