import { describe, expect, it } from 'vitest';
import { createBlank } from '../job/defaults';
import { createSurface } from '../surface/registry';
import type { Surface } from '../surface/surface';
import { createBallShape, createConeShape, createMillShape, createRoundedConeShape, widthAt, type CutterShape } from './cutterShape';
import { createCellGrid } from './cellGrid';
import { createLoad, DepthField } from './field';
import { removeStretch } from './stretches';
import type { Tile } from './tile';
import { Keys } from './keys';
import { createPiece, type Piece } from './piece';
import { Sweeper } from './sweep';

/** A piece between two poses, bow and all, from a way in closed form. */
function pieceOf(pose: (s: number) => { tip: number[]; axis: number[] }, from: number, to: number): Piece {
  const piece = createPiece();
  const [a, m, b] = [from, (from + to) / 2, to].map(pose) as [ReturnType<typeof pose>, ReturnType<typeof pose>, ReturnType<typeof pose>];
  for (let k = 0; k < 3; k++) {
    piece.tip[k] = a.tip[k]!;
    piece.move[k] = b.tip[k]! - a.tip[k]!;
    piece.bow[k] = 2 * (a.tip[k]! + b.tip[k]!) - 4 * m.tip[k]!;
    piece.axis[k] = a.axis[k]!;
    piece.axisMove[k] = b.axis[k]! - a.axis[k]!;
    piece.axisBow[k] = 2 * (a.axis[k]! + b.axis[k]!) - 4 * m.axis[k]!;
  }
  return piece;
}

function cut(
  surface: Surface,
  shape: CutterShape,
  cellMm: number,
  pose: (s: number) => { tip: number[]; axis: number[] },
  pieces: number,
): DepthField {
  const field = new DepthField(createCellGrid(surface, cellMm), surface);
  const sweeper = new Sweeper(field, surface);
  sweeper.use(shape);
  for (let k = 0; k < pieces; k++) sweeper.sweep(pieceOf(pose, k / pieces, (k + 1) / pieces), k);
  sweeper.breakOff();
  return field;
}

const cylinder = (diameterMm: number): Surface => createSurface({ ...createBlank('cylinder'), diameterMm, lengthMm: 20 } as never);
const at = (theta: number, r: number, x: number) => ({
  tip: [x, r * Math.sin(theta), r * Math.cos(theta)],
  axis: [0, Math.sin(theta), Math.cos(theta)],
});

/** Every touched cell: sheet place and depth. */
function* cells(field: DepthField): Generator<{ x: number; y: number; depth: number }> {
  const { tilesAlong, columns, rows } = field.grid;
  for (const tile of field.tiles) {
    const c0 = 32 * (tile.key % tilesAlong),
      r0 = 32 * Math.floor(tile.key / tilesAlong);
    for (let i = 0; i < 1024; i++) {
      const [c, r] = [c0 + (i % 32), r0 + (i >> 5)];
      if (c < columns && r < rows) yield { x: field.cellX(c), y: field.cellY(r), depth: tile.depth[i]! };
    }
  }
}

describe('what a motion takes', () => {
  it('is nothing where a mill goes again, also of what is gone below the surface', () => {
    const surface = cylinder(20);
    const field = new DepthField(createCellGrid(surface, 0.04), surface);
    const sweeper = new Sweeper(field, surface);
    sweeper.use(createMillShape(1));
    sweeper.startNoting(createLoad(2));
    for (let time = 0; time < 2; time++) {
      for (let k = 0; k < 7; k++)
        sweeper.sweep(
          pieceOf((s) => at(0, 10 - 2, 5 + 6 * s), k / 7, (k + 1) / 7),
          time,
        );
      sweeper.breakOff();
    }
    const { taken } = sweeper.stopNoting();
    // Rays beside the mill enter it below the surface: that is counted, once.
    expect(field.tiles.some((t) => t.under !== null)).toBe(true);
    expect(taken[0]).toBeGreaterThan(1000);
    expect(taken[1]).toBeLessThan(1e-3 * taken[0]!);
  });
});

