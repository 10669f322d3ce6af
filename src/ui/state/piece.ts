import type { CellGrid } from '../../core/removal/field';
import type { PlanView, RemovalFigures } from '../../workers/planning.client';

/** The piece as a program leaves it: pictures of the tiles that were ever cut, kept up with the playhead. */
export interface Piece {
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
  /** The plan that it was made from. */
  plan: PlanView;
}
