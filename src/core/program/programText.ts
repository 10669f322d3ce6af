import type { Manner } from './dialect';

/** A block as long as a control takes: what does not fit with spaces may do without, no control needs them. 0 for any length. */
export const fitBlock = (block: string, longestLine: number): string =>
  longestLine > 0 && block.length > longestLine ? block.replaceAll(' ', '') : block;

/** A comment as long as a control takes: no more of what is said than that. */
export function fitComment(comment: (...words: readonly string[]) => string, words: readonly string[], longestLine: number): string {
  const line = comment(...words);
  const tooLong = longestLine > 0 ? line.length - longestLine : 0;
  return tooLong > 0 ? comment(words.join(' ').slice(0, -tooLong)) : line;
}

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
      this.lines.push(spaced ? fitBlock(line, this.longestLine) : line.replaceAll(' ', ''));
    }
  }

  /** Writes what is for people, where the control lets it pass, and no more of it than it takes in a line. */
  tell(...words: readonly string[]): void {
    if (this.manner.comment) this.lines.push(fitComment(this.manner.comment, words, this.longestLine));
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
