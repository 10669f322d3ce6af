/** What was found and mended in a shape, for people to read. */
export interface HealReport {
  triangles: number;
  vertices: number;
  /** Triangles without area, and triangles that stood twice, left out. */
  degenerate: number;
  duplicates: number;
  /** Triangles turned over to agree with their neighbours, or because the whole was inside out. */
  flipped: number;
  /** Edges with one triangle (holes), and with more than two. */
  openEdges: number;
  crowdedEdges: number;
  /** Parts that hang together. */
  parts: number;
  /** Volume in cubic and area in square units of the file; the volume only means something without open edges. */
  volume: number;
  area: number;
}

/**
 * A free shape: triangles that share their vertices, wound counter-clockwise seen from outside, in the file's own units.
 * Typed arrays alone, so that it can be passed between threads.
 */
export interface ShapeMesh {
  /** x, y, z a vertex. */
  positions: Float64Array;
  /** Three vertices a triangle. */
  triangles: Uint32Array;
  /** Across the edge from corner k to corner k + 1 of each triangle: the triangle there, or −1. */
  neighbours: Int32Array;
  report: HealReport;
}

/** Box of a mesh: least and greatest x, y, z. O(vertices). */
export function computeBounds(mesh: Pick<ShapeMesh, 'positions'>): { min: [number, number, number]; max: [number, number, number] } {
  const min: [number, number, number] = [Infinity, Infinity, Infinity],
    max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  const p = mesh.positions;
  for (let i = 0; i < p.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      if (p[i + k]! < min[k]!) min[k] = p[i + k]!;
      if (p[i + k]! > max[k]!) max[k] = p[i + k]!;
    }
  }
  return { min, max };
}
