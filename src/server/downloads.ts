import { deflateSync, inflateSync } from 'node:zlib';
import { eq } from 'drizzle-orm';
import type { DownloadFacts } from '../core/job/downloadFacts';
import type { Db } from './db/connection';
import { downloads, jobs } from './db/schema';

/** One file of a program that left. */
export interface DownloadedFile {
  name: string;
  text: string;
}

/** The program of a job that was downloaded last. */
export interface LastDownload {
  savedAt: number;
  facts: DownloadFacts;
  files: DownloadedFile[];
}

/** Keeps a program as the one that left last, in place of the one before. @returns Whether there is such a job. */
export function keepDownload(db: Db, jobId: string, { savedAt, facts, files }: LastDownload): boolean {
  if (!db.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, jobId)).get()) return false;
  const row = { savedAt, facts: JSON.stringify(facts), files: deflateSync(JSON.stringify(files)) };
  db.insert(downloads)
    .values({ jobId, ...row })
    .onConflictDoUpdate({ target: downloads.jobId, set: row })
    .run();
  return true;
}

/** The program that left last; null where none did, or it cannot be read. */
export function readDownload(db: Db, jobId: string): LastDownload | null {
  const row = db.select().from(downloads).where(eq(downloads.jobId, jobId)).get();
  if (!row) return null;
  try {
    const files = JSON.parse(inflateSync(row.files).toString('utf8')) as DownloadedFile[];
    return { savedAt: row.savedAt, facts: JSON.parse(row.facts) as DownloadFacts, files };
  } catch {
    return null;
  }
}
