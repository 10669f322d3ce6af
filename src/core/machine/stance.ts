import type { Surface } from '../surface/surface';
import { computeSwing } from './swing';

/**
 * How a tool can stand over a blank: what the machine can turn. The tool takes the axis nearest to the normal that this allows:
 * radial under a plain rotary, upright on a table, tilted in the plane of X and Z where a head tilts.
 */
export interface Stance {
  /** Whether a rotary turns the blank about X. */
  turns: boolean;
  /** How far the head may tilt the tool from upright towards +x, radians; null where it does not tilt. */
  tiltRad: readonly [min: number, max: number] | null;
  /** By how much the tool leans from the normal towards +x where something tilts, radians. */
  leadRad: number;
  /** From the tilt axis to the tip where the control does not keep the tip in place, mm; else 0. */
  pivotMm: number;
  /**
   * Where the axes of a table meet that tilts the blank under a tool that stands upright, blank frame, mm: then Z always runs along the
   * tool. Where they pass each other it is the turn's axis, as high as the tilt's. Null where the blank is not tilted.
   */
  centre: readonly [x: number, y: number, z: number] | null;
  /** By how much they pass each other, mm. */
  asideMm: number;
  /** Whether the control keeps the tool's point: then no word of a program is up. */
  toolPoint: boolean;
}

/** Nothing tilts, and the words are the axes' own. */
export const PLAIN_STANCE: Stance = { turns: false, tiltRad: null, leadRad: 0, pivotMm: 0, centre: null, asideMm: 0, toolPoint: false };

/**
 * What carving asks of the metal under a piece: where it is, and how the tool stands. Coordinates are the sheet's or those of a
 * chart, in all four methods alike.
 */
export interface Ground {
  /** Whether its coordinates are true lengths, square to each other, everywhere. */
  isometric: boolean;
  flat: boolean;
  /** Whether the tool stands along the normal everywhere, to the last digit. */
  alongNormal: boolean;
  pointInto(x: number, y: number, out: Float64Array): void;
  frameInto(x: number, y: number, out: Float64Array): void;
  /** Point of the surface `out[0..2]` and unit tool axis, from tip to spindle, `out[3..5]`. */
  poseInto(x: number, y: number, out: Float64Array): void;
  curvatureInto(x: number, y: number, out: Float64Array): void;
}

/** A surface with the way the tool stands on it. Where it cannot stand along the normal it leans, and depths are measured along it. */
export interface Work extends Surface, Ground {
  stance: Stance;
}

/** A normal this near to upright is upright. */
const UPRIGHT = 1e-12;
/** A normal this near to the rotary's axis leaves the turn free. */
const ON_POLE = 1e-9;

/** Puts the tool on a surface as far as its stance allows. */
export function createWork(surface: Surface, stance: Stance): Work {
  const topMm = stance.centre ? computeSwing(surface, stance.centre) : surface.topMm;
  if (isAlongNormal(surface, stance)) return { ...surface, topMm, stance, alongNormal: true, poseInto: surface.frameInto };
  return {
    ...surface,
    topMm,
    stance,
    alongNormal: false,
    homogeneous: stance.turns || surface.flat ? surface.homogeneous : 'nowhere',
    poseInto: createPose(surface, stance),
  };
}

function isAlongNormal(surface: Surface, { turns, tiltRad, leadRad }: Stance): boolean {
  if (leadRad !== 0) return false;
  // A table that does not tilt far enough never brings a radial tool to a round blank that stands on it.
  if (turns) return surface.radialNormal && (tiltRad === null || (tiltRad[0] <= 0 && tiltRad[1] >= 0));
  if (!surface.flat) return false;
  const frame = new Float64Array(6);
  surface.frameInto(0, 0, frame);
  return Math.abs(frame[5]! - 1) < UPRIGHT;
}

function createPose(surface: Surface, stance: Stance): Work['poseInto'] {
  if (stance.turns) return createTurningPose(surface, stance);
  return stance.centre ? createTablePose(surface, stance) : createLyingPose(surface, stance);
}

const clampTilt = ({ tiltRad }: Stance, tilt: number): number => (tiltRad ? Math.min(tiltRad[1], Math.max(tiltRad[0], tilt)) : 0);

