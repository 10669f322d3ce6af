/** Letters of the axes, in the order of a motion's values: mm for the first three, degrees for the others. */
export const AXIS_LETTERS = 'XYZABC';
export const AXIS_COUNT = 6;

/** Bits of `Motions.coolant`. */
export const COOLANT = { mist: 1, flood: 2 } as const;

/** What a program moves, packed; motion i runs from where i − 1 ended, the first from zero. */
export interface Motions {
  count: number;
  /** Line in the text, from 0. */
  line: Uint32Array;
  rapid: Uint8Array;
  /** X Y Z A B C at the end of each motion: mm and degrees. */
  end: Float64Array;
  /** What the feed word makes each motion last, min; 0 for rapid. */
  timeMin: Float64Array;
  /** Number of the tool in the spindle; 0 if none was called. */
  tool: Uint16Array;
  /** Entry of the control's table whose length is taken; 0 if none is. */
  length: Uint16Array;
  /** Spindle speed, rev/min, negative if it turns backwards; 0 if it stands still. */
  spindleRpm: Float64Array;
  coolant: Uint8Array;
  /** Whether it goes until a probe trips: where it ends is then not known, but no farther. */
  probes: Uint8Array;
  /** Whether it begins at the machine's top (G53), from where the words do not say, and whether it stays there. */
  away: Uint8Array;
}

/** Values of `Motions.away`. */
export const AWAY = { no: 0, arrives: 1, stays: 2 } as const;

export interface MotionState {
  line: number;
  rapid: boolean;
  timeMin: number;
  tool: number;
  length: number;
  spindleRpm: number;
  coolant: number;
  away: number;
  probes: boolean;
}

/** Takes motions one by one and packs them. */
export class MotionRecorder {
  count = 0;
  private capacity = 1024;
  private packed = allocate(1024);

  add(end: Float64Array, state: MotionState): void {
    if (this.count === this.capacity) this.grow();
    const { packed: p, count: i } = this;
    p.line[i] = state.line;
    p.rapid[i] = state.rapid ? 1 : 0;
    p.end.set(end, AXIS_COUNT * i);
    p.timeMin[i] = state.timeMin;
    p.tool[i] = state.tool;
    p.length[i] = state.length;
    p.spindleRpm[i] = state.spindleRpm;
    p.coolant[i] = state.coolant;
    p.away[i] = state.away;
    p.probes[i] = state.probes ? 1 : 0;
    this.count++;
  }

  /** Where a motion ends, X Y Z A B C. */
  endOf(i: number): Float64Array {
    return this.packed.end.subarray(AXIS_COUNT * i, AXIS_COUNT * (i + 1));
  }

  /** The rest of a motion. */
  stateOf(i: number): MotionState {
    const { packed: p } = this;
    return {
      ...{ line: p.line[i]!, rapid: p.rapid[i] === 1, timeMin: p.timeMin[i]!, tool: p.tool[i]!, length: p.length[i]! },
      ...{ spindleRpm: p.spindleRpm[i]!, coolant: p.coolant[i]!, away: p.away[i]!, probes: p.probes[i] === 1 },
    };
  }

  finish(): Motions {
    const { packed: p, count } = this;
    return {
      count,
      line: p.line.slice(0, count),
      rapid: p.rapid.slice(0, count),
      end: p.end.slice(0, AXIS_COUNT * count),
      timeMin: p.timeMin.slice(0, count),
      tool: p.tool.slice(0, count),
      length: p.length.slice(0, count),
      spindleRpm: p.spindleRpm.slice(0, count),
      coolant: p.coolant.slice(0, count),
      away: p.away.slice(0, count),
      probes: p.probes.slice(0, count),
    };
  }

  private grow(): void {
    const larger = allocate(2 * this.capacity);
    const { packed: p } = this;
    larger.line.set(p.line);
    larger.rapid.set(p.rapid);
    larger.end.set(p.end);
    larger.timeMin.set(p.timeMin);
    larger.tool.set(p.tool);
    larger.length.set(p.length);
    larger.spindleRpm.set(p.spindleRpm);
    larger.coolant.set(p.coolant);
    larger.away.set(p.away);
    larger.probes.set(p.probes);
    this.packed = larger;
    this.capacity *= 2;
  }
}

const allocate = (n: number): Omit<Motions, 'count'> => ({
  line: new Uint32Array(n),
  rapid: new Uint8Array(n),
  end: new Float64Array(AXIS_COUNT * n),
  timeMin: new Float64Array(n),
  tool: new Uint16Array(n),
  length: new Uint16Array(n),
  spindleRpm: new Float64Array(n),
  coolant: new Uint8Array(n),
  away: new Uint8Array(n),
  probes: new Uint8Array(n),
});
