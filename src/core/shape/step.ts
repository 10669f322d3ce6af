import { err, ok, type Result } from '../base/result';
import type { ShapeError, TriangleSoup } from './heal';

/** The part of the OpenCascade reader that is used; made by whoever has the WebAssembly file. */
export interface StepReader {
  ReadStepFile(
    content: Uint8Array,
    params: Record<string, unknown> | null,
  ): {
    success: boolean;
    meshes: { attributes: { position: { array: number[] } }; index: { array: number[] } }[];
  };
}

/** Chord and angle to which round faces are cut into flat ones: 0.005 mm, 3°. */
const CHORD_MM = 0.005;
const ANGLE_RAD = 0.05;

/**
 * Reads a STEP file (ISO 10303-21) by OpenCascade and cuts its faces into triangles, in mm whatever the file's own unit.
 */
export function readStep(bytes: Uint8Array, reader: StepReader): Result<TriangleSoup, ShapeError> {
  const head = new TextDecoder().decode(bytes.subarray(0, 400));
  if (!head.includes('ISO-10303-21')) return err({ kind: 'notReadable', what: 'it does not begin with ISO-10303-21' });
  let read: ReturnType<StepReader['ReadStepFile']>;
  try {
    read = reader.ReadStepFile(bytes, {
      linearUnit: 'millimeter',
      linearDeflectionType: 'absolute_value',
      linearDeflection: CHORD_MM,
      angularDeflection: ANGLE_RAD,
    });
  } catch (error) {
    return err({
      kind: 'notReadable',
      what: `its geometry could not be made out (${error instanceof Error ? error.message : String(error)})`,
    });
  }
  if (!read.success) return err({ kind: 'notReadable', what: 'its geometry could not be made out' });
  let count = 0;
  for (const mesh of read.meshes) count += mesh.index.array.length;
  if (count === 0) return err({ kind: 'noSolid' });
  const corners = new Float64Array(3 * count);
  let at = 0;
  for (const mesh of read.meshes) {
    const p = mesh.attributes.position.array;
    for (const v of mesh.index.array) {
      corners[at++] = p[3 * v]!;
      corners[at++] = p[3 * v + 1]!;
      corners[at++] = p[3 * v + 2]!;
    }
  }
  return ok({ corners });
}
