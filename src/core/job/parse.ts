import { z } from 'zod';
import { migrateJob } from './migrate';
import { err, ok, type Result } from '../base/result';
import { JOB_VERSION, jobSchema, type Job } from './schema';

/** One thing wrong with a job document. `path` is a JSON path like `$.cuts[0].toolId`. */
export interface JobProblem {
  path: string;
  text: string;
}

export type JobError =
  | { kind: 'notJson'; problems: JobProblem[] }
  | { kind: 'newerVersion'; problems: JobProblem[]; version: number }
  | { kind: 'invalid'; problems: JobProblem[] };

/** Writes a path of keys as a JSON path: `$.cuts[0].toolId`. */
export function toJsonPath(path: readonly PropertyKey[]): string {
  return path.reduce<string>((out, key) => out + (typeof key === 'number' ? `[${key}]` : `.${String(key)}`), '$');
}

/**
 * Checks an untrusted value against the job schema. A document of an older version is migrated; nothing else is mended.
 * @returns The job, or every problem with its JSON path.
 */
export function parseJob(value: unknown): Result<Job, JobError> {
  const version = (value as { version?: unknown } | null)?.version;
  if (typeof version === 'number' && version > JOB_VERSION) {
    return err({
      kind: 'newerVersion',
      version,
      problems: [
        {
          path: '$.version',
          text: `this job is of version ${version}, and this Hobel reads up to version ${JOB_VERSION}: open it with a newer Hobel`,
        },
      ],
    });
  }
  const parsed = jobSchema.safeParse(migrateJob(value));
  if (parsed.success) return ok(parsed.data);
  return err({
    kind: 'invalid',
    problems: parsed.error.issues.map((issue) => ({ path: toJsonPath(issue.path), text: issue.message })),
  });
}

/** `parseJob` for a text. */
export function parseJobText(text: string): Result<Job, JobError> {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return err({ kind: 'notJson', problems: [{ path: '$', text: `not JSON: ${(error as Error).message}` }] });
  }
  return parseJob(value);
}

/** The JSON Schema (draft 2020-12) of the job document, derived from the same definition that checks it. */
export function toJobJsonSchema(): object {
  return z.toJSONSchema(jobSchema, { target: 'draft-2020-12' });
}
