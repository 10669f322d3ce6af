import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Job } from '../../core/job/schema';
import { describeShapeError } from '../../core/shape/heal';
import { readShape } from '../../core/shape/readShape';
import type { StepReader } from '../../core/shape/step';
import { NO_SHAPES, type Shapes } from '../../core/surface/registry';

let reader: Promise<StepReader> | null = null;

/** The OpenCascade reader, loaded when the first STEP file comes. */
export const loadStepReader = (): Promise<StepReader> => (reader ??= import('occt-import-js').then((m) => m.default()));

/**
 * The shape of a job's blank, where it is a file beside the job.
 * @param complain Told why a file cannot be had; the job is then planned without, and a finding says so.
 */
export async function loadFileShapes(job: Job, baseDir: string, complain: (text: string) => void): Promise<Shapes> {
  if (job.blank.kind !== 'free' || !('file' in job.blank.shape)) return NO_SHAPES;
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
