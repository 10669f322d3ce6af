import { computeBox, type Box } from '../base/rings';
import { createProfile } from '../cut/profile';
import { getRadiusMm } from '../cut/profileMath';
import { computeLean, type Work } from '../machine/stance';
import { sinkWork } from '../machine/sunkWork';
import type { AreaMeaning, BandMeaning, FlankMeaning, HoleMeaning, Meaning, MiddleMeaning, RoofMeaning } from './meaning';
import { Outlines } from './outlines';
import { computeToolDepth } from './toolDepth';

/** Depths of a place, mm along the normal: what must be gone at the least, and what may be gone at the most. */
export interface Depths {
  mustMm: number;
  mayMm: number;
}

/** A form of a meaning that can be asked. */
export interface Answerer {
  form: Meaning['form'];
  /** Part of the sheet that it says something of; beside it nothing must and nothing may be gone. */
  box: Box;
  /** Deepest that it ever allows, mm. */
  deepestMm: number;
  /**
   * Exact depths at a sheet place. @param slackMm By how far aside an edge may lie, mm.
   * @param foundMm Depth that was found there: ways to allow more are looked for only where it is more than is allowed at once.
   * O(segments near the place).
   */
  ask(x: number, y: number, slackMm: number, out: Depths, foundMm: number): void;
  /** Outlines it goes by; their inside is what it fills, for the forms that fill. */
  outlines: Outlines | null;
}

