import createReader from 'occt-import-js';
import { describeShapeError } from '../core/shape/heal';
import { createPatch } from '../core/shape/patch';
import { packShape, readShape } from '../core/shape/readShape';
import type { ShapeMesh } from '../core/shape/shapeMesh';
import type { StepReader } from '../core/shape/step';
import type { ShapeAnswer, ShapeRequest } from './protocol';
import { serve } from './serve';
import { ensureShape, keepFetched, workerShapes } from './shapes';

let reader: Promise<StepReader> | null = null;
const getReader = (): Promise<StepReader> => (reader ??= createReader({ locateFile: () => '/resources/occt-import-js.wasm' }));

/** Progress goes out at most this often, ms. */
const PROGRESS_EVERY_MS = 60;

serve<ShapeRequest, ShapeAnswer, number>(async (request, { onProgress }) => {
  let told = 0;
  const tell = (share: number) => {
    const now = performance.now();
    if (now - told < PROGRESS_EVERY_MS) return;
    told = now;
    onProgress(share);
  };
  if (request.kind === 'import') {
    const bytes = new Uint8Array(await request.file.arrayBuffer());
    const read = await readShape(bytes, request.file.name, getReader, (share) => tell(0.8 * share));
    if (!read.ok) return { answer: { kind: 'refused', text: describeShapeError(read.error, request.file.name) } };
    const packed = packShape(read.value);
    const answer = await fetch(`/api/shapes?name=${encodeURIComponent(request.file.name)}`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: packed as Uint8Array<ArrayBuffer>,
    });
    const told2 = (await answer.json()) as { id?: string; text?: string };
    if (!answer.ok || !told2.id)
      return { answer: { kind: 'refused', text: `${request.file.name} could not be kept: ${told2.text ?? answer.status}` } };
    keepFetched(told2.id, read.value);
    return { answer: { kind: 'mesh', id: told2.id, mesh: copyOf(read.value) } };
  }
  await ensureShape({ blank: request.blank });
  const mesh = workerShapes.find(request.blank.shape);
  if (!mesh) return { answer: { kind: 'missing' } };
  const patch = createPatch(request.blank, mesh, tell);
  return { answer: { kind: 'patch', patch, mesh: request.withMesh ? mesh : null } };
});

/** The page gets its own copy; the worker keeps the one it indexes. */
const copyOf = (mesh: ShapeMesh): ShapeMesh => ({
  ...mesh,
  positions: mesh.positions.slice(),
  triangles: mesh.triangles.slice(),
  neighbours: mesh.neighbours.slice(),
});
