import { computeBox, type Rings } from '../../base/rings';
import type { Work } from '../../machine/stance';
import { createChart } from '../chart';
import { findGrooveHalfWidths } from '../grooveWidth';
import type { Profile } from '../profile';

/** A plane in which a cutter's print at a depth is all but a circle: what offsets are taken in. */
export interface Print {
  /** Radius of the print there, mm. */
  radiusMm: number;
  toPlane(rings: Rings): Rings;
  /** Takes x, y in turn back to the sheet. New array. */
  toSheet(xy: ArrayLike<number>): Float64Array;
  ringsToSheet(rings: Rings): Rings;
}

/**
 * The print of a cutter at a depth about the middle of a region. On a cylinder a flat end mill of radius c is c wide along and
 * R·asin(c/R) round. @param profile Its half-width counts at the depth.
 */
export function createPrint(work: Work, rings: Rings, profile: Profile, depthMm: number): Print {
  const chart = createChart(work, rings, profile);
  const inChart = chart.toChart(rings);
  const box = computeBox(inChart.xy);
  const [x, y] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
  const [along, round] = work.flat && chart.plain ? [1, 1] : findGrooveHalfWidths(chart.ground, profile, depthMm, x, y);
  const stretch = along / round;
  const radiusMm = work.flat && chart.plain ? profile.halfWidthAt(depthMm) : along;
  const scaleY = (xy: Float64Array, by: number): Float64Array => (by === 1 ? xy : xy.map((v, i) => (i % 2 ? v * by : v)));
  const toSheet = (xy: ArrayLike<number>): Float64Array => {
    const out = scaleY(Float64Array.from(xy), 1 / stretch);
    if (chart.plain) return out;
    const triples = new Float64Array((3 * out.length) / 2);
    for (let i = 0; i < out.length / 2; i++) triples.set([out[2 * i]!, out[2 * i + 1]!, 0], 3 * i);
    const back = chart.toSheet(triples);
    for (let i = 0; i < out.length / 2; i++) out.set([back[3 * i]!, back[3 * i + 1]!], 2 * i);
    return out;
  };
  return {
    radiusMm,
    toPlane(own) {
      const placed = chart.toChart(own);
      return { xy: scaleY(placed.xy, stretch), starts: placed.starts };
    },
    toSheet,
    ringsToSheet: (own) => ({ xy: toSheet(own.xy), starts: own.starts }),
  };
}