describe('a wall all but along the rays', () => {
  it.each([1, 2])('cuts all that a small mill goes over aslant on a wide round, in %d pieces of half a degree', (pieces) => {
    const [radius, depthMm, millMm] = [102, 0.17, 0.17];
    // 0.5° of turn and as far along a piece: the way unrolled is straight, and its bottom is 0.2 µm off level under the mill (r²/2R).
    const [turn, along] = [(pieces * Math.PI) / 360, (pieces * radius * Math.PI) / 360];
    const field = cut(cylinder(2 * radius), createMillShape(millMm), 0.03, (s) => at(s * turn, radius - depthMm, 5 + s * along), pieces);
    let inside = 0;
    for (const { x, y, depth } of cells(field)) {
      const [u, v] = [x - 5, y];
      const s = Math.max(0, Math.min(1, (u * along + v * turn * radius) / (along ** 2 + (turn * radius) ** 2)));
      const away = Math.hypot(u - s * along, v - s * turn * radius);
      if (away > millMm + 1e-3) expect(depth, `${x} ${y}`).toBe(0);
      if (away > millMm - 1e-3) continue;
      inside++;
      expect(Math.abs(depth - depthMm), `${x} ${y}`).toBeLessThan(5e-4);
    }
    expect(inside).toBeGreaterThan(400 * pieces);
  });
});

describe('going back in time', () => {
  it('also takes back what was gone below the surface alone', () => {
    const surface = cylinder(20);
    const field = new DepthField(createCellGrid(surface, 0.04), surface);
    const sweeper = new Sweeper(field, surface);
    sweeper.use(createMillShape(1));
    sweeper.sweep(
      pieceOf(() => at(0, 9, 10), 0, 1),
      0,
    );
    sweeper.breakOff();
    const tile = field.tiles[0]!;
    const cell = tile.depth.findIndex((d) => d === 0);
    const keys = new Keys(field);
    keys.keep(1);
    const before = tile.under?.get(cell)?.length ?? 0;
    removeStretch(tile, cell, 3, 3.5, 1);
    keys.forgetChanged();
    const changed = new Set<Tile>();
    keys.restore(keys.findBefore(1), changed);
    expect(tile.under?.get(cell)?.length ?? 0).toBe(before);
    expect(changed.has(tile)).toBe(true);
  });
});

describe('closed forms (elementary geometry; worked out in docs/architecture.md)', () => {
  it('a V along a cylinder', () => {
    const R = 10,
      d = 0.8,
      half = Math.PI / 6;
    const surface = cylinder(2 * R);
    const field = cut(surface, createConeShape(Math.tan(half), 0, 3), 0.02, (s) => at(0, R - d, 5 + 6 * s), 7);
    let worst = 0,
      seen = 0;
    for (const { x, y, depth } of cells(field)) {
      if (x < 6 || x > 10) continue;
      const phi = y / R;
      const wanted = Math.max(0, R - (R - d) / (Math.cos(phi) - Math.abs(Math.sin(phi)) / Math.tan(half)));
      const expected = Math.cos(phi) - Math.abs(Math.sin(phi)) / Math.tan(half) > 0 ? wanted : 0;
      worst = Math.max(worst, Math.abs(depth - expected));
      if (depth > 0) seen++;
    }
    expect(seen).toBeGreaterThan(5000);
    expect(worst).toBeLessThan(2e-5);
  });

  it('a flat mill along a cylinder: the edge where the ray comes out of the mill, and what lies under the surface beside it', () => {
    const R = 10,
      c = 1,
      d = 2;
    const field = cut(cylinder(2 * R), createMillShape(c), 0.02, (s) => at(0, R - d, 5 + 6 * s), 5);
    let edge = 0,
      worst = 0;
    for (const { x, y, depth } of cells(field)) {
      if (x < 7 || x > 9) continue;
      if (depth > 0) edge = Math.max(edge, Math.abs(y));
      if (Math.abs(y) < R * Math.asin(c / R) - 0.02) worst = Math.max(worst, Math.abs(depth - (R - (R - d) / Math.cos(y / R))));
    }
    // R·asin(c/R) = 1.0017; "the largest depth" would put it at R·atan(c/(R − d)) = 1.2435.
    expect(edge).toBeGreaterThan(1.0017 - 0.02);
    expect(edge).toBeLessThan(1.0017 + 1e-4);
    expect(worst).toBeLessThan(2e-5);
    const under = field.tiles.flatMap((t) => [...(t.under?.keys() ?? [])]);
    expect(under.length).toBeGreaterThan(100);
  });

  it('a ball on a plane', () => {
    const surface = createSurface({ ...createBlank('plate'), lengthMm: 20, widthMm: 20 } as never);
    const f = new Float64Array(6);
    surface.frameInto(0, 0, f);
    const field = cut(surface, createBallShape(1.5), 0.02, (s) => ({ tip: [6 + 5 * s, 0.3, f[2]! - 0.4], axis: [0, 0, 1] }), 3);
    let worst = 0;
    for (const { x, y, depth } of cells(field)) {
      if (x < 7 || x > 10) continue;
      const b = 1.5 ** 2 - (y - 0.3) ** 2;
      worst = Math.max(worst, Math.abs(depth - Math.max(0, b > 0 ? 0.4 - 1.5 + Math.sqrt(b) : 0)));
    }
    expect(worst).toBeLessThan(2e-5);
  });
});

