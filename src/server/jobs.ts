import { randomUUID } from 'node:crypto';
import { and, desc, eq, lt, notInArray } from 'drizzle-orm';
import { err, ok, type Result } from '../core/base/result';
import { parseJob, parseJobText, type JobError } from '../core/job/parse';
import type { Job } from '../core/job/schema';
import type { Db } from './db/connection';
import { jobs, revisions } from './db/schema';

/** A job as the Shelf shows it. */
export interface JobCard {
  id: string;
  name: string;
  revision: number;
  updatedAt: number;
  preview: string;
}

export interface StoredJob {
  id: string;
  revision: number;
  job: Job;
}

export type SaveError = { kind: 'conflict'; current: StoredJob } | { kind: 'notFound' } | JobError;

/** Revisions kept one by one; beyond them every tenth. */
const KEEP_REVISIONS = 100;

/** Small functions over the jobs tables. Times come in from the caller. */
export const listJobs = (db: Db): JobCard[] =>
  db
    .select({ id: jobs.id, name: jobs.name, revision: jobs.revision, updatedAt: jobs.updatedAt, preview: jobs.preview })
    .from(jobs)
    .orderBy(desc(jobs.updatedAt))
    .all();

export function readJob(db: Db, id: string): Result<StoredJob, { kind: 'notFound' } | JobError> {
  const row = db.select().from(jobs).where(eq(jobs.id, id)).get();
  if (!row) return err({ kind: 'notFound' });
  const parsed = parseJobText(row.document);
  return parsed.ok ? ok({ id, revision: row.revision, job: parsed.value }) : parsed;
}

/** Stores a new job, checked. */
export function createJobRow(db: Db, value: unknown, preview: string, nowMs: number): Result<StoredJob, JobError> {
  const parsed = parseJob(value);
  if (!parsed.ok) return parsed;
  const id = randomUUID();
  const document = JSON.stringify(parsed.value);
  db.transaction((tx) => {
    tx.insert(jobs).values({ id, name: parsed.value.name, revision: 1, document, preview, createdAt: nowMs, updatedAt: nowMs }).run();
    tx.insert(revisions).values({ jobId: id, revision: 1, document, savedAt: nowMs }).run();
  });
  return ok({ id, revision: 1, job: parsed.value });
}

/**
 * Saves a job over the revision it was opened from. Another save in between is a conflict, and nothing is written.
 * @param baseRevision The revision the change was made on.
 */
export function saveJob(
  db: Db,
  id: string,
  baseRevision: number,
  value: unknown,
  preview: string,
  nowMs: number,
): Result<StoredJob, SaveError> {
  const parsed = parseJob(value);
  if (!parsed.ok) return parsed;
  const document = JSON.stringify(parsed.value);
  return db.transaction(
    (tx): Result<StoredJob, SaveError> => {
      const revision = baseRevision + 1;
      const changed = tx
        .update(jobs)
        .set({ name: parsed.value.name, revision, document, preview, updatedAt: nowMs })
        .where(and(eq(jobs.id, id), eq(jobs.revision, baseRevision)))
        .run();
      if (changed.changes === 0) {
        const current = readJob(db, id);
        if (current.ok) return err({ kind: 'conflict', current: current.value });
        return err(current.error);
      }
      tx.insert(revisions).values({ jobId: id, revision, document, savedAt: nowMs }).run();
      thinRevisions(tx as unknown as Db, id, revision);
      return ok({ id, revision, job: parsed.value });
    },
    { behavior: 'immediate' },
  );
}

function thinRevisions(db: Db, id: string, newest: number): void {
  const old = newest - KEEP_REVISIONS;
  if (old <= 0) return;
  const tenths = Array.from({ length: Math.floor(old / 10) }, (_, k) => 10 * (k + 1));
  db.delete(revisions)
    .where(and(eq(revisions.jobId, id), lt(revisions.revision, old), notInArray(revisions.revision, [1, ...tenths])))
    .run();
}

export const deleteJob = (db: Db, id: string): boolean => db.delete(jobs).where(eq(jobs.id, id)).run().changes > 0;

export const countJobs = (db: Db): number => db.select({ id: jobs.id }).from(jobs).all().length;
