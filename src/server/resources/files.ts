import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { getResourcesDir } from './engines';
import { readCatalog } from './fonts';

const TYPES: Record<string, string> = { '.wasm': 'application/wasm', '.ttf': 'font/ttf', '.json': 'application/json' };

/** A file that the browser may have: the Voronoi module, the catalogue and the fonts in it. Anything else is null. */
export async function readShippedFile(name: string): Promise<{ bytes: Buffer; type: string } | null> {
  const allowed = name === 'voronoi.wasm' || readCatalog().some((entry) => entry.file === name);
  if (!allowed) return null;
  return { bytes: await readFile(path.join(getResourcesDir(), name)), type: TYPES[path.extname(name)] ?? 'application/octet-stream' };
}
