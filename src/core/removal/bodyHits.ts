import type { Tool } from '../job/schema';
import { getRotary } from '../machine/layouts/edit';
import type { Setup } from '../pipeline/setup';
import { createCutterShape, widthAt } from './cutterShape';
import type { Removal } from './removal';

/** Something above the cutting edges that meets the blank or what holds it. */
export interface BodyHit {
  motion: number;
  /** Sheet place under it. */
  x: number;
  y: number;
  what: 'cutter' | 'shank' | 'holder';
  /** What it meets. */
  meets: 'blank' | 'chuck' | 'tailstock';
  /** How far it is inside, mm. */
  mm: number;
}

/** A ring round the tool's axis: all its places are asked. */
interface Ring {
  heightMm: number;
  radiusMm: number;
  what: BodyHit['what'];
}

const CORNERS = 16;
/** Rings up the holder. */
const HOLDER_RINGS = 4;
/** Longest way and turn between two places of the tool that are asked, mm and degrees. */
const STEP_MM = 1.5;
const STEP_DEG = 2;
/** Less than this is touching, mm. */
const TOUCH_MM = 0.01;

/** Rings of a tool's body from the tip up. */
function listRings(tool: Tool): Ring[] {
  const shape = createCutterShape(tool);
  const topMm = Math.max(tool.fluteLengthMm, shape.parts[shape.parts.length - 1]!.fromMm);
  const rings: Ring[] = [
    { heightMm: 0, radiusMm: shape.flatMm, what: 'cutter' },
    { heightMm: topMm, radiusMm: widthAt(shape, topMm), what: 'cutter' },
    { heightMm: topMm, radiusMm: tool.shankMm / 2, what: 'shank' },
  ];
  for (let k = 0; k < HOLDER_RINGS && tool.holderMm > 0; k++) {
    const heightMm = tool.stickOutMm + (k / (HOLDER_RINGS - 1)) * tool.holderLengthMm;
    rings.push({ heightMm, radiusMm: tool.holderMm / 2, what: 'holder' });
  }
  return rings;
}

/**
 * Where shank and holder come into the blank, and any of the tool into the chuck or the tailstock: the deepest of each pair, on the
 * program's way in steps. The blank counts as it is when the program has run. O(motions).
 */
export function findBodyHits({ kinematics, work, job }: Setup, { track, field }: Removal): BodyHit[] {
  const n = kinematics.axes.length;
  const rings = track.tools.map(listRings);
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    values = new Float64Array(n);
  const worst = new Map<string, BodyHit>();
  const note = (hit: BodyHit): void => {
    const key = `${hit.what} ${hit.meets}`;
    if (!(hit.mm <= (worst.get(key)?.mm ?? TOUCH_MM))) worst.set(key, hit);
  };
  const { blank } = job;
  const rotary = getRotary(job.machine.layout);
  const { minX, maxX } = work.domain;
  const isHeld = work.round && 'clearDatumMm' in blank;
  /** Bodies about the rotary's axis, from `x` outward by `to`. */
  const holds = [
    isHeld && rotary && blank.clearDatumMm > 0 && rotary.chuckMm > 0
      ? { meets: 'chuck' as const, x: minX + blank.clearDatumMm, to: -1, radiusMm: rotary.chuckMm / 2 }
      : null,
    isHeld && rotary && blank.clearFarMm > 0 && rotary.tailstockMm > 0
      ? { meets: 'tailstock' as const, x: maxX - blank.clearFarMm, to: 1, radiusMm: rotary.tailstockMm / 2 }
      : null,
  ].filter((h) => h !== null);
  // The clear zone is measured on the sheet; along the axis that is where the surface stands there.
  const edge = new Float64Array(3);
  for (const hold of holds) {
    work.pointInto(hold.x, 0, edge);
    hold.x = edge[0]!;
  }

  const askPoint = (motion: number, ring: Ring, px: number, py: number, pz: number): void => {
    const { what } = ring;
    for (const hold of holds) {
      const into = Math.min(hold.to * (px - hold.x), hold.radiusMm - Math.hypot(py, pz));
      if (into > TOUCH_MM) {
        const at = work.toSheet(px, py, pz);
        note({ motion, x: at.x, y: at.y, what, meets: hold.meets, mm: into });
      }
    }
    if (what === 'cutter') return;
    const at = work.toSheet(px, py, pz);
    const mm = -at.heightMm - field.depthAt(at.x, at.y);
    if (mm > TOUCH_MM && work.outsideMm(at.x, at.y) === 0) note({ motion, x: at.x, y: at.y, what, meets: 'blank', mm });
  };

  const askPlace = (motion: number, tool: number): void => {
    kinematics.forward(values, tip, axis);
    for (const ring of rings[tool]!) {
      const { heightMm: h, radiusMm: r } = ring;
      const cx = tip[0]! + h * axis[0]!,
        cy = tip[1]! + h * axis[1]!,
        cz = tip[2]! + h * axis[2]!;
      // Heights over the surface are distances: no place of the ring is nearer than its middle by more than its radius.
      const near = ring.what !== 'cutter' && work.toSheet(cx, cy, cz).heightMm < r;
      const beside = holds.some((hold) => hold.to * (cx - hold.x) > -r && Math.hypot(cy, cz) < hold.radiusMm + r);
      if (!near && !beside) continue;
      const [u, v] = squareTo(axis);
      for (let k = 0; k < CORNERS; k++) {
        const c = r * Math.cos((2 * Math.PI * k) / CORNERS),
          s = r * Math.sin((2 * Math.PI * k) / CORNERS);
        askPoint(motion, ring, cx + c * u[0]! + s * v[0]!, cy + c * u[1]! + s * v[1]!, cz + c * u[2]! + s * v[2]!);
      }
    }
  };

  for (let i = 1; i < track.count; i++) {
    const tool = track.tool[i]!;
    if (tool < 0 || track.part[i] !== track.part[i - 1]) continue;
    let turn = 0,
      length = 0;
    for (const [k, a] of kinematics.axes.entries()) {
      const d = Math.abs(track.values[n * i + k]! - track.values[n * (i - 1) + k]!);
      if (a.kind === 'rotary') turn = Math.max(turn, d);
      else length = Math.max(length, d);
    }
    const steps = Math.min(400, Math.max(1, Math.ceil(turn / STEP_DEG), Math.ceil(length / STEP_MM)));
    for (let s = 1; s <= steps; s++) {
      for (let k = 0; k < n; k++) {
        const a = track.values[n * (i - 1) + k]!;
        values[k] = a + (s / steps) * (track.values[n * i + k]! - a);
      }
      askPlace(i, tool);
    }
  }
  return [...worst.values()];
}

/** Two directions square to a unit direction and to each other. */
function squareTo(a: ArrayLike<number>): [number[], number[]] {
  const [x, y, z] = [a[0]!, a[1]!, a[2]!];
  const raw = Math.abs(x) < 0.6 ? [1 - x * x, -x * y, -x * z] : [-y * x, 1 - y * y, -y * z];
  const l = Math.hypot(...raw);
  const u = raw.map((c) => c / l) as [number, number, number];
  return [u, [y * u[2] - z * u[1], z * u[0] - x * u[2], x * u[1] - y * u[0]]];
}
