import { offsetRings } from '../base/boolean';
import { getRing, type Rings } from '../base/rings';
import { computeLean, type Work } from '../machine/stance';
import type { Setup } from '../pipeline/setup';
import type { DepthField } from '../removal/field';
import { measureLength } from '../surface/length';
import type { Intent } from './intent';
import type { TabMeaning } from './meaning';
import { Outlines } from './outlines';
import type { Fault } from './verdict';

/** A tab may be so much thinner, and so much shorter, before it is none, mm. */
const THINNER_MM = 0.05;
const SHORTER_MM = 0.3;
/** A rim that leans may take so much of its thickness besides. */
const RIM_SHARE = 0.3;
const ARC_TOLERANCE_MM = 0.01;
/** Steps by which a place of a way is set as far from its shape as the cutter is wide. */
const SETTLINGS = 3;
/** Places along a way lie so far apart, mm. */
const STEP_MM = 0.1;
/** Less of a way than this may be uncut besides its tabs, mm: where it begins and ends. */
const UNCUT_MM = 0.4;

/** Ways whose tabs are not as many, as thick or as long as they should be, and ways that are not cut through between them. */
export function findTabFaults(setup: Setup, intent: Intent, field: DepthField): Fault[] {
  return intent.tabs.flatMap(({ run, tabs }) => {
    const ways = listWays(tabs, setup);
    const faults: Fault[] = [];
    for (const way of ways) {
      const { stood, around } = walk(way, tabs, setup, field);
      const wanted = tabs.at.length > 0 && ways.length === 1 ? tabs.at.length : tabs.countFor(around);
      // Tabs that stand side by side hold as one.
      const standing = stood.reduce((sum, s) => sum + Math.floor((s.longMm + SHORTER_MM) / tabs.lengthMm), 0);
      if (tabs.at.length > 0 ? standing > 0 : standing >= wanted) continue;
      const [x, y] = [way[0]!, way[1]!];
      faults.push({
        ...{ kind: 'tab', run, letter: '', at: [x, y], depthMm: standing, wantedMm: wanted },
        ...{ areaMm2: tabs.lengthMm * 2 * tabs.radiusMm, motion: -1 },
      });
    }
    return faults;
  });
}

/** Middles of the cutter's ways, closed, sheet x and y in turn: as far from the shapes beside the tool as it is wide. */
function listWays({ shapes, xMm, radiusMm }: TabMeaning, { work }: Pick<Setup, 'work'>): Float64Array[] {
  if (shapes.xy.length === 0) {
    const { minY, maxY } = work.domain;
    return [Float64Array.of(xMm, minY, xMm, maxY)];
  }
  const around: Rings = offsetRings(shapes, radiusMm, ARC_TOLERANCE_MM);
  const outlines = new Outlines(shapes, true, work);
  const settle = (x: number, y: number): [number, number] => {
    let [px, py] = [x, y];
    for (let k = 0; k < SETTLINGS; k++) {
      const near = outlines.findNearest(px, py, 4 * radiusMm);
      if (!near || near.lateralMm < radiusMm / 10) break;
      const share = radiusMm / near.lateralMm;
      [px, py] = [near.x + share * (px - near.x), near.y + share * (py - near.y)];
    }
    return [px, py];
  };
  return Array.from({ length: around.starts.length - 1 }, (_, k) => {
    const ring = getRing(around, k);
    const way: number[] = [];
    for (let i = 0; i < ring.length; i += 2) way.push(...settle(ring[i]!, ring[i + 1]!));
    return Float64Array.from([...way, way[0]!, way[1]!]);
  });
}

/** By how much the rim of a mill that leans goes deeper into a tab than its middle, mm. */
function findRimMm({ radiusMm, depthMm, thicknessMm }: TabMeaning, work: Work, x: number, y: number): number {
  if (work.alongNormal) return 0;
  const lean = computeLean(work, x, y);
  return Math.min(RIM_SHARE * thicknessMm, radiusMm * Math.tan(lean) + depthMm * (1 / Math.cos(lean) - 1));
}

/** Stretches of a way where a tab's thickness stands, a stretch over the beginning in one. */
function walk(way: Float64Array, tabs: TabMeaning, { work }: Setup, field: DepthField) {
  const places: boolean[] = [];
  let around = 0;
  for (let i = 0; i + 3 < way.length; i += 2) {
    const [ax, ay, bx, by] = [way[i]!, way[i + 1]!, way[i + 2]!, way[i + 3]!];
    const length = measureLength(work, ax, ay, bx, by);
    // Places STEP_MM apart over the whole way.
    for (let s = STEP_MM * Math.ceil(around / STEP_MM) - around; s < length; s += STEP_MM) {
      const t = s / length;
      const [x, y] = [ax + t * (bx - ax), ay + t * (by - ay)];
      const floor = Math.min(tabs.depthMm, work.wallAt(x, y));
      places.push(field.depthAt(x, y) <= floor - tabs.thicknessMm + THINNER_MM + findRimMm(tabs, work, x, y));
    }
    around += length;
  }
  const stood: { longMm: number }[] = [];
  const n = places.length;
  const start = places.indexOf(false);
  if (start < 0) return { stood: n > 0 ? [{ longMm: around }] : [], around };
  let run = 0;
  for (let k = 1; k <= n; k++) {
    if (places[(start + k) % n]) run++;
    else if (run > 0) {
      if (run * STEP_MM > UNCUT_MM) stood.push({ longMm: run * STEP_MM });
      run = 0;
    }
  }
  return { stood, around };
}
