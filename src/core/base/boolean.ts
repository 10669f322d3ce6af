import { ClipperOffset, EndType, FillRule, intersect, JoinType, type Path64, type Paths64, union } from 'clipper2-ts';
import { findClusters } from './clusters';
import { computeBox, computeSignedArea, concatRings, getRing, packRings, type Rings } from './rings';

/** One unit of the integer grid on which regions are cleaned, mm. */
export const GRID_MM = 1e-4;
/** So few rings are united in one sweep. */
const FEW_RINGS = 12;

/** Rings as integer paths on the grid. */
function toPaths(rings: Rings): Paths64 {
  const paths: Paths64 = [];
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    // The clipper trips over a ring without points, and a ring of two has no inside.
    if (rings.starts[k + 1]! - rings.starts[k]! < 3) continue;
    const path: Path64 = [];
    for (let i = rings.starts[k]!; i < rings.starts[k + 1]!; i++) {
      path.push({ x: Math.round(rings.xy[2 * i]! / GRID_MM), y: Math.round(rings.xy[2 * i + 1]! / GRID_MM) });
    }
    paths.push(path);
  }
  return paths;
}

function fromPaths(paths: Paths64): Rings {
  return packRings(
    paths
      .filter((p) => p.length >= 3)
      .map((p) => {
        const xy = new Float64Array(2 * p.length);
        p.forEach((v, i) => {
          xy[2 * i] = v.x * GRID_MM;
          xy[2 * i + 1] = v.y * GRID_MM;
        });
        return xy;
      }),
  );
}

/**
 * The union of rings by the non-zero rule: no crossings, outer rings counter-clockwise, holes clockwise, on the grid.
 * @returns New rings; empty for none. Crossings left by rounding are at most one grid unit deep.
 * Rings whose boxes do not meet, directly or by way of others, are united apart: the sweep looks at every edge at a height,
 * and a thousand letters side by side took 40 s in one sweep.
 * O((n + k) log n) for k crossings, while few edges lie at one height. Source: Vatti's clipping as in Clipper2 (npm clipper2-ts).
 */
export function unionRings(rings: Rings): Rings {
  const count = rings.starts.length - 1;
  if (count <= FEW_RINGS) return fromPaths(union(toPaths(rings), FillRule.NonZero));
  const parts = Array.from({ length: count }, (_, k) => getRing(rings, k));
  const clusters = findClusters(parts.map(computeBox));
  return concatRings(clusters.map((own) => fromPaths(union(toPaths(packRings(own.map((k) => parts[k]!))), FillRule.NonZero))));
}

/** Fills by the even-odd or the non-zero rule, and cleans like `unionRings`. */
export const fillRings = (rings: Rings, rule: 'evenodd' | 'nonzero'): Rings =>
  fromPaths(union(toPaths(rings), rule === 'evenodd' ? FillRule.EvenOdd : FillRule.NonZero));

/** Area that two regions share, mm². O((n + k) log n). */
export const intersectionArea = (a: Rings, b: Rings): number => sharedRings(a, b).areaMm2;

/** What two regions share. O((n + k) log n). */
export function sharedRings(a: Rings, b: Rings): { rings: Rings; areaMm2: number } {
  if (a.xy.length === 0 || b.xy.length === 0) return { rings: packRings([]), areaMm2: 0 };
  const rings = fromPaths(intersect(toPaths(a), toPaths(b), FillRule.NonZero));
  let areaMm2 = 0;
  for (let k = 0; k + 1 < rings.starts.length; k++) areaMm2 += computeSignedArea(getRing(rings, k));
  return { rings, areaMm2 };
}

/**
 * Moves every edge of clean rings by a distance, > 0 outward, < 0 inward; corners rounded.
 * @param arcToleranceMm Largest chord error on the arcs, mm; > 0.
 * @returns New rings; empty where all shrinks away. O((n + k) log n).
 */
export function offsetRings(rings: Rings, distanceMm: number, arcToleranceMm: number): Rings {
  const offset = new ClipperOffset(2, arcToleranceMm / GRID_MM);
  offset.addPaths(toPaths(rings), JoinType.Round, EndType.Polygon);
  const out: Paths64 = [];
  offset.execute(distanceMm / GRID_MM, out);
  return fromPaths(out);
}
