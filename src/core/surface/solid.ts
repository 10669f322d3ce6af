import type { Blank } from '../job/blankSchema';
import { computeFaceNormals, placeVertices } from '../shape/patch';
import { createMeridian, type Meridian } from './meridian';
import { createSurface, NO_SHAPES, type Shapes } from './registry';

/** The whole piece of stock as triangles, closed, wound counter-clockwise seen from outside; normals smooth over round faces. */
export interface Solid {
  positions: Float64Array;
  normals: Float32Array;
  triangles: Uint32Array;
}

const MAX_SECTORS = 2048;
const MIN_SECTORS = 24;
/** Faces that meet at less than this are drawn as one smooth skin, cosine of 30°. */
const SMOOTH_COS = Math.cos(Math.PI / 6);

class SolidBuilder {
  readonly positions: number[] = [];
  readonly normals: number[] = [];
  readonly triangles: number[] = [];

  vertex(p: readonly number[], n: readonly number[]): number {
    this.positions.push(p[0]!, p[1]!, p[2]!);
    this.normals.push(n[0]!, n[1]!, n[2]!);
    return this.positions.length / 3 - 1;
  }

  /** A grid of rows × columns of vertices; rows × columns run so that (row + 1) × (column + 1) points outside, or turned over. */
  grid(rows: number, columns: number, at: (r: number, c: number) => { p: number[]; n: number[] }, turned = false): void {
    const first = this.positions.length / 3;
    for (let r = 0; r < rows; r++) {
      for (let c = 0; c < columns; c++) {
        const { p, n } = at(r, c);
        this.vertex(p, n);
      }
    }
    for (let r = 0; r + 1 < rows; r++) {
      for (let c = 0; c + 1 < columns; c++) {
        const a = first + r * columns + c,
          b = a + columns,
          d = a + 1,
          e = b + 1;
        if (turned) this.triangles.push(a, d, e, a, e, b);
        else this.triangles.push(a, b, e, a, e, d);
      }
    }
  }

  /** A flat face of four corners, counter-clockwise seen from outside. */
  quad(a: readonly number[], b: readonly number[], c: readonly number[], d: readonly number[]): void {
    const u = [0, 1, 2].map((k) => b[k]! - a[k]!),
      v = [0, 1, 2].map((k) => d[k]! - a[k]!);
    const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    const l = Math.hypot(...n) || 1;
    const unit = n.map((w) => w / l);
    const [i, j, k, m] = [a, b, c, d].map((p) => this.vertex(p, unit)) as [number, number, number, number];
    this.triangles.push(i, j, k, i, k, m);
  }

  finish(): Solid {
    return {
      positions: Float64Array.from(this.positions),
      normals: Float32Array.from(this.normals),
      triangles: Uint32Array.from(this.triangles),
    };
  }
}

/** Sectors of a circle that keep a chord within an error, an even number. */
export function countSectors(radiusMm: number, chordMm: number): number {
  const share = Math.min(1, Math.max(1e-9, chordMm / Math.max(1e-9, radiusMm)));
  return Math.min(MAX_SECTORS, Math.max(MIN_SECTORS, 2 * Math.ceil(Math.PI / Math.acos(1 - share) / 2)));
}

/**
 * The stock as a closed solid.
 * @param chordMm Largest distance of its faces from the true surface, mm; > 0. At most `MAX_SECTORS` sectors are made.
 */
export function createSolid(blank: Blank, chordMm: number, shapes: Shapes = NO_SHAPES): Solid {
  switch (blank.kind) {
    case 'cylinder':
      return turn(
        [
          [0, blank.diameterMm / 2],
          [blank.lengthMm, blank.diameterMm / 2],
        ],
        null,
        blank.boreMm / 2,
        chordMm,
      );
    case 'cone':
      return turn(
        [
          [0, blank.datumDiameterMm / 2],
          [blank.lengthMm, blank.farDiameterMm / 2],
        ],
        null,
        blank.boreMm / 2,
        chordMm,
      );
    case 'turned': {
      const made = createMeridian(blank.profile);
      return made.ok ? turn([], made.value, blank.boreMm / 2, chordMm) : new SolidBuilder().finish();
    }
    case 'plate':
      return createPlateSolid(blank, chordMm);
    case 'arched':
      return createArchSolid(blank, chordMm);
    case 'free': {
      const mesh = shapes.find(blank.shape);
      return mesh ? smooth(placeVertices(blank, mesh.positions), mesh.triangles) : new SolidBuilder().finish();
    }
  }
}

