import { z } from 'zod';
import { computeSignedArea, concatRings, getRing, packRings, type Rings } from '../../base/rings';
import { cutCommon, cutDefaults, depthMm } from '../../job/cutSchema';
import { between } from '../../job/fields';
import { createProfile } from '../profile';
import { getRadiusMm } from '../profileMath';
import type { CutKind, CutLettering } from './kind';

const schema = z.strictObject({
  kind: z.literal('drill'),
  ...cutCommon,
  depthMm: depthMm(0.005),
  /** Where holes are drilled: at the middles of closed shapes, or where lines begin. */
  at: z.enum(['middles', 'starts']),
  /** Whether it is meant to go through. */
  through: z.boolean(),
  /** How long the drill stays at the end of each peck, s. */
  dwellS: between(0, 60, 'between 0 and 60 s'),
});

/** Holes nearer to each other than this are one, mm. */
const SAME_MM = 0.01;
/** A hole as a ring of so many corners, and wider by half: where the drill leans or the sheet is stretched it is no circle of its size. */
const HOLE_CORNERS = 64,
  HOLE_SPREAD = 1.5;

/** Drills holes; levels are pecks. */
export const drill: CutKind<typeof schema> = {
  schema,
  name: 'Drill',
  about: 'drills at the middles of shapes or where lines begin',
  needs: 'closed shapes, or lines',
  cutters: ['drill', 'centre-drill', 'flat', 'v', 'ball-v'],
  cutterName: 'a drill or an end mill',
  create: (id, toolId) => ({
    ...{ kind: 'drill', id, name: 'Drill', toolId, ...cutDefaults, feedMmPerMin: 200, depthMm: 2 },
    ...{ levels: { by: 'step', stepMm: 1, even: true, finishMm: 0 }, at: 'middles', through: false, dwellS: 0 },
  }),
  outlineOnly: true,
  takes: ({ at }) => [at === 'middles' ? 'areas' : 'lines'],
  edge: () => ({ side: 'none', why: 'a hole has the drill’s own edge' }),
  field(cut, lettering, tool) {
    if (cut.at === 'starts') return null;
    const holes = listPlaces(cut.at, lettering).map(([x, y]) => circleAbout(x, y, HOLE_SPREAD * getRadiusMm(tool)));
    return { edges: packRings([]), allowed: packRings(holes), fills: false };
  },
  means: (cut, lettering, { tool }) => {
    const places = listPlaces(cut.at, lettering);
    if (places.length === 0) return { forms: [] };
    return { forms: [{ form: 'holes', places, depthMm: cut.depthMm, profile: createProfile(tool), radiusMm: getRadiusMm(tool) }] };
  },
  isThrough: (cut) => cut.through,
  *plan(cut, lettering) {
    const places: [number, number][] = [];
    for (const [x, y] of listPlaces(cut.at, lettering))
      if (!places.some((p) => Math.hypot(p[0] - x, p[1] - y) < SAME_MM)) places.push([x, y]);
    yield 1;
    const strokes = places.map(([x, y]) => Float64Array.of(x, y, cut.depthMm));
    return { strokes, deepestMm: strokes.length > 0 ? cut.depthMm : 0, faults: [], holes: true };
  },
};

const circleAbout = (x: number, y: number, r: number): number[] =>
  Array.from({ length: HOLE_CORNERS }, (_, k) => (2 * Math.PI * k) / HOLE_CORNERS).flatMap((t) => [
    x + r * Math.cos(t),
    y + r * Math.sin(t),
  ]);

function listPlaces(at: 'middles' | 'starts', lettering: readonly CutLettering[]): [number, number][] {
  if (at === 'middles') {
    const rings = concatRings(lettering.map((l) => l.areas));
    return Array.from({ length: rings.starts.length - 1 }, (_, k) => getRing(rings, k))
      .filter((ring) => computeSignedArea(ring) > 0)
      .map(findMiddle);
  }
  const lines = concatRings(lettering.map((l) => l.lines));
  return Array.from({ length: lines.starts.length - 1 }, (_, k) => firstOf(lines, k));
}

const firstOf = (lines: Rings, k: number): [number, number] => [lines.xy[2 * lines.starts[k]!]!, lines.xy[2 * lines.starts[k]! + 1]!];

/** Centroid of a ring's area: ∫x dA / A by its edges. */
function findMiddle(ring: Float64Array): [number, number] {
  const n = ring.length / 2;
  const [x0, y0] = [ring[0]!, ring[1]!];
  let area = 0,
    sx = 0,
    sy = 0;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const [ax, ay, bx, by] = [ring[2 * i]! - x0, ring[2 * i + 1]! - y0, ring[2 * j]! - x0, ring[2 * j + 1]! - y0];
    const cross = ax * by - bx * ay;
    area += cross;
    sx += (ax + bx) * cross;
    sy += (ay + by) * cross;
  }
  return [x0 + sx / (3 * area), y0 + sy / (3 * area)];
}