/** A floor between passes stands so much higher; the passes along a wall on a convex blank so much. */
const CUSP_MM = 0.021;
const RIM_MM = 0.052;
/** … and between the passes of a V on a floor. */
const V_FLOOR_MM = 0.045;
/** A cutter is asked for where it fits with so much to spare, mm. */
const FIT_MM = 0.02;
/** A place and those about it. */
const AROUND = [
  [0, 0],
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;
/** Steps by which the middle of a stroke is sought. */
const HALVINGS = 7;
/** Two contacts lie on opposite sides of a stroke if their directions differ by more than this, cosine. */
const OPPOSITE_COS = -0.85;
/** A tip that stands nearer to an outline than its own flat by more than this does not stand there, mm. */
const CLEAR_MM = 0.002;
/** No tool is taken to lean by more, radians. */
const MOST_LEAN_RAD = 1.4;
/** A flank is taken to stand no steeper than this, radians. */
const LEAST_FLANK_RAD = 0.01;
/** Directions in which a blunt tip is moved aside. */
const CLIMB_WAYS = 8;
/** A corner is one that stays the nearest for 10° to one side, tangent: more than the corners of a flattened curve. */
const CORNER_TAN = Math.tan(Math.PI / 18);
/** … and by so much smaller steps where none is deeper. */
const CLIMB_SHRINK = 0.6;
/** Steps by which the way beside an outline is sought: of some millimetres to less than a micrometre. */
const WAY_HALVINGS = 14;
/** A print is not sought wider than so many times that of an upright tool. */
const MOST_WIDENED = 12;
/** A contact so near to another is the same wall's, mm, and so much more of the way from it: the deepest is not quite the nearest. */
const SAME_WALL_MM = 0.01;
const SAME_WALL_SHARE = 0.05;

export function createAnswerer(meaning: Meaning, work: Work): Answerer {
  switch (meaning.form) {
    case 'area':
      return answerArea(meaning, work);
    case 'roof':
      return answerRoof(meaning, work);
    case 'band':
      return answerBand(meaning, work);
    case 'holes':
      return answerHoles(meaning, work);
    case 'middle':
      return answerMiddle(meaning, work);
    case 'flank':
      return answerFlank(meaning, work);
  }
}

/** A box grown by a distance on the surface; the sheet may be stretched. */
function growBox(box: Box, byMm: number, work: Work): Box {
  const metric = new Float64Array(3);
  let stretch = 1;
  for (const x of [box.minX, (box.minX + box.maxX) / 2, box.maxX]) {
    for (const y of [box.minY, box.maxY]) {
      work.metricInto(x, y, metric);
      const [e, f, g] = metric as unknown as [number, number, number];
      const least = (e + g - Math.hypot(e - g, 2 * f)) / 2;
      stretch = Math.max(stretch, 1 / Math.sqrt(Math.max(1e-3, least)));
    }
  }
  const by = byMm * stretch * 1.1;
  return { minX: box.minX - by, minY: box.minY - by, maxX: box.maxX + by, maxY: box.maxY + by };
}

function answerArea({ region, depthMm, wallMm, cutters }: AreaMeaning, work: Work): Answerer {
  const outlines = new Outlines(region, true, work);
  const mills = cutters.map(({ tool, wallMm: offMm }) => {
    const profile = createProfile(tool);
    return { offMm, profile, flatMm: profile.flatMm, radiusMm: getRadiusMm(tool), atSurfaceMm: profile.halfWidthAt(depthMm) };
  });
  const widest = Math.max(0, ...mills.map((m) => m.radiusMm));
  const reach = 2 * widest + wallMm + 1;
  const curvature = new Float64Array(2);
  // Where offsets in a plane are not those on the blank a cutter that only just fits may be left out.
  const fitMm = work.flat && work.alongNormal ? 0 : FIT_MM;
  return {
    form: 'area',
    box: growBox(outlines.box, 0.1, work),
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out, foundMm) {
      out.mustMm = out.mayMm = 0;
      const near = outlines.findNearest(x, y, reach);
      const away = near?.lateralMm ?? reach;
      const isInside = outlines.isInside(x, y);
      if (!isInside && !(away < slackMm)) return;
      const lean = work.alongNormal ? 0 : computeLean(work, x, y);
      work.curvatureInto(x, y, curvature);
      const leaning = 0.01 * depthMm * Math.tan(lean);
      const flat = Math.max(0, ...mills.map((m) => m.flatMm));
      const hollowMm = (Math.max(0, -curvature[1]!) * widest * widest) / 2;
      if (away > wallMm - slackMm || !isInside) {
        out.mayMm = depthMm + flat * Math.tan(lean) + leaning + hollowMm;
        if (foundMm > out.mayMm && !work.alongNormal)
          out.mayMm = depthMm + flat * Math.tan(findLeanAround(work, x, y, flat)) + leaning + hollowMm;
      }
      if (!isInside) return;
      for (const { offMm, profile, flatMm, radiusMm, atSurfaceMm } of mills) {
        // Where the cutter stands that reaches it: over it, or as far from the wall as the wall lets it.
        // A ray leaves the wall of a cutter that leans, and in a hollow.
        const aslant = depthMm * (Math.tan(lean) + Math.max(0, -curvature[1]!) * radiusMm);
        const off = offMm + atSurfaceMm + aslant - away;
        let [qx, qy] = [x, y];
        if (off > 0) {
          if (!near || away < 1e-6 || off > radiusMm - slackMm) continue;
          const by = (off - aslant + slackMm + fitMm) / away;
          qx += by * (x - near.x);
          qy += by * (y - near.y);
          if (!outlines.isInside(qx, qy)) continue;
        }
        if (outlines.findClearance(qx, qy, depthMm, profile, reach) < offMm + (off > 0 ? 0 : slackMm)) continue;
        const lost = off > 0 ? profile.heightAt(off + 2 * slackMm) : 0;
        if (!(lost < depthMm)) continue;
        const floor = CUSP_MM + (curvature[0]! > 0 ? RIM_MM : 0) + 2 * flatMm * Math.tan(lean) + leaning + 2 * hollowMm;
        out.mustMm = Math.max(out.mustMm, depthMm - lost - floor);
      }
    },
  };
}

/** How much a tool leans at the most at a place and as far about it as its rim is wide: from there the rim goes deepest, radians. */
function findLeanAround(work: Work, x: number, y: number, rimMm: number): number {
  let most = 0;
  for (const [dx, dy] of AROUND) most = Math.max(most, computeLean(work, x + dx * rimMm, y + dy * rimMm));
  return Math.min(MOST_LEAN_RAD, most);
}

