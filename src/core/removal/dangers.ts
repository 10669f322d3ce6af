import { getBeginMm } from '../job/cutSchema';
import { isStill } from '../job/toolSchema';
import { computeLean } from '../machine/stance';
import { makeFinding, type Finding, type FindingCode } from '../findings/finding';
import type { Fault, Verdict } from '../intent/verdict';
import type { Setup } from '../pipeline/setup';
import { toTurnDeg } from '../surface/surface';
import { TILE, TILE_CELLS } from './tile';
import { findBodyHits } from './bodyHits';
import type { Truth } from './truth';
import type { Removal } from './removal';

/** What a program would do to the piece, the tool or the machine, seen in what it takes away. */
export interface Danger {
  finding: Finding;
  /** Moment and motion at which it happens, for the play to stop at. */
  timeS: number;
  motion: number;
}

/** A rapid that takes less than this only grazes by the program's last digits, mm. */
const GRAZE_MM = 0.002;
/** Taken together over a motion this is nothing, mm of depth in one cell. */
const NOTHING_MM = 1e-4;
/** Slack on feeds and steps. */
const SLACK = 1.05;
/** A way down steeper than this, or than the cutter's own flank, sinks: a V runs down into a corner no steeper than its flank. */
const SINKING = 0.7;
const FLANK_SLACK = 0.02;
/** Of a way down through a groove that is there already, so much at its end counts as full material, mm. */
const BITE_MM = 0.1;
/** More of the time below the surface spent cutting air than this is worth a note; and more seconds than that. */
const AIR_SHARE = 0.2;
const AIR_S = 20;
const LEANING_SLACK = 1.7;
const AIR_STRETCH_S = 1;
/** An axis asked for more than this many times its most is too much; feed words have few digits. */
const FAST = 1.2;
/** More turns than this from where the rotary began are worth a note. */
const WOUND_TURNS = 3;

/**
 * Finds what is dangerous in a program that was run whole. One finding a kind, at its worst or first place.
 * O(motions + cells).
 */
export function findDangers(setup: Setup, removal: Removal): Danger[] {
  const found = new DangerSearch(setup, removal);
  return found.search().sort((a, b) => a.timeS - b.timeS);
}

/** Findings on the job or the plan that say less exactly what a danger says of the same thing. */
const NARROWER: Partial<Record<FindingCode, readonly FindingCode[]>> = {
  'rapid-cuts': ['rapid-in-work'],
  'cuts-through': ['breaks-through'],
  'cuts-clear-end': ['in-clear-zone'],
  'cuts-still': ['spindle-wrong'],
  'cuts-without-tool': ['wrong-tool'],
  'shank-in-groove': ['flute-too-short'],
  'dives-fast': ['plunge-too-fast'],
  'asks-too-fast': ['axis-too-fast', 'turns-too-fast'],
  'too-deep': ['edge-outside'],
  'left-standing': ['edge-left'],
};

/** All that is to be said of a plan and of what its program takes away: where both say the same thing, only the latter. */
export function joinFindings(planned: readonly Finding[], dangers: readonly Danger[]): Finding[] {
  const said = new Set(dangers.flatMap((d) => NARROWER[d.finding.code] ?? []));
  return [...planned.filter((f) => !said.has(f.code)), ...dangers.map((d) => d.finding)];
}

/** So much of the area not cut is worth a warning: a blunt tip leaves a little in every corner. */
const LEFT_SHARE = 0.08;
/** Half of the outline left by more than this, µm. */
const LEFT_UM = 30;

/** What of a piece's truth is worth a warning, at the end of its program. */
export function findTruthDangers({ surface }: Setup, { track }: Removal, truth: Truth): Danger[] {
  const motion = Math.max(0, track.count - 1);
  const end = { motion, timeS: track.timesS[motion] ?? 0 };
  const at = ([x, y]: readonly [number, number]) => ({ xMm: x, turnDeg: toTurnDeg(surface, y) });
  const where = { station: 'proof' as const };
  const out: Danger[] = [];
  const { edge, area } = truth;
  if (edge && area && (area.unreachedMm2 > LEFT_SHARE * area.drawnMm2 || edge.uncutMedianUm > LEFT_UM)) {
    const data = { percent: (100 * area.unreachedMm2) / area.drawnMm2 };
    out.push({ ...end, finding: makeFinding('left-inside', { ...where, ...at(edge.uncutAt) }, data) });
  }
  return out;
}

