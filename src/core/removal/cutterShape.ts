import { InvariantError } from '../base/invariant';
import type { Tool } from '../job/schema';

/**
 * A part of a cutter's body of revolution, between two heights over the tip. Every kind is a quadric about the tool's axis: with w from
 * the part's centre, which stands `centreMm` over the tip, a point is inside where w·w − m (w·a)² ≤ r².
 * A cone of half-angle β has m = 1 + tan²β and its centre at the apex; a cylinder m = 1; a ball m = 0.
 */
export interface ShapePart {
  m: number;
  centreMm: number;
  radiusSquared: number;
  fromMm: number;
  toMm: number;
}

/**
 * A cutter's body: convex, its tip at height 0, parts from the tip upward (over the corner, where one is round). It goes on upward as its
 * last part does, so that what stands above the flutes cuts as well; whether that may touch the blank is judged elsewhere.
 */
export interface CutterShape {
  /** Half-width of the flat at the tip, mm; 0 for a point or a ball. */
  flatMm: number;
  /** Half-width up to which the tip is round, mm; 0 where it is not. */
  roundMm: number;
  /** tan of the half-angle of the cone above the tip; 0 where the flank is straight up. */
  tanBeta: number;
  /** Half-width that the cone's lines have at the tip's height, mm: where lines along the flank begin. */
  coneFootMm: number;
  /** Largest half-width, mm. */
  halfWidthMm: number;
  /** Radius of the round corner between a mill's flat and its flank, mm: a part of a torus, which is not among `parts`; 0 if sharp. */
  cornerMm: number;
  parts: readonly ShapePart[];
}

const cylinder = (radiusMm: number, fromMm: number): ShapePart => ({
  m: 1,
  centreMm: 0,
  radiusSquared: radiusMm * radiusMm,
  fromMm,
  toMm: Infinity,
});

const cone = (tanBeta: number, widthAtTipMm: number, fromMm: number, toMm: number): ShapePart => ({
  m: 1 + tanBeta * tanBeta,
  centreMm: -widthAtTipMm / tanBeta,
  radiusSquared: 0,
  fromMm,
  toMm,
});

const ball = (radiusMm: number, toMm: number): ShapePart => ({
  m: 0,
  centreMm: radiusMm,
  radiusSquared: radiusMm * radiusMm,
  fromMm: 0,
  toMm,
});

/**
 * A V with a flat tip, a drill, or a sharp point.
 * @param tanBeta tan of the half-angle, > 0. @param flatMm Half-width of the flat, ≥ 0. @param halfWidthMm Of the whole cutter.
 */
export function createConeShape(tanBeta: number, flatMm: number, halfWidthMm: number): CutterShape {
  check('createConeShape', tanBeta > 0 && flatMm >= 0 && halfWidthMm >= flatMm, [tanBeta, flatMm, halfWidthMm]);
  const coneToMm = (halfWidthMm - flatMm) / tanBeta;
  const parts = [cone(tanBeta, flatMm, 0, coneToMm), cylinder(halfWidthMm, coneToMm)];
  return { flatMm, roundMm: 0, tanBeta, coneFootMm: flatMm, halfWidthMm, cornerMm: 0, parts };
}

/** A cone that touches a ball at its tip: a V with a ball tip, or a tapered ball. @param ballMm The ball's radius, > 0. */
export function createRoundedConeShape(tanBeta: number, ballMm: number, halfWidthMm: number): CutterShape {
  const beta = Math.atan(tanBeta);
  const joinHeight = ballMm * (1 - Math.sin(beta));
  const joinWidth = ballMm * Math.cos(beta);
  check('createRoundedConeShape', tanBeta > 0 && ballMm > 0 && halfWidthMm >= joinWidth, [tanBeta, ballMm, halfWidthMm]);
  const foot = joinWidth - joinHeight * tanBeta;
  const coneToMm = (halfWidthMm - foot) / tanBeta;
  const parts = [ball(ballMm, joinHeight), cone(tanBeta, foot, joinHeight, coneToMm), cylinder(halfWidthMm, coneToMm)];
  return { flatMm: 0, roundMm: joinWidth, tanBeta, coneFootMm: foot, halfWidthMm, cornerMm: 0, parts };
}

/** A ball end. @param radiusMm Of the ball and of what stands on it, > 0. */
export function createBallShape(radiusMm: number): CutterShape {
  check('createBallShape', radiusMm > 0, radiusMm);
  const parts = [ball(radiusMm, radiusMm), cylinder(radiusMm, radiusMm)];
  return { flatMm: 0, roundMm: radiusMm, tanBeta: 0, coneFootMm: radiusMm, halfWidthMm: radiusMm, cornerMm: 0, parts };
}

/**
 * A flat end mill, with its corner rounded or not (bull nose).
 * @param cornerMm Radius of the corner, in [0, radiusMm).
 */
export function createMillShape(radiusMm: number, cornerMm = 0): CutterShape {
  check('createMillShape', radiusMm > 0 && cornerMm >= 0 && cornerMm < radiusMm, [radiusMm, cornerMm]);
  const roundMm = cornerMm > 0 ? radiusMm : 0;
  const parts = [cylinder(radiusMm, cornerMm)];
  return { flatMm: radiusMm - cornerMm, roundMm, tanBeta: 0, coneFootMm: radiusMm, halfWidthMm: radiusMm, cornerMm, parts };
}

/** The body of a tool of the crib. */
export function createCutterShape(tool: Tool): CutterShape {
  const tanBeta = Math.tan((tool.includedDeg * Math.PI) / 360);
  const half = tool.diameterMm / 2;
  switch (tool.kind) {
    case 'v':
    case 'half-round':
    case 'drag':
      return createConeShape(tanBeta, tool.tipMm / 2, Math.max(half, tool.tipMm / 2 + 1e-6));
    case 'drill':
    case 'centre-drill':
      return createConeShape(tanBeta, 0, half);
    case 'ball-v':
    case 'taper-ball':
      return tool.tipMm > 0
        ? createRoundedConeShape(tanBeta, tool.tipMm / 2, Math.max(half, tool.tipMm / 2))
        : createConeShape(tanBeta, 0, half);
    case 'flat':
      return createMillShape(half);
    case 'bull':
      return tool.cornerMm < half ? createMillShape(half, tool.cornerMm) : createBallShape(half);
    case 'ball':
      return createBallShape(half);
  }
}

/** Half-width of the body at a height over its tip, mm. For drawing. */
export function widthAt(shape: CutterShape, heightMm: number): number {
  const { flatMm, cornerMm } = shape;
  if (heightMm < cornerMm) return flatMm + Math.sqrt(Math.max(0, heightMm * (2 * cornerMm - heightMm)));
  const part = shape.parts.find((p) => heightMm <= p.toMm) ?? shape.parts[shape.parts.length - 1]!;
  const c = heightMm - part.centreMm;
  return Math.sqrt(Math.max(0, part.radiusSquared + (part.m - 1) * c * c));
}

function check(where: string, holds: boolean, given: unknown): void {
  if (!holds) throw new InvariantError(where, 'sizes out of range', given);
}
