import { readdirSync, readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Job } from '../../core/job/schema';
import { describeShapeError, healSoup } from '../../core/shape/heal';
import { packShape, readShape } from '../../core/shape/readShape';
import type { ShapeMesh } from '../../core/shape/shapeMesh';
import type { StepReader } from '../../core/shape/step';
import { readStl } from '../../core/shape/stl';
import { NO_SHAPES, type Shapes } from '../../core/surface/registry';
import { getResourcesDir } from './engines';
import { sha256Of } from './fontFiles';

let reader: Promise<StepReader> | null = null;

/** The OpenCascade reader, loaded when the first STEP file comes. */
export const loadStepReader = (): Promise<StepReader> => (reader ??= import('occt-import-js').then((m) => m.default()));

/** Shapes that ship, as they are kept: one entry a file. */
export function* readShippedShapes(): Generator<{ name: string; id: string; mesh: ShapeMesh; bytes: Uint8Array }> {
  const dir = path.join(getResourcesDir(), 'shapes');
  for (const name of readdirSync(dir).filter((f) => f.endsWith('.stl'))) {
    const soup = readStl(new Uint8Array(readFileSync(path.join(dir, name))));
    const healed = soup.ok ? healSoup(soup.value) : soup;
    if (!healed.ok) throw new Error(describeShapeError(healed.error, name));
    const bytes = packShape(healed.value);
    yield { name, id: sha256Of(bytes), mesh: healed.value, bytes };
  }
}

function findShipped(id: string): Shapes {
  for (const shipped of readShippedShapes())
    if (shipped.id === id) return { find: (ref) => ('id' in ref && ref.id === id ? shipped.mesh : null) };
  return NO_SHAPES;
}

/**
 * The shape of a job's blank, where it ships or is a file beside the job.
 * @param complain Told why a file cannot be had; the job is then planned without, and a finding says so.
 */
export async function loadFileShapes(job: Job, baseDir: string, complain: (text: string) => void): Promise<Shapes> {
  if (job.blank.kind !== 'free') return NO_SHAPES;
  if (!('file' in job.blank.shape)) return findShipped(job.blank.shape.id);
  const { file } = job.blank.shape;
  let bytes: Uint8Array;
  try {
    bytes = new Uint8Array(await readFile(path.resolve(baseDir, file)));
  } catch (error) {
    complain(`${file}: ${(error as Error).message}`);
    return NO_SHAPES;
  }
  const read = await readShape(bytes, file, loadStepReader);
  if (!read.ok) {
    complain(describeShapeError(read.error, file));
    return NO_SHAPES;
  }
  return { find: (ref) => ('file' in ref && ref.file === file ? read.value : null) };
}