/** Findings of a verdict: where the piece is not what was meant, one a kind and cut, at its worst place. */
export function findVerdictDangers({ surface }: Setup, { track }: Removal, { faults }: Verdict): Danger[] {
  const groups = new Map<string, Fault[]>();
  for (const fault of faults) {
    const key = `${fault.kind} ${fault.run.id}`;
    groups.set(key, [...(groups.get(key) ?? []), fault]);
  }
  const last = Math.max(0, track.count - 1);
  return [...groups.values()].map((own) => {
    const { kind, run, letter, at, depthMm, wantedMm, motion: by } = own[0]!;
    const motion = by >= 0 && by < track.count ? by : last;
    const line = by >= 0 && by < track.count ? { line: track.line[by]! + 1 } : {};
    const where = { station: 'proof', id: run.id, name: run.name, xMm: at[0], turnDeg: toTurnDeg(surface, at[1]), ...line } as const;
    const areaMm2 = own.reduce((sum, f) => sum + f.areaMm2, 0);
    const place = { name: run.name, letter, depthMm, wantedMm, areaMm2, places: own.length };
    const finding =
      kind === 'tab'
        ? makeFinding('tabs-missing', where, { name: run.name, found: depthMm, wanted: wantedMm })
        : kind === 'missing'
          ? makeFinding('letters-missing', where, { name: run.name, letters: own.map((f) => f.letter) })
          : kind === 'loose'
            ? makeFinding('part-loose', where, { areaMm2, parts: own.length })
            : makeFinding(CODE_OF[kind], where, place);
    return { finding, motion, timeS: track.timesS[motion] ?? 0 };
  });
}

const CODE_OF = { 'too-deep': 'too-deep', left: 'left-standing', stands: 'stands-cut' } as const;

interface Worst {
  motion: number;
  amount: number;
  count: number;
}

class DangerSearch {
  private readonly out: Danger[] = [];
  private readonly tip = new Float64Array(3);
  private readonly axis = new Float64Array(3);

  constructor(
    private readonly setup: Setup,
    private readonly removal: Removal,
  ) {}

  search(): Danger[] {
    this.searchMotions();
    this.searchCells();
    this.searchBodies();
    this.searchAxes();
    return this.out;
  }

  private searchMotions(): void {
    const { track, load } = this.removal;
    const { runs } = this.setup;
    const none = (): Worst => ({ motion: -1, amount: 0, count: 0 });
    const rapid = none(),
      still = none(),
      toolless = none(),
      dive = none(),
      much = none(),
      shank = none();
    const note = (worst: Worst, motion: number, amount: number) => {
      worst.count++;
      if (amount > worst.amount) [worst.amount, worst.motion] = [amount, motion];
    };
    const plungeOf = track.tools.map((t) => Math.max(0, ...runs.filter((r) => r.tool.id === t.id).map((r) => r.plungeMmPerMin)));
    const stepOf = track.tools.map((t) => Math.max(0, ...runs.filter((r) => r.tool.id === t.id).map((r) => this.stepOf(r.index))));
    // Beside a leaning mill slivers stand that one level leaves and the next takes whole.
    const stepSlack = this.setup.work.alongNormal ? SLACK : LEANING_SLACK;
    let airS = 0,
      belowS = 0,
      stretchS = 0;
    // Out and back along a leg takes nothing for a moment, and saves a lift: only longer stretches count.
    const endStretch = (): void => {
      if (stretchS > AIR_STRETCH_S) airS += stretchS;
      stretchS = 0;
    };
    for (let i = 1; i < track.count; i++) {
      const most = load.most[i]!;
      const seconds = track.timesS[i]! - track.timesS[i - 1]!;
      if (track.rapid[i]) {
        if (most > GRAZE_MM) note(rapid, i, most);
        continue;
      }
      const depth = this.depthAt(i);
      if (track.tool[i]! < 0) {
        if (depth > NOTHING_MM) note(toolless, i, depth);
        continue;
      }
      if (depth > 0 && this.depthAt(i - 1) > 0) {
        belowS += seconds;
        if (most < NOTHING_MM) stretchS += seconds;
        else endStretch();
      }
      if (most < NOTHING_MM) continue;
      if (track.spindleRpm[i] === 0 && !isStill(track.tools[track.tool[i]!]!)) note(still, i, most);
      const tool = track.tool[i]!;
      const deeper = depth - track.tools[tool]!.fluteLengthMm;
      if (deeper > 0) note(shank, i, deeper);
      if (stepOf[tool]! > 0 && most > stepSlack * (stepOf[tool]! + 2 * this.leanMm(i, tool)) + GRAZE_MM) note(much, i, most);
      const sunk = depth - Math.max(0, this.depthAt(i - 1));
      if (sunk > GRAZE_MM && seconds > 0 && plungeOf[tool]! > 0 && most > Math.min(BITE_MM, SINKING * sunk) && this.isSinking(i, tool)) {
        const rate = this.sinkingRate(i);
        if (rate > SLACK * plungeOf[tool]!) note(dive, i, rate);
      }
    }
    endStretch();
    if (rapid.count) this.add('rapid-cuts', rapid, { mm: rapid.amount, count: rapid.count });
    if (still.count) this.add('cuts-still', still, { count: still.count });
    if (toolless.count) this.add('cuts-without-tool', toolless, { count: toolless.count });
    if (shank.count) this.add('shank-in-groove', shank, { tool: track.tools[track.tool[shank.motion]!]!.name, mm: shank.amount });
    if (dive.count) {
      const wantedMmPerMin = plungeOf[track.tool[dive.motion]!]!;
      this.add('dives-fast', dive, { mmPerMin: dive.amount, wantedMmPerMin, count: dive.count });
    }
    if (much.count) this.add('too-much-at-once', much, { mm: much.amount, wantedMm: stepOf[track.tool[much.motion]!]!, count: much.count });
    // A last run over the same strokes is asked for, and takes nothing.
    const isAsked = runs.some(({ cut }) => 'finishing' in cut && cut.finishing);
    if (!isAsked && airS > AIR_S && airS > AIR_SHARE * belowS) {
      this.add('cuts-air', { motion: track.count - 1, amount: 0, count: 1 }, { percent: (100 * airS) / belowS, seconds: airS });
    }
  }

