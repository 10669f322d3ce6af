import Flatbush from 'flatbush';
import { AXIS_COUNT, AXIS_LETTERS, type Motions } from '../program/motions';

/** Places of axes that differ by less than this are one, mm or degrees. */
const SAME_PLACE = 0.003;
const Z = AXIS_LETTERS.indexOf('Z');

/** Where the tip was at feed in one file of a program, and with which cutter. */
export class Grooves {
  private index: Flatbush | null = null;
  private readonly others: readonly number[];

  /**
   * @param axes Places of the machine's axes among the letters.
   * @param toolOf The cutter that cuts by a motion, by its id; null for a motion that does not cut.
   */
  constructor(
    private readonly motions: Motions,
    private readonly axes: readonly number[],
    private readonly toolOf: (motion: number) => string | null,
    /** Motions from this on are not cut yet. */
    private readonly end = Infinity,
  ) {
    this.others = axes.filter((k) => k !== Z);
  }

  /** The same as it was before a motion. */
  until(motion: number): Grooves {
    return new Grooves(this.motions, this.axes, this.toolOf, motion);
  }

  /**
   * Whether a cutter's tip was as deep as a place, at that place of all axes but Z, by a motion before one of a number.
   * @param place Words of all axes, X Y Z A B C.
   */
  reach(place: ArrayLike<number>, tool: string, before = this.end): boolean {
    const { end, rapid } = this.motions;
    const { others } = this;
    const at = (motion: number, k: number): number => end[AXIS_COUNT * motion + k]!;
    const [x, y] = [place[others[0]!]!, place[others[1]!]!];
    this.index ??= this.makeIndex();
    return this.index.search(x - SAME_PLACE, y - SAME_PLACE, x + SAME_PLACE, y + SAME_PLACE).some((found) => {
      const motion = found + 1;
      if (motion >= before || rapid[motion] || this.toolOf(motion) !== tool) return false;
      const way = others.map((k) => at(motion, k) - at(motion - 1, k));
      const square = way.reduce((sum, v) => sum + v * v, 0);
      const along = others.reduce((sum, k, i) => sum + (place[k]! - at(motion - 1, k)) * way[i]!, 0);
      const share = square > 0 ? Math.max(0, Math.min(1, along / square)) : 1;
      const off = others.map((k, i) => at(motion - 1, k) + share * way[i]! - place[k]!);
      const depth = at(motion - 1, Z) + share * (at(motion, Z) - at(motion - 1, Z));
      return Math.hypot(...off) < SAME_PLACE && depth <= place[Z]!;
    });
  }

  /** All motions by the first two axes besides Z. */
  private makeIndex(): Flatbush {
    const { end, count } = this.motions;
    const [first, second] = this.others as [number, number];
    const out = new Flatbush(Math.max(1, count - 1));
    for (let m = 1; m < count; m++) {
      const [a, b] = [end[AXIS_COUNT * (m - 1) + first]!, end[AXIS_COUNT * (m - 1) + second]!];
      const [c, d] = [end[AXIS_COUNT * m + first]!, end[AXIS_COUNT * m + second]!];
      out.add(Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d));
    }
    if (count < 2) out.add(0, 0, 0, 0);
    out.finish();
    return out;
  }
}