/** How much deeper a leaning cone's flank is a little farther from its axis: towards the side that it leans to it is steeper. */
function riseOver(profile: RoofMeaning['profile'], fromMm: number, byMm: number, lean: number): number {
  const rise = profile.heightAt(fromMm + byMm) - profile.heightAt(fromMm);
  if (lean === 0) return rise;
  const flank = Math.atan2(1, Math.max(1e-3, profile.cotBeta));
  return Math.max(rise / Math.cos(lean), byMm / Math.tan(Math.max(LEAST_FLANK_RAD, flank - lean)));
}

function answerRoof({ region, profile, limitMm, sunkMm, beginMm, millFlatMm }: RoofMeaning, real: Work): Answerer {
  const work = sinkWork(real, sunkMm);
  const outlines = new Outlines(region, true, work);
  // Beyond this the limit holds, whatever is there.
  const reach = 1.3 * profile.halfWidthAt(limitMm) + 0.2;
  /** Half-width of what is blunt at the tip: the flat, or where a ball goes over into its cone. */
  const bluntMm = Math.max(profile.flatMm, profile.ballRadiusMm);
  const ray = new Float64Array(6),
    pose = new Float64Array(6),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  /** Depth at the ray that was asked, of the cutter that stands at a place at a depth. */
  const cutFrom = (x: number, y: number, depth: number): number => {
    work.poseInto(x, y, pose);
    for (let k = 0; k < 3; k++) {
      axis[k] = pose[3 + k]!;
      tip[k] = pose[k]! - depth * axis[k]!;
    }
    return computeToolDepth(ray, tip, axis, profile, Infinity);
  };
  return {
    form: 'roof',
    box: growBox(outlines.box, 0.1, work),
    deepestMm: sunkMm + limitMm,
    outlines,
    ask(x, y, slackMm, out, foundMm) {
      out.mustMm = out.mayMm = 0;
      const near = outlines.findContact(x, y, profile, reach);
      const isInside = outlines.isInside(x, y);
      const away = near?.lateralMm ?? reach;
      const half = profile.flatMm;
      if (!isInside) {
        if (near && away < slackMm) {
          const lean = work.alongNormal ? 0 : computeLean(work, x, y);
          out.mayMm = sunkMm + Math.min(limitMm, riseOver(profile, half, slackMm - away, lean)) + 1e-3;
        }
        return;
      }
      real.frameInto(x, y, ray);
      const own = Math.min(limitMm, near?.leastMm ?? limitMm);
      let deepest = cutFrom(x, y, own);
      let middle = own;
      let [bestX, bestY] = [x, y];
      const stand = (qx: number, qy: number): { depth: number; cut: number } => {
        const depth = Math.min(limitMm, outlines.findContact(qx, qy, profile, reach)?.leastMm ?? limitMm);
        return { depth, cut: cutFrom(qx, qy, depth) };
      };
      const take = (qx: number, qy: number, { depth, cut }: { depth: number; cut: number }): boolean => {
        middle = Math.max(middle, depth);
        if (!(cut > deepest + 1e-5)) return false;
        deepest = cut;
        [bestX, bestY] = [qx, qy];
        return true;
      };
      /**
       * A blunt tip reaches a place from all about it, and on a curved blank the cutter that makes a wall touches another place of it:
       * steps aside as long as it gets deeper. Whatever it finds is a stance that the outline allows.
       */
      const climb = (x0: number, y0: number, first: number, last: number): void => {
        let [bx, by] = [x0, y0];
        let angle = 0;
        for (let step = first; step > last;) {
          let isDeeper = false;
          for (let k = 0; k < CLIMB_WAYS; k++) {
            angle += (2 * Math.PI) / CLIMB_WAYS;
            const [qx, qy] = [bx + step * Math.cos(angle), by + step * Math.sin(angle)];
            if (!outlines.isInside(qx, qy) || !take(qx, qy, stand(qx, qy))) continue;
            [bx, by] = [qx, qy];
            isDeeper = true;
          }
          // Turned at every round, so that a narrow crest is met along itself.
          angle += Math.PI / CLIMB_WAYS / 2;
          if (!isDeeper) step *= CLIMB_SHRINK;
        }
      };
      if (near && own < limitMm && away > 1e-6) {
        // On from the contact to the middle of the stroke: as far as no other wall is met first. There the cutter stands that makes this
        // wall.
        const [ux, uy] = [(x - near.x) / away, (y - near.y) / away];
        let low = 0,
          high = Infinity;
        for (let k = 0, s = Math.max(half, 0.05); k < HALVINGS || (low === 0 && k < 2 * HALVINGS); k++) {
          const [qx, qy] = [x + s * ux, y + s * uy];
          const met = outlines.findContact(qx, qy, profile, reach);
          const isSame = !met || Math.hypot(met.x - near.x, met.y - near.y) < SAME_WALL_MM + SAME_WALL_SHARE * s;
          const isOn = isSame && outlines.isInside(qx, qy);
          if (isOn) {
            const depth = Math.min(limitMm, met?.leastMm ?? limitMm);
            take(qx, qy, { depth, cut: cutFrom(qx, qy, depth) });
            low = s;
            if (depth >= limitMm) break;
          } else high = s;
          s = high < Infinity ? (low + high) / 2 : 2 * s;
        }
      }
      if (!work.alongNormal) {
        // A tool that leans comes to the ray from beside: where its tip lies on it.
        const [px, py, pz] = [0, 1, 2].map((k) => ray[k]! + middle * (pose[3 + k]! - ray[3 + k]!)) as [number, number, number];
        const at = real.toSheet(px, py, pz);
        if (outlines.isInside(at.x, at.y)) {
          const { cut } = stand(at.x, at.y);
          if (cut > deepest) [deepest, bestX, bestY] = [cut, at.x, at.y];
        }
      }
      const lean = work.alongNormal ? 0 : computeLean(work, x, y);
      // A flank that goes deep stands the steeper against the ray the farther round the blank it is made from.
      work.poseInto(bestX, bestY, pose);
      const aslant = Math.acos(Math.min(1, pose[3]! * ray[3]! + pose[4]! * ray[4]! + pose[5]! * ray[5]!));
      const slope = riseOver(profile, Math.max(half, away), slackMm, Math.max(lean, aslant));
      const leaning = limitMm * (1 / Math.cos(lean) - 1) + half * Math.tan(lean);
      // Where the limit holds an end mill may have made the floor, and its rim goes deeper than its middle.
      const rimMm = own >= limitMm ? millFlatMm * Math.tan(lean) : 0;
      const mostMm = sunkMm / Math.cos(lean) + limitMm + leaning + rimMm + 0.002;
      const isOver = (): boolean => foundMm > deepest + slope && deepest + slope < mostMm - 1e-3;
      if (near && own < limitMm && bluntMm > 0 && isOver())
        climb(x + bluntMm * ((x - near.x) / (away || 1)), y + bluntMm * ((y - near.y) / (away || 1)), bluntMm, bluntMm / 12);
      if (near && own < limitMm && !work.flat && isOver()) climb(bestX, bestY, Math.max(away, reach / 2), Math.max(away, 0.05) / 12);
      // A mill before it clears the floor up to where a sharp cone would meet it: a blunt tip leaves it round there.
      const isFloor = millFlatMm > 0 && away > limitMm / (profile.cotBeta + Math.tan(lean)) - slackMm;
      out.mayMm = isFloor ? mostMm : Math.min(deepest + slope + rimMm + 0.002, mostMm);
      // A groove that is gone already is not cut again, and a floor between passes stands a little higher.
      if (middle > beginMm + 1e-6)
        out.mustMm = Math.max(0, deepest - slope - (middle >= limitMm - 1e-6 ? V_FLOOR_MM + 2 * leaning : 0.002));
    },
  };
}

