import { computeLean, type Work } from '../../machine/stance';
import { sinkWork } from '../../machine/sunkWork';
import type { Answerer } from '../answerer';
import type { RoofMeaning } from '../meaning';
import { Outlines } from '../outlines';
import { growBox, SAME_WALL_MM } from './reach';
import { StandingCutter } from './standing';

/** A floor between the passes of a V stands so much higher, mm. */
const V_FLOOR_MM = 0.045;
/** Steps by which the middle of a stroke is sought. */
const HALVINGS = 7;
/** A flank is taken to stand no steeper than this, radians. */
const LEAST_FLANK_RAD = 0.01;
/** Directions in which a blunt tip is moved aside. */
const CLIMB_WAYS = 8;
/** Directions and distances from which a place is looked at once more. */
const ROUND_WAYS = 24;
const ROUND_STEPS = 8;
const ROUND_CLIMBS = 6;
/** Once so many places are too deep for certain, and nearly all that were searched, no more are: the piece is wrong, and all over. */
const MOST_VAIN = 20;
const VAIN_SHARE = 4;
/** The end of the steps along a narrow crest between two walls, mm. */
const CREST_MM = 0.01;
/** It goes on by so much smaller steps where none is deeper. */
const CLIMB_SHRINK = 0.6;
/** A contact is the same wall's as another so much farther from it for the way between: the deepest is not quite the nearest. */
const SAME_WALL_SHARE = 0.05;

/** How much deeper a leaning cone's flank is a little farther from its axis: towards the side that it leans to it is steeper. */
function riseOver(profile: RoofMeaning['profile'], fromMm: number, byMm: number, lean: number): number {
  const rise = profile.heightAt(fromMm + byMm) - profile.heightAt(fromMm);
  if (lean === 0) return rise;
  const flank = Math.atan2(1, Math.max(1e-3, profile.cotBeta));
  return Math.max(rise / Math.cos(lean), byMm / Math.tan(Math.max(LEAST_FLANK_RAD, flank - lean)));
}

export function answerRoof({ region, profile, limitMm, sunkMm, beginMm, millFlatMm }: RoofMeaning, real: Work): Answerer {
  const work = sinkWork(real, sunkMm);
  const outlines = new Outlines(region, true, work);
  // Beyond this the limit holds, whatever is there.
  const reach = 1.3 * profile.halfWidthAt(limitMm) + 0.2;
  /** Half-width of what is blunt at the tip: the flat, or where a ball goes over into its cone. */
  const bluntMm = Math.max(profile.flatMm, profile.ballRadiusMm);
  const cutter = new StandingCutter(work, profile, Infinity, real);
  const { ray, pose } = cutter;
  /** Places at which the dear search found no stance deep enough, and those at which it did. */
  let vain = 0,
    eased = 0;
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
      cutter.askAt(x, y);
      const own = Math.min(limitMm, near?.leastMm ?? limitMm);
      let deepest = cutter.cutFrom(x, y, own);
      let middle = own;
      let [bestX, bestY] = [x, y];
      const stand = (qx: number, qy: number): { depth: number; cut: number } => {
        const depth = Math.min(limitMm, outlines.findContact(qx, qy, profile, reach)?.leastMm ?? limitMm);
        return { depth, cut: cutter.cutFrom(qx, qy, depth) };
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
      const climb = (x0: number, y0: number, first: number, last: number, from = deepest): void => {
        let [bx, by, best] = [x0, y0, from];
        let angle = 0;
        for (let step = first; step > last;) {
          let isDeeper = false;
          for (let k = 0; k < CLIMB_WAYS; k++) {
            angle += (2 * Math.PI) / CLIMB_WAYS;
            const [qx, qy] = [bx + step * Math.cos(angle), by + step * Math.sin(angle)];
            if (!outlines.isInside(qx, qy)) continue;
            const stance = stand(qx, qy);
            take(qx, qy, stance);
            if (!(stance.cut > best + 1e-5)) continue;
            [bx, by, best] = [qx, qy, stance.cut];
            isDeeper = true;
          }
          // Turned at every round, so that a narrow crest is met along itself.
          angle += Math.PI / CLIMB_WAYS / 2;
          if (!isDeeper) step *= CLIMB_SHRINK;
        }
      };
      /** The same from the best places all about: far round a blank that falls away fast the deepest stance lies beyond a lower one. */
      const climbFromAround = (): void => {
        const starts = Array.from({ length: ROUND_WAYS * ROUND_STEPS }, (_, k) => {
          const angle = (2 * Math.PI * k) / ROUND_WAYS,
            far = (reach * (Math.floor(k / ROUND_WAYS) + 1)) / ROUND_STEPS;
          const [qx, qy] = [x + far * Math.cos(angle), y + far * Math.sin(angle)];
          return { qx, qy, cut: outlines.isInside(qx, qy) ? stand(qx, qy).cut : 0 };
        });
        starts.sort((a, b) => b.cut - a.cut);
        for (const { qx, qy, cut } of starts.slice(0, ROUND_CLIMBS)) if (isOver()) climb(qx, qy, reach / ROUND_STEPS, CREST_MM, cut);
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
            take(qx, qy, { depth, cut: cutter.cutFrom(qx, qy, depth) });
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
      if (near && isOver() && (vain < MOST_VAIN || vain < VAIN_SHARE * eased)) {
        climb(bestX, bestY, Math.max(away, reach / 2), Math.max(away, 0.05) / 12);
        climbFromAround();
        if (isOver()) vain++;
        else eased++;
      }
      // A mill before it clears the floor up to where a sharp cone would meet it: a blunt tip leaves it round there.
      const isFloor = millFlatMm > 0 && away > limitMm / (profile.cotBeta + Math.tan(lean)) - slackMm;
      out.mayMm = isFloor ? mostMm : Math.min(deepest + slope + rimMm + 0.002, mostMm);
      // A groove that is gone already is not cut again, and a floor between passes stands a little higher.
      if (middle > beginMm + 1e-6)
        out.mustMm = Math.max(0, deepest - slope - (middle >= limitMm - 1e-6 ? V_FLOOR_MM + 2 * leaning : 0.002));
    },
  };
}
