import { computeBox, type Rings } from '../base/rings';
import { computeLean, type Ground } from '../machine/stance';
import type { Profile } from './profile';

/**
 * A plane in which one piece of lettering is carved: linear in the sheet, so that straight strokes stay straight, and such
 * that the cutter's print on the surface at the piece's middle is a circle there. On a true sheet under a tool that stands
 * along the normal it is the sheet itself.
 */
export interface Chart {
  /** The surface and the tool's stance, in the chart's coordinates. */
  ground: Ground;
  /** Whether it is the sheet itself. */
  plain: boolean;
  toChart(rings: Rings): Rings;
  /** Takes x, y, depth triples back to the sheet. Returns new arrays. */
  toSheet(points: Float64Array): Float64Array;
  /** A leaning tool stands beside the middle of its print: by this much of the print's radius, in the chart. */
  shiftX: number;
  /** √A of the middle: what lies along the lean is drawn shorter by it, 1 if upright. */
  root: number;
  /** How much deeper the low rim of a leaning flat tip lies than its middle, along the tool, mm. */
  tipRiseMm: number;
  /** Whether the surface rises steeper than the cutter's flank, so that it cannot cut there at all. */
  tooSteep: boolean;
}

/** Step for derivatives on the sheet, mm. */
const STEP_MM = 1e-4;
/** A lean less than this is none, and a stretch. */
const NONE = 1e-9;
/** A flank that stands off the surface by less than this all but lies on it, and its groove has no clear edge, radians. */
const MIN_STAND_RAD = (5 * Math.PI) / 180;
/** Least value of cos²λ − sin²λ·tan²β that is used; a flank that stands off by `MIN_STAND_RAD` always has more. */
const MIN_OPENING = 0.02;
/** Number of places along an outline at which the flank's stand is checked. */
const OPENING_CHECKS = 60;

/**
 * The chart of a piece. For a tool axis leaning by λ from the normal towards unit tangent τ, a V of half-angle β at depth d
 * prints an ellipse (p − p_c)²·A + s² = r², with A = cos²λ − sin²λ·tan²β, p along τ, and p_c = r·tan λ·tan β/√A away from the
 * point above the tip. Scaling p by √A makes it a circle whose middle lies r·tan λ·tan β beside that point. Derived here;
 * checked by the swept cone in checks/.
 */
export function createChart(ground: Ground, rings: Rings, profile: Profile): Chart {
  const box = computeBox(rings.xy);
  const cx = (box.minX + box.maxX) / 2,
    cy = (box.minY + box.maxY) / 2;
  const n = new Float64Array(6),
    a = new Float64Array(6);
  ground.frameInto(cx, cy, n);
  ground.poseInto(cx, cy, a);
  const cos = n[3]! * a[3]! + n[4]! * a[4]! + n[5]! * a[5]!;
  const side = [0, 1, 2].map((k) => a[3 + k]! - cos * n[3 + k]!);
  const sin = Math.hypot(...side);
  if (ground.isometric && sin < NONE) return createPlain(ground);

  const p = new Float64Array(3),
    q = new Float64Array(3);
  const along = (dx: number, dy: number): number[] => {
    ground.pointInto(cx + dx, cy + dy, p);
    ground.pointInto(cx - dx, cy - dy, q);
    return [0, 1, 2].map((k) => (p[k]! - q[k]!) / (2 * STEP_MM));
  };
  const px = along(STEP_MM, 0),
    py = along(0, STEP_MM);
  const normal = [n[3]!, n[4]!, n[5]!];
  const e1 = sin >= NONE ? side.map((v) => v / sin) : unit(px);
  const e2 = cross(normal, e1);
  const tanBeta = profile.cotBeta > 0 ? 1 / profile.cotBeta : 0;
  const opening = cos * cos - sin * sin * tanBeta * tanBeta;
  const tooSteep = !(opensAt(ground, cx, cy, tanBeta) && opensAlong(ground, rings, tanBeta));
  const root = Math.sqrt(Math.max(MIN_OPENING, opening));
  // Sheet → chart: columns are the pictures of the sheet's unit vectors.
  const m = [root * dot(px, e1), dot(px, e2), root * dot(py, e1), dot(py, e2)] as const;
  const det = m[0] * m[3] - m[2] * m[1];
  const i = [m[3] / det, -m[1] / det, -m[2] / det, m[0] / det] as const;
  const toX = (u: number, v: number): number => cx + i[0] * u + i[2] * v;
  const toY = (u: number, v: number): number => cy + i[1] * u + i[3] * v;
  const tan = cos > 0 ? sin / cos : Infinity;
  return {
    plain: false,
    tooSteep,
    shiftX: tooSteep ? 0 : tan * tanBeta,
    tipRiseMm: tooSteep ? 0 : profile.flatMm * tan,
    root: tooSteep ? 1 : root,
    ground: {
      isometric: false,
      flat: ground.flat,
      alongNormal: ground.alongNormal,
      pointInto: (u, v, out) => ground.pointInto(toX(u, v), toY(u, v), out),
      frameInto: (u, v, out) => ground.frameInto(toX(u, v), toY(u, v), out),
      poseInto: (u, v, out) => ground.poseInto(toX(u, v), toY(u, v), out),
      curvatureInto: (u, v, out) => ground.curvatureInto(toX(u, v), toY(u, v), out),
    },
    toChart(rings) {
      const xy = new Float64Array(rings.xy.length);
      for (let k = 0; k < xy.length; k += 2) {
        const dx = rings.xy[k]! - cx,
          dy = rings.xy[k + 1]! - cy;
        xy[k] = m[0] * dx + m[2] * dy;
        xy[k + 1] = m[1] * dx + m[3] * dy;
      }
      return { xy, starts: rings.starts };
    },
    toSheet(points) {
      const out = points.slice();
      for (let k = 0; k < out.length; k += 3) {
        out[k] = toX(points[k]!, points[k + 1]!);
        out[k + 1] = toY(points[k]!, points[k + 1]!);
      }
      return out;
    },
  };
}

/** Whether the flank opens away from the surface at a place, so that it cuts there at all. */
function opensAt(ground: Ground, x: number, y: number, tanBeta: number): boolean {
  return computeLean(ground, x, y) + Math.atan(tanBeta) < Math.PI / 2 - MIN_STAND_RAD;
}

/** … and at places all along an outline: on curved stock a letter may lie half in reach and half not. */
function opensAlong(ground: Ground, rings: Rings, tanBeta: number): boolean {
  const step = 2 * Math.max(1, Math.floor(rings.xy.length / 2 / OPENING_CHECKS));
  for (let i = 0; i < rings.xy.length; i += step) if (!opensAt(ground, rings.xy[i]!, rings.xy[i + 1]!, tanBeta)) return false;
  return true;
}

const createPlain = (ground: Ground): Chart => ({
  plain: true,
  tooSteep: false,
  shiftX: 0,
  tipRiseMm: 0,
  root: 1,
  ground,
  toChart: (rings) => rings,
  toSheet: (points) => points,
});

const dot = (a: readonly number[], b: readonly number[]): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
const cross = (a: readonly number[], b: readonly number[]): number[] => [
  a[1]! * b[2]! - a[2]! * b[1]!,
  a[2]! * b[0]! - a[0]! * b[2]!,
  a[0]! * b[1]! - a[1]! * b[0]!,
];
const unit = (a: readonly number[]): number[] => {
  const length = Math.hypot(...a);
  return a.map((v) => v / length);
};