function answerBand(band: BandMeaning, work: Work): Answerer {
  const { lines, isClosed, side, depthMm, leastMm, wallMm, profile, radiusMm, spreadMm, isSharp } = band;
  const outlines = new Outlines(lines, isClosed, work);
  const print = Math.min(radiusMm, profile.halfWidthAt(depthMm));
  const wayMm = side === 'on' ? 0 : wallMm + print;
  const widened = findMostWidened(lines, profile, work);
  const reach = wayMm - print + 2 * print * (side === 'on' ? 1 : widened) + spreadMm + 0.5;
  const widenAll = (by: number): number => by * widened;
  const ray = new Float64Array(6),
    pose = new Float64Array(6),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  const cutFrom = (x: number, y: number, depth: number, asideMm: number): number => {
    work.poseInto(x, y, pose);
    for (let k = 0; k < 3; k++) {
      axis[k] = pose[3 + k]!;
      tip[k] = pose[k]! - depth * axis[k]!;
    }
    return computeToolDepth(ray, tip, axis, profile, radiusMm, asideMm, asideMm > 0);
  };
  const curvature = new Float64Array(2);
  const slackUnder = (lean: number): number => depthMm * (1 / Math.cos(lean) - 1) + profile.flatMm * Math.tan(lean) + 0.002;
  const slackAt = (x: number, y: number): number => (work.alongNormal ? 0.002 : slackUnder(computeLean(work, x, y)));
  const askOn = (x: number, y: number, slackMm: number, out: Depths, foundMm: number): void => {
    const slack = 0.002;
    work.frameInto(x, y, ray);
    const nearest: number[] = [],
      others: number[] = [];
    const add = (px: number, py: number, _: number, isNearest: boolean): void => void (isNearest ? nearest : others).push(px, py);
    outlines.visitNear(x, y, widenLeaning(print, profile, work, x, y) + slackMm, add);
    if (!work.alongNormal) {
      // A tool that leans comes to the ray from beside, and a flat end by its rim from below.
      work.poseInto(x, y, pose);
      const deepest = depthMm + profile.flatMm * Math.tan(computeLean(work, x, y));
      for (const depth of [deepest, deepest / 2]) {
        const [px, py, pz] = [0, 1, 2].map((k) => ray[k]! + depth * (pose[3 + k]! - ray[3 + k]!)) as [number, number, number];
        const at = work.toSheet(px, py, pz);
        outlines.visitNear(at.x, at.y, print + slackMm, add);
      }
    }
    for (let i = 0; i < nearest.length; i += 2)
      out.mustMm = Math.max(out.mustMm, cutFrom(nearest[i]!, nearest[i + 1]!, leastMm, slackMm) - slack);
    for (const places of [nearest, others])
      for (let i = 0; i < places.length && !(out.mayMm > foundMm); i += 2)
        out.mayMm = Math.max(out.mayMm, cutFrom(places[i]!, places[i + 1]!, depthMm, -slackMm) + slack);
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
      high = wallMm + MOST_WIDENED * print;
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
    const widest = widenLeaning(print, profile, work, x, y);
    if (away > wallMm - slackMm && away < wayMm - print + 2 * widest + spreadMm + slackMm) {
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
    work.frameInto(x, y, ray);
    const rim = curvature[0]! > 0 ? Math.max(0, curvature[0]!) * radiusMm * radiusMm * 0.5 : 0;
    const must = cutFrom(qx, qy, leastMm, slackMm + 2e-3) - 2 * slack - 2 * hollow - Math.min(rim, 0.01);
    if (must > foundMm && isSharp && isBesideCorner(x, y, near.x, near.y)) return;
    out.mustMm = Math.max(0, must);
  };
  return {
    form: 'band',
    box: growBox(outlines.box, widenAll(reach), work),
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out, foundMm) {
      out.mustMm = out.mayMm = 0;
      if (side === 'on') askOn(x, y, slackMm, out, foundMm);
      else askBeside(x, y, slackMm, out, foundMm);
    },
  };
}

