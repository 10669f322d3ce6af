import { getRing, type Rings } from '../base/rings';
import type { Steps } from '../base/steps';
import type { LaidPaths } from '../lay/laidPaths';
import type { Lettering } from '../pipeline/lettering';
import type { PlanProgress } from '../pipeline/plan';
import type { Run, Setup } from '../pipeline/setup';
import { createMargin, FAR_MM } from './margin';

/** How well the edge that is cut meets the outline that was drawn, measured along the outline on the blank. */
export interface EdgeProof {
  samples: number;
  /** Largest distance cut beyond the outline, µm. */
  maxOutsideUm: number;
  /** Largest distance left uncut inside it, µm, and the one that 95 % of the outline keeps. */
  maxUncutUm: number;
  uncut95Um: number;
  /** Sheet places of the worst two, mm. */
  outsideAt: [number, number];
  uncutAt: [number, number];
}

/** A run whose edge was not measured, and why. */
export interface EdgeUnproved {
  id: string;
  name: string;
  why: string;
}

/** The edges of all runs taken together, null if none has one, and the runs that have none. */
export interface EdgeReport {
  edge: EdgeProof | null;
  unproved: EdgeUnproved[];
}

/** Spacing of the places measured along the outline, mm; wider where that would be more than `MAX_SAMPLES`. */
const SPACING_MM = 0.1;
const MAX_SAMPLES = 20_000;
/** Progress is reported once in so many places. */
const REPORT_EVERY = 500;

/**
 * Proves the edges of all runs that have one: at places along each outline, the deepest margin that any part of the path leaves
 * there, turned into a distance across the edge by how fast the margin falls off along the surface there: the cutter's slope
 * under an upright tool, more or less under a leaning one. Exact for a V to first order in the margin.
 * A margin means the same on either side of an outline: cut beyond it. It uses the laid path alone and knows nothing of how it
 * was made. O(samples · near path pieces).
 */
export function* computeEdges(setup: Setup, lettering: Lettering, laid: LaidPaths): Steps<PlanProgress, EdgeReport> {
  const measured = new EdgeMeasure();
  const unproved: EdgeUnproved[] = [];
  for (const run of setup.runs) {
    const rule = run.kind.edge(run.cut);
    if (!hasStrokes(laid, run)) continue;
    if (rule.side === 'none') unproved.push({ id: run.id, name: run.name, why: rule.why });
    else yield* measureRun(setup, run, lettering, laid, measured);
  }
  return { edge: measured.finish(), unproved };
}

const hasStrokes = (laid: LaidPaths, run: Run): boolean => laid.run.subarray(0, laid.count).includes(run.index);

function* measureRun({ work }: Setup, run: Run, lettering: Lettering, laid: LaidPaths, measured: EdgeMeasure): Steps<PlanProgress, void> {
  const { cut, profile } = run;
  const arts = lettering.artworks.filter((a) => (cut.targets === 'all' || cut.targets.includes(a.id)) && a.regions.xy.length > 0);
  const marginAt = createMargin(laid, run.index, work, profile);
  const total = arts.reduce((sum, a) => sum + measure(a.regions), 0);
  const spacing = Math.max(SPACING_MM, total / MAX_SAMPLES);
  let done = 0;
  for (const art of arts) {
    for (const [x, y] of samples(art.regions, spacing)) {
      const margin = marginAt(x, y);
      measured.add(x, y, 1000 * Math.max(-FAR_MM, margin / marginAt.fall()));
      if (++done % REPORT_EVERY === 0) yield { stage: 'checking edges', share: Math.min(1, (done * spacing) / total) };
    }
  }
}

/** Gathers distances across the edge: positive where it is cut beyond, negative where some is left, µm. */
class EdgeMeasure {
  private readonly uncut: number[] = [];
  private readonly proof: EdgeProof = { samples: 0, maxOutsideUm: 0, maxUncutUm: 0, uncut95Um: 0, outsideAt: [0, 0], uncutAt: [0, 0] };

  add(x: number, y: number, offUm: number): void {
    const { proof } = this;
    if (offUm > proof.maxOutsideUm) {
      proof.maxOutsideUm = offUm;
      proof.outsideAt = [x, y];
    }
    if (-offUm > proof.maxUncutUm) {
      proof.maxUncutUm = -offUm;
      proof.uncutAt = [x, y];
    }
    this.uncut.push(Math.max(0, -offUm));
  }

  finish(): EdgeProof | null {
    const { proof, uncut } = this;
    if (uncut.length === 0) return null;
    uncut.sort((a, b) => a - b);
    return { ...proof, samples: uncut.length, uncut95Um: uncut[Math.floor(0.95 * (uncut.length - 1))]! };
  }
}

const measure = (rings: Rings): number => {
  let sum = 0;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const r = getRing(rings, k);
    for (let i = 0, j = r.length - 2; i < r.length; j = i, i += 2) sum += Math.hypot(r[i]! - r[j]!, r[i + 1]! - r[j + 1]!);
  }
  return sum;
};

/** Places at even steps along every ring, never on a vertex, where an edge has no side. */
function* samples(rings: Rings, spacingMm: number): Generator<[number, number]> {
  let ahead = spacingMm / 2;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const r = getRing(rings, k);
    for (let j = r.length - 2, i = 0; i < r.length; j = i, i += 2) {
      const length = Math.hypot(r[i]! - r[j]!, r[i + 1]! - r[j + 1]!);
      for (; ahead < length; ahead += spacingMm) {
        const t = ahead / length;
        yield [r[j]! + t * (r[i]! - r[j]!), r[j + 1]! + t * (r[i + 1]! - r[j + 1]!)];
      }
      ahead -= length;
    }
  }
}
