import { clipLines, offsetRings } from '../../base/boolean';
import { computeBox, getRing, isEmptyRings, type Rings } from '../../base/rings';
import type { Steps } from '../../base/steps';

/** Chord error of offsets, mm. */
export const ARC_TOLERANCE_MM = 0.0005;
const MAX_RINGS = 3000;
/** A link from a pass to the next out is no longer than this many steps: then it lies in what is between the two. */
const LONGEST_LINK = 1.2;
/** A row ends this much before the wall, as a share of the distance of rows: the wall has a pass of its own. */
const ROW_GAP = 0.15;

/** A line that fills part of an area, x, y in turn; from point `wallFrom` on it runs along the walls. */
export interface FillLine {
  xy: Float64Array;
  wallFrom: number;
}

interface Node {
  ring: Float64Array;
  children: Node[];
}

/**
 * Fills an area with passes along its walls: rings inset by a step each, linked from the middle outward by moves no longer than about a
 * step, each of which lies in the area. Every place of it is within a step of a pass.
 * @param area Where the cutter's middle may be, region on the left. @param stepMm > 0.
 * @param clockwise Whether passes run the other way round than the area's rings do. @returns Lines from the inside out. O(rings · n log n).
 */
export function* fillAlong(area: Rings, stepMm: number, clockwise: boolean): Steps<number, FillLine[]> {
  const roots: Node[] = [];
  let outer: Node[] = [];
  for (let k = 0; k < MAX_RINGS; k++) {
    const rings = k === 0 ? area : offsetRings(area, -k * stepMm, ARC_TOLERANCE_MM);
    if (isEmptyRings(rings)) break;
    const own: Node[] = [];
    for (let r = 0; r + 1 < rings.starts.length; r++) {
      const ring = getRing(rings, r);
      own.push({ ring: clockwise ? reverse(ring) : ring.slice(), children: [] });
    }
    for (const node of own) (k === 0 ? roots : findNearest(outer, node.ring[0]!, node.ring[1]!).children).push(node);
    outer = own;
    yield 0;
  }
  const lines: FillLine[] = [];
  for (const root of roots) {
    const inner: Float64Array[] = [];
    const { xy, linked } = windOut(root, inner, LONGEST_LINK * stepMm);
    lines.push(...inner.map((line) => ({ xy: line, wallFrom: line.length / 2 })));
    lines.push({ xy, wallFrom: xy.length / 2 - root.ring.length / 2 - (linked ? 2 : 1) });
  }
  return lines;
}

/** The node whose ring passes nearest to a place. */
function findNearest(nodes: readonly Node[], x: number, y: number): Node {
  let best = nodes[0]!,
    least = Infinity;
  for (const node of nodes) {
    const d = findFoot(node.ring, x, y).distance;
    if (d < least) [best, least] = [node, d];
  }
  return best;
}

/** Foot of a place on a closed ring: the edge it lies on, the point, and how far it is. O(n). */
function findFoot(ring: Float64Array, x: number, y: number): { edge: number; x: number; y: number; distance: number } {
  const n = ring.length / 2;
  const best = { edge: 0, x: ring[0]!, y: ring[1]!, distance: Infinity };
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const [ax, ay] = [ring[2 * i]!, ring[2 * i + 1]!],
      [ux, uy] = [ring[2 * j]! - ax, ring[2 * j + 1]! - ay];
    const uu = ux * ux + uy * uy;
    const t = uu > 0 ? Math.max(0, Math.min(1, ((x - ax) * ux + (y - ay) * uy) / uu)) : 0;
    const d = Math.hypot(ax + t * ux - x, ay + t * uy - y);
    if (d < best.distance) Object.assign(best, { edge: i, x: ax + t * ux, y: ay + t * uy, distance: d });
  }
  return best;
}

/**
 * A line through a node's first child from the middle out, then round its own ring; other children's lines go to `lines`, and so does the
 * first's where it ends too far away: beside another ring that it met.
 */
function windOut(node: Node, lines: Float64Array[], longestMm: number): { xy: Float64Array; linked: boolean } {
  const [first, ...others] = node.children;
  const inner = first ? windOut(first, lines, longestMm).xy : null;
  for (const other of others) lines.push(windOut(other, lines, longestMm).xy);
  const { ring } = node;
  const n = ring.length / 2;
  const foot = inner && findFoot(ring, inner[inner.length - 2]!, inner[inner.length - 1]!);
  if (!inner || !foot || foot.distance > longestMm) {
    if (inner) lines.push(inner);
    return { xy: Float64Array.from([...ring, ring[0]!, ring[1]!]), linked: false };
  }
  const round: number[] = [foot.x, foot.y];
  for (let i = 1; i <= n; i++) {
    const k = (foot.edge + i) % n;
    round.push(ring[2 * k]!, ring[2 * k + 1]!);
  }
  round.push(foot.x, foot.y);
  const out = new Float64Array(inner.length + round.length);
  out.set(inner);
  out.set(round, inner.length);
  return { xy: out, linked: true };
}