/** Under a rotary: the turn is the normal's own, the tilt as near to it as the head comes. */
function createTurningPose(surface: Surface, stance: Stance): Work['poseInto'] {
  return (x, y, out) => {
    surface.frameInto(x, y, out);
    const nx = out[3]!;
    let ny = out[4]!,
      nz = out[5]!;
    let round = Math.sqrt(ny * ny + nz * nz);
    let tilt = stance.tiltRad ? Math.atan2(nx, round) + stance.leadRad : 0;
    if (round < ON_POLE) {
      // On a pole the turn is free: the sheet's own is as good as any.
      ny = Math.sin(y / surface.mmPerRad);
      nz = Math.cos(y / surface.mmPerRad);
      round = 1;
      tilt = Math.sign(nx) * (Math.PI / 2) + stance.leadRad;
    }
    if (!stance.tiltRad) {
      out[3] = 0;
      out[4] = ny / round;
      out[5] = nz / round;
      return;
    }
    tilt = clampTilt(stance, tilt);
    out[3] = Math.sin(tilt);
    out[4] = (Math.cos(tilt) * ny) / round;
    out[5] = (Math.cos(tilt) * nz) / round;
  };
}

/** On a table that tilts: along the normal, leaning by the lead towards +x, and no farther from upright than the table can go. */
function createTablePose(surface: Surface, { tiltRad, leadRad }: Stance): Work['poseInto'] {
  const most = tiltRad![1];
  const [cl, sl] = [Math.cos(leadRad), Math.sin(leadRad)];
  return (x, y, out) => {
    surface.frameInto(x, y, out);
    const ax = out[3]! * cl + out[5]! * sl,
      az = out[5]! * cl - out[3]! * sl,
      ay = out[4]!;
    const round = Math.hypot(ax, ay);
    const lean = Math.min(most, Math.atan2(round, az));
    const share = round > 0 ? Math.sin(lean) / round : 0;
    out[3] = ax * share;
    out[4] = ay * share;
    out[5] = Math.cos(lean);
  };
}

/** On a table: the tool stays in the plane of X and Z, upright over an overhang too; the lean is then more than a right angle. */
function createLyingPose(surface: Surface, stance: Stance): Work['poseInto'] {
  return (x, y, out) => {
    surface.frameInto(x, y, out);
    const tilt = clampTilt(stance, Math.atan2(out[3]!, out[5]!) + stance.leadRad);
    out[3] = Math.sin(tilt);
    out[4] = 0;
    out[5] = Math.cos(tilt);
  };
}

/** Unit vector straight up on the machine, towards +Z, in the blank frame, for a tool axis `f[3..5]`: the way that Z lifts the tip. */
export function upInto({ turns, centre }: Stance, f: ArrayLike<number>, out: Float64Array): void {
  if (centre) {
    for (let k = 0; k < 3; k++) out[k] = f[3 + k]!;
    return;
  }
  const round = turns ? Math.hypot(f[4]!, f[5]!) : 0;
  out[0] = 0;
  // On a pole no turn is given by the axis; there the sheet's turn 0 will do, since nothing round it is higher.
  out[1] = round > ON_POLE ? f[4]! / round : 0;
  out[2] = round > ON_POLE ? f[5]! / round : 1;
}

/**
 * Height of a point straight up on the machine: from the rotary's axis or from z = 0, or from where the axes of a table meet, wherever its
 * tilt takes that place, mm.
 */
export function levelOf({ centre }: Stance, point: ArrayLike<number>, up: ArrayLike<number>): number {
  const level = point[0]! * up[0]! + point[1]! * up[1]! + point[2]! * up[2]!;
  return centre ? level - (centre[0] * up[0]! + centre[1] * up[1]! + centre[2] * up[2]!) : level;
}

/** Angle between tool and normal, radians. */
export function computeLean(ground: Pick<Ground, 'frameInto' | 'poseInto'>, x: number, y: number): number {
  const n = new Float64Array(6),
    a = new Float64Array(6);
  ground.frameInto(x, y, n);
  ground.poseInto(x, y, a);
  const cos = n[3]! * a[3]! + n[4]! * a[4]! + n[5]! * a[5]!;
  const sin = Math.hypot(n[4]! * a[5]! - n[5]! * a[4]!, n[5]! * a[3]! - n[3]! * a[5]!, n[3]! * a[4]! - n[4]! * a[3]!);
  return Math.atan2(sin, cos);
}
