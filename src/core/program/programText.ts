import type { Manner } from './dialect';

/** The lines of a file, set down as a dialect wants them. */
export class ProgramText {
  private lines: string[] = [];
  private block = 0;

  /** @param longestLine Most characters that the control takes in a line; 0 for any number. */
  constructor(
    private readonly manner: Manner,
    private readonly longestLine: number,
  ) {}

  get count(): number {
    return this.lines.length;
  }

  /** Writes blocks; nothing where the dialect has no words for one. */
  say(...blocks: (string | null | undefined)[]): void {
    const { numbered, spaced } = this.manner;
    for (const block of blocks) {
      if (!block) continue;
      const line = numbered ? `N${++this.block} ${block}` : block;
      // What does not fit into a line with spaces may do without: no control needs them.
      const isLong = this.longestLine > 0 && line.length > this.longestLine;
      this.lines.push(spaced && !isLong ? line : line.replaceAll(' ', ''));
    }
  }

  /** Writes what is for people, where the control lets it pass, and no more of it than it takes in a line. */
  tell(...words: readonly string[]): void {
    if (!this.manner.comment) return;
    const line = this.manner.comment(...words);
    const tooLong = this.longestLine > 0 ? line.length - this.longestLine : 0;
    this.lines.push(tooLong > 0 ? this.manner.comment(words.join(' ').slice(0, -tooLong)) : line);
  }

  /** Writes a line that stands outside the program. */
  frame(): void {
    if (this.manner.frame) this.lines.push(this.manner.frame);
  }

  /** Ends the file: hands over its lines, and begins another. */
  take(): string[] {
    const { lines } = this;
    this.lines = [];
    this.block = 0;
    return lines;
  }
}
