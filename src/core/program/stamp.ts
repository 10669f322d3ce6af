import type { Program } from './dialect';

/** What a program says of itself, once it was read back. */
export interface Stamp {
  seconds: number;
  /** How far the tip leaves the plan, µm, as it was read back. */
  tipUm: number;
  /** How far the edge lies outside the lettering, µm; null where it has none that was measured. */
  edgeUm: number | null;
  hash: string;
}

/** The line that a program is written with, in place of what is known only when it was read back. */
export const UNSTAMPED = 'read back: not yet';

/**
 * Says in a program's head how long it runs, what it came to when it was read back, and of which job it is. Lines stay where they are, and
 * nothing but words for people changes. Programs without such a line stay as they are.
 */
export function stampProgram(program: Program, { seconds, tipUm, edgeUm, hash }: Stamp): void {
  const minutes = Math.floor(Math.round(seconds) / 60);
  const edge = edgeUm === null ? '' : `, edge ${edgeUm.toFixed(2)} um outside at most`;
  const text = `${minutes} min ${Math.round(seconds) % 60} s; read back: tip within ${tipUm.toFixed(2)} um${edge}; job ${hash}`;
  for (const part of program.parts) {
    const at = part.lines.findIndex((line) => line.includes(UNSTAMPED));
    if (at >= 0) part.lines[at] = part.lines[at]!.replace(UNSTAMPED, text);
  }
}

/** A text without its stamp, which is another for every job though the program be the same. */
export const withoutStamp = (text: string): string => text.replace(/^.*; read back: tip within .*$/gm, '');
