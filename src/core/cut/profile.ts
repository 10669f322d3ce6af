import { InvariantError } from '../base/invariant';
import type { Tool } from '../job/schema';

/**
 * A cutter's profile of revolution about its axis, tip at height 0.
 * `heightAt(l)` is the height at which the profile reaches half-width l; `halfWidthAt(h)` its inverse (the largest
 * half-width at or below h). Both non-decreasing; a V's cone is taken as going on above the cutter's own size.
 */
export interface Profile {
  /** Half-width of the flat at the tip, mm; 0 for a point or a ball. */
  flatMm: number;
  /** cot of the half-angle for a V: rise for each mm of half-width; 0 for a flat end mill. */
  cotBeta: number;
  ballRadiusMm: number;
  heightAt(halfWidthMm: number): number;
  halfWidthAt(heightMm: number): number;
}

/**
 * The profile of a V cutter with a flat tip: half-width w at height (w − t/2)/tan β. Elementary.
 * @param includedDeg Included angle 2β, degrees; in (0, 180).
 * @param tipMm Width t of the flat, mm; ≥ 0.
 */
export function createVProfile(includedDeg: number, tipMm: number): Profile {
  const tanBeta = Math.tan((includedDeg * Math.PI) / 360);
  if (!(includedDeg > 0 && includedDeg < 180) || !(tipMm >= 0))
    throw new InvariantError('createVProfile', 'angle or tip out of range', [includedDeg, tipMm]);
  const half = tipMm / 2;
  const cot = 1 / tanBeta;
  return {
    flatMm: half,
    cotBeta: cot,
    ballRadiusMm: 0,
    heightAt: (l) => (l > half ? (l - half) * cot : 0),
    halfWidthAt: (h) => (h > 0 ? half + h * tanBeta : 0),
  };
}

/**
 * The profile of a V cutter with a ball tip of radius b tangent to the cone: half-width √(2bh − h²) up to
 * h = b(1 − sin β), then h·tan β + b(1 − sin β)/cos β. Elementary.
 */
export function createBallVProfile(includedDeg: number, ballRadiusMm: number): Profile {
  const beta = (includedDeg * Math.PI) / 360;
  const b = ballRadiusMm;
  if (!(beta > 0 && beta < Math.PI / 2) || !(b >= 0)) {
    throw new InvariantError('createBallVProfile', 'angle or radius out of range', [includedDeg, ballRadiusMm]);
  }
  const tanBeta = Math.tan(beta);
  const joinHeight = b * (1 - Math.sin(beta));
  const joinWidth = b * Math.cos(beta);
  const coneOffset = (b * (1 - Math.sin(beta))) / Math.cos(beta);
  return {
    flatMm: 0,
    cotBeta: 1 / tanBeta,
    ballRadiusMm: b,
    heightAt: (l) => (l <= 0 ? 0 : l <= joinWidth ? b - Math.sqrt(b * b - l * l) : (l - coneOffset) / tanBeta),
    halfWidthAt: (h) => (h <= 0 ? 0 : h <= joinHeight ? Math.sqrt(2 * b * h - h * h) : h * tanBeta + coneOffset),
  };
}

/** The profile of an end mill: flat, with round corners, or a ball. @param cornerMm Radius of the corner, in [0, radiusMm]. */
export function createMillProfile(radiusMm: number, cornerMm: number): Profile {
  const c = cornerMm,
    flatMm = radiusMm - cornerMm;
  if (!(radiusMm > 0 && flatMm >= 0 && c >= 0))
    throw new InvariantError('createMillProfile', 'radius or corner out of range', [radiusMm, c]);
  return {
    flatMm,
    cotBeta: 0,
    ballRadiusMm: c,
    heightAt: (l) => (l <= flatMm ? 0 : l > radiusMm ? Infinity : c - Math.sqrt(Math.max(0, c * c - (l - flatMm) * (l - flatMm)))),
    halfWidthAt: (h) => (h <= 0 ? 0 : h >= c ? radiusMm : flatMm + Math.sqrt(2 * c * h - h * h)),
  };
}

/** The profile of a tool of the crib. */
export function createProfile(tool: Tool): Profile {
  const half = tool.diameterMm / 2;
  switch (tool.kind) {
    case 'v':
    case 'half-round':
    case 'drag':
      return createVProfile(tool.includedDeg, tool.tipMm);
    case 'drill':
    case 'centre-drill':
      return createVProfile(tool.includedDeg, 0);
    case 'ball-v':
    case 'taper-ball':
      return createBallVProfile(tool.includedDeg, tool.tipMm / 2);
    case 'flat':
      return createMillProfile(half, 0);
    case 'bull':
      return createMillProfile(half, Math.min(half, tool.cornerMm));
    case 'ball':
      return createMillProfile(half, half);
  }
}

/** Half-width of the widest flat end among cutters, 0 for none, mm. */
export const getWidestFlatMm = (tools: readonly Tool[]): number => Math.max(0, ...tools.map((t) => createProfile(t).flatMm));
