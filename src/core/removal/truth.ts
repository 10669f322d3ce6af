import { computeSignedArea, getRing, type Rings } from '../base/rings';
import { getStages, getSunkMm } from '../job/cutSchema';
import type { InscriptionArtwork } from '../lettering/artwork';
import type { Lettering } from '../pipeline/lettering';
import { sinkWork } from '../machine/sunkWork';
import type { Setup } from '../pipeline/setup';
import { listWalks } from '../proof/ringWalk';
import { EdgeFinder, type FieldEdge } from './edgeFinder';
import { belowFloor, type DepthField } from './field';
import { TILE } from './tile';
import { measureOvercut } from './overcut';
import { findLetter, measureCorners, measureRegions, type CornerCover } from './regions';

/** What a depth field says of the lettering, whatever was cut in whatever way; true to about `errorUm`. */
export interface Truth {
  cellMm: number;
  /** What cells may be off across an edge, µm: half a cell, as long as it is on the blank, at a wall straight down. */
  errorUm: number;
  edge: FieldEdge | null;
  floor: { maxDeepUm: number; maxShallowUm: number; samples: number } | null;
  letters: LetterWidth[];
  /** Sharp corners of carved lettering; null where there are none. */
  corners: CornerCover | null;
  /** Area inside the outlines of carved lettering, and of it what is not cut, mm². */
  area: { drawnMm2: number; unreachedMm2: number } | null;
  /** What is gone, mm³, rays tapering with the surface's curvature. */
  volumeMm3: number;
}

/** A letter's stroke width, drawn and cut: on the mean over its outline. */
export interface LetterWidth {
  inscription: string;
  text: string;
  drawnMm: number;
  cutMm: number;
  /** Whether the cut goes through what lies under it. */
  through: boolean;
}

/** Spacing along outlines, mm; wider where that would be more places than the second. */
const SPACING_MM = 0.1;
const MAX_SAMPLES = 40_000;
/** Less than this is not cut, mm. */
const CUT_MM = 1e-4;

/** Measures a field against the lettering. O(outline / spacing · reach / cell). */
export function measureTruth(setup: Setup, lettering: Lettering, field: DepthField, cellMm: number): Truth {
  const { runs } = setup;
  const rules = runs
    .filter((r) => r.stage === getStages(r.cut).length)
    .map((run) => {
      const arts = lettering.artworks.filter((a) => run.cut.targets === 'all' || run.cut.targets.includes(a.id));
      const taken = arts.map((a) => ({ areas: a.regions, lines: a.chains }));
      return {
        run,
        arts,
        rule: run.kind.takes(run.cut).includes('areas') ? run.kind.field(run.cut, taken, run.tool, setup.surface) : null,
      };
    });
  /** Lettering that is filled, and the depth of the floor that it is filled from: the surface, if any of its cuts begins there. */
  const filled = new Map<InscriptionArtwork, number>();
  for (const { run, rule, arts } of rules)
    for (const art of rule?.fills ? arts : [])
      if (art.regions.xy.length > 0) filled.set(art, Math.min(getSunkMm(run.cut), filled.get(art) ?? Infinity));
  const finder = new EdgeFinder(setup, field);
  const letters: LetterWidth[] = [];
  const beside = rules.flatMap(({ rule }) => (rule && !rule.fills && rule.edges.xy.length > 0 ? [rule.edges] : []));
  const total = [...[...filled.keys()].map((a) => a.regions), ...beside].reduce((sum, rings) => sum + sumLengths(rings), 0);
  const spacing = Math.max(SPACING_MM, total / MAX_SAMPLES);
  const corners: CornerCover = { count: 0, maxShortUm: 0, at: [0, 0] };
  const area = { drawnMm2: 0, unreachedMm2: 0 };
  for (const [art, floorMm] of filled) {
    const depths = belowFloor(field, floorMm);
    const cover = measureRegions({ work: sinkWork(setup.work, floorMm) }, art, depths);
    area.drawnMm2 += cover.areaMm2;
    area.unreachedMm2 += cover.unreachedMm2;
    measureCorners(art, depths, corners);
    finder.enter(art.regions, floorMm);
    letters.push(...measureLetters(art, finder, spacing, cover.through));
  }
  for (const edges of beside) measureEdges(edges, finder, spacing);
  const floor = measureFloor(setup, lettering, field);
  const allowed = rules.flatMap(({ rule }) => (rule ? [rule.allowed] : []));
  // Cuts without an outline: what lies under their lines and holes is theirs.
  const free = rules.filter(({ rule }) => !rule);
  const lines = free.flatMap(({ arts }) => arts.map((a) => a.chains)).filter((c) => c.xy.length > 0);
  const shapes = free.filter(({ run }) => run.kind.takes(run.cut).includes('areas')).flatMap(({ arts }) => arts.map((a) => a.regions));
  const widest = Math.max(0, ...free.map(({ run }) => run.tool.diameterMm / 2));
  const hasEdges = filled.size > 0 || beside.length > 0;
  // A cut at a place of the blank, and holes in shapes, may be anywhere.
  const anywhere = free.some(({ run }) => run.kind.takes(run.cut).length === 0) || shapes.length > 0;
  const over = hasEdges && !anywhere ? measureOvercut(setup, allowed, lines, field, widest) : null;
  return {
    cellMm,
    errorUm: 500 * cellMm * findStretch(setup, field),
    edge: finder.finish(over),
    floor,
    letters,
    corners: corners.count > 0 ? corners : null,
    area: filled.size > 0 ? area : null,
    volumeMm3: measureVolume(field),
  };
}

