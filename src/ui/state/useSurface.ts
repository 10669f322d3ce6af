'use client';

import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react';
import type { BlankOf, Job, ShapeRef } from '../../core/job/schema';
import type { ShapeMesh } from '../../core/shape/shapeMesh';
import { getPatchKey, keepPatch } from '../../core/surface/free';
import { createSurface, NO_SHAPES, type Shapes } from '../../core/surface/registry';
import type { Surface } from '../../core/surface/surface';
import { createShapeWorker, type ShapeAnswer, type WorkerFailure } from '../../workers/planning.client';

type FreeBlank = BlankOf<'free'>;

/** The blank's surface as the views and panels use it, and the way free shapes come in. */
export interface BlankSurface {
  surface: Surface;
  shapes: Shapes;
  /** What is being done to a free shape: a share in [0, 1], or null. */
  progress: number | null;
  failure: string | null;
  /** Reads a file into a shape that is kept. */
  importShape(file: File): Promise<{ id: string; mesh: ShapeMesh } | { text: string }>;
  /** Stops what is being read. */
  stop(): void;
}

const IMPORT_DEADLINE_MS = 300_000;
/** The page keeps shapes it has seen; they are never changed. */
const meshes = new Map<string, ShapeMesh>();
const pageShapes: Shapes = { find: (ref: ShapeRef) => ('id' in ref ? (meshes.get(ref.id) ?? null) : null) };

/** Keeps the surface up with the blank. Patches of free shapes are made in a worker; till then the last one stands. */
export function useBlankSurface(blank: Job['blank']): BlankSurface {
  const worker = useRef<ReturnType<typeof createShapeWorker> | null>(null);
  const abort = useRef<AbortController | null>(null);
  const [ready, setReady] = useState<{ blank: FreeBlank; key: string } | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const getWorker = useCallback(() => (worker.current ??= createShapeWorker()), []);
  useEffect(
    () => () => {
      worker.current?.dispose();
      worker.current = null;
    },
    [],
  );

  const key = blank.kind === 'free' && 'id' in blank.shape ? `${blank.shape.id} ${getPatchKey(blank)}` : null;
  useEffect(() => {
    if (blank.kind !== 'free' || !('id' in blank.shape) || key === null) return;
    const { id } = blank.shape;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      setProgress(0);
      getWorker()
        .call(
          { kind: 'patch', blank, withMesh: !meshes.has(id) },
          { signal: controller.signal, deadlineMs: IMPORT_DEADLINE_MS, onProgress: setProgress },
        )
        .then((answer: ShapeAnswer) => {
          if (answer.kind !== 'patch')
            return setFailure(answer.kind === 'missing' ? 'This shape is not here. Import its file again.' : null);
          if (answer.mesh) meshes.set(id, answer.mesh);
          keepPatch(blank, meshes.get(id)!, answer.patch);
          setFailure(null);
          setReady({ blank, key });
        })
        .catch((error: WorkerFailure) => error.kind !== 'cancelled' && setFailure(`The shape could not be laid out: ${error.message}`))
        .finally(() => !controller.signal.aborted && setProgress(null));
    }, 30);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
    // The key holds all of the blank that the patch depends on.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);

  const surface =
    blank.kind !== 'free'
      ? createSurface(blank)
      : ready
        ? createSurface(ready.key === key ? blank : ready.blank, pageShapes)
        : createSurface(blank, NO_SHAPES);
  const importShape = useCallback(
    async (file: File) => {
      const controller = new AbortController();
      abort.current = controller;
      setProgress(0);
      try {
        const answer = await getWorker().call(
          { kind: 'import', file },
          { signal: controller.signal, deadlineMs: IMPORT_DEADLINE_MS, onProgress: setProgress },
        );
        if (answer.kind !== 'mesh') return { text: answer.kind === 'refused' ? answer.text : `${file.name} could not be read` };
        meshes.set(answer.id, answer.mesh);
        return { id: answer.id, mesh: answer.mesh };
      } catch (error) {
        return {
          text:
            (error as WorkerFailure).kind === 'cancelled'
              ? `Reading ${file.name} was stopped`
              : `${file.name} could not be read: ${(error as Error).message}`,
        };
      } finally {
        setProgress(null);
      }
    },
    [getWorker],
  );
  const stop = useCallback(() => abort.current?.abort(), []);
  // The same as long as nothing in it is new: all that hangs on it, the scene too, would else be drawn at every keystroke.
  return useMemo(
    () => ({ surface, shapes: pageShapes, progress, failure, importShape, stop }),
    [surface, progress, failure, importShape, stop],
  );
}

export const SurfaceContext = createContext<BlankSurface | null>(null);

export function useBlank(): BlankSurface {
  const found = useContext(SurfaceContext);
  if (!found) throw new Error('useBlank: outside a bench');
  return found;
}
export const useSurface = (): Surface => useBlank().surface;
