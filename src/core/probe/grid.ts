import { isEmptyBox, type Box } from '../base/rings';
import type { Blank } from '../job/blankSchema';
import { hashValue } from '../job/jobHash';
import type { Measured } from '../job/measured';
import { fromTurnDeg, toTurnDeg, type Surface } from '../surface/surface';

/** How many places are probed along and round. */
export interface ProbeGrid {
  along: number;
  round: number;
  /** Part of the sheet whose metal is touched, mm; null for all of the blank. */
  within: Box | null;
}

export const MAX_GRID = { along: 60, round: 120 };
/** Kept from the edges of the blank and of its clear zones, mm. */
const MARGIN_MM = 3;
/** The outermost places lie this far beside a part, so that the map does not end under its edge, mm. */
const BESIDE_MM = 2;
/** A part of more than this share of the way round is as good as all of it. */
const ALL_ROUND = 0.75;
/** Between neighbouring places round there are no more than this, degrees, where a ring is known all round. */
const RING_GAP_DEG = 180;

/**
 * The places of a grid on a blank, or on a part of it: evenly along between its clear zones, and evenly round a closed blank from turn 0,
 * or across. @returns Sheet x, mm, and turns, degrees, each growing.
 */
export function listPlaces(blank: Blank, surface: Surface, { along, round, within }: ProbeGrid): { xMm: number[]; turnDeg: number[] } {
  const { minX, maxX, minY, maxY } = surface.domain;
  const clear = 'clearDatumMm' in blank ? [blank.clearDatumMm, blank.clearFarMm] : [0, 0];
  const spread = (from: number, to: number, count: number): number[] => {
    const margin = Math.min(MARGIN_MM, (to - from) / 4);
    if (count === 1) return [(from + to) / 2];
    return Array.from({ length: count }, (_, k) => from + margin + (k / (count - 1)) * (to - from - 2 * margin));
  };
  /** Evenly over a part, and no farther than over all. */
  const spreadOver = (all: readonly [number, number], part: readonly [number, number] | null, count: number): number[] => {
    const beside = BESIDE_MM + MARGIN_MM;
    const [from, to] = part ? [Math.max(all[0], part[0] - beside), Math.min(all[1], part[1] + beside)] : all;
    return from < to ? spread(from, to, count) : spread(...all, count);
  };
  const part = within && !isEmptyBox(within) ? within : null;
  const xMm = spreadOver([minX + clear[0]!, maxX - clear[1]!], part && [part.minX, part.maxX], along);
  const across = part && ([part.minY, part.maxY] as const);
  if (surface.periodMm !== null && across && across[1] - across[0] + 2 * BESIDE_MM < ALL_ROUND * surface.periodMm)
    return { xMm, turnDeg: spreadOver([-Infinity, Infinity], across, round).map((y) => toTurnDeg(surface, y)) };
  if (surface.periodMm !== null) {
    // Round from half a turn before turn 0, so that turn 0 is one of them where their number is even.
    return { xMm, turnDeg: Array.from({ length: round }, (_, k) => -180 + (360 * k) / round) };
  }
  return { xMm, turnDeg: spreadOver([minY, maxY], across, round).map((y) => toTurnDeg(surface, y)) };
}

/** Whether places round a closed blank leave so wide a gap that they say nothing of the ring as a whole: an arc of it was touched. */
export function isArc(turnDeg: readonly number[]): boolean {
  const gaps = turnDeg.map((deg, k) => (turnDeg[k + 1] ?? turnDeg[0]! + 360) - deg);
  return turnDeg.length > 1 && Math.max(...gaps) > RING_GAP_DEG;
}

/** What tells a blank that was measured from another: all of it but where lettering may stand and where words are 0. */
export function hashBlank(blank: Blank): string {
  return hashValue({ ...blank, zero: '', seamDeg: 0, clearDatumMm: 0, clearFarMm: 0 });
}

/** Whether a place of a grid is on the blank: only those are touched. */
export const isTouched = (surface: Surface, xMm: number, turnDeg: number): boolean =>
  surface.outsideMm(xMm, fromTurnDeg(surface, turnDeg)) === 0;

/** What was found at the places that were touched, mm; what a map goes on with beside the blank was not. */
export const listTouched = ({ xMm, turnDeg, mm }: Pick<Measured, 'xMm' | 'turnDeg' | 'mm'>, surface: Surface): number[] =>
  mm.flatMap((row, i) => row.filter((_, j) => isTouched(surface, xMm[i]!, turnDeg[j]!)));

/**
 * Where a measured map lies between places that were touched, and where it only goes on from them: past the outermost, in the gap that an
 * arc leaves, and beside the blank. One place alone along or round was meant for all.
 * @returns Whether a place of the sheet, mm, is known.
 */
export function createKnown({ xMm, turnDeg }: Pick<Measured, 'xMm' | 'turnDeg'>, surface: Surface): (x: number, y: number) => boolean {
  const [first, last] = [turnDeg[0]!, turnDeg[turnDeg.length - 1]!].map((deg) => fromTurnDeg(surface, deg)) as [number, number];
  const { periodMm } = surface;
  const isRoundKnown = (y: number): boolean => {
    if (turnDeg.length === 1 || (periodMm !== null && !isArc(turnDeg))) return true;
    const past = periodMm === null ? y - first : y - first - periodMm * Math.floor((y - first) / periodMm);
    return past >= 0 && past <= last - first;
  };
  return (x, y) => (xMm.length === 1 || (x >= xMm[0]! && x <= xMm[xMm.length - 1]!)) && isRoundKnown(y) && surface.outsideMm(x, y) === 0;
}