/** Places along a meridian close enough to each other, with tangents; corners stand twice, once for each side. */
function sampleMeridian(m: Meridian, chordMm: number): { x: number; r: number; dx: number; dr: number }[] {
  const o = new Float64Array(5);
  const out: { x: number; r: number; dx: number; dr: number }[] = [];
  const put = (s: number) => {
    m.at(s, o);
    out.push({ x: o[0]!, r: Math.max(0, o[1]!), dx: o[2]!, dr: o[3]! });
  };
  for (let k = 0; k + 1 < m.joints.length; k++) {
    // Just inside, so that each end has its own piece's direction.
    const from = m.joints[k]!,
      to = m.joints[k + 1]!;
    const e = 1e-9 * (to - from);
    let most = 0;
    for (let i = 0; i <= 32; i++) {
      m.at(from + e + (i / 32) * (to - from - 2 * e), o);
      most = Math.max(most, Math.abs(o[4]!));
    }
    const parts = Math.min(1024, Math.max(1, Math.ceil((to - from) * Math.sqrt(most / (8 * chordMm)))));
    for (let i = 0; i <= parts; i++) put(from + e + (i / parts) * (to - from - 2 * e));
  }
  return out;
}

function turn(line: readonly (readonly [number, number])[], m: Meridian | null, bore: number, chordMm: number): Solid {
  const b = new SolidBuilder();
  const slope = line.length === 2 ? Math.hypot(line[1]![0] - line[0]![0], line[1]![1] - line[0]![1]) : 1;
  const places = m
    ? sampleMeridian(m, chordMm)
    : line.map(([x, r]) => ({ x, r, dx: (line[1]![0] - line[0]![0]) / slope, dr: (line[1]![1] - line[0]![1]) / slope }));
  const largest = Math.max(...places.map((p) => p.r));
  const n = countSectors(largest, chordMm);
  const angle = (c: number): [number, number] => [Math.sin((2 * Math.PI * c) / n), Math.cos((2 * Math.PI * c) / n)];
  // Rows run along x and columns round from +Z to +Y: x × y points outward.
  b.grid(places.length, n + 1, (r, c) => {
    const p = places[r]!;
    const [s, k] = angle(c);
    return { p: [p.x, p.r * s, p.r * k], n: [-p.dr, p.dx * s, p.dx * k] };
  });
  const first = places[0]!,
    last = places[places.length - 1]!;
  const cap = (x: number, outer: number, far: boolean) => {
    if (outer <= bore) return;
    b.grid(
      2,
      n + 1,
      (r, c) => {
        const [s, k] = angle(c);
        const radius = r === 0 ? bore : outer;
        return { p: [x, radius * s, radius * k], n: [far ? 1 : -1, 0, 0] };
      },
      far,
    );
  };
  cap(first.x, first.r, false);
  cap(last.x, last.r, true);
  if (bore > 0) {
    b.grid(
      2,
      n + 1,
      (r, c) => {
        const [s, k] = angle(c);
        return { p: [r === 0 ? first.x : last.x, bore * s, bore * k], n: [0, -s, -k] };
      },
      true,
    );
  }
  return b.finish();
}

function createPlateSolid(blank: Extract<Blank, { kind: 'plate' }>, chordMm: number): Solid {
  const b = new SolidBuilder();
  const surface = createSurface(blank);
  const frame = new Float64Array(6);
  const at = (x: number, y: number, depth: number): number[] => {
    surface.frameInto(x, y, frame);
    return [0, 1, 2].map((k) => frame[k]! - depth * frame[3 + k]!);
  };
  const t = blank.thicknessMm;
  if (blank.shape === 'rectangle') {
    const { minX, maxX, minY, maxY } = surface.domain;
    const [a, c, d, e] = [
      [minX, minY],
      [maxX, minY],
      [maxX, maxY],
      [minX, maxY],
    ].map(([x, y]) => [x!, y!] as const) as [
      readonly [number, number],
      readonly [number, number],
      readonly [number, number],
      readonly [number, number],
    ];
    const top = [a, c, d, e].map(([x, y]) => at(x, y, 0)),
      low = [a, c, d, e].map(([x, y]) => at(x, y, t));
    b.quad(top[0]!, top[1]!, top[2]!, top[3]!);
    b.quad(low[3]!, low[2]!, low[1]!, low[0]!);
    for (let k = 0; k < 4; k++) b.quad(low[k]!, low[(k + 1) % 4]!, top[(k + 1) % 4]!, top[k]!);
    return b.finish();
  }
  const R = blank.lengthMm / 2;
  const n = countSectors(R, chordMm);
  surface.frameInto(R, 0, frame);
  const up = [frame[3]!, frame[4]!, frame[5]!];
  const rim = (c: number, radius: number, depth: number) =>
    at(R + radius * Math.cos((2 * Math.PI * c) / n), radius * Math.sin((2 * Math.PI * c) / n), depth);
  // Rows outward, columns counter-clockwise: their product points up.
  b.grid(2, n + 1, (r, c) => ({ p: rim(c, r === 0 ? 0 : R, 0), n: up }));
  b.grid(2, n + 1, (r, c) => ({ p: rim(c, r === 0 ? 0 : R, t), n: up.map((v) => -v) }), true);
  b.grid(
    2,
    n + 1,
    (r, c) => {
      const p = rim(c, R, r === 0 ? t : 0),
        middle = at(R, 0, r === 0 ? t : 0);
      return { p, n: [0, 1, 2].map((k) => (p[k]! - middle[k]!) / R) };
    },
    true,
  );
  return b.finish();
}