/**
 * How far beside the tool a cutter reaches on a surface that it leans over: d/(cot β − tan λ) uphill, and no farther than so many times.
 */
export function widenLeaning(printMm: number, profile: BandMeaning['profile'], work: Work, x: number, y: number): number {
  if (work.alongNormal) return printMm;
  const lean = Math.tan(Math.min(1.4, computeLean(work, x, y)));
  const cot = Math.max(profile.cotBeta, 1e-3);
  return profile.cotBeta === 0 ? printMm : printMm * Math.min(MOST_WIDENED, cot / Math.max(1e-3, cot - lean));
}

/** By how much prints beside lines are widened at the most by a tool that leans; at a few of their places. */
export function findMostWidened({ xy }: BandMeaning['lines'], profile: BandMeaning['profile'], work: Work): number {
  if (work.alongNormal) return 1;
  let most = 1;
  const step = 2 * Math.max(1, Math.floor(xy.length / 2 / 50));
  for (let i = 0; i + 1 < xy.length; i += step) most = Math.max(most, widenLeaning(1, profile, work, xy[i]!, xy[i + 1]!));
  return most;
}

function answerHoles({ places, depthMm, profile, radiusMm }: HoleMeaning, work: Work): Answerer {
  const xy = Float64Array.from(places.flat());
  const ray = new Float64Array(6),
    pose = new Float64Array(6),
    axis = new Float64Array(3),
    tip = new Float64Array(3);
  const period = work.periodMm;
  const print = Math.min(radiusMm, profile.halfWidthAt(depthMm));
  const reach = Math.max(1.6 * radiusMm, print * findMostWidened({ xy, starts: new Uint32Array([0, places.length]) }, profile, work)) + 0.1;
  return {
    form: 'holes',
    box: growBox(computeBox(xy), reach, work),
    deepestMm: depthMm,
    outlines: null,
    ask(x, y, slackMm, out) {
      out.mustMm = out.mayMm = 0;
      work.frameInto(x, y, ray);
      for (const [px, py] of places) {
        const dy = period === null ? y - py : y - py - period * Math.round((y - py) / period);
        // A hole is never wider on the sheet than the sheet is stretched.
        if (Math.hypot(x - px, dy) > 2 * reach + 1) continue;
        work.poseInto(px, py, pose);
        for (let k = 0; k < 3; k++) {
          axis[k] = pose[3 + k]!;
          tip[k] = pose[k]! - depthMm * axis[k]!;
        }
        out.mayMm = Math.max(out.mayMm, computeToolDepth(ray, tip, axis, profile, radiusMm, -slackMm) + 0.002);
        out.mustMm = Math.max(out.mustMm, computeToolDepth(ray, tip, axis, profile, radiusMm, slackMm, true) - 0.002);
      }
    },
  };
}

