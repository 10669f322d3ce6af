import earcut from 'earcut';
import { splitComponents } from '../base/components';
import { getRing, type Rings } from '../base/rings';
import type { Surface } from '../surface/surface';

/** Triangles on the blank for drawing: three vertices a triangle, positions and normals in the blank frame. */
export interface SurfaceMesh {
  positions: Float32Array;
  normals: Float32Array;
}

/** Halvings of a triangle at the most; halving it in one direction takes two. */
const MAX_SPLITS = 18;
const FIRST_VERTICES = 4096;

/** Vertices with normals, in buffers that grow. */
class MeshBuffer {
  positions = new Float32Array(3 * FIRST_VERTICES);
  normals = new Float32Array(3 * FIRST_VERTICES);
  length = 0;
  private readonly frame = new Float64Array(6);
  constructor(private readonly surface: Surface, private readonly liftMm: number) {}

  add(x: number, y: number): void {
    if (this.length + 3 > this.positions.length) {
      const [positions, normals] = [new Float32Array(2 * this.positions.length), new Float32Array(2 * this.positions.length)];
      positions.set(this.positions);
      normals.set(this.normals);
      this.positions = positions;
      this.normals = normals;
    }
    const { frame, liftMm } = this;
    this.surface.frameInto(x, y, frame);
    for (let k = 0; k < 3; k++) {
      this.positions[this.length] = frame[k]! + liftMm * frame[3 + k]!;
      this.normals[this.length++] = frame[3 + k]!;
    }
  }
}

/**
 * Fills rings with triangles laid on the surface, split until no edge leaves it by more than the tolerance.
 * For drawing only: nothing is planned from it.
 * @param liftMm Height above the surface, so that it is not hidden in it, mm; more than the tolerance.
 * O(n log n + triangles).
 */
export function fillOnSurface(rings: Rings, surface: Surface, liftMm: number, toleranceMm: number): SurfaceMesh {
  const out = new MeshBuffer(surface, liftMm);
  const k = new Float64Array(3);
  function triangle(ax: number, ay: number, bx: number, by: number, cx: number, cy: number, depth: number): void {
    surface.bendInto((ax + bx + cx) / 3, (ay + by + cy) / 3, k);
    const k0 = k[0]! / 8, k01 = k[1]! / 4, k1 = k[2]! / 8;
    const ab = k0 * (bx - ax) * (bx - ax) + k01 * Math.abs((bx - ax) * (by - ay)) + k1 * (by - ay) * (by - ay);
    const bc = k0 * (cx - bx) * (cx - bx) + k01 * Math.abs((cx - bx) * (cy - by)) + k1 * (cy - by) * (cy - by);
    const ca = k0 * (ax - cx) * (ax - cx) + k01 * Math.abs((ax - cx) * (ay - cy)) + k1 * (ay - cy) * (ay - cy);
    const most = Math.max(ab, bc, ca);
    if (most <= toleranceMm || depth >= MAX_SPLITS) {
      out.add(ax, ay);
      out.add(bx, by);
      out.add(cx, cy);
    } else if (most === ab) {
      const mx = (ax + bx) / 2, my = (ay + by) / 2;
      triangle(ax, ay, mx, my, cx, cy, depth + 1);
      triangle(mx, my, bx, by, cx, cy, depth + 1);
    } else if (most === bc) {
      const mx = (bx + cx) / 2, my = (by + cy) / 2;
      triangle(ax, ay, bx, by, mx, my, depth + 1);
      triangle(ax, ay, mx, my, cx, cy, depth + 1);
    } else {
      const mx = (cx + ax) / 2, my = (cy + ay) / 2;
      triangle(ax, ay, bx, by, mx, my, depth + 1);
      triangle(mx, my, bx, by, cx, cy, depth + 1);
    }
  }
  for (const { xy, holes } of splitComponents(rings).map(toEarcut)) {
    const t = earcut(xy, holes);
    for (let i = 0; i < t.length; i += 3) {
      const a = 2 * t[i]!, b = 2 * t[i + 1]!, c = 2 * t[i + 2]!;
      const ax = xy[a]!, ay = xy[a + 1]!, bx = xy[b]!, by = xy[b + 1]!, cx = xy[c]!, cy = xy[c + 1]!;
      if ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax) >= 0) triangle(ax, ay, bx, by, cx, cy, 0);
      else triangle(ax, ay, cx, cy, bx, by, 0);
    }
  }
  return { positions: out.positions.slice(0, out.length), normals: out.normals.slice(0, out.length) };
}

/** Rings of one component in the form earcut takes: all vertices, and where each hole begins. */
function toEarcut(component: Rings): { xy: Float64Array; holes: number[] } {
  return { xy: component.xy, holes: Array.from(component.starts.subarray(1, -1)) };
}

/** Lays polylines on the surface as separate segments (two points each), split by the tolerance. For drawing only. */
export function lineOnSurface(chains: Rings, surface: Surface, liftMm: number, toleranceMm: number): Float32Array {
  const out: number[] = [];
  const frame = new Float64Array(6);
  const k = new Float64Array(3);
  const emit = (x: number, y: number) => {
    surface.frameInto(x, y, frame);
    for (let a = 0; a < 3; a++) out.push(frame[a]! + liftMm * frame[3 + a]!);
  };
  for (let c = 0; c + 1 < chains.starts.length; c++) {
    const xy = getRing(chains, c);
    for (let i = 0; i + 3 < xy.length; i += 2) {
      const [x0, y0, x1, y1] = [xy[i]!, xy[i + 1]!, xy[i + 2]!, xy[i + 3]!];
      surface.bendInto(x0, y0, k);
      const sag = (k[0]! * (x1 - x0) ** 2 + 2 * k[1]! * Math.abs((x1 - x0) * (y1 - y0)) + k[2]! * (y1 - y0) ** 2) / 8;
      const pieces = Math.max(1, Math.ceil(Math.sqrt(sag / toleranceMm)));
      for (let p = 0; p < pieces; p++) {
        emit(x0 + (p / pieces) * (x1 - x0), y0 + (p / pieces) * (y1 - y0));
        emit(x0 + ((p + 1) / pieces) * (x1 - x0), y0 + ((p + 1) / pieces) * (y1 - y0));
      }
    }
  }
  return Float32Array.from(out);
}
