import { computeLean, type Work } from '../../machine/stance';
import type { Answerer, Depths } from '../answerer';
import type { BandMeaning } from '../meaning';
import { Outlines } from '../outlines';
import { createPrint, FIT_MM, findLeanAround, findWidest, growBox, MOST_WIDENED, SAME_WALL_MM, widenLeaning } from './reach';
import { StandingCutter } from './standing';

/** A corner is one that stays the nearest for 10° to one side, tangent: more than the corners of a flattened curve. */
const CORNER_TAN = Math.tan(Math.PI / 18);
/** Steps by which the way beside an outline is sought: of some millimetres to less than a micrometre. */
const WAY_HALVINGS = 14;

export function answerBand(band: BandMeaning, work: Work): Answerer {
  const { lines, isClosed, side, depthMm, leastMm, wallMm, profile, radiusMm, spreadMm, isSharp } = band;
  const outlines = new Outlines(lines, isClosed, work);
  const print = createPrint(profile, radiusMm, depthMm);
  const { printMm } = print;
  const wayMm = side === 'on' ? 0 : wallMm + printMm;
  const widestMm = findWidest(print, lines, work);
  const reach = wayMm - printMm + 2 * (side === 'on' ? printMm : widestMm) + spreadMm + 0.5;
  const cutter = new StandingCutter(work, profile, radiusMm);
  const { ray, pose } = cutter;
  const cut = (x: number, y: number, depth: number, asideMm: number): number => cutter.cutFrom(x, y, depth, asideMm, asideMm > 0);
  const curvature = new Float64Array(2);
  const slackUnder = (lean: number): number => depthMm * (1 / Math.cos(lean) - 1) + profile.flatMm * Math.tan(lean) + 0.002;
  const slackAt = (x: number, y: number): number => (work.alongNormal ? 0.002 : slackUnder(computeLean(work, x, y)));
  const askOn = (x: number, y: number, slackMm: number, out: Depths, foundMm: number): void => {
    const slack = 0.002;
    cutter.askAt(x, y);
    const nearest: number[] = [],
      others: number[] = [];
    const add = (px: number, py: number, _: number, isNearest: boolean): void => void (isNearest ? nearest : others).push(px, py);
    outlines.visitNear(x, y, widenLeaning(print, work, x, y) + slackMm, add);
    if (!work.alongNormal) {
      // A tool that leans comes to the ray from beside, and a flat end by its rim from below.
      work.poseInto(x, y, pose);
      const deepest = depthMm + profile.flatMm * Math.tan(computeLean(work, x, y));
      for (const depth of [deepest, deepest / 2]) {
        const [px, py, pz] = [0, 1, 2].map((k) => ray[k]! + depth * (pose[3 + k]! - ray[3 + k]!)) as [number, number, number];
        const at = work.toSheet(px, py, pz);
        outlines.visitNear(at.x, at.y, printMm + slackMm, add);
      }
    }
    for (let i = 0; i < nearest.length; i += 2)
      out.mustMm = Math.max(out.mustMm, cut(nearest[i]!, nearest[i + 1]!, leastMm, slackMm) - slack);
    const allow = (places: readonly number[]): void => {
      for (let i = 0; i < places.length && !(out.mayMm > foundMm); i += 2)
        out.mayMm = Math.max(out.mayMm, cut(places[i]!, places[i + 1]!, depthMm, -slackMm) + slack);
    };
    for (const places of [nearest, others]) allow(places);
    if (work.alongNormal || !(foundMm > out.mayMm)) return;
    // Where the tool stands it may lean more than here, and reach farther.
    others.length = 0;
    outlines.visitNear(x, y, widestMm + slackMm, add);
    allow(others);
  };
  /** Whether a corner wider than a curve's own is what a place is nearest to: round it a sharp way runs out to a point, not about it. */
  const isBesideCorner = (x: number, y: number, nearX: number, nearY: number): boolean =>
    [CORNER_TAN, -CORNER_TAN].some((t) => {
      const at = outlines.findNearest(x - t * (y - nearY), y + t * (x - nearX), reach);
      return at !== null && Math.hypot(at.x - nearX, at.y - nearY) < SAME_WALL_MM;
    });
  /** How far from a place of the outline the cutter stands whose flank comes to it: nearer uphill of it than downhill. */
  const findWay = (x: number, y: number, ux: number, uy: number): number => {
    let low = 0,
      high = wallMm + MOST_WIDENED * printMm;
    for (let k = 0; k < WAY_HALVINGS; k++) {
      const s = (low + high) / 2;
      if (outlines.findClearance(x + s * ux, y + s * uy, depthMm, profile, reach) < wallMm) low = s;
      else high = s;
    }
    return high;
  };
  const askBeside = (x: number, y: number, slackMm: number, out: Depths, foundMm: number): void => {
    const near = outlines.findNearest(x, y, reach);
    if (!near) return;
    const away = near.lateralMm;
    const isInside = outlines.isInside(x, y);
    if ((side === 'inside') !== isInside) {
      if (away < slackMm) out.mayMm = depthMm;
      return;
    }
    const slack = slackAt(x, y);
    work.curvatureInto(x, y, curvature);
    const hollow = (Math.max(0, -curvature[1]!) * radiusMm * radiusMm) / 2;
    const widest = widenLeaning(print, work, x, y);
    if (away > wallMm - slackMm && away < wayMm - printMm + 2 * widest + spreadMm + slackMm) {
      out.mayMm = depthMm + slack + hollow;
      if (foundMm > out.mayMm && !work.alongNormal) out.mayMm = depthMm + slackUnder(findLeanAround(work, x, y, profile.flatMm)) + hollow;
    }
    if (away < 1e-6) return;
    const [ux, uy] = [(x - near.x) / away, (y - near.y) / away];
    const way = work.alongNormal || profile.cotBeta === 0 ? wayMm : findWay(near.x, near.y, ux, uy);
    const [qx, qy] = [near.x + way * ux, near.y + way * uy];
    // The way is there where nothing else is nearer.
    if (outlines.isInside(qx, qy) !== isInside) return;
    if (outlines.findClearance(qx, qy, depthMm, profile, reach) < wallMm - 2e-3) return;
    if (!(work.flat && work.alongNormal)) {
      const [px, py] = [near.x + (way + FIT_MM) * ux, near.y + (way + FIT_MM) * uy];
      if (outlines.findClearance(px, py, depthMm, profile, reach) < wallMm - 2e-3) return;
    }
    cutter.askAt(x, y);
    const rim = curvature[0]! > 0 ? Math.max(0, curvature[0]!) * radiusMm * radiusMm * 0.5 : 0;
    const must = cut(qx, qy, leastMm, slackMm + 2e-3) - 2 * slack - 2 * hollow - Math.min(rim, 0.01);
    if (must > foundMm && isSharp && isBesideCorner(x, y, near.x, near.y)) return;
    out.mustMm = Math.max(0, must);
  };
  return {
    form: 'band',
    box: growBox(outlines.box, (reach * widestMm) / printMm, work),
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out, foundMm) {
      out.mustMm = out.mayMm = 0;
      if (side === 'on') askOn(x, y, slackMm, out, foundMm);
      else askBeside(x, y, slackMm, out, foundMm);
    },
  };
}
