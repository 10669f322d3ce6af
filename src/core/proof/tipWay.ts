import type { Machine } from '../job/machineSchema';
import type { Kinematics } from '../machine/kinematics';
import type { ProgramReading } from '../program/interpreter';
import { AWAY, AXIS_COUNT, AXIS_LETTERS } from '../program/motions';
import { getLengthDigits, getUnitMm } from '../program/units';
import type { Surface } from '../surface/surface';

/** Where the motions of a program as it was read bring the tip on the blank, and how the tool stands there. */
export class TipWay {
  /** Blank frame, mm, and the tool's axis, from tip to spindle: of the place that was gone to last. */
  readonly tip = new Float64Array(3);
  readonly axis = new Float64Array(3);
  /** Where the axes stand there, in the order of the kinematics. */
  readonly values: Float64Array;
  private readonly index: readonly number[];
  /** Axes that no line places: nothing is known of where the tool is. */
  readonly unplaced: string[];
  /** Motion by which every axis is placed: before that nothing is known of where the tool is. */
  private readonly placed: number;

  constructor(
    private readonly kinematics: Pick<Kinematics, 'axes' | 'forward'>,
    private readonly reading: Pick<ProgramReading, 'motions' | 'placedBy'>,
  ) {
    this.index = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
    this.unplaced = this.index.filter((k) => reading.placedBy[k]! < 0).map((k) => AXIS_LETTERS[k]!);
    this.placed = this.unplaced.length > 0 ? Infinity : Math.max(0, ...this.index.map((k) => reading.placedBy[k]!));
    this.values = new Float64Array(this.index.length);
  }

  /** Goes to a share of a motion. */
  goTo(motion: number, share: number): void {
    const { end } = this.reading.motions;
    this.index.forEach((k, i) => {
      const to = end[AXIS_COUNT * motion + k]!,
        from = motion > 0 ? end[AXIS_COUNT * (motion - 1) + k]! : to;
      this.values[i] = from + share * (to - from);
    });
    this.kinematics.forward(this.values, this.tip, this.axis);
  }

  /** Height of the tip over a surface, mm. */
  heightOver(surface: Pick<Surface, 'toSheet'>): number {
    return surface.toSheet(this.tip[0]!, this.tip[1]!, this.tip[2]!).heightMm;
  }

  /**
   * Least height of the tip over a surface at so many places of a motion, mm; of its end alone where it is not known whence it comes, and
   * infinite where it is not known where it ends. @param blind Whether it comes from elsewhere than the text says.
   */
  findLeastHeight(motion: number, places: number, surface: Pick<Surface, 'toSheet'>, blind = false): number {
    const { away } = this.reading.motions;
    if (motion < this.placed || away[motion] === AWAY.stays) return Infinity;
    let least = Infinity;
    for (let p = blind || motion === this.placed || away[motion] === AWAY.arrives ? places : 1; p <= places; p++) {
      this.goTo(motion, p / places);
      least = Math.min(least, this.heightOver(surface));
    }
    return least;
  }
}

/** How far the tip moves, where the axes stand at given values, if each is off by half of its last digit the same unlucky way, mm. */
export function measureLastDigitMm(kinematics: Pick<Kinematics, 'axes' | 'forward'>, machine: Machine, values: Float64Array): number {
  const tip = new Float64Array(3),
    moved = new Float64Array(3),
    axis = new Float64Array(3),
    at = values.slice();
  kinematics.forward(at, tip, axis);
  let sum = 0;
  kinematics.axes.forEach((a, k) => {
    const digit = a.kind === 'rotary' ? 10 ** -machine.angleDigits : getUnitMm(machine) * 10 ** -getLengthDigits(machine);
    at[k]! += digit / 2;
    kinematics.forward(at, moved, axis);
    at[k]! -= digit / 2;
    sum += Math.hypot(moved[0]! - tip[0]!, moved[1]! - tip[1]!, moved[2]! - tip[2]!);
  });
  return sum;
}
