import { eq } from 'drizzle-orm';
import { err, ok, type Result } from '../core/base/result';
import { unpackShape } from '../core/shape/readShape';
import type { Db } from './db/connection';
import { shapes } from './db/schema';
import { sha256Of } from './resources/fontFiles';

/** Largest packed shape kept, bytes: three million triangles. */
export const MAX_PACKED_BYTES = 160_000_000;

export interface ShapeCard {
  id: string;
  name: string;
  triangles: number;
}

export type ShapeRefusal = { kind: 'notPacked' } | { kind: 'broken'; what: string };

export const describeShapeRefusal = (error: ShapeRefusal): string =>
  error.kind === 'notPacked' ? 'This is no shape as Hobel packs it' : `The shape does not hang together: ${error.what}`;

/** Keeps a packed shape under the hash of its bytes; one that is here already is not kept twice. */
export function keepShape(db: Db, name: string, bytes: Uint8Array, nowMs: number): Result<ShapeCard, ShapeRefusal> {
  const mesh = unpackShape(bytes);
  if (!mesh) return err({ kind: 'notPacked' });
  const vertices = mesh.positions.length / 3,
    triangles = mesh.triangles.length / 3;
  if (!mesh.positions.every(Number.isFinite)) return err({ kind: 'broken', what: 'a vertex is no number' });
  if (!mesh.triangles.every((v) => v < vertices)) return err({ kind: 'broken', what: 'a triangle names a vertex that is not there' });
  if (mesh.neighbours.length !== mesh.triangles.length || !mesh.neighbours.every((f) => f >= -1 && f < triangles))
    return err({ kind: 'broken', what: 'a neighbour is not there' });
  const card: ShapeCard = { id: sha256Of(bytes), name: name.slice(0, 120), triangles };
  db.insert(shapes)
    .values({ ...card, bytes: Buffer.from(bytes), addedAt: nowMs })
    .onConflictDoNothing()
    .run();
  return ok(card);
}

/** The packed bytes of a shape, or null. */
export const readShapeBytes = (db: Db, id: string): Uint8Array | null =>
  db.select({ bytes: shapes.bytes }).from(shapes).where(eq(shapes.id, id)).get()?.bytes ?? null;
