/** A walk that crosses more edges than this is given up. */
const MAX_CROSSINGS = 100_000;

/**
 * Walks straight on over the faces: within a face along a line, across an edge as if both faces lay flat.
 * @param pos Start. @param dir Unit direction in the start's face.
 * @returns Goes on to a distance from the start, mm, never back, and writes x and y there: whether the way stayed on the patch;
 * past its edge it goes on straight.
 */
export function traceGeodesic(
  p: Float64Array,
  t: Uint32Array,
  neighbours: Int32Array,
  start: number,
  pos: readonly number[],
  dir: readonly number[],
): (distanceMm: number, out: Float64Array) => boolean {
  let f = start,
    from = -1,
    gone = 0,
    crossings = 0,
    lost = false;
  let px = pos[0]!,
    py = pos[1]!,
    pz = pos[2]!,
    dx = dir[0]!,
    dy = dir[1]!,
    dz = dir[2]!;
  return (distanceMm, out) => {
    while (!lost) {
      const base = 3 * f;
      const A = 3 * t[base]!,
        B = 3 * t[base + 1]!,
        C = 3 * t[base + 2]!;
      const ux = p[B]! - p[A]!,
        uy = p[B + 1]! - p[A + 1]!,
        uz = p[B + 2]! - p[A + 2]!;
      const vx = p[C]! - p[A]!,
        vy = p[C + 1]! - p[A + 1]!,
        vz = p[C + 2]! - p[A + 2]!;
      const nx = uy * vz - uz * vy,
        ny = uz * vx - ux * vz,
        nz = ux * vy - uy * vx;
      let exit = -1,
        exitAt = Infinity;
      for (let k = 0; k < 3; k++) {
        if (k === from) continue;
        const i = k === 0 ? A : k === 1 ? B : C,
          j = k === 0 ? B : k === 1 ? C : A;
        const ex = p[j]! - p[i]!,
          ey = p[j + 1]! - p[i + 1]!,
          ez = p[j + 2]! - p[i + 2]!;
        // Outward across the edge: e × n; its length does not matter to where it is crossed.
        const mx = ey * nz - ez * ny,
          my = ez * nx - ex * nz,
          mz = ex * ny - ey * nx;
        const speed = dx * mx + dy * my + dz * mz;
        if (!(speed > 0)) continue;
        const gap = (p[i]! - px) * mx + (p[i + 1]! - py) * my + (p[i + 2]! - pz) * mz;
        const at = gap > 0 ? gap / speed : 0;
        if (at < exitAt) {
          exitAt = at;
          exit = k;
        }
      }
      if (exit < 0 || gone + exitAt >= distanceMm) break;
      px += exitAt * dx;
      py += exitAt * dy;
      pz += exitAt * dz;
      gone += exitAt;
      const g = neighbours[base + exit]!;
      if (g < 0 || ++crossings > MAX_CROSSINGS) {
        lost = true;
        break;
      }
      const own = t[base + exit]!;
      const i = 3 * own,
        j = 3 * t[base + ((exit + 1) % 3)]!;
      let ex = p[j]! - p[i]!,
        ey = p[j + 1]! - p[i + 1]!,
        ez = p[j + 2]! - p[i + 2]!;
      const le = 1 / (Math.sqrt(ex * ex + ey * ey + ez * ez) || 1);
      ex *= le;
      ey *= le;
      ez *= le;
      const along = dx * ex + dy * ey + dz * ez;
      // Into the next face, square to the edge.
      let entered = 0;
      for (let k = 0; k < 3; k++) if (neighbours[3 * g + k] === f && t[3 * g + ((k + 1) % 3)] === own) entered = k;
      const apex = 3 * t[3 * g + ((entered + 2) % 3)]!;
      const qx = p[apex]! - p[i]!,
        qy = p[apex + 1]! - p[i + 1]!,
        qz = p[apex + 2]! - p[i + 2]!;
      const qe = qx * ex + qy * ey + qz * ez;
      const mx = qx - qe * ex,
        my = qy - qe * ey,
        mz = qz - qe * ez;
      const across = Math.sqrt(Math.max(0, 1 - along * along)) / (Math.sqrt(mx * mx + my * my + mz * mz) || 1);
      dx = along * ex + across * mx;
      dy = along * ey + across * my;
      dz = along * ez + across * mz;
      f = g;
      from = entered;
    }
    out[0] = px + (distanceMm - gone) * dx;
    out[1] = py + (distanceMm - gone) * dy;
    return !lost;
  };
}
