import Flatbush from 'flatbush';
import { getRing, type Rings } from '../base/rings';
import { createProfile, type Profile } from '../cut/profile';
import type { Job } from '../job/schema';
import { MOVE, type LaidPaths } from '../lay/laidPaths';
import type { Lettering } from '../pipeline/lettering';
import type { Plan } from '../pipeline/plan';
import { createWork, type Work } from '../machine/stance';
import type { Surface } from '../surface/surface';

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

/** Spacing of the places looked at along the outline, mm; wider where that would be more than `MAX_SAMPLES`. */
const SPACING_MM = 0.1;
const MAX_SAMPLES = 20_000;
/** What is left uncut is told up to this; beyond it the cutter simply does not get there, mm. */
const FAR_MM = 1;
/** A margin below this may come from a piece whose box reaches here and whose groove does not, mm. */
const NEAR_MM = 0.02;
/** Pieces looked at for a place that none cuts: short ones lie thick together. */
const FAR_LOOKS = 100;

/**
 * Proves the edges of all V-carves: at places along each outline, the deepest margin that any part of the path leaves
 * there, turned into a distance across the edge by how fast the margin falls off along the surface there: the cutter's slope
 * under an upright tool, more or less under a leaning one. Exact for a V to first order in the margin.
 * Looks at the laid path alone and knows nothing of how it was made.
 * @returns Null if nothing is V-carved. O(samples · near path pieces).
 */
export function computeEdgeProof(
  job: Job,
  lettering: Lettering,
  plan: Pick<Plan, 'laid' | 'cuts'>,
  surface: Surface,
  onProgress: (share: number) => void,
): EdgeProof | null {
  const work = createWork(surface, job.machine, job.blank);
  const enabled = job.cuts.filter((c) => c.enabled);
  const uncut: number[] = [];
  const proof: EdgeProof = { samples: 0, maxOutsideUm: 0, maxUncutUm: 0, uncut95Um: 0, outsideAt: [0, 0], uncutAt: [0, 0] };
  enabled.forEach((cut, index) => {
    if (cut.kind !== 'v-carve' || plan.cuts[index]!.strokes === 0) return;
    const tool = job.tools.find((t) => t.id === cut.toolId)!;
    const arts = lettering.artworks.filter((a) => (cut.targets === 'all' || cut.targets.includes(a.id)) && a.regions.xy.length > 0);
    const profile = createProfile(tool);
    const marginAt = createMargin(plan.laid, index, work, profile);

    const total = arts.reduce((sum, a) => sum + measure(a.regions), 0);
    const spacing = Math.max(SPACING_MM, total / MAX_SAMPLES);
    for (const art of arts) {
      forEachSample(art.regions, spacing, (x, y) => {
        const margin = marginAt(x, y);
        const offMm = Math.max(-FAR_MM, margin / marginAt.fall());
        if (offMm * 1000 > proof.maxOutsideUm) {
          proof.maxOutsideUm = offMm * 1000;
          proof.outsideAt = [x, y];
        }
        if (-offMm * 1000 > proof.maxUncutUm) {
          proof.maxUncutUm = -offMm * 1000;
          proof.uncutAt = [x, y];
        }
        uncut.push(Math.max(0, -offMm * 1000));
        if (uncut.length % 500 === 0) onProgress(Math.min(1, (uncut.length * spacing) / total));
      });
    }
  });
  if (uncut.length === 0) return null;
  uncut.sort((a, b) => a - b);
  proof.samples = uncut.length;
  proof.uncut95Um = uncut[Math.floor(0.95 * (uncut.length - 1))]!;
  return proof;
}

const measure = (rings: Rings): number => {
  let sum = 0;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const r = getRing(rings, k);
    for (let i = 0, j = r.length - 2; i < r.length; j = i, i += 2) sum += Math.hypot(r[i]! - r[j]!, r[i + 1]! - r[j + 1]!);
  }
  return sum;
};