function createArchSolid(blank: Extract<Blank, { kind: 'arched' }>, chordMm: number): Solid {
  const b = new SolidBuilder();
  const surface = createSurface(blank);
  const { minX, maxX, minY, maxY } = surface.domain;
  const n = Math.max(2, Math.ceil(countSectors(blank.radiusMm, chordMm) * ((maxY - minY) / (2 * Math.PI * blank.radiusMm))));
  const frame = new Float64Array(6);
  const t = blank.side === 'convex' ? Math.min(blank.thicknessMm, 0.999 * blank.radiusMm) : blank.thicknessMm;
  const at = (x: number, c: number, depth: number): { p: number[]; n: number[] } => {
    surface.frameInto(x, minY + (c / n) * (maxY - minY), frame);
    return { p: [0, 1, 2].map((k) => frame[k]! - depth * frame[3 + k]!), n: [frame[3]!, frame[4]!, frame[5]!] };
  };
  b.grid(2, n + 1, (r, c) => at(r === 0 ? minX : maxX, c, 0));
  b.grid(
    2,
    n + 1,
    (r, c) => {
      const low = at(r === 0 ? minX : maxX, c, t);
      return { p: low.p, n: low.n.map((v) => -v) };
    },
    true,
  );
  for (const far of [false, true]) {
    b.grid(2, n + 1, (r, c) => ({ p: at(far ? maxX : minX, c, r === 0 ? t : 0).p, n: [far ? 1 : -1, 0, 0] }), far);
  }
  for (const c of [0, n]) {
    const [a, d, e, f] = [at(minX, c, 0).p, at(maxX, c, 0).p, at(maxX, c, t).p, at(minX, c, t).p];
    if (c === 0) b.quad(f, e, d, a);
    else b.quad(a, d, e, f);
  }
  return b.finish();
}

/** A mesh for drawing: corners share a normal where their faces meet smoothly. O(triangles · faces at a vertex). */
function smooth(p: Float64Array, t: Uint32Array): Solid {
  const faces = computeFaceNormals(p, t);
  const count = t.length / 3;
  const start = new Uint32Array(p.length / 3 + 1);
  for (const v of t) start[v + 1]!++;
  for (let v = 0; v + 1 < start.length; v++) start[v + 1]! += start[v]!;
  const fill = start.slice(0, -1);
  const around = new Uint32Array(t.length);
  for (let f = 0; f < count; f++) for (let k = 0; k < 3; k++) around[fill[t[3 * f + k]!]!++] = f;
  const positions = new Float64Array(3 * t.length);
  const normals = new Float32Array(3 * t.length);
  for (let f = 0; f < count; f++) {
    for (let k = 0; k < 3; k++) {
      const v = t[3 * f + k]!,
        o = 3 * (3 * f + k);
      let nx = 0,
        ny = 0,
        nz = 0;
      for (let i = start[v]!; i < start[v + 1]!; i++) {
        const g = 3 * around[i]!;
        if (faces[g]! * faces[3 * f]! + faces[g + 1]! * faces[3 * f + 1]! + faces[g + 2]! * faces[3 * f + 2]! < SMOOTH_COS) continue;
        nx += faces[g]!;
        ny += faces[g + 1]!;
        nz += faces[g + 2]!;
      }
      const l = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
      positions[o] = p[3 * v]!;
      positions[o + 1] = p[3 * v + 1]!;
      positions[o + 2] = p[3 * v + 2]!;
      normals[o] = nx / l;
      normals[o + 1] = ny / l;
      normals[o + 2] = nz / l;
    }
  }
  return { positions, normals, triangles: Uint32Array.from({ length: t.length }, (_, i) => i) };
}
