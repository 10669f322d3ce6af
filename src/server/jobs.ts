import { randomUUID } from 'node:crypto';
import { and, desc, eq, lt, notInArray, sql } from 'drizzle-orm';
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
    tx.insert(revisions).values({ jobId: id, revision: 1, document, preview, savedAt: nowMs }).run();
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
      tx.insert(revisions).values({ jobId: id, revision, document, preview, savedAt: nowMs }).run();
      thinRevisions(tx as unknown as Db, id, revision);
      return ok({ id, revision, job: parsed.value });
    },
    { behavior: 'immediate' },
  );
}

/** A revision of a job as its list shows it. */
export interface RevisionCard {
  revision: number;
  savedAt: number;
  hasPicture: boolean;
}

/** The revisions of a job that are kept, newest first. */
export const listRevisions = (db: Db, id: string): RevisionCard[] =>
  db
    .select({ revision: revisions.revision, savedAt: revisions.savedAt, length: sql<number>`length(${revisions.preview})` })
    .from(revisions)
    .where(eq(revisions.jobId, id))
    .orderBy(desc(revisions.revision))
    .all()
    .map(({ length, ...card }) => ({ ...card, hasPicture: length > 0 }));

/** The picture of a revision, as SVG; empty if none was kept. */
export const readRevisionPicture = (db: Db, id: string, revision: number): string =>
  db
    .select({ preview: revisions.preview })
    .from(revisions)
    .where(and(eq(revisions.jobId, id), eq(revisions.revision, revision)))
    .get()?.preview ?? '';

/** One revision of a job, brought to today's version. */
export function readRevision(db: Db, id: string, revision: number): Result<Job, { kind: 'notFound' } | JobError> {
  const row = db
    .select({ document: revisions.document })
    .from(revisions)
    .where(and(eq(revisions.jobId, id), eq(revisions.revision, revision)))
    .get();
  return row ? parseJobText(row.document) : err({ kind: 'notFound' });
}

/** Puts an earlier revision back as a new one on top: what came between stays among the revisions. */
export function takeBack(db: Db, id: string, revision: number, baseRevision: number, nowMs: number): Result<StoredJob, SaveError> {
  const old = readRevision(db, id, revision);
  if (!old.ok) return err(old.error);
  return saveJob(db, id, baseRevision, old.value, readRevisionPicture(db, id, revision), nowMs);
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
