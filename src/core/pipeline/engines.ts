import type * as HarfBuzz from 'harfbuzzjs';
import { createVoronoiEngine, type VoronoiEngine, type VoronoiExports } from '../medial/voronoi';

/** The compiled parts the core needs, made once where the files are (server, command line, worker) and passed in. */
export interface Engines {
  harfbuzz: typeof HarfBuzz;
  voronoi: VoronoiEngine;
}

/** Engines from the HarfBuzz module and the exports of an instantiated voronoi.wasm, already initialised. */
export const createEngines = (harfbuzz: typeof HarfBuzz, voronoi: VoronoiExports): Engines => ({
  harfbuzz,
  voronoi: createVoronoiEngine(voronoi),
});
