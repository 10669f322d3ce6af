import type { BlankOf } from '../job/blankSchema';
import { createPatch, type Patch } from '../shape/patch';
import type { ShapeMesh } from '../shape/shapeMesh';
import { traceGeodesic } from './meshWalk';
import { createPatchFaces, type PatchFaces } from './patchFaces';
import { createLocator, type Locator } from './patchLocator';
import { FLAT_MM_PER_RAD, outsideBox, type Surface, type Walk } from './surface';
import { TRUE_SHEET } from './trueSheet';

/** Half the width of the sheet that stands in for a shape that is not there, mm. */
const STAND_IN_MM = 25;
/** Steps to the foot of a normal, and when it is found, mm. */
const FOOT_STEPS = 12;
const FOOT_MM = 1e-7;
/** Faces sampled to estimate how coarse a mesh is. */
const CHORD_SAMPLES = 500;

const patches = new WeakMap<ShapeMesh, { key: string; patch: Patch | null }>();

/** What a patch depends on besides its mesh. */
export const getPatchKey = (b: BlankOf<'free'>): string =>
  JSON.stringify([b.unitMm, b.pick, b.normal, b.turnDeg, b.creaseDeg, b.mount, b.axisBelowMm]);

/** The patch of a pose, made once and kept for the newest pose of each mesh. */
export function getPatch(blank: BlankOf<'free'>, mesh: ShapeMesh, onProgress?: (share: number) => void): Patch | null {
  const key = getPatchKey(blank);
  const known = patches.get(mesh);
  if (known?.key === key) return known.patch;
  const patch = createPatch(blank, mesh, onProgress);
  patches.set(mesh, { key, patch });
  return patch;
}

/** Hands over a patch that was made elsewhere. */
export const keepPatch = (blank: BlankOf<'free'>, mesh: ShapeMesh, patch: Patch | null): void =>
  void patches.set(mesh, { key: getPatchKey(blank), patch });

/**
 * A patch of a free shape as seen along the normal of the place picked on it: the sheet is the plane through that place, and
 * the surface stands over it. Faces are flat, as they came; normals run smoothly from one to the next.
 * @param mesh Null while it is not there: a flat stand-in takes its place.
 */
export function createFreeSurface(blank: BlankOf<'free'>, mesh: ShapeMesh | null): Surface {
  const patch = mesh ? getPatch(blank, mesh) : null;
  return patch ? createPatchSurface(blank, patch) : createStandIn(blank.mount === 'rotary' ? blank.axisBelowMm : 0);
}

function createStandIn(lift: number): Surface {
  const domain = { minX: -STAND_IN_MM, maxX: STAND_IN_MM, minY: -STAND_IN_MM, maxY: STAND_IN_MM };
  const point = (x: number, y: number, out: Float64Array): void => {
    out[0] = x;
    out[1] = y;
    out[2] = lift;
  };
  return {
    ...common,
    ...TRUE_SHEET,
    domain,
    outline: null,
    flat: true,
    homogeneous: 'everywhere',
    topMm: lift,
    wallAt: () => 0,
    outsideMm: (x, y) => outsideBox(domain, x, y),
    pointInto: point,
    frameInto(x, y, out) {
      point(x, y, out);
      out[3] = 0;
      out[4] = 0;
      out[5] = 1;
    },
    curvatureInto: (_x, _y, out) => void out.fill(0, 0, 2),
    bendInto: (_x, _y, out) => void out.fill(0, 0, 3),
    toSheet: (px, py, pz) => ({ x: px, y: py, heightMm: pz - lift }),
  };
}

const common = {
  hasRims: false,
  developable: false,
  radialNormal: false,
  wallName: 'wall' as const,
  periodMm: null,
  mmPerRad: FLAT_MM_PER_RAD,
  round: false,
  radiusAt: () => FLAT_MM_PER_RAD,
};

