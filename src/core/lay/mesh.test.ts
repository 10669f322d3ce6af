import { describe, expect, it } from 'vitest';
import { rect, ringsOf } from '../../../tests/support';
import { createCylinder } from '../surface/cylinder';
import { fillOnSurface, lineOnSurface, type SurfaceMesh } from './mesh';

const surface = createCylinder(40, 80, 0, Math.PI);
/** Three corners a triangle, as they are drawn. */
const unfold = ({ positions, normals, index }: SurfaceMesh) => {
  const take = (from: Float32Array) => Float32Array.from(Array.from(index).flatMap((v) => [...from.subarray(3 * v, 3 * v + 3)]));
  return { positions: take(positions), normals: take(normals) };
};
const area = (p: Float32Array) => {
  let sum = 0;
  for (let i = 0; i < p.length; i += 9) {
    const [u, v] = [0, 3].map((o) => [0, 1, 2].map((k) => p[i + 3 + o + k]! - p[i + k]!)) as [number[], number[]];
    sum += Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!) / 2;
  }
  return sum;
};

describe('fillOnSurface', () => {
  it('covers the region, holes left out, at its true area on the blank', () => {
    const { positions } = unfold(fillOnSurface(ringsOf(rect(0, 0, 10, 10), [2, 2, 2, 8, 8, 8, 8, 2], rect(4, 4, 6, 6)), surface, 0, 0.001));
    expect(area(positions)).toBeCloseTo(100 - 36 + 4, 1);
  });

  it('keeps to the surface within the tolerance, and faces outward', () => {
    const { positions, normals } = unfold(fillOnSurface(ringsOf(rect(0, -30, 70, 30)), surface, 0.02, 0.01));
    for (let i = 0; i < positions.length; i += 9) {
      const c = [0, 1, 2].map((k) => (positions[i + k]! + positions[i + 3 + k]! + positions[i + 6 + k]!) / 3);
      expect(Math.abs(Math.hypot(c[1]!, c[2]!) - 20.02)).toBeLessThan(0.0101);
      const [u, v] = [3, 6].map((o) => [0, 1, 2].map((k) => positions[i + o + k]! - positions[i + k]!)) as [number[], number[]];
      const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
      expect(n[0]! * normals[i]! + n[1]! * normals[i + 1]! + n[2]! * normals[i + 2]!).toBeGreaterThan(0);
    }
  });

  it('is empty for nothing', () => expect(fillOnSurface(ringsOf(), surface, 0, 0.01).index).toHaveLength(0));
});

describe('lineOnSurface', () => {
  it('lays a line round the blank in pieces that keep to it', () => {
    const p = lineOnSurface(ringsOf([5, 0, 5, 30]), surface, 0, 0.01);
    let length = 0;
    for (let i = 0; i < p.length; i += 6) {
      length += Math.hypot(p[i + 3]! - p[i]!, p[i + 4]! - p[i + 1]!, p[i + 5]! - p[i + 2]!);
      expect(Math.hypot((p[i + 1]! + p[i + 4]!) / 2, (p[i + 2]! + p[i + 5]!) / 2)).toBeGreaterThan(20 - 0.0101);
    }
    expect(length).toBeCloseTo(30, 1);
  });
});
