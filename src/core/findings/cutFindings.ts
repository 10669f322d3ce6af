import { getStages } from '../job/cutSchema';
import { getMount } from '../job/blankText';
import { getZeroPlace } from '../job/zero';
import { getTable } from '../machine/layouts/edit';
import { getLayout } from '../machine/layouts/registry';
import { keepsToolPoint } from '../machine/registry';
import { toTurnDeg } from '../surface/surface';
import type { CutPaths } from '../cut/kinds/kind';
import type { InscriptionArtwork } from '../lettering/artwork';
import type { Cut, Job, Machine, Motion } from '../job/schema';
import { isCutMove, MOVE, type LaidPaths } from '../lay/laidPaths';
import type { AxisMoves } from '../machine/axisMoves';
import { toMachineValues } from '../machine/kinematics';
import { computeLean } from '../machine/stance';
import type { Run, Setup } from '../pipeline/setup';
import { findOwnBlockFaults } from '../program/ownBlocks';
import { DIALECTS } from '../program/registry';
import { makeFinding, type Finding, type Where } from './finding';

/** A floor that a leaning flat end leaves uneven by more than this is reported, mm; a lean counts up to the second, radians. */
const FLOOR_LEAN_MM = 0.02;
const MOST_LEAN_RAD = 1.5;
/** A depth that takes more than this share of the wall is reported. */
const THIN_WALL_SHARE = 0.5;
/** A lean less than this is not reported, radians. */
const MIN_LEAN_RAD = 2e-4;
/** A surface that is less hollow than this is none, 1/mm. */
const HOLLOW_PER_MM = 1e-9;
/** A rate above a limit by no more than rounding is at it. */
const RATE_SLACK = 1 + 1e-9;
/** A radius that is needed is shown up to this, mm: a cone's rim that would have to reach below its tip needs an infinite one. */
const MAX_SHOWN_MM = 1e6;

const placeOf = ({ id, name }: Run): Where => ({ station: 'cuts', id, name });

/** Findings on the heights the tool moves at. */
export function findMotionFaults({ motion, cuts }: { motion: Motion; cuts: readonly Cut[] }): Finding[] {
  const own = cuts.filter((c) => c.enabled && c.hopHeightMm !== null);
  return [
    ...findHeightFaults(motion, { station: 'cuts' }),
    ...own.flatMap((c) => findHeightFaults({ ...motion, hopHeightMm: c.hopHeightMm! }, { station: 'cuts', id: c.id, name: c.name })),
  ];
}

function findHeightFaults({ parkHeightMm: park, hopHeightMm: hop, approachGapMm: gap }: Motion, where: Where): Finding[] {
  const out: Finding[] = [];
  if (hop <= 0) out.push(makeFinding('hop-too-low', where, { hopMm: hop }));
  if (gap <= 0) out.push(makeFinding('gap-too-low', where, { gapMm: gap }));
  if (hop > 0 && gap > hop)
    out.push(makeFinding('heights-crossed', where, { what: `the approach gap of ${gap} mm is over the hop height of ${hop} mm` }));
  if (park < hop)
    out.push(makeFinding('heights-crossed', where, { what: `the park height of ${park} mm is under the hop height of ${hop} mm` }));
  return out;
}

/** Findings on cuts that are run when the piece is free already. */
export function findCutsAfterFree(runs: readonly Run[]): Finding[] {
  const free = runs.find((r) => r.kind.frees);
  if (!free) return [];
  const late = runs.filter((r, k) => !r.kind.frees && runs.indexOf(free) < k);
  return late
    .filter((r, k) => late.findIndex((o) => o.cutIndex === r.cutIndex) === k)
    .map((r) => makeFinding('cut-after-free', placeOf(r), { name: r.name, other: free.name }));
}

/** Findings on a run's depth against its cutter. @param depthMm Below the floor that it is cut in: above that is nothing to cut. */
export function findCutterFaults(run: Run, depthMm: number): Finding[] {
  const out: Finding[] = [];
  const { name, tool, profile } = run;
  if (depthMm > tool.fluteLengthMm) {
    out.push(makeFinding('flute-too-short', placeOf(run), { name, depthMm, fluteMm: tool.fluteLengthMm, tool: tool.name }));
  }
  // The height at which a cone is as wide as the cutter; an end mill has none.
  const reachMm = profile.heightAt(tool.diameterMm / 2);
  // A drill goes in wider than its point.
  const isDrill = tool.kind === 'drill' || tool.kind === 'centre-drill';
  if (profile.cotBeta > 0 && !isDrill && depthMm > reachMm) {
    out.push(makeFinding('cutter-too-narrow', placeOf(run), { name, depthMm, tool: tool.name, reachMm }));
  }
  return out;
}

