import { getMount } from '../job/blankText';
import type { Tool } from '../job/schema';
import { getRotary, getTable } from '../machine/layouts/edit';
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
  meets: 'blank' | 'chuck' | 'tailstock' | 'table' | 'clamps';
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
  const bodies = listBodies({ job, work });

  const askPoint = (motion: number, ring: Ring, px: number, py: number, pz: number): void => {
    const { what } = ring;
    for (const { meets, insideMm } of bodies) {
      const into = insideMm(px, py, pz);
      if (into > TOUCH_MM) {
        const at = work.toSheet(px, py, pz);
        note({ motion, x: at.x, y: at.y, what, meets, mm: into });
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
      const beside = bodies.some(({ insideMm }) => insideMm(cx, cy, cz) > -r);
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
    if (tool < 0 || track.fresh[i] === 1) continue;
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

/** Something beside the blank that the tool must not meet. */
interface Body {
  meets: Exclude<BodyHit['meets'], 'blank'>;
  /** How far a point is inside, mm; negative outside, where it is no more than the distance. */
  insideMm(x: number, y: number, z: number): number;
}

/** A round body from a place on its axis on, without end. @param towards Unit. */
const createRod = (
  meets: Body['meets'],
  from: readonly [number, number, number],
  towards: readonly [number, number, number],
  radiusMm: number,
): Body => ({
  meets,
  insideMm(x, y, z) {
    const [dx, dy, dz] = [x - from[0], y - from[1], z - from[2]];
    const along = dx * towards[0] + dy * towards[1] + dz * towards[2];
    return Math.min(along, radiusMm - Math.sqrt(Math.max(0, dx * dx + dy * dy + dz * dz - along * along)));
  },
});

/** What holds the blank, in its own frame: chuck, tailstock, the table under it, clamps at the ends of one that lies. */
function listBodies({ job, work }: Pick<Setup, 'job' | 'work'>): Body[] {
  const { blank, machine } = job;
  const out: Body[] = [];
  const { minX, maxX } = work.domain;
  const edge = new Float64Array(3);
  // The clear zone is measured on the sheet; along the axis that is where the surface stands there.
  const xAt = (sheetX: number): number => {
    work.pointInto(sheetX, 0, edge);
    return edge[0]!;
  };
  const table = getTable(machine.layout);
  if (work.round && 'clearDatumMm' in blank) {
    const rotary = getRotary(machine.layout);
    const chuckMm = rotary?.chuckMm ?? table?.turn.chuckMm ?? 0;
    const tailstockMm = rotary?.tailstockMm ?? 0;
    if (blank.clearDatumMm > 0 && chuckMm > 0)
      out.push(createRod('chuck', [xAt(minX + blank.clearDatumMm), 0, 0], [-1, 0, 0], chuckMm / 2));
    if (blank.clearFarMm > 0 && tailstockMm > 0)
      out.push(createRod('tailstock', [xAt(maxX - blank.clearFarMm), 0, 0], [1, 0, 0], tailstockMm / 2));
  }
  const { centre } = work.stance;
  if (table && centre && job.zero.centreMm && table.tableMm > 0) {
    // Up from the table: along a round blank that stands on it, along z of one that lies.
    const up = work.stance.turns ? ([1, 0, 0] as const) : ([0, 0, 1] as const);
    const face = [0, 1, 2].map((k) => centre[k]! + table.faceMm * up[k]!) as [number, number, number];
    out.push(createRod('table', face, [-up[0], 0, -up[2]], table.tableMm / 2));
  }
  const { highMm, reachMm } = machine.clamps;
  if (getMount(blank) === 'table' && highMm > 0 && reachMm > 0) {
    const [from, to, top] = [xAt(minX) + reachMm, xAt(maxX) - reachMm, work.stance.centre ? 0 : work.topMm];
    // Only over the blank's own width: beside it is no clamp of it.
    out.push({ meets: 'clamps', insideMm: (x, _, z) => Math.min(Math.max(from - x, x - to), top + highMm - z) });
  }
  return out;
}

/** Two directions square to a unit direction and to each other. */
function squareTo(a: ArrayLike<number>): [number[], number[]] {
  const [x, y, z] = [a[0]!, a[1]!, a[2]!];
  const raw = Math.abs(x) < 0.6 ? [1 - x * x, -x * y, -x * z] : [-y * x, 1 - y * y, -y * z];
  const l = Math.hypot(...raw);
  const u = raw.map((c) => c / l) as [number, number, number];
  return [u, [y * u[2] - z * u[1], z * u[0] - x * u[2], x * u[1] - y * u[0]]];
}
