import { NextResponse } from 'next/server';
import type { z } from 'zod';
import { toJsonPath } from '../core/job/parse';

/** What an error answer looks like on the wire. */
export interface Problem {
  error: string;
  text: string;
  remedy?: string;
  problems?: { path: string; text: string }[];
}

export const answerProblem = (status: number, problem: Problem): NextResponse => NextResponse.json(problem, { status });

const DATABASE_WORDS: Record<string, { text: string; remedy: string }> = {
  SQLITE_BUSY: { text: 'The database is locked by another program', remedy: 'Close it there; your change is kept here and saved again' },
  SQLITE_LOCKED: { text: 'The database is locked by another program', remedy: 'Close it there; your change is kept here and saved again' },
  SQLITE_READONLY: { text: 'The database is read-only', remedy: 'Make the data folder writable; your change is kept here and saved again' },
  SQLITE_READONLY_DBMOVED: { text: 'The database file was moved or removed', remedy: 'Put it back, or start Hobel again' },
  SQLITE_CANTOPEN: { text: 'The database cannot be opened', remedy: 'Check that the data folder exists and is writable' },
  SQLITE_NOTADB: { text: 'The file in the data folder is no Hobel database', remedy: 'Move it away, or set HOBEL_DATA to another folder' },
  EACCES: { text: 'The data folder cannot be written', remedy: 'Check its permissions, or set HOBEL_DATA to another folder' },
  ENOTDIR: { text: 'The data folder lies below a file', remedy: 'Set HOBEL_DATA to another folder' },
  ENOENT: { text: 'The data folder is not there', remedy: 'Set HOBEL_DATA to another folder' },
  EROFS: { text: 'The data folder is on a read-only disk', remedy: 'Set HOBEL_DATA to another folder' },
  SQLITE_FULL: { text: 'The disk is full', remedy: 'Free some space; your change is kept here and saved again' },
};

function findDatabaseWords(error: unknown): { text: string; remedy: string } | null {
  // Drizzle wraps what the database said.
  const { code = '', cause } = error as { code?: string; cause?: unknown };
  const known = DATABASE_WORDS[code] ?? DATABASE_WORDS[code.split('_').slice(0, 2).join('_')];
  return known ?? (cause ? findDatabaseWords(cause) : null);
}

/** What to tell a reader of a page when the database cannot be used. */
export function describeFailure(error: unknown): string {
  const known = findDatabaseWords(error);
  return known ? `${known.text}. ${known.remedy}.` : `Something went wrong in Hobel itself: ${(error as Error).message}`;
}

/** Runs a handler; a database that cannot be used becomes a 503 that says why. */
export async function guarded(handler: () => Promise<NextResponse> | NextResponse): Promise<NextResponse> {
  try {
    return await handler();
  } catch (error) {
    const known = findDatabaseWords(error);
    if (known) return answerProblem(503, { error: 'database', ...known });
    console.error(error);
    return answerProblem(500, { error: 'defect', text: 'Something went wrong in Hobel itself; the server log has it' });
  }
}

/** Reads a body piece by piece, so that one larger than it said is not taken in whole; over the limit, how many bytes there were. */
export async function readBytes(request: Request, limitBytes: number): Promise<{ bytes: Uint8Array } | { overBytes: number }> {
  const declared = Number(request.headers.get('content-length'));
  if (declared > limitBytes) return { overBytes: declared };
  const parts: Uint8Array[] = [];
  let length = 0;
  const reader = request.body?.getReader();
  for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
    length += part.value.length;
    if (length > limitBytes) {
      void reader!.cancel();
      return { overBytes: length };
    }
    parts.push(part.value);
  }
  return { bytes: new Uint8Array(Buffer.concat(parts)) };
}

/** Largest body of a request, bytes: the largest job document is well under it. */
export const MAX_BODY_BYTES = 8 * 1024 * 1024;

/** Reads a JSON body within a limit, or null with the answer to give. @param what The body holds, as it is named. */
export async function readBody(
  request: Request,
  limitBytes = MAX_BODY_BYTES,
  what = 'A job',
): Promise<{ value: unknown } | { answer: NextResponse }> {
  const read = await readBytes(request, limitBytes);
  if ('overBytes' in read) {
    const text = `${what} may take ${Math.round(limitBytes / 1024 / 1024)} MB, this is ${(read.overBytes / 1024 / 1024).toFixed(1)} MB or more`;
    return { answer: answerProblem(413, { error: 'tooLarge', text }) };
  }
  try {
    return { value: JSON.parse(new TextDecoder().decode(read.bytes)) };
  } catch (error) {
    return { answer: answerProblem(400, { error: 'notJson', text: `Not JSON: ${(error as Error).message}` }) };
  }
}

/**
 * Reads a body of a form; one that has not got it becomes a 422 that says where. @param what Refused, as "No paper can be made".
 * @param body What it holds, as `readBody` names it.
 */
export async function readForm<S extends z.ZodType>(
  request: Request,
  schema: S,
  what: string,
  limitBytes?: number,
  body?: string,
): Promise<{ value: z.infer<S> } | { answer: NextResponse }> {
  const read = await readBody(request, limitBytes, body);
  if ('answer' in read) return read;
  const parsed = schema.safeParse(read.value);
  if (parsed.success) return { value: parsed.data };
  const problems = parsed.error.issues.map((i) => ({ path: toJsonPath(i.path), text: i.message }));
  return { answer: answerProblem(422, { error: 'invalid', text: what, problems }) };
}