/**
 * Findings on a run's strokes against the blank under them: what is left below, how the tool stands, and whether it fits into
 * hollows. O(points of the strokes).
 */
export function findStrokeFaults(
  { ground: work }: Setup,
  run: Run,
  { strokes, holes = false }: Pick<CutPaths, 'strokes' | 'holes'>,
  arts: readonly InscriptionArtwork[] = [],
): Finding[] {
  const { name, tool } = run;
  const wall = createWallCheck();
  const hollow = createHollowCheck(run);
  const curvature = new Float64Array(2);
  // A hole has the cutter's own shape, however hollow the blank is.
  const checksHollows = run.profile.cotBeta > 0 && !work.flat && !holes;
  let lean = 0,
    deepest = 0;
  for (const s of strokes) {
    for (let i = 0; i < s.length; i += 3) {
      const x = s[i]!,
        y = s[i + 1]!,
        depth = s[i + 2]!;
      wall.add(work.wallAt(x, y), depth);
      deepest = Math.max(deepest, depth);
      if (!work.alongNormal) lean = Math.max(lean, computeLean(work, x, y));
      if (!checksHollows) continue;
      work.curvatureInto(x, y, curvature);
      if (curvature[1]! < -HOLLOW_PER_MM) hollow.add(-1 / curvature[1]!, depth);
    }
  }
  const where = placeOf(run);
  const out: Finding[] = [];
  const what = work.wallName;
  if (run.kind.isThrough?.(run.cut)) wall.thin = false;
  else if (wall.leastLeft <= 0) out.push(makeFinding('breaks-through', where, { name, depthMm: wall.depthMm, wallMm: wall.wallMm, what }));
  else if (wall.thin) out.push(makeFinding('wall-thin', where, { name, depthMm: wall.depthMm, leftMm: wall.leastLeft, what }));
  // One side of a flat end that leans is deeper than its middle, and the other is not as deep.
  const clears = 'stepOverShare' in run.cut || run.stage < getStages(run.cut).length;
  const riseOf = (rad: number): number =>
    clears && run.profile.cotBeta === 0 ? run.profile.flatMm * Math.tan(Math.min(MOST_LEAN_RAD, rad)) : 0;
  const rimMm = riseOf(lean);
  const depthMm = 'depthMm' in run.cut ? run.cut.depthMm : deepest;
  if (rimMm > FLOOR_LEAN_MM) {
    const letters = arts.flatMap((art) =>
      art.letters
        .filter(({ box: b }) => riseOf(computeLean(work, (b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2)) > rimMm / 2)
        .map((l) => l.char),
    );
    const data = { name, deg: (lean * 180) / Math.PI, tool: tool.name, mm: rimMm, depthMm, letters: [...new Set(letters)] };
    out.push(makeFinding('floor-leans', where, data));
  } else if (lean > MIN_LEAN_RAD) {
    out.push(makeFinding('tool-leans', where, { name, deg: (lean * 180) / Math.PI, tilts: work.stance.tiltRad !== null }));
  }
  if (hollow.worst) out.push(makeFinding('cutter-too-big', where, { name, tool: tool.name, ...hollow.worst }));
  return out;
}

/** Keeps the place where least of the wall is left. */
function createWallCheck() {
  return {
    leastLeft: Infinity,
    wallMm: 0,
    depthMm: 0,
    thin: false,
    add(wallMm: number, depthMm: number): void {
      if (depthMm > THIN_WALL_SHARE * wallMm) this.thin = true;
      if (wallMm - depthMm >= this.leastLeft) return;
      this.leastLeft = wallMm - depthMm;
      this.wallMm = wallMm;
      this.depthMm = depthMm;
    },
  };
}

/** Keeps the hollow that the cutter fits into worst. */
function createHollowCheck({ tool, profile }: Run) {
  const cutterMm = tool.diameterMm / 2;
  const coneMm = profile.heightAt(cutterMm);
  return {
    worst: null as { radiusMm: number; needsMm: number; depthMm: number } | null,
    share: 1,
    /** The rim of the cone under a hollow of radius ρ that rises by ρ − √(ρ² − r²) towards it; narrower hollows do not let it in at all. */
    add(radiusMm: number, depthMm: number): void {
      const room = coneMm - depthMm;
      const needs = room > 0 ? (cutterMm * cutterMm + room * room) / (2 * room) : Infinity;
      const needed = room >= cutterMm ? cutterMm : needs;
      if (needed / radiusMm <= this.share) return;
      this.share = needed / radiusMm;
      this.worst = { radiusMm, needsMm: Math.min(needed, MAX_SHOWN_MM), depthMm };
    },
  };
}

/** Findings on speeds: the turning axes', the feed's, the spindle's. O(blocks). */
export function findSpeedFaults({ job, kinematics, runs }: Setup, laid: LaidPaths, moves: AxisMoves): Finding[] {
  const { axes } = kinematics;
  const { machine } = job;
  const n = axes.length;
  const values = toMachineValues(kinematics, moves.values);
  // Fastest rate that each run asks of each axis, in mm or degrees a minute.
  const fastest = new Float64Array(runs.length * n);
  for (let i = 1; i < moves.count; i++) {
    const move = moves.move[i]!;
    // Ways through the air run as fast as the machine can: their feed is its own.
    if (!isCutMove(laid.kind[move]!) || !(moves.feedTimeMin[i]! > 0)) continue;
    for (let k = 0; k < n; k++) {
      const rate = Math.abs(values[n * i + k]! - values[n * (i - 1) + k]!) / moves.feedTimeMin[i]!;
      const at = n * laid.run[move]! + k;
      if (rate > fastest[at]!) fastest[at] = rate;
    }
  }
  return runs.flatMap((run) => {
    const where = placeOf(run);
    const { name } = run;
    const { feedMmPerMin: feed, spindleRpm: rpm } = run;
    const out: Finding[] = [];
    for (let k = 0; k < n; k++) {
      const { letter, kind, maxPerMin: limit } = axes[k]!;
      const rate = fastest[n * run.index + k]!;
      if (rate <= limit * RATE_SLACK) continue;
      const slower = Math.floor((feed * limit) / rate);
      if (kind === 'rotary') out.push(makeFinding('turns-too-fast', where, { name, letter, degPerMin: rate, limit, feed: slower }));
      else out.push(makeFinding('axis-too-fast', where, { name, letter, mmPerMin: rate, limit, feed: slower }));
    }
    const { plungeMmPerMin: plunge } = run;
    if (plunge > machine.maxFeedMmPerMin)
      out.push(makeFinding('plunge-too-fast', where, { name, feed: plunge, limit: machine.maxFeedMmPerMin }));
    if (feed > machine.maxFeedMmPerMin) out.push(makeFinding('feed-too-fast', where, { name, feed, limit: machine.maxFeedMmPerMin }));
    if (rpm > machine.maxSpindleRpm) out.push(makeFinding('spindle-too-fast', where, { name, rpm, limit: machine.maxSpindleRpm }));
    return out;
  });
}

/** A cut that takes this many times as long as its feed says does not reach it. */
const SLOW_SHARE = 1.25;

/** Findings on feeds that acceleration and corners keep from being reached. @param timesS End time of each block, s. O(blocks). */
export function findSlowFeeds({ runs }: Pick<Setup, 'runs'>, laid: LaidPaths, moves: AxisMoves, timesS: Float64Array): Finding[] {
  const wantedS = new Float64Array(runs.length),
    takenS = new Float64Array(runs.length),
    lengthMm = new Float64Array(runs.length);
  for (let i = 1; i < moves.count; i++) {
    const move = moves.move[i]!;
    if (laid.kind[move] !== MOVE.cut) continue;
    const run = laid.run[move]!;
    wantedS[run]! += 60 * moves.feedTimeMin[i]!;
    takenS[run]! += timesS[i]! - timesS[i - 1]!;
    lengthMm[run]! += moves.lengthMm[i]!;
  }
  return runs.flatMap((run) => {
    const [wanted, taken] = [wantedS[run.index]!, takenS[run.index]!];
    if (!(wanted > 0) || taken <= SLOW_SHARE * wanted) return [];
    const data = { name: run.name, feed: run.feedMmPerMin, mean: (60 * lengthMm[run.index]!) / taken };
    return [makeFinding('feed-not-reached', placeOf(run), data)];
  });
}

/** A carve that clears its floors alone is worth a word from here on, min. */
const SLOW_FLOOR_MIN = 5;

/** Findings on carves that spend minutes on floors a mill would clear. @param limited Runs whose strokes get a floor. O(blocks). */
export function findSlowFloors(limited: readonly Run[], laid: LaidPaths, moves: AxisMoves, timesS: Float64Array): Finding[] {
  return limited.flatMap((run) => {
    if (getStages(run.cut).length > 0) return [];
    let seconds = 0;
    for (let i = 1; i < moves.count; i++) if (laid.run[moves.move[i]!] === run.index) seconds += timesS[i]! - timesS[i - 1]!;
    if (seconds < 60 * SLOW_FLOOR_MIN) return [];
    return [makeFinding('slow-floor', placeOf(run), { name: run.name, minutes: seconds / 60, tool: run.tool.name })];
  });
}

/** Blocks are counted over this long: a control reads some of them ahead, s. */
const BLOCK_WINDOW_S = 0.2;

/** Findings on places where blocks follow each other faster than the control takes them. @param lineOfBlock From 0. O(blocks). */
export function findBlockRate(
  { job, surface }: Pick<Setup, 'job' | 'surface'>,
  moves: AxisMoves,
  timesS: Float64Array,
  lineOfBlock: ArrayLike<number>,
): Finding[] {
  let first = 0,
    most = 0,
    at = 0;
  for (let i = 1; i < moves.count; i++) {
    while (timesS[i]! - timesS[first]! > BLOCK_WINDOW_S) first++;
    if (i - first > most) [most, at] = [i - first, i];
  }
  const perS = most / BLOCK_WINDOW_S;
  const limit = job.machine.maxBlocksPerS;
  if (perS <= limit) return [];
  const where = { station: 'program' as const, xMm: moves.sheet[3 * at]!, turnDeg: toTurnDeg(surface, moves.sheet[3 * at + 1]!) };
  return [makeFinding('blocks-too-fast', { ...where, line: lineOfBlock[at]! + 1 }, { perS, limit, mergeMm: job.machine.mergeMm })];
}

/** A blank that the machine cannot turn. */
export function findMountFaults({ machine, blank }: Pick<Job, 'machine' | 'blank'>): Finding[] {
  if (getMount(blank) !== 'rotary' || getLayout(machine.layout).turning(machine.layout)) return [];
  return [makeFinding('needs-rotary', { station: 'blank' }, { machine: machine.name })];
}

/** Where a blank would stand on a table that tilts: known at all, and not in the table. */
export function findTableFaults({ machine, blank, zero }: Pick<Job, 'machine' | 'blank' | 'zero'>): Finding[] {
  const table = getTable(machine.layout);
  if (!table) return [];
  if (zero.centreMm === null) {
    return [makeFinding('centre-missing', { station: 'blank' }, { needed: !keepsToolPoint(machine) })];
  }
  // Round blanks stand on their datum end; what lies is as thick as it is said to be.
  const overZeroMm =
    getMount(blank) === 'rotary'
      ? -getZeroPlace(blank, zero).xMm
      : 'thicknessMm' in blank
        ? blank.zero === 'table'
          ? 0
          : -blank.thicknessMm
        : null;
  if (overZeroMm === null || table.tableMm === 0) return [];
  const mm = table.faceMm + zero.centreMm.zMm - overZeroMm;
  return mm > IN_TABLE_MM ? [makeFinding('in-table', { station: 'blank' }, { mm })] : [];
}

/** Less than this is touching, mm. */
const IN_TABLE_MM = 0.01;

/** What the machine's dialect has no words for, and what of the machine's own blocks a program cannot stand. */
export function findDialectFaults(job: Pick<Job, 'machine' | 'cuts'>): Finding[] {
  const dialect = DIALECTS[job.machine.dialect];
  const what = dialect.cannot(job);
  const own = findOwnBlockFaults(job.machine, dialect.rules).map((f) => makeFinding('own-block', { station: 'program' }, { ...f }));
  if (what.length === 0) return own;
  const others = Object.values(DIALECTS).filter((d) => d.cannot(job).length === 0);
  return [
    makeFinding('dialect-cannot', { station: 'program' }, { dialect: dialect.name, what, others: others.map((d) => d.name) }),
    ...own,
  ];
}

/** Findings on changing cutters. @param runs Those that cut something. */
export function findToolChangeFaults(machine: Machine, runs: readonly Run[]): Finding[] {
  const tools = [...new Map(runs.map((r) => [r.tool.id, r.tool])).values()];
  const where = { station: 'cuts' as const };
  const out: Finding[] = [];
  for (const number of new Set(tools.map((t) => t.number))) {
    const same = tools.filter((t) => t.number === number);
    if (same.length > 1) out.push(makeFinding('tool-number-twice', where, { number, tools: same.map((t) => t.name) }));
  }
  if (!machine.toolChanger && tools.length > 1)
    out.push(
      makeFinding('tool-by-hand', where, {
        count: tools.length,
        parts: machine.files !== 'one',
        lengths: machine.toolLengths === 'table',
      }),
    );
  return out;
}
