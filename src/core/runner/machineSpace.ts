import { toMachineValues, type Kinematics } from '../machine/kinematics';
import { getWordLimits, getZeroHeightMm } from '../machine/limits';
import { createKinematics } from '../machine/registry';
import { AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import type { ShapeMesh } from '../shape/shapeMesh';
import { createSurface } from '../surface/registry';
import type { Surface } from '../surface/surface';
import type { RunnerSetup } from './protocol';
import { isInside, type RealBlank } from './realBlank';

const LIMIT_SLACK = 0.005;

/** The room in which the machine moves: its axes, their ends, the blank on them, and the work offset. Words are X Y Z A B C. */
export class MachineSpace {
  readonly kinematics: Kinematics;
  readonly surface: Surface;
  /** Ends of each axis as words: across as the machine is described, along with the zero in the middle of the travel, Z by the nose. */
  readonly limits: Readonly<Record<string, readonly [number, number]>>;

  /**
   * @param shapes Free shapes that were sent, by their ids.
   * @param offset Where the machine stands is its words and this. It is none while its zero is where the job says.
   */
  constructor(
    setup: RunnerSetup,
    shapes: ReadonlyMap<string, ShapeMesh>,
    private readonly offset: Float64Array,
  ) {
    this.kinematics = createKinematics(setup);
    this.surface = createSurface(setup.blank, { find: (ref) => ('id' in ref ? (shapes.get(ref.id) ?? null) : null) });
    const limits = getWordLimits(setup, this.kinematics);
    const { noseMm } = setup.machine.standsAt;
    this.limits = noseMm > 0 ? { ...limits, Z: [-Infinity, noseMm - setup.gaugeMm - getZeroHeightMm(setup)] } : limits;
  }

  has(letter: string): boolean {
    return this.kinematics.axes.some((a) => a.letter === letter);
  }

  /** Values of the job's axes for words, with the work offset. */
  private placesOf(words: ArrayLike<number>): number[] {
    return this.kinematics.axes.map((a) => {
      const k = AXIS_LETTERS.indexOf(a.letter);
      return words[k]! + this.offset[k]!;
    });
  }

  /** The machine's own axes for words: not the same where the control keeps the tool's point. */
  toOwn(words: ArrayLike<number>): Float64Array {
    return toMachineValues(this.kinematics, Float64Array.from(this.placesOf(words)));
  }

  /** What of a place goes beyond an end of the machine, in words; null where nothing does. */
  findBeyond(words: ArrayLike<number>): string | null {
    const own = this.toOwn(words);
    for (const [k, { letter }] of (this.kinematics.machine ?? this.kinematics).axes.entries()) {
      const [least, most] = this.limits[letter]!;
      const v = own[k]!;
      if (v < least - LIMIT_SLACK || v > most + LIMIT_SLACK)
        return `${letter} would go to ${v.toFixed(3)}, and can go no ${v < least ? 'lower' : 'higher'} than ${(v < least ? least : most).toFixed(1)}`;
    }
    return null;
  }

  /** Whether the tip stands in the real blank. */
  isTouching(real: RealBlank, words: ArrayLike<number>): boolean {
    const tip = new Float64Array(3);
    this.kinematics.forward(this.placesOf(words), tip, new Float64Array(3));
    return isInside(real, this.surface, tip);
  }
}

/** A place between two, words. */
export const between = (from: Float64Array, to: Float64Array, share: number): Float64Array => {
  const out = new Float64Array(AXIS_COUNT);
  for (let k = 0; k < AXIS_COUNT; k++) out[k] = from[k]! + share * (to[k]! - from[k]!);
  return out;
};
