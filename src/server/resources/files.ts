import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { getResourcesDir } from './engines';
import { readCatalog } from './fonts';

const TYPES: Record<string, string> = { '.wasm': 'application/wasm', '.ttf': 'font/ttf', '.json': 'application/json' };

/** The OpenCascade module that reads STEP files; it comes with its package (LGPL-2.1) and is not changed. */
const OCCT = 'occt-import-js.wasm';

/** A file that the browser may have: the Voronoi and OpenCascade modules, the catalogue and the fonts in it. Anything else is null. */
export async function readShippedFile(name: string): Promise<{ bytes: Buffer; type: string } | null> {
  if (name === OCCT)
    return { bytes: await readFile(path.join(process.cwd(), 'node_modules/occt-import-js/dist', OCCT)), type: TYPES['.wasm']! };
  const allowed = name === 'voronoi.wasm' || readCatalog().some((entry) => entry.file === name);
  if (!allowed) return null;
  return { bytes: await readFile(path.join(getResourcesDir(), name)), type: TYPES[path.extname(name)] ?? 'application/octet-stream' };
}
