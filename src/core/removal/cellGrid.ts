import type { Surface } from '../surface/surface';
import { TILE } from './tile';

/** From a cell to those over its sides, columns and rows. */
export const CELL_SIDES = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;

/** How the sheet is parted into cells, rows along x; on a closed blank the last row is followed by the first. */
export interface CellGrid {
  minX: number;
  minY: number;
  cellX: number;
  cellY: number;
  columns: number;
  rows: number;
  tilesAlong: number;
  tilesRound: number;
  /** Whether rows go on from the last to the first. */
  closed: boolean;
}

/** Cells of about a size, mm, so that a whole number of them goes round a closed blank. */
export function createCellGrid({ domain, periodMm }: Pick<Surface, 'domain' | 'periodMm'>, cellMm: number): CellGrid {
  const { minX, maxX, minY, maxY } = domain;
  const columns = Math.max(1, Math.ceil((maxX - minX) / cellMm - 1e-9));
  const spanY = periodMm ?? maxY - minY;
  const rows = Math.max(1, periodMm === null ? Math.ceil(spanY / cellMm - 1e-9) : Math.round(spanY / cellMm));
  return {
    minX,
    minY,
    cellX: (maxX - minX) / columns,
    cellY: spanY / rows,
    columns,
    rows,
    tilesAlong: Math.ceil(columns / TILE),
    tilesRound: Math.ceil(rows / TILE),
    closed: periodMm !== null,
  };
}
