import type { VoronoiExports } from '../core/medial/voronoi';
import { createVoronoiEngine, type VoronoiEngine } from '../core/medial/voronoi';

/** Fetches a shipped file; a failure says which one. */
export async function fetchResource(name: string): Promise<Response> {
  const answer = await fetch(`/resources/${name}`);
  if (!answer.ok) throw new Error(`${name} could not be loaded (${answer.status})`);
  return answer;
}

export async function loadVoronoi(): Promise<VoronoiEngine> {
  const bytes = await (await fetchResource('voronoi.wasm')).arrayBuffer();
  const { instance } = await WebAssembly.instantiate(bytes);
  (instance.exports._initialize as () => void)();
  return createVoronoiEngine(instance.exports as unknown as VoronoiExports);
}
