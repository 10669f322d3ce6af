import { describe, expect, it } from 'vitest';
import { createRandom } from '../../../tests/support';
import { createSmoothMap, type PlaneMap } from './smoothMap';

/** A bent map whose facing changes over the plane, off the surface beyond u = 20. */
const bent: PlaneMap = {
  map(u, v, out) {
    out[0] = u + 0.02 * u * u - 0.004 * u * v;
    out[1] = v + 0.01 * u * v + 0.3 * Math.sin(0.2 * v);
    out[2] = Math.cos(0.05 * u + 0.03 * v);
    return u <= 20;
  },
};

describe('createSmoothMap', () => {
  it('reads place and facing as the map itself has them, within its tolerance', () => {
    const smooth = createSmoothMap(bent, 6, 2e-5);
    const random = createRandom(5);
    const read = new Float64Array(3),
      want = new Float64Array(3);
    for (let n = 0; n < 500; n++) {
      const [u, v] = [random() * 40 - 25, random() * 40 - 20];
      expect(smooth.map(u, v, read)).toBe(bent.map(u, v, want));
      if (u > 20) continue;
      for (let k = 0; k < 3; k++) expect(Math.abs(read[k]! - want[k]!)).toBeLessThan(4e-5);
    }
  });

  it('asks the map itself but once for each node and probe of a tile', () => {
    let calls = 0;
    const smooth = createSmoothMap({ map: (u, v, out) => (calls++, bent.map(u, v, out)) }, 6, 2e-5);
    const out = new Float64Array(3);
    for (let n = 0; n < 400; n++) smooth.map((n % 20) / 10, Math.floor(n / 20) / 10, out);
    expect(calls).toBeLessThan(250);
  });
});
