import { unzipSync } from 'fflate';
import { decode } from 'fast-png';
import { describe, expect, it } from 'vitest';
import { measureSolid } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import { createCellGrid } from '../removal/cellGrid';
import { DepthField } from '../removal/field';
import { removeStretch } from '../removal/stretches';
import { createSurface } from '../surface/registry';
import { toDepthMap } from './depthMap';
import { toDepthPng } from './depthPng';
import { to3mf } from './packageModel';
import { createPatchSolid, toStl } from './patchSolid';
import { toReliefPng } from './reliefPicture';

const surface = createSurface({ ...createBlank('plate'), lengthMm: 40, widthMm: 30 } as never);

/** A field with one square pocket: 20 × 10 cells from (50, 40), 0.5 mm deep, and one cell of 1 mm. */
function pocket(): DepthField {
  const field = new DepthField(createCellGrid(surface, 0.1), surface);
  for (let r = 40; r < 50; r++) {
    for (let c = 50; c < 70; c++)
      removeStretch(field.touch(c >> 5, r >> 5), (r & 31) * 32 + (c & 31), 0, c === 60 && r === 45 ? 1 : 0.5, 0);
  }
  return field;
}

describe('the piece as files', () => {
  it('a depth map holds every cell at its place, the highest sheet y first, in 16 bits', () => {
    const field = pocket();
    const map = toDepthMap(field)!;
    expect(map.fullScaleMm).toBe(1);
    const png = decode(toDepthPng(map));
    expect([png.width, png.height, png.depth]).toEqual([map.widthCells, map.heightCells, 16]);
    const at = (x: number, y: number) => {
      const c = Math.floor((x - map.x0Mm) / map.cellMm[0]),
        r = map.heightCells - 1 - Math.floor((y - map.y0Mm) / map.cellMm[1]);
      return png.data[r * map.widthCells + c]! / 65535;
    };
    expect(at(field.cellX(60), field.cellY(45))).toBe(1);
    expect(at(field.cellX(50), field.cellY(40))).toBeCloseTo(0.5, 4);
    expect(at(field.cellX(49), field.cellY(40))).toBe(0);
  });

  it('a patch is closed, faces outward, and lacks what was cut', () => {
    const solid = createPatchSolid(pocket(), surface, 0.01)!;
    const edges = new Map<string, number>();
    const { triangles: t } = solid;
    for (let i = 0; i < t.length; i += 3) {
      for (const [a, b] of [
        [t[i]!, t[i + 1]!],
        [t[i + 1]!, t[i + 2]!],
        [t[i + 2]!, t[i]!],
      ] as const)
        edges.set(`${a},${b}`, (edges.get(`${a},${b}`) ?? 0) + 1);
    }
    for (const [edge, count] of edges) {
      expect(count).toBe(1);
      expect(edges.get(edge.split(',').reverse().join())).toBe(1);
    }
    // 23 × 13 cells between the lines of its skin, 2 mm thick (1 mm, and 1 mm under it), less the pocket; walls run over half a cell.
    const whole = 2.3 * 1.3 * 2;
    expect(measureSolid(solid)).toBeCloseTo(whole - 200 * 0.01 * 0.5 - 0.01 * 0.5, 2);
  });

  it('STL and 3MF hold the same faces', () => {
    const solid = createPatchSolid(pocket(), surface, 0.05)!;
    const faces = solid.triangles.length / 3;
    expect(toStl(solid).length).toBe(84 + 50 * faces);
    const files = unzipSync(to3mf(solid));
    const model = new TextDecoder().decode(files['3D/3dmodel.model']);
    expect(model.match(/<triangle /g)).toHaveLength(faces);
    expect(model.match(/<vertex /g)).toHaveLength(solid.positions.length / 3);
    expect(model).toContain('unit="millimeter"');
    expect(Object.keys(files)).toContain('[Content_Types].xml');
  });

  it('too many faces are refused with the tolerance that fits', () => {
    const field = new DepthField(createCellGrid(surface, 0.004), surface);
    for (const [c, r] of [
      [0, 0],
      [9990, 7490],
    ] as const)
      removeStretch(field.touch(c >> 5, r >> 5), (r & 31) * 32 + (c & 31), 0, 0.1, 0);
    let said = '';
    try {
      createPatchSolid(field, surface, 0.002);
    } catch (error) {
      said = (error as RangeError).message;
    }
    const fits = Number(/a tolerance of (0\.0\d+) mm fits/.exec(said)?.[1]);
    expect(fits).toBeCloseTo(0.008, 3);
    expect(createPatchSolid(field, surface, fits)).not.toBeNull();
  });

  it('few faces where nothing is cut: a sheet with two cells in far corners', () => {
    const field = new DepthField(createCellGrid(surface, 0.02), surface);
    for (const [c, r] of [
      [0, 0],
      [1990, 1490],
    ] as const)
      removeStretch(field.touch(c >> 5, r >> 5), (r & 31) * 32 + (c & 31), 0, 0.1, 0);
    expect(createPatchSolid(field, surface, 0.01)!.triangles.length / 3).toBeLessThan(8000);
  });

  it('a picture of the cut sheet: dark walls where they face away from the light, plain where nothing is cut', () => {
    const map = toDepthMap(pocket())!;
    const png = decode(toReliefPng(map));
    expect([png.width, png.height, png.channels]).toEqual([map.widthCells, map.heightCells, 3]);
    const small = decode(toReliefPng(map, 40));
    expect(Math.max(small.width, small.height)).toBeLessThanOrEqual(40);
    const at = (x: number, y: number) => png.data[3 * (y * png.width + x)]!;
    // The upper left wall of the pocket looks away from a light at the upper left, the lower right one to it.
    const row = map.heightCells - 46 + 32;
    const c = 50 - 32;
    expect(at(2, 2)).toBe(226);
    const [left, middle, right] = [at(c, row), at(c + 5, row), at(c + 19, row)];
    expect(left).not.toBe(right);
    expect(Math.min(left, right)).toBeLessThan(middle);
  });
});
