import { splitTime, type CutTime, type FieldProof } from '../removal/proveField';
import type { FieldEdge } from '../removal/edgeFinder';
import type { LetterWidth } from '../removal/truth';
import type { DepthMap } from './depthMap';

/** What `proof.json` holds. Lengths mm, µm where the name says so, turns degrees, times s. */
export interface ProofReport {
  cellMm: number;
  /** What cells of that size may be off across an edge, µm. */
  errorUm: number;
  edge: Pick<FieldEdge, 'maxOutsideUm' | 'maxUncutUm' | 'uncut95Um'> | null;
  floor: { maxDeepUm: number; maxShallowUm: number } | null;
  letters: LetterWidth[];
  /** Sharp corners: the farthest from one to what is cut, µm. */
  corners: { count: number; maxShortUm: number } | null;
  area: { drawnMm2: number; unreachedMm2: number } | null;
  volumeMm3: number;
  dangers: { code: string; line: number; xMm: number; turnDeg: number; text: string }[];
  timeS: { cutting: number; air: number; perCut: CutTime[] };
  computeMs: number;
  /** How `depth.png` is to be read; null where nothing was cut. */
  depth: (Omit<DepthMap, 'grey'> & { rowsFrom: 'highest y' }) | null;
}

/** Gathers the report of a proof by the field. */
export function toProofReport(
  { removal, truth, dangers }: FieldProof,
  map: DepthMap | null,
  computeMs: number,
  cutAt?: Parameters<typeof splitTime>[1],
): ProofReport {
  const { edge, floor } = truth;
  const { cutting, air, perCut } = splitTime(removal, cutAt);
  return {
    cellMm: truth.cellMm,
    errorUm: truth.errorUm,
    edge: edge && { maxOutsideUm: edge.maxOutsideUm, maxUncutUm: edge.maxUncutUm, uncut95Um: edge.uncut95Um },
    floor: floor && { maxDeepUm: floor.maxDeepUm, maxShallowUm: floor.maxShallowUm },
    letters: truth.letters,
    corners: truth.corners && { count: truth.corners.count, maxShortUm: truth.corners.maxShortUm },
    area: truth.area,
    volumeMm3: truth.volumeMm3,
    dangers: dangers.map(({ finding: { code, text, where } }) => ({
      code,
      line: where.line ?? 0,
      xMm: where.xMm ?? 0,
      turnDeg: where.turnDeg ?? 0,
      text,
    })),
    timeS: { cutting, air, perCut },
    computeMs,
    depth: map && {
      widthCells: map.widthCells,
      heightCells: map.heightCells,
      fullScaleMm: map.fullScaleMm,
      x0Mm: map.x0Mm,
      y0Mm: map.y0Mm,
      cellMm: map.cellMm,
      rowsFrom: 'highest y',
    },
  };
}