  /** Depth of the deepest step of a run's levels, mm; infinite where it takes all at once. */
  private stepOf(run: number): number {
    const { levels, cut } = this.setup.runs[run]!;
    // On a whole blank the first level takes what is said to be gone as well.
    return levels.by === 'step' ? getBeginMm(cut) + levels.stepMm : levels.count === 1 ? Infinity : 0;
  }

  /** How much deeper the low side of a leaning cutter takes than its middle, at the end of a motion, mm. */
  private leanMm(i: number, tool: number): number {
    const { work } = this.setup;
    if (work.alongNormal) return 0;
    const [x, y] = this.placeOf(i);
    return (this.removal.track.tools[tool]!.diameterMm / 2) * Math.tan(Math.min(1.3, computeLean(work, x, y)));
  }

  private depthAt(i: number): number {
    const { track } = this.removal;
    const { kinematics, work } = this.setup;
    const n = kinematics.axes.length;
    kinematics.forward(track.values.subarray(n * i, n * (i + 1)), this.tip, this.axis);
    return -work.toSheet(this.tip[0]!, this.tip[1]!, this.tip[2]!).heightMm;
  }

  /** Whether a motion goes down along its tool steeper than the cutter cuts along. */
  private isSinking(i: number, tool: number): boolean {
    const { kind, includedDeg } = this.removal.track.tools[tool]!;
    const flank = kind === 'flat' || kind === 'ball' || kind === 'bull' ? 0 : Math.cos((includedDeg * Math.PI) / 360) + FLANK_SLACK;
    const { wayMm, downMm } = this.measureWay(i);
    return downMm > Math.max(SINKING, flank) * wayMm;
  }

  /** How far the tip goes in a motion, and how far of it down along the tool. */
  private measureWay(i: number): { wayMm: number; downMm: number } {
    const { track } = this.removal;
    const { kinematics } = this.setup;
    const n = kinematics.axes.length;
    kinematics.forward(track.values.subarray(n * (i - 1), n * i), this.tip, this.axis);
    const [x, y, z] = this.tip as unknown as [number, number, number];
    kinematics.forward(track.values.subarray(n * i, n * (i + 1)), this.tip, this.axis);
    const [dx, dy, dz] = [this.tip[0]! - x, this.tip[1]! - y, this.tip[2]! - z];
    return { wayMm: Math.hypot(dx, dy, dz), downMm: -(dx * this.axis[0]! + dy * this.axis[1]! + dz * this.axis[2]!) };
  }

  /** Speed at which the tip goes down along the tool as the program asks for it, mm/min. */
  private sinkingRate(i: number): number {
    const minutes = this.removal.track.wantedS[i]! / 60;
    return minutes > 0 ? this.measureWay(i).downMm / minutes : 0;
  }

  private searchBodies(): void {
    const { track } = this.removal;
    for (const { motion, x, y, what, meets, mm } of findBodyHits(this.setup, this.removal)) {
      const tool = track.tools[track.tool[motion]!]!.name;
      if (meets === 'blank') this.addAt('body-hits', [x, y, motion], { what, tool, mm });
      else this.addAt('chuck-hits', [x, y, motion], { what, meets, tool, mm });
    }
  }

