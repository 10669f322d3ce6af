import earcut from 'earcut';
import { splitComponents } from '../base/components';
import { getRing, type Rings } from '../base/rings';
import type { Surface } from '../surface/surface';

/** Triangles on the blank for drawing: vertices with normals in the blank frame, and three of them a triangle. */
export interface SurfaceMesh {
  positions: Float32Array;
  normals: Float32Array;
  index: Uint32Array;
}

/** Halvings of a triangle at the most; halving it in one direction takes two. */
const MAX_SPLITS = 18;

/** Vertices and triangles, in buffers that grow. */
class MeshBuffer {
  private positions: Float32Array;
  private normals: Float32Array;
  private index: Uint32Array;
  private vertices = 0;
  private corners = 0;
  private readonly frame = new Float64Array(6);

  constructor(
    private readonly surface: Surface,
    private readonly liftMm: number,
    points: number,
  ) {
    this.positions = new Float32Array(3 * points + 300);
    this.normals = new Float32Array(3 * points + 300);
    this.index = new Uint32Array(4 * points + 300);
  }

  /** Lays a vertex and gives its number. */
  vertex(x: number, y: number): number {
    const o = 3 * this.vertices;
    if (o + 3 > this.positions.length) {
      this.positions = grow(this.positions, Float32Array);
      this.normals = grow(this.normals, Float32Array);
    }
    const { frame, liftMm, positions, normals } = this;
    this.surface.frameInto(x, y, frame);
    for (let k = 0; k < 3; k++) {
      positions[o + k] = frame[k]! + liftMm * frame[3 + k]!;
      normals[o + k] = frame[3 + k]!;
    }
    return this.vertices++;
  }

  triangle(a: number, b: number, c: number): void {
    if (this.corners + 3 > this.index.length) this.index = grow(this.index, Uint32Array);
    this.index[this.corners++] = a;
    this.index[this.corners++] = b;
    this.index[this.corners++] = c;
  }

  finish(): SurfaceMesh {
    return {
      positions: this.positions.slice(0, 3 * this.vertices),
      normals: this.normals.slice(0, 3 * this.vertices),
      index: this.index.slice(0, this.corners),
    };
  }
}

function grow<T extends Float32Array | Uint32Array>(from: T, make: new (length: number) => T): T {
  const out = new make(2 * from.length);
  out.set(from);
  return out;
}

/**
 * Fills rings with triangles laid on the surface, split until no edge leaves it by more than the tolerance.
 * For drawing only: nothing is planned from it.
 * @param liftMm Height above the surface, so that it is not hidden in it, mm; more than the tolerance.
 * O(n log n + triangles).
 */
export function fillOnSurface(rings: Rings, surface: Surface, liftMm: number, toleranceMm: number): SurfaceMesh {
  const out = new MeshBuffer(surface, liftMm, rings.xy.length / 2);
  const k = new Float64Array(3);
  /** A triangle with its corners' numbers, halved along its worst edge until it keeps to the surface. */
  function triangle(
    ia: number,
    ax: number,
    ay: number,
    ib: number,
    bx: number,
    by: number,
    ic: number,
    cx: number,
    cy: number,
    depth: number,
  ): void {
    surface.bendInto((ax + bx + cx) / 3, (ay + by + cy) / 3, k);
    const k0 = k[0]! / 8,
      k01 = k[1]! / 4,
      k1 = k[2]! / 8;
    const ab = k0 * (bx - ax) * (bx - ax) + k01 * Math.abs((bx - ax) * (by - ay)) + k1 * (by - ay) * (by - ay);
    const bc = k0 * (cx - bx) * (cx - bx) + k01 * Math.abs((cx - bx) * (cy - by)) + k1 * (cy - by) * (cy - by);
    const ca = k0 * (ax - cx) * (ax - cx) + k01 * Math.abs((ax - cx) * (ay - cy)) + k1 * (ay - cy) * (ay - cy);
    const most = Math.max(ab, bc, ca);
    if (most <= toleranceMm || depth >= MAX_SPLITS) out.triangle(ia, ib, ic);
    else if (most === ab) {
      const mx = (ax + bx) / 2,
        my = (ay + by) / 2,
        m = out.vertex(mx, my);
      triangle(ia, ax, ay, m, mx, my, ic, cx, cy, depth + 1);
      triangle(m, mx, my, ib, bx, by, ic, cx, cy, depth + 1);
    } else if (most === bc) {
      const mx = (bx + cx) / 2,
        my = (by + cy) / 2,
        m = out.vertex(mx, my);
      triangle(ia, ax, ay, ib, bx, by, m, mx, my, depth + 1);
      triangle(ia, ax, ay, m, mx, my, ic, cx, cy, depth + 1);
    } else {
      const mx = (cx + ax) / 2,
        my = (cy + ay) / 2,
        m = out.vertex(mx, my);
      triangle(ia, ax, ay, ib, bx, by, m, mx, my, depth + 1);
      triangle(m, mx, my, ib, bx, by, ic, cx, cy, depth + 1);
    }
  }
  for (const { xy, holes } of splitComponents(rings).map(toEarcut)) {
    const t = earcut(xy, holes);
    // Corners are laid once, not once a triangle.
    const first = xy.length > 0 ? out.vertex(xy[0]!, xy[1]!) : 0;
    for (let i = 2; i < xy.length; i += 2) out.vertex(xy[i]!, xy[i + 1]!);
    for (let i = 0; i < t.length; i += 3) {
      const a = t[i]!,
        b = t[i + 1]!,
        c = t[i + 2]!;
      const ax = xy[2 * a]!,
        ay = xy[2 * a + 1]!,
        bx = xy[2 * b]!,
        by = xy[2 * b + 1]!,
        cx = xy[2 * c]!,
        cy = xy[2 * c + 1]!;
      if ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax) >= 0) triangle(first + a, ax, ay, first + b, bx, by, first + c, cx, cy, 0);
      else triangle(first + a, ax, ay, first + c, cx, cy, first + b, bx, by, 0);
    }
  }
  return out.finish();
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
