import { toNumberedLine } from './wire';

/** What a feeder comes to. */
export interface FeedProgress {
  /** Lines that were acknowledged, of how many. */
  acknowledged: number;
  count: number;
  /** Lines that had to be sent again. */
  again: number;
  state: 'feeding' | 'fed' | 'refused';
  /** Why it stopped: what the machine said, and of which line, from 1. */
  refusal: { line: number; why: string } | null;
}

/** Lines that are on their way at once. */
const WINDOW = 128;
/** An answer that takes longer was lost, or its line was, ms. */
const LOST_MS = 1500;
/** Refusals that mean "send on from there", not "no". */
const WAITED_FOR = /^line (\d+) is waited for$/;
const FULL = 'full';
const FULL_WAIT_MS = 100;

/**
 * Feeds a program to a machine over a line that may lose some: numbered lines, a window of them on its way, and again from the first that
 * was not acknowledged. Pure: it is told what comes and what time it is, and says what to send.
 */
export class Feeder {
  private next = 1;
  private acknowledged = 0;
  private again = 0;
  private refusal: FeedProgress['refusal'] = null;
  private heardMs: number;
  private waitUntilMs = 0;

  constructor(
    private readonly lines: readonly string[],
    nowMs: number,
  ) {
    this.heardMs = nowMs;
  }

  get progress(): FeedProgress {
    const { acknowledged, again, refusal } = this;
    const state = refusal ? 'refused' : acknowledged === this.lines.length ? 'fed' : 'feeding';
    return { acknowledged, count: this.lines.length, again, state, refusal };
  }

  /** Takes an answer. @returns Whether it was one of its own. */
  hear(text: string, nowMs: number): boolean {
    const [, word, digits, rest = ''] = /^(ok|no) (\d+) ?(.*)$/.exec(text) ?? [];
    if (!word) return false;
    this.heardMs = nowMs;
    const n = Number(digits);
    if (word === 'ok') {
      this.acknowledged = Math.max(this.acknowledged, n);
      return true;
    }
    const waited = WAITED_FOR.exec(rest);
    if (waited) {
      // All that is on its way behind the gap is refused as well: it is gone back once.
      const from = Number(waited[1]);
      if (from > this.acknowledged && from < this.next) this.goBack(from);
    } else if (rest === FULL) {
      // Nothing was lost: it runs first what it has.
      this.next = Math.min(n, this.next);
      this.waitUntilMs = nowMs + FULL_WAIT_MS;
    } else if (!this.refusal && n > this.acknowledged) this.refusal = { line: n, why: rest };
    return true;
  }

  private goBack(to: number): void {
    this.again += this.next - to;
    this.next = to;
  }

  /** What is to be sent now. */
  take(nowMs: number): string[] {
    if (this.refusal || nowMs < this.waitUntilMs) return [];
    if (this.next > this.acknowledged + 1 && nowMs - this.heardMs > LOST_MS) {
      this.goBack(this.acknowledged + 1);
      this.heardMs = nowMs;
    }
    const out: string[] = [];
    while (this.next <= this.lines.length && this.next <= this.acknowledged + WINDOW) {
      out.push(toNumberedLine(this.next, this.lines[this.next - 1]!));
      this.next++;
    }
    return out;
  }
}
