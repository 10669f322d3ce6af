import Flatbush from 'flatbush';
import { boxesOverlap, computeBox, getRing, type Box, type Rings } from '../base/rings';
import type { Steps } from '../base/steps';
import type { LaidPaths } from '../lay/laidPaths';
import { getStages, getSunkMm } from '../job/cutSchema';
import { sinkWork } from '../machine/sunkWork';
import type { Lettering } from '../pipeline/lettering';
import type { PlanProgress } from '../pipeline/plan';
import type { Run, Setup } from '../pipeline/setup';
import type { InscriptionArtwork } from '../lettering/artwork';
import { createMargin, FAR_MM, type Margin } from './margin';
import { listWalks, type RingWalk } from './ringWalk';

/** How well the edge that is cut meets the outline that was drawn, measured along the outline on the blank. */
export interface EdgeProof {
  samples: number;
  /** Largest distance cut beyond the outline, µm. */
  maxOutsideUm: number;
  /** Largest distance left uncut inside it, µm, and the one that 95 % of the outline keeps. */
  maxUncutUm: number;
  uncut95Um: number;
  /** How far the outlines measured may be off the letters' own curves, and with that the largest distances against those, µm. */
  curveUm: number;
  outsideCurvesUm: number;
  leftCurvesUm: number;
  /** Sheet places of the worst two, mm. */
  outsideAt: [number, number];
  uncutAt: [number, number];
}

/** A run whose edge was not measured, and why. */
export interface EdgeUnproved {
  id: string;
  name: string;
  why: string;
}

/** A letter of which some is not cut as it is drawn: the share of its outline that is. */
export interface LetterShare {
  char: string;
  share: number;
}

/** An inscription that a run does not cut whole. */
export interface LeftOut {
  run: Run['id'];
  inscription: string;
  letters: LetterShare[];
  /** Share of the whole inscription's outline that is cut as it is drawn. */
  share: number;
}

/** The edges of all runs taken together, null if none has one, and the runs that have none. */
export interface EdgeReport {
  edge: EdgeProof | null;
  unproved: EdgeUnproved[];
  leftOut: LeftOut[];
}

/** Spacing of the places measured along the outline, mm; wider where that would be more than `MAX_SAMPLES`. Corners come on top. */
const SPACING_MM = 0.1;
const MAX_SAMPLES = 20_000;
/** Progress is reported once in so many places. */
const REPORT_EVERY = 500;
/** Places worse than their neighbours are followed to the worst between them: so many of the worst, to so many halvings of the spacing. */
const MOST_FOLLOWED = 80;
const HALVINGS = 7;
/** Outline left by more than this, or this share of the letter's height, is not cut as drawn, µm. */
const NOT_CUT_UM = 100;
const NOT_CUT_SHARE = 0.05;
/** A place this near to the united outline lies on it, mm: united shapes lie on a grid of 0.0001. */
const ON_EDGE_MM = 5e-4;
/** A letter is named where more than this share of its outline is not cut as drawn: its corners alone are less. */
const NAMED_SHARE = 0.05;

/**
 * Proves the edges of all runs that have one: at places along each outline, the deepest margin that any part of the path leaves
 * there, turned into a distance across the edge by how fast the margin falls off along the surface there: the cutter's slope
 * under an upright tool, more or less under a leaning one. Exact for a V to first order in the margin.
 * A margin means the same on either side of an outline: cut beyond it. It uses the laid path alone and knows nothing of how it
 * was made. O(samples · near path pieces).
 * @param mostSamples Places along each run's outlines, corners not counted.
 */
export function* computeEdges(
  setup: Setup,
  lettering: Lettering,
  laid: LaidPaths,
  mostSamples = MAX_SAMPLES,
): Steps<PlanProgress, EdgeReport> {
  const measured = new EdgeMeasure();
  const unproved: EdgeUnproved[] = [];
  const leftOut: LeftOut[] = [];
  for (const run of setup.runs) {
    const rule = run.kind.edge(run.cut);
    // Cutters that go before a cut's own clear floors and meet no outline.
    if (!hasStrokes(laid, run) || run.stage < getStages(run.cut).length) continue;
    if (rule.side === 'none') unproved.push({ id: run.id, name: run.name, why: rule.why });
    else leftOut.push(...(yield* measureRun(setup, run, lettering, laid, measured, mostSamples)));
  }
  return { edge: measured.finish(), unproved, leftOut };
}