/** Calls back at even steps along every ring, never on a vertex, where an edge has no side. */
function forEachSample(rings: Rings, spacingMm: number, visit: (x: number, y: number) => void): void {
  let ahead = spacingMm / 2;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const r = getRing(rings, k);
    for (let j = r.length - 2, i = 0; i < r.length; j = i, i += 2) {
      const length = Math.hypot(r[i]! - r[j]!, r[i + 1]! - r[j + 1]!);
      for (; ahead < length; ahead += spacingMm) {
        const t = ahead / length;
        visit(r[j]! + t * (r[i]! - r[j]!), r[j + 1]! + t * (r[i + 1]! - r[j + 1]!));
      }
      ahead -= length;
    }
  }
}

/** By how much a cut is deeper than needed to touch a sheet point, mm: the most over all of its path. */
export interface Margin {
  (x: number, y: number): number;
  /** How fast the margin asked for last falls off along the surface, mm per mm. */
  fall(): number;
}

export function createMargin(laid: LaidPaths, cutIndex: number, work: Work, profile: Profile): Margin {
  const pieces: number[] = [];
  for (let i = 1; i < laid.count; i++) {
    if (laid.cut[i] === cutIndex && (laid.kind[i] === MOVE.cut || laid.kind[i] === MOVE.plunge)) pieces.push(i);
  }
  const index = new Flatbush(Math.max(1, pieces.length));
  const s = laid.sheet;
  for (const i of pieces) {
    const [ax, ay, bx, by] = [s[3 * i - 3]!, s[3 * i - 2]!, s[3 * i]!, s[3 * i + 1]!];
    const reach = 1.2 * profile.halfWidthAt(Math.max(s[3 * i - 1]!, s[3 * i + 2]!, 1e-6)) + 0.02;
    const [rx, ry] =
      work.isometric && work.poseInto === work.frameInto
        ? [reach, reach]
        : findSheetReach(work, (ax + bx) / 2, (ay + by) / 2, reach, profile);
    index.add(Math.min(ax, bx) - rx, Math.min(ay, by) - ry, Math.max(ax, bx) + rx, Math.max(ay, by) + ry);
  }
  if (pieces.length === 0) index.add(0, 0, 0, 0);
  index.finish();
  // A level piece whose foot is this much worse than the best cannot win; where the sheet stretches or the tool leans feet say less.
  const worthMm = work.isometric && work.poseInto === work.frameInto ? 0.1 : 2;
  const frame = new Float64Array(6);
  const q = new Float64Array(3);
  // Tool axis, and the way from it to the point, where the cutter comes nearest.
  const axis = new Float64Array(3),
    beside = new Float64Array(3),
    normal = new Float64Array(6);
  let lateral = 0;
  const marginFrom = (i: number, t: number): number => {
    const a = 3 * i - 3,
      b = 3 * i;
    const depth = s[a + 2]! + t * (s[b + 2]! - s[a + 2]!);
    // In the air on its way in; the low rim of a leaning flat cuts when its middle is still that much above.
    if (depth < -profile.flatMm) return -FAR_MM;
    work.poseInto(s[a]! + t * (s[b]! - s[a]!), s[a + 1]! + t * (s[b + 1]! - s[a + 1]!), frame);
    const dx = q[0]! - frame[0]!,
      dy = q[1]! - frame[1]!,
      dz = q[2]! - frame[2]!;
    const drop = -(dx * frame[3]! + dy * frame[4]! + dz * frame[5]!);
    lateral = Math.sqrt(Math.max(0, dx * dx + dy * dy + dz * dz - drop * drop));
    return depth - drop - profile.heightAt(lateral);
  };
  let at = 0,
    from = -1,
    askedX = 0,
    askedY = 0;
  /** The best place along a piece for the point asked for, from its foot on, if that might be better than `best`. */
  let foundAt = 0;
  const climb = (i: number, best: number): number => {
    const ax = s[3 * i - 3]!,
      ay = s[3 * i - 2]!;
    const dx = s[3 * i]! - ax,
      dy = s[3 * i + 1]! - ay;
    const lengthSquared = dx * dx + dy * dy;
    let t = lengthSquared > 0 ? Math.min(1, Math.max(0, ((askedX - ax) * dx + (askedY - ay) * dy) / lengthSquared)) : 1;
    let here = marginFrom(i, t);
    // Where the depth slopes by m along the piece the best place lies m·ℓ/√(cot² − m²) beyond the foot, and is that much better.
    const share = Math.min(1, Math.abs(s[3 * i + 2]! - s[3 * i - 1]!) / (profile.cotBeta * Math.sqrt(lengthSquared) || 1));
    const gain = lateral * profile.cotBeta * (1 - Math.sqrt(1 - share * share));
    if (here > best - worthMm - gain && lengthSquared > 0) {
      // The margin rises towards one place along the piece, off the foot where the depth slopes or the tool leans: close in on it.
      for (let step = 0.25; step > 1e-4; step /= 2) {
        for (const way of [-step, step]) {
          for (;;) {
            const next = Math.min(1, Math.max(0, t + way));
            const there = next === t ? -Infinity : marginFrom(i, next);
            if (!(there > here)) break;
            here = there;
            t = next;
          }
        }
      }
    }
    foundAt = t;
    return here;
  };
  const ask = (x: number, y: number): number => {
    askedX = x;
    askedY = y;
    from = -1;
    work.pointInto(x, y, q);
    let best = -FAR_MM;
    const inReach = index.search(x, y, x, y);
    for (const k of inReach) {
      const here = climb(pieces[k]!, best);
      if (here > best) {
        best = here;
        from = pieces[k]!;
        at = foundAt;
      }
    }
    if (best >= -NEAR_MM) return best;
    // Past the end of a groove, at a corner that a blunt tip cannot reach: not the piece that lacks least depth is nearest, for the
    // same lack is farther off where the flank leans towards the surface.
    let nearest = -Infinity;
    for (const k of index.neighbors(x, y, inReach.length + FAR_LOOKS, FAR_MM)) {
      const here = climb(pieces[k]!, Math.max(-FAR_MM, best));
      if (!(here > -FAR_MM)) continue;
      const off = here / fallFrom(pieces[k]!, foundAt);
      if (off > nearest) {
        nearest = off;
        best = here;
        from = pieces[k]!;
        at = foundAt;
      }
    }
    return best;
  };
  const fallFrom = (i: number, t: number): number => {
    marginFrom(i, t);
    for (let k = 0; k < 3; k++) axis[k] = frame[3 + k]!;
    const d = [0, 1, 2].map((k) => q[k]! - frame[k]!);
    const drop = -(d[0]! * axis[0]! + d[1]! * axis[1]! + d[2]! * axis[2]!);
    for (let k = 0; k < 3; k++) beside[k] = lateral > 0 ? (d[k]! + drop * axis[k]!) / lateral : 0;
    // On the flat or the ball of a tip the flank's slope still tells how far its edge is.
    const rise = profile.cotBeta || 1;
    // Gradient of drop + h(lateral) in space, its part along the surface.
    work.frameInto(askedX, askedY, normal);
    const g = [0, 1, 2].map((k) => -axis[k]! + rise * beside[k]!);
    const out = g[0]! * normal[3]! + g[1]! * normal[4]! + g[2]! * normal[5]!;
    return Math.max(1e-3, Math.hypot(...g.map((v, k) => v - out * normal[3 + k]!)));
  };
  return Object.assign(ask, { fall: () => (from < 0 ? profile.cotBeta || 1 : fallFrom(from, at)) });
}

/** Most by which a print of a given reach goes over the sheet along x and y, where the sheet stretches or the tool leans. */
function findSheetReach(work: Work, x: number, y: number, reachMm: number, profile: Profile): [number, number] {
  const g = new Float64Array(3),
    n = new Float64Array(6),
    a = new Float64Array(6);
  work.metricInto(x, y, g);
  work.frameInto(x, y, n);
  work.poseInto(x, y, a);
  const cos = Math.min(1, n[3]! * a[3]! + n[4]! * a[4]! + n[5]! * a[5]!);
  const sin = Math.sqrt(Math.max(0, 1 - cos * cos));
  // Where the flank opens away from the surface, the print runs out by 1 / (cos λ − sin λ·tan β).
  const opening = Math.max(0.1, cos - (profile.cotBeta > 0 ? sin / profile.cotBeta : 0));
  const det = Math.max(1e-12, g[0]! * g[2]! - g[1]! * g[1]!);
  return [(reachMm / opening) * Math.sqrt(g[2]! / det), (reachMm / opening) * Math.sqrt(g[0]! / det)];
}
