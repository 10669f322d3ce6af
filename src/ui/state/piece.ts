import type { CellGrid } from '../../core/removal/cellGrid';
import type { Danger } from '../../core/removal/dangers';
import type { Truth } from '../../core/removal/truth';
import type { ProgramFault } from '../../core/program/interpreter';
import type { WhatIf } from '../../core/removal/whatIf';
import type { LoadTrace, PlanView, RemovalFigures, VerdictView } from '../../workers/planning.client';

/** What is drawn of a piece: pictures of the tiles that were ever cut. */
export interface ShownPiece {
  grid: CellGrid;
  figures: RemovalFigures;
  /** Place of each tile in the pictures, by its key. */
  slots: ReadonlyMap<number, number>;
  keys: Uint32Array;
  look: Uint8Array;
  depth: Float32Array;
  /** Grows with every change of the pictures. */
  version: number;
  /** Slots that changed since the version before; null for all. */
  changed: readonly number[] | null;
}

/** The piece as a program leaves it, kept up with the playhead. */
export interface Piece extends ShownPiece {
  /** Time of the program as it is shown, s; infinite at its end. */
  shownS: number;
  truth: Truth;
  dangers: readonly Danger[];
  /** The piece held against what the job means; null where it is not: a sketch, a part of a program, what if. */
  verdict: VerdictView | null;
  load: LoadTrace;
  /** The same of the whole program as it is planned: what findings are made of, and whether they are all known. */
  planned: { truth: Truth; dangers: readonly Danger[]; isWhole: boolean };
  /** Whether it is a first sketch in coarse cells, whose figures are not shown. */
  sketch: boolean;
  /** What was taken to be otherwise than in the job. */
  whatIf: WhatIf;
  /** What is shown: the job's plan, or a program from elsewhere in the same form. */
  plan: PlanView;
  /** The job's own plan, while it was made. */
  base: PlanView;
  /** A program from elsewhere: what it is called, what of it could not be read, and what was taken for granted. */
  foreign: { name: string; faults: readonly ProgramFault[]; notes: readonly string[]; file: Blob; lineStarts: Float64Array } | null;
}
