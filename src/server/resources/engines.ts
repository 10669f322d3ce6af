import { readFile } from 'node:fs/promises';
import path from 'node:path';
import * as harfbuzz from 'harfbuzzjs';
import type { VoronoiExports } from '../../core/medial/voronoi';
import { createEngines, type Engines } from '../../core/pipeline/engines';

/** The folder of fonts and compiled modules that ships with Hobel; HOBEL_RESOURCES moves it. */
export const getResourcesDir = (): string => process.env.HOBEL_RESOURCES ?? path.join(process.cwd(), 'resources');

/** Loads HarfBuzz and the Voronoi module from disk. */
export async function loadEngines(): Promise<Engines> {
  const bytes = await readFile(path.join(getResourcesDir(), 'voronoi.wasm'));
  const { instance } = await WebAssembly.instantiate(bytes);
  (instance.exports._initialize as () => void)();
  return createEngines(harfbuzz, instance.exports as unknown as VoronoiExports);
}