/** Of a field that is only to be seen. */
export const nothingMeasured = (field: DepthField, cellMm: number): Truth => ({
  ...{ cellMm, errorUm: 500 * cellMm, edge: null, floor: null, letters: [], corners: null, area: null },
  volumeMm3: measureVolume(field),
});

const sumLengths = (rings: Rings): number => listWalks(rings).reduce((sum, w) => sum + w.lengthMm, 0);

/** Measures an edge along outlines that bound no letter. */
function measureEdges(rings: Rings, finder: EdgeFinder, spacing: number): void {
  const at = new Float64Array(2),
    next = new Float64Array(2);
  finder.enter(rings);
  for (const walk of listWalks(rings)) {
    const n = Math.max(3, Math.round(walk.lengthMm / spacing));
    for (let i = 0; i < n; i++) {
      const s = ((i + 0.5) * walk.lengthMm) / n;
      walk.at(s - 1e-4, at);
      walk.at(s + 1e-4, next);
      finder.measure((at[0]! + next[0]!) / 2, (at[1]! + next[1]!) / 2, next[0]! - at[0]!, next[1]! - at[1]!);
    }
  }
}

/** How many times longer than on the sheet the longest way over a cell is, where anything is cut; at least 1. */
function findStretch({ work }: Setup, { tiles, grid }: DepthField): number {
  if (work.isometric) return 1;
  const metric = new Float64Array(3);
  let most = 1;
  for (const { key, depth } of tiles) {
    if (!depth.some((d) => d > CUT_MM)) continue;
    const x = grid.minX + ((key % grid.tilesAlong) + 0.5) * TILE * grid.cellX,
      y = grid.minY + (Math.floor(key / grid.tilesAlong) + 0.5) * TILE * grid.cellY;
    work.metricInto(x, y, metric);
    const [e, f, g] = metric as unknown as [number, number, number];
    // The larger principal stretch.
    most = Math.max(most, Math.sqrt((e + g + Math.hypot(e - g, 2 * f)) / 2));
  }
  return most;
}

function measureLetters(art: InscriptionArtwork, finder: EdgeFinder, spacing: number, through: ReadonlySet<number>): LetterWidth[] {
  const sums = new Map<number, { text: string; area: number; length: number; off: number; count: number }>();
  const at = new Float64Array(2),
    next = new Float64Array(2);
  for (const [k, walk] of listWalks(art.regions).entries()) {
    const ring = getRing(art.regions, k);
    const box = boxOf(ring);
    const letter = findLetter(art, (box[0]! + box[2]!) / 2, (box[1]! + box[3]!) / 2);
    const sum = sums.get(letter) ?? { text: art.letters[letter]?.char ?? '', area: 0, length: 0, off: 0, count: 0 };
    sums.set(letter, sum);
    sum.area += computeSignedArea(ring);
    sum.length += walk.lengthMm;
    const n = Math.max(3, Math.round(walk.lengthMm / spacing));
    for (let i = 0; i < n; i++) {
      const s = ((i + 0.5) * walk.lengthMm) / n;
      walk.at(s - 1e-4, at);
      walk.at(s + 1e-4, next);
      const off = finder.measure((at[0]! + next[0]!) / 2, (at[1]! + next[1]!) / 2, next[0]! - at[0]!, next[1]! - at[1]!);
      sum.off += off;
      sum.count++;
    }
  }
  return [...sums].map(([letter, { text, area, length, off, count }]) => {
    const drawnMm = (2 * Math.abs(area)) / (length || 1);
    return {
      inscription: art.id,
      text,
      drawnMm,
      cutMm: Math.max(0, drawnMm + (2 * off) / (1000 * (count || 1))),
      through: through.has(letter),
    };
  });
}

