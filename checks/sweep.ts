/**
 * Brute-force sweep of a V, sharp or with a flat tip, along exported paths: what is really cut at places across the outline.
 * Common practice, no source.
 */
import type { Rings } from '../src/core/base/rings';
import type { Surface } from '../src/core/surface/surface';

interface ExportedPath {
  kind: 'cut' | 'hop';
  tip: number[][];
  axis: number[][];
}

/** Distance between neighbouring places of the cutter, mm. */
const STEP_MM = 0.004;
/** Cells of the table of places, mm. */
const CELL_MM = 0.5;

export function createSweep(lines: readonly string[], halfAngleDeg: number, tipMm = 0) {
  const cot = 1 / Math.tan((halfAngleDeg * Math.PI) / 180);
  const cells = new Map<number, number[]>();
  const keyOf = (i: number, j: number, k: number): number => ((i + 4096) * 8192 + (j + 4096)) * 8192 + k + 4096;
  const places: number[] = [];
  let reach = 0;
  const put = (t: readonly number[], a: readonly number[]) => {
    const at = places.length / 6;
    places.push(t[0]!, t[1]!, t[2]!, a[0]!, a[1]!, a[2]!);
    const [i, j, k] = [0, 1, 2].map((c) => Math.floor(t[c]! / CELL_MM)) as [number, number, number];
    const key = keyOf(i, j, k);
    const list = cells.get(key);
    if (list) list.push(at);
    else cells.set(key, [at]);
  };
  for (const line of lines) {
    const path = JSON.parse(line) as ExportedPath;
    if (path.kind !== 'cut') continue;
    for (let i = 1; i < path.tip.length; i++) {
      const [p, q] = [path.tip[i - 1]!, path.tip[i]!];
      const [a, b] = [path.axis[i - 1]!, path.axis[i]!];
      const n = Math.max(1, Math.ceil(Math.hypot(q[0]! - p[0]!, q[1]! - p[1]!, q[2]! - p[2]!) / STEP_MM));
      for (let k = 0; k <= n; k++) {
        const t = k / n;
        const axis = [0, 1, 2].map((c) => a[c]! + t * (b[c]! - a[c]!));
        const length = Math.hypot(axis[0]!, axis[1]!, axis[2]!);
        put(
          [0, 1, 2].map((c) => p[c]! + t * (q[c]! - p[c]!)),
          axis.map((v) => v / length),
        );
      }
    }
  }
  const table = Float64Array.from(places);

  /** How far a point lies in the cone of a place: height over the tip along the axis − lateral distance beyond the flat · cot β. */
  const marginOf = (at: number, x: number, y: number, z: number): number => {
    const dx = x - table[at]!,
      dy = y - table[at + 1]!,
      dz = z - table[at + 2]!;
    const h = dx * table[at + 3]! + dy * table[at + 4]! + dz * table[at + 5]!;
    const lateral = Math.sqrt(Math.max(0, dx * dx + dy * dy + dz * dz - h * h));
    return h - Math.max(0, lateral - tipMm / 2) * cot;
  };
  /** The place in whose cone a point was found last: the next one most often lies in it too. */
  let last = 0;

  /** How far a point lies in any cone at the most. @param enough Where it lies in one so far no other is asked. */
  const inside = (x: number, y: number, z: number, enough = Infinity): number => {
    let best = table.length > 0 ? marginOf(last, x, y, z) : -Infinity;
    const r = Math.ceil((reach || 2.5) / CELL_MM);
    const [cx, cy, cz] = [Math.floor(x / CELL_MM), Math.floor(y / CELL_MM), Math.floor(z / CELL_MM)];
    for (let i = cx - r; i <= cx + r; i++)
      for (let j = cy - r; j <= cy + r; j++)
        for (let k = cz - r; k <= cz + r; k++) {
          const list = best > enough ? undefined : cells.get(keyOf(i, j, k));
          if (!list) continue;
          for (const at of list) {
            const margin = marginOf(6 * at, x, y, z);
            if (margin > best) [best, last] = [margin, 6 * at];
          }
        }
    return best;
  };

  return {
    inside,
    /**
     * At places along every ring, probes outward and inward across the outline on the surface. A probe counts by its true
     * distance to the whole outline on the surface, since beside a notch the way outward soon leads into the next stroke, and a
     * sheet may stretch.
     * @returns Largest distance at which something outside is cut, and at which something inside is left, mm.
     */
    measureEdge(rings: Rings, surface: Surface, spacingMm: number) {
      const p = new Float64Array(3);
      // From the deepest tip up its flank to the surface, and a little.
      reach = 0.3;
      for (let i = 0; i < table.length; i += 6) {
        const deep = -surface.toSheet(table[i]!, table[i + 1]!, table[i + 2]!).heightMm;
        reach = Math.max(reach, 0.3 + tipMm / 2 + deep * Math.hypot(1, 1 / cot));
      }
      const cutAt = (x: number, y: number) => {
        surface.pointInto(x, y, p);
        return inside(p[0]!, p[1]!, p[2]!, 0) > 0;
      };
      const measure = createTrueDistance(rings, surface);
      let outside = 0,
        outsideAt = [NaN, NaN];
      const left: number[] = [];
      for (let k = 0; k + 1 < rings.starts.length; k++) {
        const from = rings.starts[k]!,
          n = rings.starts[k + 1]! - from;
        let ahead = spacingMm / 2;
        for (let i = 0; i < n; i++) {
          const a = 2 * (from + i),
            b = 2 * (from + ((i + 1) % n));
          const dx = rings.xy[b]! - rings.xy[a]!,
            dy = rings.xy[b + 1]! - rings.xy[a + 1]!;
          const length = Math.hypot(dx, dy);
          // Outward is to the right of the run, since the region is on its left.
          const nx = dy / length,
            ny = -dx / length;
          for (; ahead < length; ahead += spacingMm) {
            const x = rings.xy[a]! + (ahead / length) * dx,
              y = rings.xy[a + 1]! + (ahead / length) * dy;
            for (const o of PROBES_MM) {
              if (!cutAt(x + o * nx, y + o * ny)) break;
              const at = measure(x + o * nx, y + o * ny);
              if (!at.inside && at.distance > outside) [outside, outsideAt] = [at.distance, [x, y]];
            }
            let uncut = 0;
            for (const o of PROBES_MM) {
              if (cutAt(x - o * nx, y - o * ny)) break;
              const at = measure(x - o * nx, y - o * ny);
              if (at.inside) uncut = Math.max(uncut, at.distance);
            }
            left.push(uncut);
          }
          ahead -= length;
        }
      }
      left.sort((a, b) => a - b);
      return {
        outside,
        outsideAt,
        uncut: left[left.length - 1] ?? 0,
        uncut95: left[Math.floor(0.95 * (left.length - 1))] ?? 0,
        samples: left.length,
      };
    },
  };
}

