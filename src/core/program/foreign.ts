import type { Steps } from '../base/steps';
import { ForeignControl, type ForeignReading } from './foreignControl';

const LINES_A_STEP = 2000;
/** Blocks, with those that arcs come to, at most. */
export const MAX_MOTIONS = 10_000_000;
/**
 * Interprets a program from elsewhere. Faults do not stop it. Yields the share read. O(length + chords).
 * @param keepsPoint Word by which the job's control keeps the tool's point; null where it does not.
 */
export function* readForeign(text: string, keepsPoint: string | null = null): Steps<number, ForeignReading> {
  const reader = new ForeignReader(text.length, keepsPoint);
  yield* reader.read(text);
  return reader.finish();
}

/** Interprets a program from elsewhere as it comes in, piece by piece. */
export class ForeignReader {
  private readonly control: ForeignControl;
  private line = 0;
  private seen = 0;
  /** The beginning of a line that has not come to its end yet. */
  private rest = '';

  /** @param length Of the whole text, for the share that is reported; any measure that the pieces have as well. */
  constructor(
    private readonly length: number,
    keepsPoint: string | null = null,
  ) {
    this.control = new ForeignControl(keepsPoint);
  }

  /** Whether what comes after has no meaning any more. */
  get isDone(): boolean {
    return this.control.ended || this.control.motions.count >= MAX_MOTIONS;
  }

  /** Takes the next piece of the text. Yields the share read. */
  *read(piece: string): Steps<number, void> {
    const text = this.rest + piece;
    let from = 0;
    while (!this.isDone) {
      const to = text.indexOf('\n', from);
      if (to < 0) break;
      this.control.readLine(text.slice(from, to), this.line);
      from = to + 1;
      if (++this.line % LINES_A_STEP === 0) yield (this.seen + from) / (this.length || 1);
    }
    this.rest = text.slice(from);
    this.seen += piece.length;
  }

  finish(): ForeignReading {
    const { control } = this;
    if (!this.isDone) {
      control.readLine(this.rest, this.line);
      this.line++;
    }
    if (control.motions.count >= MAX_MOTIONS) {
      control.fault(this.line, `the program has more than ${MAX_MOTIONS} motions: the rest was not read`);
    }
    return control.finish(Math.max(0, this.line - 1));
  }
}