function answerMiddle({ region, depthMm, profile, radiusMm }: MiddleMeaning, work: Work): Answerer {
  const outlines = new Outlines(region, true, work);
  const reach = Math.max(20, (outlines.box.maxX - outlines.box.minX) / 2);
  const print = Math.min(radiusMm, profile.halfWidthAt(depthMm));
  const ray = new Float64Array(6),
    pose = new Float64Array(6),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  return {
    form: 'middle',
    box: growBox(outlines.box, print * findMostWidened(region, profile, work) + 0.1, work),
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out) {
      out.mustMm = out.mayMm = 0;
      const near = outlines.findNearest(x, y, reach);
      if (!near) return;
      const isInside = outlines.isInside(x, y);
      const away = near.lateralMm;
      if (!isInside) {
        // A cutter wider than the stroke goes over its edge.
        if (away < widenLeaning(print, profile, work, x, y) + slackMm) out.mayMm = depthMm;
        return;
      }
      const lean = work.alongNormal ? 0 : computeLean(work, x, y);
      out.mayMm = depthMm / Math.cos(lean) + profile.flatMm * Math.tan(lean) + 0.002;
      if (away < 1e-6) return;
      const [ux, uy] = [(x - near.x) / away, (y - near.y) / away];
      let low = 0,
        high = away;
      const deeper = (s: number): boolean => {
        const found = outlines.findNearest(x + s * ux, y + s * uy, reach);
        return found !== null && outlines.isInside(x + s * ux, y + s * uy) && found.lateralMm > away + s - 1e-4;
      };
      for (let k = 0; k < 6 && deeper(high); k++) high *= 2;
      for (let k = 0; k < 12; k++) {
        const s = (low + high) / 2;
        if (deeper(s)) low = s;
        else high = s;
      }
      if (low + slackMm > print) return;
      // Only between walls that face each other: the middle does not run into corners.
      const [mx, my] = [x + high * ux, y + high * uy];
      const other = outlines.findNearest(mx + 0.02 * ux, my + 0.02 * uy, reach);
      if (!other || other.lateralMm < 1e-6) return;
      const cos = (ux * (mx - other.x) + uy * (my - other.y)) / Math.hypot(mx - other.x, my - other.y);
      if (cos > OPPOSITE_COS) return;
      work.frameInto(x, y, ray);
      work.poseInto(x + low * ux, y + low * uy, pose);
      for (let k = 0; k < 3; k++) {
        axis[k] = pose[3 + k]!;
        tip[k] = pose[k]! - depthMm * axis[k]!;
      }
      // The middle of a stroke is no edge: it may lie aside by a tenth of its half-width.
      const aside = slackMm + 0.02 + 0.1 * (away + low);
      out.mustMm = Math.max(0, computeToolDepth(ray, tip, axis, profile, radiusMm, aside, true) - 0.005);
    },
  };
}