const hasStrokes = (laid: LaidPaths, run: Run): boolean => laid.run.subarray(0, laid.count).includes(run.index);

/** A laid path with its depths from a floor on. O(path points). */
const fromFloor = (laid: LaidPaths, floorMm: number): LaidPaths =>
  floorMm === 0 ? laid : { ...laid, sheet: laid.sheet.map((v, i) => (i % 3 === 2 ? v - floorMm : v)) };

/**
 * Whether a place of an outline is one of the cut's own edge: where lettering of one cut overlaps, the outline of one part may lie
 * inside the
 * other, and is none. Null where all of it is.
 */
function createEdgeTest(
  { kind, cut, tool }: Run,
  arts: readonly InscriptionArtwork[],
  setup: Setup,
): ((x: number, y: number) => boolean) | null {
  const meets = arts.some((a, i) => arts.some((b, k) => k > i && boxesOverlap(a.box, b.box)));
  const edges = meets
    ? kind.field(
        cut,
        arts.map((a) => ({ areas: a.regions, lines: a.chains })),
        tool,
        setup.surface,
      )?.edges
    : null;
  return edges ? createNearTest(edges) : null;
}

function createNearTest({ xy, starts }: Rings): (x: number, y: number) => boolean {
  const ends: number[] = [];
  for (let k = 0; k + 1 < starts.length; k++)
    for (let i = starts[k]!; i < starts[k + 1]!; i++) ends.push(i, i + 1 < starts[k + 1]! ? i + 1 : starts[k]!);
  const index = new Flatbush(Math.max(1, ends.length / 2));
  for (let e = 0; e < ends.length; e += 2) {
    const [a, b] = [2 * ends[e]!, 2 * ends[e + 1]!];
    index.add(Math.min(xy[a]!, xy[b]!), Math.min(xy[a + 1]!, xy[b + 1]!), Math.max(xy[a]!, xy[b]!), Math.max(xy[a + 1]!, xy[b + 1]!));
  }
  if (ends.length === 0) index.add(1e9, 1e9, 1e9, 1e9);
  index.finish();
  return (x, y) =>
    index.search(x - ON_EDGE_MM, y - ON_EDGE_MM, x + ON_EDGE_MM, y + ON_EDGE_MM).some((e) => {
      const [a, b] = [2 * ends[2 * e]!, 2 * ends[2 * e + 1]!];
      const [ux, uy, px, py] = [xy[b]! - xy[a]!, xy[b + 1]! - xy[a + 1]!, x - xy[a]!, y - xy[a + 1]!];
      const t = Math.max(0, Math.min(1, (ux * px + uy * py) / (ux * ux + uy * uy || 1)));
      return Math.hypot(px - t * ux, py - t * uy) < ON_EDGE_MM;
    });
}

function* measureRun(
  setup: Setup,
  run: Run,
  lettering: Lettering,
  laid: LaidPaths,
  measured: EdgeMeasure,
  mostSamples: number,
): Steps<PlanProgress, LeftOut[]> {
  const { cut, profile } = run;
  const { work } = setup;
  const arts = lettering.artworks.filter((a) => (cut.targets === 'all' || cut.targets.includes(a.id)) && a.regions.xy.length > 0);
  const floorMm = getSunkMm(cut);
  const marginAt = createMargin(fromFloor(laid, floorMm), run.index, sinkWork(work, floorMm), profile);
  const isEdge = createEdgeTest(run, arts, setup);
  const walks = arts.map((art) => listWalks(art.regions));
  const total = walks.flat().reduce((sum, w) => sum + w.lengthMm, 0);
  const spacing = Math.max(SPACING_MM, total / mostSamples);
  const leftOut: LeftOut[] = [];
  let done = 0,
    reported = 0;
  for (const [i, art] of arts.entries()) {
    const letters = new LetterCounts(art);
    for (const [k, walk] of walks[i]!.entries()) {
      const ring = new RingMeasure(walk, spacing, marginAt, measured, 1000 * art.offMm, isEdge);
      letters.enter(k);
      ring.run((offUm) => letters.add(offUm));
      done += walk.lengthMm;
      if (done - reported > REPORT_EVERY * spacing) {
        reported = done;
        yield { stage: 'checking edges', share: Math.min(1, done / total) };
      }
    }
    const found = letters.finish();
    if (found.letters.length > 0) leftOut.push({ run: run.id, inscription: art.id, ...found });
  }
  measured.followWorst(spacing);
  return leftOut;
}

