import type { Machine } from '../job/machineSchema';
import type { Kinematics } from '../machine/kinematics';
import { getLengthDigits, getUnitMm } from './units';
import { formatWord } from './words';

/** The words of a machine's axes, of which only those that change are written. */
export class AxisWords {
  /** Values as written last, in the program's units and degrees; NaN before the first. */
  readonly rounded: Float64Array;
  readonly isRotary: readonly boolean[];
  private readonly letters: readonly string[];
  private readonly digits: readonly number[];
  /** Program units in one of an axis: 1/25.4 for a length in inches. */
  private readonly perUnit: readonly number[];
  /** Words as written last; '' before the first. */
  private readonly words: string[];

  constructor({ axes }: Pick<Kinematics, 'axes'>, machine: Pick<Machine, 'programUnit' | 'lengthDigits' | 'angleDigits'>) {
    const perMm = 1 / getUnitMm(machine);
    this.letters = axes.map((a) => a.letter);
    this.isRotary = axes.map((a) => a.kind === 'rotary');
    this.digits = this.isRotary.map((rotary) => (rotary ? machine.angleDigits : getLengthDigits(machine)));
    this.perUnit = this.isRotary.map((rotary) => (rotary ? 1 : perMm));
    this.words = axes.map(() => '');
    this.rounded = new Float64Array(axes.length).fill(NaN);
  }

  /**
   * The words of a place that differ from those written last; they count as written from here on.
   * @param from Where in `values` it begins.
   */
  take(values: Float64Array, from = 0): string[] {
    const out: string[] = [];
    for (let k = 0; k < this.words.length; k++) {
      const word = formatWord(values[from + k]! * this.perUnit[k]!, this.digits[k]!);
      if (word === this.words[k]) continue;
      this.state(k, word);
      out.push(this.letters[k]! + word);
    }
    return out;
  }

  /** An axis stands where a word says, without its letter. */
  state(axis: number, word: string): void {
    this.words[axis] = word;
    this.rounded[axis] = Number(word);
  }

  /** Where the machine stands is not known: every axis is written again. */
  forget(): void {
    this.words.fill('');
    this.rounded.fill(NaN);
  }
}