/** Shapes by name, for the brute force. */
const SHAPES: Record<string, CutterShape> = {
  'sharp V': createConeShape(Math.tan(Math.PI / 6), 0, 2),
  'flat-tipped V': createConeShape(1, 0.1, 2),
  'ball-tipped V': createRoundedConeShape(Math.tan(Math.PI / 6), 0.2, 2),
  ball: createBallShape(0.6),
  'flat mill': createMillShape(0.5),
  'bull nose': createMillShape(0.6, 0.2),
};

/** Whether a point is inside a cutter standing there, by its half-width at its height alone. */
function isInside(shape: CutterShape, pose: { tip: number[]; axis: number[] }, p: readonly number[]): boolean {
  const q = [0, 1, 2].map((k) => p[k]! - pose.tip[k]!);
  const h = q[0]! * pose.axis[0]! + q[1]! * pose.axis[1]! + q[2]! * pose.axis[2]!;
  if (h < 0) return false;
  const lateral = Math.hypot(...q.map((v, k) => v - h * pose.axis[k]!));
  return lateral <= widthAt(shape, h);
}

describe('against brute force: rays stepped through cutters stepped along the way', () => {
  const R = 12;
  const ways: Record<string, (s: number) => { tip: number[]; axis: number[] }> = {
    'round the blank, getting deeper': (s) => at(-0.12 + 0.24 * s, R - 0.1 - 0.5 * s, 8 + 0.2 * s),
    'askew, leaning along': (s) => {
      const p = at(-0.05 + 0.1 * s, R - 0.4, 7 + 2 * s);
      const lean = 0.3;
      return { tip: p.tip, axis: [Math.sin(lean), Math.cos(lean) * p.axis[1]!, Math.cos(lean) * p.axis[2]!] };
    },
    'with a corner': (s) => (s < 0.5 ? at(0.2 * s, R - 0.45, 8) : at(0.1, R - 0.45, 8 + 2 * (s - 0.5))),
    'straight down and up again': (s) => at(0.03, R + 0.3 - 0.9 * (1 - Math.abs(2 * s - 1)), 9),
  };
  for (const [what, pose] of Object.entries(ways)) {
    it.each(Object.keys(SHAPES))(`%s, ${what}`, (name) => {
      const shape = SHAPES[name]!;
      const surface = cylinder(2 * R);
      const field = cut(surface, shape, 0.05, pose, 20);
      const f = new Float64Array(6);
      const steps = 4000;
      const poses = Array.from({ length: steps + 1 }, (_, k) => pose(k / steps));
      const all = [...cells(field)];
      let worst = 0,
        deep = 0;
      for (let k = 0; k < all.length; k += Math.ceil(all.length / 160)) {
        const { x, y, depth } = all[k]!;
        surface.frameInto(x, y, f);
        // The stretch that hangs together with the surface, in steps of 2 µm.
        const point = (t: number) => [0, 1, 2].map((j) => f[j]! - t * f[3 + j]!);
        const gone = (t: number) => {
          const p = point(t);
          return poses.some((at_) => isInside(shape, at_, p));
        };
        if (depth > 0.004) {
          expect(gone(depth - 0.0015), `${x} ${y} ${depth}`).toBe(true);
          deep++;
        }
        // Further down nothing may hang together with it.
        let t = depth + 0.0005;
        while (gone(t) && t < depth + 0.05) t += 0.0005;
        worst = Math.max(worst, t - depth);
      }
      expect(deep).toBeGreaterThan(10);
      expect(worst).toBeLessThan(0.002);
    });
  }
});
