import type { Job, ShapeRef } from '../core/job/schema';
import { unpackShape } from '../core/shape/readShape';
import type { ShapeMesh } from '../core/shape/shapeMesh';
import type { Shapes } from '../core/surface/registry';

/** Shapes fetched by this worker, by their id; null for one that is not there. */
const fetched = new Map<string, ShapeMesh | null>();

export const workerShapes: Shapes = { find: (ref: ShapeRef) => ('id' in ref ? (fetched.get(ref.id) ?? null) : null) };

/** Takes in a shape that this worker made itself. */
export const keepFetched = (id: string, mesh: ShapeMesh): void => void fetched.set(id, mesh);

/** Fetches the shape of a job's blank, once. One that is not there stays missing until asked for anew. */
export async function ensureShape(job: Pick<Job, 'blank'>): Promise<void> {
  const { blank } = job;
  if (blank.kind !== 'free' || !('id' in blank.shape) || fetched.get(blank.shape.id)) return;
  fetched.set(blank.shape.id, await fetchShape(blank.shape.id));
}

export async function fetchShape(id: string): Promise<ShapeMesh | null> {
  const answer = await fetch(`/api/shapes/${id}`);
  if (answer.status === 404) return null;
  if (!answer.ok) throw new Error(`the shape could not be loaded (${answer.status})`);
  return unpackShape(new Uint8Array(await answer.arrayBuffer()));
}
