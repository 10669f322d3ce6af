import { computeArea, subtractRings } from '../base/boolean';
import { concatRings, isEmptyRings, type Rings } from '../base/rings';
import { getStages } from '../job/cutSchema';
import type { InscriptionArtwork } from '../lettering/artwork';
import type { Lettering } from '../pipeline/lettering';
import { chooseFor } from '../pipeline/runFaults';
import type { Run, Setup } from '../pipeline/setup';
import type { Answerer, Depths } from './answerer';
import { createAnswerer } from './answers';
import type { Meaning, TabMeaning } from './meaning';
import { Outlines } from './outlines';

/** One form of what one cut means. */
export interface Layer extends Answerer {
  meaning: Meaning;
  run: Run;
  arts: readonly InscriptionArtwork[];
}

/** What one cut leaves standing, and which layers may cut into it all the same: those that lie in it as a whole, on its top. */
export interface Standing {
  outlines: Outlines;
  rings: Rings;
  run: Run;
  mayCut: ReadonlySet<Layer>;
}

/** What a place of the piece should be. */
export interface Meant extends Depths {
  /** The layer that asks for most, and the one that allows most; null for none. */
  asks: Layer | null;
  allows: Layer | null;
  /** What is to stand there. */
  stands: Standing | null;
}

export interface Intent {
  layers: readonly Layer[];
  standing: readonly Standing[];
  tabs: readonly { run: Run; tabs: TabMeaning }[];
  /** @param foundMm Depth that was found there: see `Answerer`. */
  ask(x: number, y: number, slackMm: number, out: Meant, foundMm: number): void;
}

/** A region that leaves less than this outside another lies in it, mm². */
const NOTHING_MM2 = 1e-3;

/** Steps to where a tool stands over a place in the blank, and how near to the surface they must come, mm. */
const FEET = 8;
const FOOT_MM = 0.002;
/** Places of a ray that are asked between what its own place allows and what was found. */
const DOWN = 4;

export const createMeant = (): Meant => ({ mustMm: 0, mayMm: 0, asks: null, allows: null, stands: null });

/** What a job means: the deepest of what its cuts must take, the deepest of what they may, less what another cut leaves standing. */
export function createIntent(setup: Setup, lettering: Lettering): Intent {
  const { work, runs } = setup;
  const layers: Layer[] = [];
  const stood: { rings: Rings; run: Run }[] = [];
  const tabs: { run: Run; tabs: TabMeaning }[] = [];
  for (const run of runs) {
    if (run.stage !== getStages(run.cut).length || !run.kind.cutters.includes(run.tool.kind)) continue;
    const arts = chooseFor(run, lettering);
    if (arts.length === 0 && run.kind.takes(run.cut).length > 0) continue;
    const taken = arts.map((a) => ({ areas: a.regions, lines: a.chains }));
    const meant = run.kind.means(run.cut, taken, { tool: run.tool, before: run.before, work });
    for (const meaning of meant.forms) layers.push({ ...createAnswerer(meaning, work), meaning, run, arts });
    if (meant.stands) stood.push({ rings: meant.stands, run });
    if (meant.tabs) tabs.push({ run, tabs: meant.tabs });
  }
  const standing = stood.map(({ rings, run }) => ({
    ...{ rings, run, outlines: new Outlines(rings, true, work) },
    mayCut: new Set(layers.filter((l) => l.run.cutIndex === run.cutIndex || liesIn(l, rings))),
  }));
  const depths: Depths = { mustMm: 0, mayMm: 0 };
  const ray = new Float64Array(6),
    pose = new Float64Array(6);
  /** The layer that allows what lies on the ray at a depth, reached from where a leaning tool stands over it; null for none. */
  const findAllowing = (depthMm: number, slackMm: number): Layer | null => {
    const at = [0, 1, 2].map((k) => ray[k]! - depthMm * ray[3 + k]!) as [number, number, number];
    let upMm = 0;
    let foot = work.toSheet(...at);
    for (let i = 0; i < FEET; i++) {
      work.poseInto(foot.x, foot.y, pose);
      upMm = Math.max(0, upMm - foot.heightMm);
      foot = work.toSheet(at[0] + upMm * pose[3]!, at[1] + upMm * pose[4]!, at[2] + upMm * pose[5]!);
    }
    if (Math.abs(foot.heightMm) > FOOT_MM || findStanding(standing, foot.x, foot.y, slackMm)) return null;
    for (const layer of layers) {
      if (!isInBox(layer, foot.x, foot.y, work.periodMm)) continue;
      layer.ask(foot.x, foot.y, slackMm, depths, upMm);
      if (depths.mayMm > upMm) return layer;
    }
    return null;
  };
  return {
    layers,
    standing,
    tabs,
    ask(x, y, slackMm, out, foundMm) {
      out.mustMm = out.mayMm = 0;
      out.asks = out.allows = null;
      out.stands = findStanding(standing, x, y, slackMm);
      for (const layer of layers) {
        if (!isInBox(layer, x, y, work.periodMm)) continue;
        if (out.stands && !out.stands.mayCut.has(layer)) continue;
        layer.ask(x, y, slackMm, depths, foundMm);
        if (depths.mayMm > out.mayMm) [out.mayMm, out.allows] = [depths.mayMm, layer];
        if (depths.mustMm > out.mustMm) [out.mustMm, out.asks] = [depths.mustMm, layer];
      }
      if (!(foundMm > out.mayMm) || !(out.mayMm > 0) || work.alongNormal || out.stands) return;
      // Under a tool that leans a ray goes on into what is cut beside its place.
      work.frameInto(x, y, ray);
      let below: Layer | null = null;
      for (let k = 1; k <= DOWN; k++) {
        below = findAllowing(out.mayMm + (k / DOWN) * (foundMm - out.mayMm), slackMm);
        if (!below) return;
      }
      [out.mayMm, out.allows] = [foundMm, below];
    },
  };
}

/** What stands at a place, farther in than an edge may lie aside. */
function findStanding(standing: readonly Standing[], x: number, y: number, slackMm: number): Standing | null {
  for (const s of standing) {
    if (!s.outlines.isInside(x, y)) continue;
    const near = s.outlines.findNearest(x, y, 2 * slackMm + 0.1);
    if (!near || near.lateralMm > slackMm) return s;
  }
  return null;
}

export function isInBox({ box }: Pick<Layer, 'box'>, x: number, y: number, periodMm: number | null): boolean {
  if (x < box.minX || x > box.maxX) return false;
  if (periodMm === null) return y >= box.minY && y <= box.maxY;
  return y + periodMm * Math.ceil((box.minY - y) / periodMm) <= box.maxY;
}

/** Whether all that a layer cuts lies in what stands. */
function liesIn({ meaning }: Layer, stands: Rings): boolean {
  switch (meaning.form) {
    case 'holes':
      return false;
    case 'band':
      return meaning.isClosed && meaning.side !== 'outside' && isIn(meaning.lines, stands);
    default:
      return isIn(meaning.region, stands);
  }
}

const isIn = (own: Rings, stands: Rings): boolean =>
  !isEmptyRings(own) &&
  computeArea(subtractRings(concatRings([own]), stands)) < NOTHING_MM2 &&
  computeArea(own) < computeArea(stands) - NOTHING_MM2;
