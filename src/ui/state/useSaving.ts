'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import type { Job } from '../../core/job/schema';

export type SaveState =
  { kind: 'saved' } | { kind: 'saving' } | { kind: 'failing'; text: string } | { kind: 'conflict'; theirs: { revision: number; job: Job } };

const SAVE_AFTER_MS = 350;
const RETRY_MS = 3000;
/** Browsers finish a request of a page that is gone if all such bodies together stay under 64 KB (Fetch Standard, from memory). */
const MAX_LEAVING_CHARACTERS = 30_000;

/**
 * Saves the job by itself. A save that is not acknowledged is tried again for ever and the page says so; a save made on
 * an old revision stops and asks which of the two to keep. What is unsaved when the page is left goes out with it.
 * @param onNewer Called with the stored job where it is newer than the page's and the page has no change of its own: a page come
 * back to may be an old picture of itself.
 */
export function useSaving(id: string, job: Job, firstRevision: number, getPreview: () => string, onNewer: (job: Job) => void) {
  const [state, setState] = useState<SaveState>({ kind: 'saved' });
  const revision = useRef(firstRevision);
  const savedJob = useRef(job);
  const [acknowledged, setAcknowledged] = useState(job);
  const latest = useRef(job);
  const running = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const preview = useRef(getPreview);
  const tellNewer = useRef(onNewer);
  useEffect(() => {
    preview.current = getPreview;
    tellNewer.current = onNewer;
  });

  const run = useCallback(async (): Promise<void> => {
    if (running.current || savedJob.current === latest.current) return;
    running.current = true;
    const sending = latest.current;
    setState({ kind: 'saving' });
    let again: number | null = null;
    try {
      const body = JSON.stringify({ baseRevision: revision.current, job: sending, preview: preview.current() });
      const answer = await fetch(`/api/jobs/${id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body,
        keepalive: body.length < MAX_LEAVING_CHARACTERS,
      });
      const told = (await answer.json()) as {
        revision: number;
        text?: string;
        remedy?: string;
        current?: { revision: number; job: Job };
        problems?: { text: string }[];
      };
      if (answer.ok) {
        revision.current = told.revision;
        savedJob.current = sending;
        setAcknowledged(sending);
        setState({ kind: 'saved' });
        if (latest.current !== sending) again = 0;
      } else if (answer.status === 409 && told.current) {
        setState({ kind: 'conflict', theirs: told.current });
      } else {
        setState({ kind: 'failing', text: [told.text, told.problems?.[0]?.text, told.remedy].filter(Boolean).join('. ') });
        again = RETRY_MS;
      }
    } catch {
      setState({ kind: 'failing', text: "Hobel's server does not answer; your changes are kept on this page" });
      again = RETRY_MS;
    } finally {
      running.current = false;
    }
    // eslint-disable-next-line react-hooks/immutability
    if (again !== null) timer.current = setTimeout(() => void run(), again);
  }, [id]);

  useEffect(() => {
    latest.current = job;
    if (job === savedJob.current) return;
    if (timer.current) clearTimeout(timer.current);
    timer.current = setTimeout(() => void run(), SAVE_AFTER_MS);
  }, [job, run]);

  useEffect(() => {
    const look = async () => {
      const answer = await fetch(`/api/jobs/${id}`, { cache: 'no-store' });
      if (!answer.ok) return;
      const stored = (await answer.json()) as { revision: number; job: Job };
      const untouched = !running.current && latest.current === savedJob.current && revision.current === firstRevision;
      if (!untouched || stored.revision <= firstRevision) return;
      revision.current = stored.revision;
      savedJob.current = stored.job;
      latest.current = stored.job;
      setAcknowledged(stored.job);
      tellNewer.current(stored.job);
    };
    // A server that is gone says so at the next save.
    look().catch(() => undefined);
  }, [id, firstRevision]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (savedJob.current === latest.current) return;
      void run();
      event.preventDefault();
    };
    const leave = () => void run();
    window.addEventListener('beforeunload', warn);
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('beforeunload', warn);
      window.removeEventListener('pagehide', leave);
      if (timer.current) clearTimeout(timer.current);
      void run();
    };
  }, [run]);

  /** After a conflict: write mine over theirs, or begin from theirs (the caller puts it into the document). */
  const settle = useCallback(
    (keep: 'mine' | 'theirs', theirs: { revision: number; job: Job }) => {
      revision.current = theirs.revision;
      savedJob.current = theirs.job;
      setAcknowledged(theirs.job);
      setState({ kind: keep === 'mine' ? 'saving' : 'saved' });
      if (keep === 'mine') void run();
    },
    [run],
  );

  // "Saved" may only stand there when the server has acknowledged what is on the page, not while a save is still to come.
  const shown: SaveState = state.kind === 'saved' && acknowledged !== job ? { kind: 'saving' } : state;
  return { state: shown, settle };
}
