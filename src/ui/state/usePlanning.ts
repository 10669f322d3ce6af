'use client';

import { useEffect, useRef, useState } from 'react';
import type { Job } from '../../core/job/schema';
import { markDrawn } from '../bench/marks';
import type { WorkerFailure } from '../../workers/planning.client';
import {
  createPlanningWorkers,
  type LetteringView,
  type PlanningWorkers,
  type PlanView,
  type Progress,
} from '../../workers/planning.client';

/** What the bench shows of the derived work. `plan` stays the last whole one until the next is done; `stale` says so. */
export interface Planning {
  lettering: LetteringView | null;
  plan: PlanView | null;
  stale: boolean;
  /** The plan, if it was made from the lettering that is shown; so that old passes leave with the old letters, not before. */
  fitting: PlanView | null;
  progress: Progress | null;
  /** Why there is no plan, in words. */
  failure: string | null;
  stopped: boolean;
  stop(): void;
  resume(): void;
}

const LETTERING_DEADLINE_MS = 60_000;
const PLAN_DEADLINE_MS = 600_000;
/** How often lettering whose worker did not start is tried again, and after how long. */
const MOST_RETRIES = 5;
const RETRY_MS = 3000;
/** Planning starts when nothing was edited for this long. */
const PLAN_AFTER_MS = 180;

/** Keeps lettering and plan up with the job: lettering at every edit, the newest only; the plan once edits pause. */
export function usePlanning(job: Job): Planning {
  const workers = useRef<PlanningWorkers | null>(null);
  const [lettering, setLettering] = useState<{ view: LetteringView; job: Job } | null>(null);
  const [plan, setPlan] = useState<{ view: PlanView; job: Job } | null>(null);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [stoppedFor, setStoppedFor] = useState<Job | null>(null);
  const wanted = useRef<Job>(job);
  const busy = useRef(false);
  const abort = useRef<AbortController | null>(null);

  useEffect(() => {
    const made = createPlanningWorkers();
    workers.current = made;
    return () => {
      made.lettering.dispose();
      made.plan.dispose();
      workers.current = null;
      busy.current = false;
    };
  }, []);

  useEffect(() => {
    wanted.current = job;
    let retry: ReturnType<typeof setTimeout> | null = null;
    let left = MOST_RETRIES;
    const run = async () => {
      if (busy.current || !workers.current) return;
      busy.current = true;
      try {
        for (let asked: Job | null = null; asked !== wanted.current && workers.current;) {
          asked = wanted.current;
          const lettered = workers.current.lettering.call({ job: asked }, { deadlineMs: LETTERING_DEADLINE_MS });
          // The code of what comes next is fetched meanwhile.
          workers.current.plan.warm();
          const view = await lettered;
          setLettering({ view, job: asked });
          setFailure(null);
        }
      } catch (error) {
        const { kind, message } = error as WorkerFailure;
        if (kind !== 'cancelled') setFailure(`Lettering failed: ${message}`);
        // Where the server was not there for its code it may be there again.
        if (kind === 'crashed' && left-- > 0) retry = setTimeout(() => void run(), RETRY_MS);
      } finally {
        busy.current = false;
      }
    };
    void run();
    return () => {
      if (retry) clearTimeout(retry);
    };
  }, [job]);

  useEffect(() => {
    if (!lettering || lettering.job !== job || stoppedFor === job) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      if (!workers.current) return;
      abort.current = controller;
      setProgress({ stage: 'carving', share: 0 });
      workers.current.plan
        .call(
          { job, lettering: { artworks: lettering.view.artworks, findings: lettering.view.findings } },
          {
            signal: controller.signal,
            deadlineMs: PLAN_DEADLINE_MS,
            onProgress: setProgress,
          },
        )
        .then((view) => {
          setPlan({ view, job });
          markDrawn('planned');
          setFailure(null);
          setProgress(null);
        })
        .catch((error: WorkerFailure) => {
          if (error.kind === 'cancelled') return;
          setProgress(null);
          setFailure(`Planning failed: ${error.message}`);
        });
    }, PLAN_AFTER_MS);
    return () => {
      clearTimeout(timer);
      controller.abort();
      setProgress(null);
    };
  }, [lettering, job, stoppedFor]);

  return {
    lettering: lettering?.view ?? null,
    plan: plan?.view ?? null,
    stale: plan?.job !== job,
    fitting: plan && plan.job === lettering?.job ? plan.view : null,
    progress,
    failure,
    stopped: stoppedFor === job,
    stop: () => {
      setStoppedFor(job);
      abort.current?.abort();
      setProgress(null);
    },
    resume: () => setStoppedFor(null),
  };
}
