/**
 * What a program leaves, asked by rays: its words are sent through the machine in small steps and every cutter is asked whether a point
 * lies in
 * it. Slow, and shares nothing with the sweep, the field or the judge. Forms of cutters: elementary.
 */
import type { Tool } from '../../src/core/job/schema';
import type { Setup } from '../../src/core/pipeline/setup';
import type { ProgramReading } from '../../src/core/program/interpreter';
import { createTrack } from '../../src/core/removal/removal';

/** Distance between neighbouring places of a cutter, mm, and steps down a ray. */
const STEP_MM = 0.02;
const DOWN_MM = 0.01;
const CELL_MM = 1;

/** Half-width of a cutter at a height over its tip, mm. */
export function halfWidth(tool: Tool, h: number): number {
  if (h < 0) return -1;
  const r = tool.diameterMm / 2;
  const tan = Math.tan((tool.includedDeg * Math.PI) / 360);
  const round = (b: number): number => Math.sqrt(Math.max(0, 2 * b * Math.min(h, b) - Math.min(h, b) ** 2));
  switch (tool.kind) {
    case 'flat':
      return r;
    case 'ball':
      return round(r);
    case 'bull': {
      const c = Math.min(r, tool.cornerMm);
      return r - c + round(c);
    }
    case 'ball-v':
    case 'taper-ball': {
      const b = tool.tipMm / 2;
      const sin = Math.sin(Math.atan(tan));
      const join = b * (1 - sin);
      return Math.min(r, h <= join ? Math.sqrt(2 * b * h - h * h) : h * tan + (b * (1 - sin)) / Math.cos(Math.atan(tan)));
    }
    case 'drill':
    case 'centre-drill':
      return Math.min(r, h * tan);
    default:
      return Math.min(r, tool.tipMm / 2 + h * tan);
  }
}

/** Asks how deep a piece is along the normal of a sheet place, as far as hangs together with the surface, mm. */
export function createRayProbe(setup: Setup, readings: readonly ProgramReading[], hand: readonly Tool[]): (x: number, y: number) => number {
  const { kinematics, work } = setup;
  const track = createTrack(setup, readings, hand);
  const n = kinematics.axes.length;
  const poses: number[] = [];
  const tools: Tool[] = [];
  const cells = new Map<string, number[]>();
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    last = new Float64Array(3);
  const at = new Float64Array(n);
  for (let i = 1; i < track.count; i++) {
    const tool = track.tools[track.tool[i]!];
    if (!tool || track.fresh[i]) continue;
    const from = track.values.subarray(n * (i - 1), n * i),
      to = track.values.subarray(n * i, n * (i + 1));
    kinematics.forward(from, last, axis);
    kinematics.forward(to, tip, axis);
    let turn = 0;
    for (let k = 0; k < n; k++) if (kinematics.axes[k]!.kind === 'rotary') turn = Math.max(turn, Math.abs(to[k]! - from[k]!));
    const way = Math.hypot(tip[0]! - last[0]!, tip[1]! - last[1]!, tip[2]! - last[2]!) + (turn * Math.PI * Math.abs(work.topMm)) / 180;
    const parts = Math.max(1, Math.ceil(way / STEP_MM));
    for (let s = 0; s <= parts; s++) {
      for (let k = 0; k < n; k++) at[k] = from[k]! + (s / parts) * (to[k]! - from[k]!);
      kinematics.forward(at, tip, axis);
      const foot = work.toSheet(tip[0]!, tip[1]!, tip[2]!);
      if (foot.heightMm > tool.diameterMm) continue;
      const id = tools.length;
      tools.push(tool);
      poses.push(...tip, ...axis);
      const [cx, cy] = [tip[0]!, tip[1]!];
      const key = `${Math.floor(cx / CELL_MM)} ${Math.floor(cy / CELL_MM)} ${Math.floor(tip[2]! / CELL_MM)}`;
      const list = cells.get(key);
      if (list) list.push(id);
      else cells.set(key, [id]);
    }
  }
  const widest = tools.reduce((most, t) => Math.max(most, t.diameterMm / 2), 0);
  const frame = new Float64Array(6);
  return (x, y) => {
    work.frameInto(x, y, frame);
    const [sx, sy, sz, nx, ny, nz] = frame as unknown as [number, number, number, number, number, number];
    // Tips that can reach the ray near the surface: within the widest cutter, and as deep as that.
    const near: number[] = [];
    const r = Math.ceil((1.5 * widest + 2) / CELL_MM);
    const [cx, cy, cz] = [sx, sy, sz].map((v) => Math.floor(v / CELL_MM)) as [number, number, number];
    for (let i = -r; i <= r; i++)
      for (let j = -r; j <= r; j++)
        for (let k = -r; k <= r; k++) for (const id of cells.get(`${cx + i} ${cy + j} ${cz + k}`) ?? []) near.push(id);
    const isIn = (t: number): boolean => {
      const [px, py, pz] = [sx - t * nx, sy - t * ny, sz - t * nz];
      return near.some((id) => {
        const o = 6 * id;
        const [dx, dy, dz] = [px - poses[o]!, py - poses[o + 1]!, pz - poses[o + 2]!];
        const h = dx * poses[o + 3]! + dy * poses[o + 4]! + dz * poses[o + 5]!;
        if (h < 0) return false;
        const w = halfWidth(tools[id]!, h);
        return dx * dx + dy * dy + dz * dz - h * h < w * w;
      });
    };
    let depth = 0;
    if (!isIn(1e-4)) return 0;
    while (depth < 20 && isIn(depth + DOWN_MM)) depth += DOWN_MM;
    return depth;
  };
}