/** Measures one ring at even steps and at its corners. */
class RingMeasure {
  private readonly at = new Float64Array(2);

  constructor(
    private readonly walk: RingWalk,
    private readonly spacing: number,
    private readonly marginAt: Margin,
    private readonly measured: EdgeMeasure,
    private readonly curveUm: number,
    private readonly isEdge: ((x: number, y: number) => boolean) | null,
  ) {}

  /** @param onEven Hears the places at even steps. */
  run(onEven: (offUm: number) => void): void {
    const { walk } = this;
    const n = Math.max(3, Math.round(walk.lengthMm / this.spacing));
    const places: { s: number; even: boolean }[] = [];
    // Half a step on from the first vertex, so that even places do not lie on the vertices of a regular outline.
    for (let k = 0; k < n; k++) places.push({ s: ((k + 0.5) * walk.lengthMm) / n, even: true });
    for (const s of walk.corners) places.push({ s, even: false });
    places.sort((a, b) => a.s - b.s);
    const offs = places.map(({ s, even }) => {
      const off = this.measure(s, even, !even);
      if (even) onEven(off);
      return off;
    });
    for (let k = 0; k < offs.length; k++) {
      const own = offs[k]!,
        before = offs[(k + offs.length - 1) % offs.length]!,
        after = offs[(k + 1) % offs.length]!;
      if (own <= before && own <= after) this.measured.follow(-1, own, places[k]!.s, this);
      if (own >= before && own >= after) this.measured.follow(1, own, places[k]!.s, this);
    }
  }

  /** Distance across the edge at a length along the ring, µm. @param even Whether it counts among the samples, or for the worst alone. */
  measure(s: number, even: boolean, corner = false): number {
    const { at } = this;
    this.walk.at(s, at);
    if (this.isEdge && !this.isEdge(at[0]!, at[1]!)) return 0;
    const margin = this.marginAt(at[0]!, at[1]!);
    const off = 1000 * Math.max(-FAR_MM, margin / this.marginAt.fall());
    // A corner of an outline is one of the drawn letter.
    this.measured.add(at[0]!, at[1]!, off, even, corner ? 0 : this.curveUm);
    return off;
  }
}

/** Counts, letter by letter, how much of an outline is cut as drawn. */
class LetterCounts {
  private readonly counts = new Map<string, { char: string; all: number; missing: number; limitUm: number }>();
  private readonly boxes: Box[];
  private current: { all: number; missing: number; limitUm: number } | null = null;

  constructor(private readonly art: InscriptionArtwork) {
    this.boxes = Array.from({ length: art.regions.starts.length - 1 }, (_, k) => computeBox(getRing(art.regions, k)));
  }