function answerFlank({ region, depthMm, profile }: FlankMeaning, work: Work): Answerer {
  const outlines = new Outlines(region, true, work);
  const reach = 1.3 * profile.halfWidthAt(depthMm) + 0.2;
  const half = profile.flatMm;
  const ray = new Float64Array(6),
    pose = new Float64Array(6),
    tip = new Float64Array(3),
    axis = new Float64Array(3);
  /** Whether the tip goes in there: not into a notch that is narrower. */
  const isClear = (x: number, y: number): boolean =>
    half === 0 || (!outlines.isInside(x, y) && (outlines.findNearest(x, y, 2 * half)?.lateralMm ?? half) > half - CLEAR_MM);
  return {
    form: 'flank',
    box: outlines.box,
    deepestMm: depthMm,
    outlines,
    ask(x, y, slackMm, out) {
      out.mustMm = out.mayMm = 0;
      if (!outlines.isInside(x, y)) return;
      work.frameInto(x, y, ray);
      outlines.visitNear(x, y, reach, (px, py, away) => {
        // The tip runs beside the outline, by its own flat, as the tool sees it.
        const by = half / Math.max(away, 1e-6);
        const [qx, qy] = [px + by * (px - x), py + by * (py - y)];
        work.poseInto(qx, qy, pose);
        for (let k = 0; k < 3; k++) {
          axis[k] = pose[3 + k]!;
          tip[k] = pose[k]! - depthMm * axis[k]!;
        }
        out.mayMm = Math.max(out.mayMm, computeToolDepth(ray, tip, axis, profile, Infinity, -slackMm) + 0.005);
        // Asked for along the normal, in the middle of the tip; depths are measured along the tool.
        const upMm = half > 0 && !work.alongNormal ? depthMm * (1 - Math.cos(computeLean(work, qx, qy))) : 0;
        for (let k = 0; k < 3; k++) tip[k] = tip[k]! + upMm * axis[k]!;
        const must = computeToolDepth(ray, tip, axis, profile, Infinity, slackMm, true) - CUSP_MM;
        if (must > out.mustMm && isClear(qx, qy)) out.mustMm = must;
      });
    },
  };
}
