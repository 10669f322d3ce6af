import type { ReadingRules } from '../program/dialect';
import { createLineReader, type LineReader } from '../program/interpreter';
import { takeBatch, type PlannedMotion, type ReadUpTo } from './lookAhead';

/** Lines of one program, read as they come in their order, and kept until they are planned. */
export class LineIntake {
  private readonly reader: LineReader;
  /** Lines taken but not planned yet, by how far motions and stops were read. */
  private waiting: { line: number; motions: number; stops: number }[] = [];
  private readMotions = 0;
  private planned: ReadUpTo = { motions: 0, stops: 0, dwells: 0 };

  /** @param at Words where the machine stands, X Y Z A B C. */
  constructor(rules: ReadingRules, at: Float64Array) {
    this.reader = createLineReader(rules);
    this.stand(at);
  }

  /** The line that is waited for, from 1. */
  expects = 1;

  get count(): number {
    return this.waiting.length;
  }

  /** Whether the program's end was read. */
  get isEnded(): boolean {
    return this.reader.ended;
  }

  /** The machine has come to another place otherwise than by a line. */
  stand(at: Float64Array): void {
    this.reader.at.set(at);
  }

  /** Reads the line that is waited for. @returns What cannot be read of it, in words. */
  read(text: string): string[] {
    return this.reader.read(text, this.expects);
  }

  /** Words of the ends of what was read but not taken yet. */
  listFresh(): Float64Array[] {
    const { motions } = this.reader;
    return Array.from({ length: motions.count - this.readMotions }, (_, k) => motions.endOf(this.readMotions + k));
  }

  /** The line that was read last is taken, and waits. */
  accept(): void {
    this.readMotions = this.reader.motions.count;
    this.waiting.push({ line: this.expects++, motions: this.readMotions, stops: this.reader.stops.length });
  }

  /** Takes up to so many lines out to be run. @param stands The machine before them. @returns With the last line, where there is one. */
  takeOut(most: number, stands: Pick<PlannedMotion, 'end' | 'spindleRpm' | 'tool'>) {
    const batch = this.waiting.splice(0, most);
    const { upTo, ...motions } = takeBatch(this.reader, batch, this.planned, stands);
    this.planned = upTo;
    return { ...motions, lastLine: batch[batch.length - 1]?.line };
  }

  /** What waits is not run any more. */
  drop(): void {
    this.waiting = [];
  }
}