const PROBES_MM = [0.00025, 0.0005, 0.001, 0.0015, 0.002, 0.003, 0.004, 0.005, 0.007, 0.01, 0.015, 0.02, 0.03, 0.05];

/** Distance in space from a sheet place to the outline as it lies on the surface, and whether it lies in the region. Brute force. */
function createTrueDistance(rings: Rings, surface: Surface) {
  const pieces: number[] = [];
  const p = new Float64Array(3);
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const from = rings.starts[k]!,
      n = rings.starts[k + 1]! - from;
    for (let i = 0; i < n; i++) {
      const a = 2 * (from + i),
        b = 2 * (from + ((i + 1) % n));
      const dx = rings.xy[b]! - rings.xy[a]!,
        dy = rings.xy[b + 1]! - rings.xy[a + 1]!;
      // Chords of 0.05 mm leave an arc of 8 mm radius by 0.04 µm.
      const parts = Math.max(1, Math.ceil(Math.hypot(dx, dy) / 0.05));
      for (let j = 0; j < parts; j++) {
        for (const t of [j / parts, (j + 1) / parts]) {
          surface.pointInto(rings.xy[a]! + t * dx, rings.xy[a + 1]! + t * dy, p);
          pieces.push(p[0]!, p[1]!, p[2]!);
        }
      }
    }
  }
  const s = Float64Array.from(pieces);
  return (x: number, y: number): { distance: number; inside: boolean } => {
    surface.pointInto(x, y, p);
    let best = Infinity;
    for (let i = 0; i < s.length; i += 6) {
      const dx = s[i + 3]! - s[i]!,
        dy = s[i + 4]! - s[i + 1]!,
        dz = s[i + 5]! - s[i + 2]!;
      const qx = p[0]! - s[i]!,
        qy = p[1]! - s[i + 1]!,
        qz = p[2]! - s[i + 2]!;
      const t = Math.min(1, Math.max(0, (qx * dx + qy * dy + qz * dz) / (dx * dx + dy * dy + dz * dz)));
      const d = (qx - t * dx) ** 2 + (qy - t * dy) ** 2 + (qz - t * dz) ** 2;
      if (d < best) best = d;
    }
    return { distance: Math.sqrt(best), inside: locate(rings, x, y).inside };
  };
}

/** Distance from a point to the nearest edge of the rings, and whether it lies in the region (non-zero). Brute force. */
export function locate(rings: Rings, x: number, y: number): { distance: number; inside: boolean } {
  let best = Infinity;
  let winding = 0;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const from = rings.starts[k]!,
      n = rings.starts[k + 1]! - from;
    for (let i = 0; i < n; i++) {
      const a = 2 * (from + i),
        b = 2 * (from + ((i + 1) % n));
      const ax = rings.xy[a]!,
        ay = rings.xy[a + 1]!,
        dx = rings.xy[b]! - ax,
        dy = rings.xy[b + 1]! - ay;
      const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
      best = Math.min(best, Math.hypot(x - ax - t * dx, y - ay - t * dy));
      const left = dx * (y - ay) - dy * (x - ax);
      if (ay <= y && ay + dy > y && left > 0) winding++;
      else if (ay > y && ay + dy <= y && left < 0) winding--;
    }
  }
  return { distance: best, inside: winding !== 0 };
}