  /** Goes on to a ring of the artwork. */
  enter(ring: number): void {
    const own = this.boxes[ring]!;
    const cx = (own.minX + own.maxX) / 2,
      cy = (own.minY + own.maxY) / 2;
    // A letter's box takes in its counters and accents; of letters that overlap the smaller counts.
    const letter = this.art.letters
      .filter(({ box: b }) => cx >= b.minX && cx <= b.maxX && cy >= b.minY && cy <= b.maxY)
      .sort((a, b) => sizeOf(a.box) - sizeOf(b.box))[0];
    const box = letter?.box ?? own;
    const key = letter ? `${letter.cluster} ${box.minX} ${box.minY}` : `ring ${ring}`;
    let counts = this.counts.get(key);
    if (!counts) {
      const limitUm = Math.min(NOT_CUT_UM, 1000 * NOT_CUT_SHARE * Math.max(box.maxX - box.minX, box.maxY - box.minY));
      this.counts.set(key, (counts = { char: letter?.char ?? '', all: 0, missing: 0, limitUm }));
    }
    this.current = counts;
  }

  add(offUm: number): void {
    const c = this.current!;
    c.all++;
    if (-offUm > c.limitUm) c.missing++;
  }

  finish(): { letters: LetterShare[]; share: number } {
    const all = [...this.counts.values()];
    const sum = (of: (c: (typeof all)[number]) => number): number => all.reduce((total, c) => total + of(c), 0);
    return {
      letters: all.filter((c) => c.missing > NAMED_SHARE * c.all).map((c) => ({ char: c.char, share: 1 - c.missing / c.all })),
      share:
        1 -
        sum((c) => c.missing) /
          Math.max(
            1,
            sum((c) => c.all),
          ),
    };
  }
}

const sizeOf = (b: Box): number => (b.maxX - b.minX) * (b.maxY - b.minY);

/** Gathers distances across the edge: positive where it is cut beyond, negative where some is left, µm. */
class EdgeMeasure {
  private readonly uncut: number[] = [];
  private readonly peaks: { sense: 1 | -1; worst: number; s: number; ring: RingMeasure }[] = [];
  private readonly proof: EdgeProof = {
    samples: 0,
    curveUm: 0,
    outsideCurvesUm: 0,
    leftCurvesUm: 0,
    maxOutsideUm: 0,
    maxUncutUm: 0,
    uncut95Um: 0,
    outsideAt: [0, 0],
    uncutAt: [0, 0],
  };

  add(x: number, y: number, offUm: number, even: boolean, curveUm: number): void {
    const { proof } = this;
    proof.curveUm = Math.max(proof.curveUm, curveUm);
    proof.outsideCurvesUm = Math.max(proof.outsideCurvesUm, offUm + curveUm);
    proof.leftCurvesUm = Math.max(proof.leftCurvesUm, curveUm - offUm);
    if (offUm > proof.maxOutsideUm) {
      proof.maxOutsideUm = offUm;
      proof.outsideAt = [x, y];
    }
    if (-offUm > proof.maxUncutUm) {
      proof.maxUncutUm = -offUm;
      proof.uncutAt = [x, y];
    }
    if (even) this.uncut.push(Math.max(0, -offUm));
  }

  /** Keeps a place that is worse than its neighbours. @param sense 1 where it is cut outside, −1 where some is left. */
  follow(sense: 1 | -1, offUm: number, s: number, ring: RingMeasure): void {
    if (sense * offUm > 0) this.peaks.push({ sense, worst: sense * offUm, s, ring });
  }

  /** Follows the worst places to the worst beside them. */
  followWorst(spacingMm: number): void {
    for (const sense of [1, -1]) {
      const peaks = this.peaks.filter((p) => p.sense === sense).sort((a, b) => b.worst - a.worst);
      for (const { s, worst: first, ring } of peaks.slice(0, MOST_FOLLOWED)) {
        let at = s,
          worst = first;
        for (let step = spacingMm / 2, k = 0; k < HALVINGS; k++, step /= 2) {
          for (const next of [at - step, at + step]) {
            const off = sense * ring.measure(next, false);
            if (off <= worst) continue;
            worst = off;
            at = next;
          }
        }
      }
    }
    this.peaks.length = 0;
  }

  finish(): EdgeProof | null {
    const { proof, uncut } = this;
    if (uncut.length === 0) return null;
    uncut.sort((a, b) => a - b);
    return { ...proof, samples: uncut.length, uncut95Um: uncut[Math.floor(0.95 * (uncut.length - 1))]! };
  }
}
