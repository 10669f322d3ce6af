'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import type { Job, Tool } from '../../core/job/schema';
import { createSuggestWorker, type LetteringView, type SuggestAnswer, type SuggestRequest } from '../../workers/planning.client';

const DEADLINE_MS = 120_000;

/** Asks how lettering is best cut; the worker is started with the first question. */
export interface Suggesting {
  /** Share that is done of what was asked last, or null. */
  progress: number | null;
  ask(want: SuggestRequest['want']): Promise<SuggestAnswer | null>;
  stop(): void;
}

export function useSuggest(job: Job, lettering: LetteringView | null, crib: readonly Tool[]): Suggesting {
  const worker = useRef<ReturnType<typeof createSuggestWorker> | null>(null);
  const abort = useRef<AbortController | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  useEffect(
    () => () => {
      worker.current?.dispose();
      worker.current = null;
    },
    [],
  );
  const ask = useCallback(
    async (want: SuggestRequest['want']): Promise<SuggestAnswer | null> => {
      if (!lettering) return null;
      worker.current ??= createSuggestWorker();
      abort.current?.abort();
      const own = new AbortController();
      abort.current = own;
      setProgress(0);
      try {
        const request = { job, lettering: { artworks: lettering.artworks, findings: lettering.findings }, crib, want };
        return await worker.current.call(request, { deadlineMs: DEADLINE_MS, signal: own.signal, onProgress: setProgress });
      } catch {
        return null;
      } finally {
        if (abort.current === own) setProgress(null);
      }
    },
    [job, lettering, crib],
  );
  const stop = useCallback(() => abort.current?.abort(), []);
  return { progress, ask, stop };
}
