import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { getResourcesDir } from './engines';
import { readCatalog } from './fonts';

const TYPES: Record<string, string> = { '.wasm': 'application/wasm', '.ttf': 'font/ttf', '.json': 'application/json', '.nc': 'text/plain' };

/** Modules that come with their packages and are not changed: OpenCascade, which reads STEP files (LGPL-2.1), and booleans of solids. */
const OF_PACKAGES: Record<string, () => string> = {
  'occt-import-js.wasm': () => path.join(process.cwd(), 'node_modules/occt-import-js/dist/occt-import-js.wasm'),
  'manifold.wasm': () => path.join(process.cwd(), 'node_modules/manifold-3d/manifold.wasm'),
};

/** A program to see on what is found in one. */
const FAULTY_PROGRAM = 'collar-with-faults.nc';

/** A file that the browser may have: the modules, the catalogue and the fonts in it, a program. Anything else is null. */
export async function readShippedFile(name: string): Promise<{ bytes: Buffer; type: string } | null> {
  const ofPackage = Object.hasOwn(OF_PACKAGES, name) ? OF_PACKAGES[name] : undefined;
  if (ofPackage) return { bytes: await readFile(ofPackage()), type: TYPES['.wasm']! };
  if (name === FAULTY_PROGRAM) return { bytes: await readFile(path.join(getResourcesDir(), 'programs', name)), type: TYPES['.nc']! };
  const allowed = name === 'voronoi.wasm' || readCatalog().some((entry) => entry.file === name);
  if (!allowed) return null;
  return { bytes: await readFile(path.join(getResourcesDir(), name)), type: TYPES[path.extname(name)] ?? 'application/octet-stream' };
}