function boxOf(ring: ArrayLike<number>): number[] {
  const box = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < ring.length; i += 2) {
    box[0] = Math.min(box[0]!, ring[i]!);
    box[1] = Math.min(box[1]!, ring[i + 1]!);
    box[2] = Math.max(box[2]!, ring[i]!);
    box[3] = Math.max(box[3]!, ring[i + 1]!);
  }
  return box;
}

/** The deepest of a cell and its neighbours, mm: a sharp tip's own line lies between cells. */
function deepestNear(field: DepthField, x: number, y: number): number {
  const { cellX, cellY } = field.grid;
  let most = 0;
  for (let j = -1; j <= 1; j++) for (let i = -1; i <= 1; i++) most = Math.max(most, field.depthAt(x + i * cellX, y + j * cellY));
  return most;
}

/** Lines cut at a depth: how deep they are along their middle. */
function measureFloor({ runs, work }: Setup, lettering: Lettering, field: DepthField): Truth['floor'] {
  const floor = { maxDeepUm: 0, maxShallowUm: 0, samples: 0 };
  const pose = new Float64Array(6);
  for (const { cut } of runs) {
    if (!('depthMm' in cut)) continue;
    for (const art of lettering.artworks) {
      if (cut.targets !== 'all' && !cut.targets.includes(art.id)) continue;
      const { xy, starts } = art.chains;
      for (let c = 0; c + 1 < starts.length; c++) {
        for (let i = starts[c]!; i + 1 < starts[c + 1]!; i++) {
          const [x, y] = [(xy[2 * i]! + xy[2 * i + 2]!) / 2, (xy[2 * i + 1]! + xy[2 * i + 3]!) / 2];
          // The tip below that place, as the tool stands, and the ray that meets it.
          work.poseInto(x, y, pose);
          const under = work.toSheet(
            pose[0]! - cut.depthMm * pose[3]!,
            pose[1]! - cut.depthMm * pose[4]!,
            pose[2]! - cut.depthMm * pose[5]!,
          );
          const off = 1000 * (deepestNear(field, under.x, under.y) + under.heightMm);
          floor.samples++;
          floor.maxDeepUm = Math.max(floor.maxDeepUm, off);
          floor.maxShallowUm = Math.max(floor.maxShallowUm, -off);
        }
      }
    }
  }
  return floor.samples > 0 ? floor : null;
}

/** Volume that is gone: cells' depths over their true areas, rays drawing together as the surface is curved. Error of second order. */
export function measureVolume(field: DepthField): number {
  const { grid } = field;
  let sum = 0;
  for (const tile of field.tiles) {
    const c0 = (tile.key % grid.tilesAlong) * 32,
      r0 = Math.floor(tile.key / grid.tilesAlong) * 32;
    const f = tile.getFrames();
    for (let i = 0; i < tile.depth.length; i++) {
      const d = tile.depth[i]!;
      const c = i & 31,
        r = i >> 5;
      if (!(d > 0) || c0 + c >= grid.columns || r0 + r >= grid.rows) continue;
      const a = 6 * (r * 32 + Math.max(0, c - 1)),
        b = 6 * (r * 32 + Math.min(31, c + 1)),
        e = 6 * (Math.max(0, r - 1) * 32 + c),
        g = 6 * (Math.min(31, r + 1) * 32 + c);
      const spanX = (b - a) / 6,
        spanY = (g - e) / (6 * 32);
      // The cell's area at half its depth: what a ray takes differs from it by a twelfth of d³ times the surface's two curvatures.
      const t = d / 2;
      const ux = (f[b]! - f[a]! - t * (f[b + 3]! - f[a + 3]!)) / spanX,
        uy = (f[b + 1]! - f[a + 1]! - t * (f[b + 4]! - f[a + 4]!)) / spanX,
        uz = (f[b + 2]! - f[a + 2]! - t * (f[b + 5]! - f[a + 5]!)) / spanX;
      const vx = (f[g]! - f[e]! - t * (f[g + 3]! - f[e + 3]!)) / spanY,
        vy = (f[g + 1]! - f[e + 1]! - t * (f[g + 4]! - f[e + 4]!)) / spanY,
        vz = (f[g + 2]! - f[e + 2]! - t * (f[g + 5]! - f[e + 5]!)) / spanY;
      const nx = uy * vz - uz * vy,
        ny = uz * vx - ux * vz,
        nz = ux * vy - uy * vx;
      sum += d * Math.sqrt(nx * nx + ny * ny + nz * nz);
    }
  }
  return sum;
}