function createPatchSurface(blank: BlankOf<'free'>, patch: Patch): Surface {
  const { positions: p, triangles: t, outline, domain } = patch;
  const top = createLocator(p, t, patch.grid);
  const under = createLocator(p, patch.under.triangles, patch.under.grid);
  const { smoothNormal, faceNormal, curvatures } = createPatchFaces(patch, top);
  const n = new Float64Array(3);
  /** How much each face bends on the sheet, worked out when first asked. */
  const bends = new Float32Array(t.length / 3).fill(NaN);

  /** Finds the triangle over (x, y), or the nearest, leaving its corner weights in `top`. */
  const over = (x: number, y: number): number => {
    const f = top.find(x, y, Infinity);
    return f >= 0 ? f : top.findNear(x, y);
  };
  const walkFrom = createWalks(patch, top, faceNormal);
  return {
    ...common,
    chordMm: estimateChord(patch, curvatures),
    domain,
    outline,
    topMm: findTop(p, blank.mount === 'rotary'),
    points: Float64Array.from(p),
    isometric: false,
    flat: false,
    homogeneous: 'nowhere',
    wallAt(x, y) {
      const f = top.find(x, y, Infinity);
      if (f < 0) return Infinity;
      const z = top.height(f);
      const g = under.find(x, y, z - 1e-6);
      const floor = g < 0 ? Infinity : z - under.height(g);
      return blank.mount === 'rotary' ? Math.min(floor, z) : floor;
    },
    outsideMm(x, y) {
      if (top.find(x, y, Infinity) >= 0) return 0;
      let best = Infinity;
      for (let k = 0; k + 1 < outline.starts.length; k++) {
        for (let i = outline.starts[k]!; i < outline.starts[k + 1]!; i++) {
          best = Math.min(best, Math.hypot(outline.xy[2 * i]! - x, outline.xy[2 * i + 1]! - y));
        }
      }
      return best;
    },
    pointInto(x, y, out) {
      const f = over(x, y);
      out[0] = x;
      out[1] = y;
      out[2] = top.height(f);
    },
    frameInto(x, y, out) {
      const f = over(x, y);
      out[0] = x;
      out[1] = y;
      out[2] = top.height(f);
      smoothNormal(f, n);
      out[3] = n[0]!;
      out[4] = n[1]!;
      out[5] = n[2]!;
    },
    metricInto(x, y, out) {
      smoothNormal(over(x, y), n);
      const zx = -n[0]! / n[2]!,
        zy = -n[1]! / n[2]!;
      out[0] = 1 + zx * zx;
      out[1] = zx * zy;
      out[2] = 1 + zy * zy;
    },
    curvatureInto: (x, y, out) => curvatures(over(x, y), out),
    bendInto(x, y, out) {
      const f = over(x, y);
      let steep = bends[f]!;
      if (Number.isNaN(steep)) {
        curvatures(f, out);
        const most = Math.max(Math.abs(out[0]!), Math.abs(out[1]!));
        smoothNormal(over(x, y), n);
        steep = bends[f] = most / (n[2]! * n[2]!);
      }
      out[0] = steep;
      out[1] = steep;
      out[2] = steep;
    },
    walkFrom,
    expInto: (x, y, du, dv, out) => walkFrom(x, y, du, dv).toInto(1, out),
    toSheet(px, py, pz) {
      // The foot of the normal, by going back along the normal from where it is thought to be.
      let x = px,
        y = py,
        heightMm = 0;
      for (let k = 0; k < FOOT_STEPS; k++) {
        const f = over(x, y);
        const z = top.height(f);
        smoothNormal(f, n);
        heightMm = (px - x) * n[0]! + (py - y) * n[1]! + (pz - z) * n[2]!;
        const dx = px - heightMm * n[0]! - x,
          dy = py - heightMm * n[1]! - y;
        x += dx;
        y += dy;
        if (dx * dx + dy * dy < FOOT_MM * FOOT_MM) break;
      }
      return { x, y, heightMm };
    },
  };
}

/** Walks over the faces of a patch, begun along sheet x and square to it. */
function createWalks(
  { positions: p, triangles: t, neighbours }: Patch,
  top: Locator,
  faceNormal: PatchFaces['faceNormal'],
): NonNullable<Surface['walkFrom']> {
  const n = new Float64Array(3);
  return (x, y, du, dv): Walk => {
    const f0 = top.find(x, y, Infinity);
    const start = f0 >= 0 ? f0 : top.findNear(x, y);
    const z = top.height(start);
    faceNormal(start, n);
    // Sheet x on the face: (1, 0, zx).
    const ex = [1, 0, -n[0]! / n[2]!];
    const le = Math.hypot(...ex);
    const u = ex.map((v) => v / le);
    const w = [n[1]! * u[2]! - n[2]! * u[1]!, n[2]! * u[0]! - n[0]! * u[2]!, n[0]! * u[1]! - n[1]! * u[0]!];
    const length = Math.hypot(du, dv);
    const way =
      length > 0
        ? traceGeodesic(
            p,
            t,
            neighbours,
            start,
            [x, y, z],
            [0, 1, 2].map((k) => (du * u[k]! + dv * w[k]!) / length),
          )
        : null;
    return {
      toInto(share, out) {
        out[0] = x;
        out[1] = y;
        return (!way || way(share * length, out)) && f0 >= 0;
      },
    };
  };
}

/** About how far the faces lie from the shape they stand for, mm: chord of a face of the mean size over the mean curvature, a²κ/8. */
function estimateChord({ triangles: t, areaMm2 }: Patch, curvatures: PatchFaces['curvatures']): number {
  const k = new Float64Array(2);
  const faces = t.length / 3;
  const step = Math.max(1, Math.floor(faces / CHORD_SAMPLES));
  let bendSum = 0,
    samples = 0;
  for (let f = 0; f < faces; f += step, samples++) {
    curvatures(f, k);
    bendSum += Math.max(Math.abs(k[0]!), Math.abs(k[1]!));
  }
  const meanEdgeSquared = (2.3 * areaMm2) / Math.max(1, faces);
  return (meanEdgeSquared * bendSum) / Math.max(1, samples) / 8;
}

/** Highest vertex of a whole shape: from the axis where it turns, else over z = 0, mm. */
function findTop(p: Float64Array, turns: boolean): number {
  let top = -Infinity;
  for (let i = 0; i < p.length; i += 3) top = Math.max(top, turns ? Math.hypot(p[i + 1]!, p[i + 2]!) : p[i + 2]!);
  return top;
}