  /** Axes that are asked for more than they can do, and how far the rotary is wound up at the end. */
  private searchAxes(): void {
    const { track } = this.removal;
    const { axes } = this.setup.kinematics;
    const n = axes.length;
    const { values, count } = track;
    for (const [k, axis] of axes.entries()) {
      const fast = { motion: -1, amount: 0, count: 0 };
      for (let i = 1; i < count; i++) {
        if (track.rapid[i] || !(track.wantedS[i]! > 0) || track.fresh[i] === 1) continue;
        const perMin = (60 * Math.abs(values[n * i + k]! - values[n * (i - 1) + k]!)) / track.wantedS[i]!;
        if (perMin <= FAST * axis.maxPerMin) continue;
        fast.count++;
        if (perMin > fast.amount) [fast.amount, fast.motion] = [perMin, i];
      }
      const unit = axis.kind === 'rotary' ? '°' : 'mm';
      if (fast.count > 0) {
        const data = { letter: axis.letter, perMin: fast.amount, mostPerMin: axis.maxPerMin, unit, count: fast.count };
        this.add('asks-too-fast', fast, data);
      }
      if (axis.kind !== 'rotary' || Number.isFinite(axis.min) || count === 0) continue;
      const turns = Math.abs(values[n * (count - 1) + k]! - values[k]!) / 360;
      if (turns > WOUND_TURNS) this.addAt('winds-up', [...this.placeOf(count - 1), count - 1], { turns });
    }
  }

  /** The finished field against the wall and the ends that stay clear. */
  private searchCells(): void {
    const { job, surface } = this.setup;
    const { field, track } = this.removal;
    const meant = new Set(this.setup.runs.filter((r) => r.kind.isThrough?.(r.cut)).map((r) => r.tool.id));
    const { blank } = job;
    const { minX, maxX } = surface.domain;
    const clear = 'clearDatumMm' in blank ? [minX + blank.clearDatumMm, maxX - blank.clearFarMm] : [-Infinity, Infinity];
    let through = 0,
      throughAt: [number, number, number] | null = null,
      into = 0,
      intoAt: [number, number, number] | null = null;
    for (const tile of field.tiles) {
      const c0 = (tile.key % field.grid.tilesAlong) * TILE,
        r0 = Math.floor(tile.key / field.grid.tilesAlong) * TILE;
      let deepest = 0;
      for (let i = 0; i < TILE_CELLS; i++) {
        const d = tile.depth[i]!;
        if (!(d > NOTHING_MM)) continue;
        const x = field.cellX(c0 + (i & 31)),
          y = field.cellY(r0 + (i >> 5));
        const end = Math.max(clear[0]! - x, x - clear[1]!);
        if (end > into) [into, intoAt] = [end, [x, y, tile.motion[i]! - 1]];
        // A cut that is meant to go through does; drilling and cutting out say themselves where the wall is.
        if (meant.has(track.tools[track.tool[tile.motion[i]! - 1]!]?.id ?? '')) continue;
        // Only what is deeper than all before in its tile is asked: walls hardly change over a tile.
        if (d <= deepest) continue;
        deepest = d;
        const over = d - surface.wallAt(x, y);
        if (over > through) [through, throughAt] = [over, [x, y, tile.motion[i]! - 1]];
      }
    }
    if (throughAt) this.addAt('cuts-through', throughAt, { mm: through, wall: surface.wallName });
    if (intoAt) this.addAt('cuts-clear-end', intoAt, { mm: into });
  }

  private add(code: Parameters<typeof makeFinding>[0], { motion }: Worst, data: object): void {
    const { load, field } = this.removal;
    const cell = load.cell[motion]!;
    const place =
      cell < 0
        ? this.placeOf(motion)
        : ([
            field.cellX((Math.floor(cell / TILE_CELLS) % field.grid.tilesAlong) * TILE + (cell % TILE)),
            field.cellY(Math.floor(Math.floor(cell / TILE_CELLS) / field.grid.tilesAlong) * TILE + ((cell % TILE_CELLS) >> 5)),
          ] as const);
    this.addAt(code, [place[0], place[1], motion], data);
  }

  private placeOf(motion: number): readonly [number, number] {
    this.depthAt(motion);
    const at = this.setup.work.toSheet(this.tip[0]!, this.tip[1]!, this.tip[2]!);
    return [at.x, at.y];
  }

  private addAt(code: Parameters<typeof makeFinding>[0], [x, y, motion]: readonly [number, number, number], data: object): void {
    const { track } = this.removal;
    const line = track.line[motion]! + 1;
    const where = { station: 'program' as const, xMm: x, turnDeg: toTurnDeg(this.setup.surface, y), line };
    this.out.push({ finding: makeFinding(code, where, data as never), motion, timeS: track.timesS[motion]! });
  }
}