/**
 * Fills an area with straight rows at an angle, run to and fro and linked where the link stays in the area, and a pass along each wall.
 * @param angleDeg Of the rows, from the sheet's x. @returns Rows first, walls last. O(rows · n).
 */
export function* fillRows(area: Rings, stepMm: number, angleDeg: number, clockwise: boolean): Steps<number, FillLine[]> {
  const inner = offsetRings(area, -ROW_GAP * stepMm, ARC_TOLERANCE_MM);
  const walls: FillLine[] = [];
  for (let r = 0; r + 1 < area.starts.length; r++) {
    const ring = clockwise ? reverse(getRing(area, r)) : getRing(area, r);
    walls.push({ xy: Float64Array.from([...ring, ring[0]!, ring[1]!]), wallFrom: 0 });
  }
  if (isEmptyRings(inner)) return walls;
  const [cos, sin] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)];
  const turned = { starts: inner.starts, xy: turn(inner.xy, cos, -sin) };
  const box = computeBox(turned.xy);
  const count = Math.max(1, Math.ceil((box.maxY - box.minY) / stepMm));
  const rows: Float64Array[][] = [];
  for (let k = 0; k <= count; k++) {
    const y = box.minY + ((k + 0.5) * (box.maxY - box.minY)) / (count + 1);
    const found = clipLines([[box.minX - 1, y, box.maxX + 1, y]], turned, 'inside').map((row) =>
      row[0]! <= row[row.length - 2]! ? row : Float64Array.from([row[2]!, row[3]!, row[0]!, row[1]!]),
    );
    rows.push(found);
    yield 0;
  }
  const lines = linkRows(rows, turned).map((line) => ({ xy: turn(line, cos, sin), wallFrom: line.length / 2 }));
  return [...lines, ...walls];
}

function turn(xy: Float64Array, cos: number, sin: number): Float64Array {
  const out = new Float64Array(xy.length);
  for (let i = 0; i < xy.length; i += 2) out.set([cos * xy[i]! - sin * xy[i + 1]!, sin * xy[i]! + cos * xy[i + 1]!], i);
  return out;
}

/** Rows joined to and fro as long as the way to the next one stays inside. */
function linkRows(rows: readonly Float64Array[][], area: Rings): Float64Array[] {
  const open = rows.map((row) => [...row]);
  const lines: Float64Array[] = [];
  for (let k = 0; k < open.length; k++) {
    while (open[k]!.length > 0) {
      const line: number[] = [...open[k]!.shift()!];
      let forward = true;
      for (let j = k + 1; j < open.length; j++) {
        const [x, y] = [line[line.length - 2]!, line[line.length - 1]!];
        const at = open[j]!.findIndex((row) => {
          const [ex, ey] = forward ? [row[row.length - 2]!, row[row.length - 1]!] : [row[0]!, row[1]!];
          return staysInside(x, y, ex, ey, area);
        });
        if (at < 0) break;
        const [row] = open[j]!.splice(at, 1);
        for (let i = 0; i < row!.length; i += 2) {
          const m = forward ? row!.length - 2 - i : i;
          line.push(row![m]!, row![m + 1]!);
        }
        forward = !forward;
      }
      lines.push(Float64Array.from(line));
    }
  }
  return lines;
}

/** Whether a straight way between two places of an area lies in it: nothing of it is outside. */
function staysInside(x0: number, y0: number, x1: number, y1: number, area: Rings): boolean {
  const length = Math.hypot(x1 - x0, y1 - y0);
  if (length < 1e-6) return true;
  let inside = 0;
  for (const p of clipLines([[x0, y0, x1, y1]], area, 'inside')) inside += Math.hypot(p[p.length - 2]! - p[0]!, p[p.length - 1]! - p[1]!);
  return inside > length - 2e-3;
}

/** Points, x y in turn, from the other end. */
export function reverse(xy: ArrayLike<number>): Float64Array {
  const out = new Float64Array(xy.length);
  for (let i = 0; i < xy.length; i += 2) out.set([xy[i]!, xy[i + 1]!], xy.length - 2 - i);
  return out;
}
