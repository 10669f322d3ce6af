import type { Blank } from '../job/blankSchema';
import { hashValue } from '../job/jobHash';
import { toTurnDeg, type Surface } from '../surface/surface';

/** How many places are probed along and round. */
export interface ProbeGrid {
  along: number;
  round: number;
}

export const MAX_GRID: ProbeGrid = { along: 60, round: 120 };
/** Kept from the edges of the blank and of its clear zones, mm. */
const MARGIN_MM = 3;

/**
 * The places of a grid on a blank: evenly along between its clear zones, and evenly round a closed blank from turn 0, or across.
 * @returns Sheet x, mm, and turns, degrees, each growing.
 */
export function listPlaces(blank: Blank, surface: Surface, { along, round }: ProbeGrid): { xMm: number[]; turnDeg: number[] } {
  const { minX, maxX, minY, maxY } = surface.domain;
  const clear = 'clearDatumMm' in blank ? [blank.clearDatumMm, blank.clearFarMm] : [0, 0];
  const spread = (from: number, to: number, count: number): number[] => {
    const margin = Math.min(MARGIN_MM, (to - from) / 4);
    if (count === 1) return [(from + to) / 2];
    return Array.from({ length: count }, (_, k) => from + margin + (k / (count - 1)) * (to - from - 2 * margin));
  };
  const xMm = spread(minX + clear[0]!, maxX - clear[1]!, along);
  if (surface.periodMm !== null) {
    // Round from half a turn before turn 0, so that turn 0 is one of them where their number is even.
    return { xMm, turnDeg: Array.from({ length: round }, (_, k) => -180 + (360 * k) / round) };
  }
  return { xMm, turnDeg: spread(minY, maxY, round).map((y) => toTurnDeg(surface, y)) };
}

/** What tells a blank that was measured from another: all of it but where lettering may stand and where words are 0. */
export function hashBlank(blank: Blank): string {
  return hashValue({ ...blank, zero: '', seamDeg: 0, clearDatumMm: 0, clearFarMm: 0 });
}
