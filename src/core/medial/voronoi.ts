import { InvariantError } from '../base/invariant';

/** What the compiled segment-Voronoi module exports (native/voronoi/shim.cpp). */
export interface VoronoiExports {
  memory: { readonly buffer: ArrayBuffer };
  hobel_alloc(count: number): number;
  hobel_build(count: number): number;
  hobel_vertex_count(): number;
  hobel_vertices(): number;
  hobel_edges(): number;
  hobel_free(): void;
}

/** Ints per edge in `edges`: v0, v1, site0, site1, curved, reserved. A site is segment · 4 + category. */
export const EDGE_STRIDE = 6;

/** Finite primary edges of a segment Voronoi diagram. Vertices are in the units of the input. */
export interface VoronoiDiagram {
  vertices: Float64Array;
  edges: Int32Array;
}

export interface VoronoiEngine {
  /**
   * The Voronoi diagram of integer segments that may share end points but nowhere cross.
   * @param segments x0 y0 x1 y1 of each, integers within ±2³⁰.
   * @throws InvariantError if a vertex comes out non-finite, as happens when segments cross.
   * O(n log n). Source: Boost.Polygon, segment Voronoi (Fortune's sweep with exact predicates).
   */
  build(segments: Int32Array): VoronoiDiagram;
}

/** Wraps the exports of an instantiated module. Copies the results out, since the memory is reused. */
export function createVoronoiEngine(wasm: VoronoiExports): VoronoiEngine {
  return {
    build(segments) {
      const count = segments.length / 4;
      if (!Number.isInteger(count)) throw new InvariantError('VoronoiEngine.build', 'not four numbers a segment', segments.length);
      if (count === 0) return { vertices: new Float64Array(0), edges: new Int32Array(0) };
      const at = wasm.hobel_alloc(count);
      new Int32Array(wasm.memory.buffer, at, segments.length).set(segments);
      const edgeCount = wasm.hobel_build(count);
      if (edgeCount < 0) throw new InvariantError('VoronoiEngine.build', 'the module refused the input', count);
      const vertices = new Float64Array(wasm.memory.buffer, wasm.hobel_vertices(), 2 * wasm.hobel_vertex_count()).slice();
      const edges = new Int32Array(wasm.memory.buffer, wasm.hobel_edges(), EDGE_STRIDE * edgeCount).slice();
      wasm.hobel_free();
      for (let i = 0; i < vertices.length; i++) {
        if (!Number.isFinite(vertices[i]))
          throw new InvariantError('VoronoiEngine.build', 'a vertex is not finite: do the segments cross?', i);
      }
      return { vertices, edges };
    },
  };
}
