import { spawn } from 'node:child_process';
import path from 'node:path';
import { ok } from '../../core/base/result';
import { MAX_FONT_BYTES } from '../../core/lettering/typeface';
import { unreadable, type FontReader, type ReadFontAnswer } from './readFont';

/** Longest that a file may take, ms, and most memory, MB; fonts take a second or two. */
const DEADLINE_MS = 20_000;
const MEMORY_MB = 384;
/** Largest answer: a font and a line. A stroke font grows when it is unpacked. */
const MAX_ANSWER_BYTES = 4 * MAX_FONT_BYTES;

/**
 * Reads a font file in a process of its own, with limits of time and memory: a file made to do harm ends that process, and Hobel goes on.
 * @param script What to run there; for tests.
 */
export const readFontApart =
  (script = path.join(process.cwd(), 'src/server/resources/readFontChild.ts'), deadlineMs = DEADLINE_MS): FontReader =>
  (name, bytes) =>
    new Promise((resolve) => {
      const child = spawn(process.execPath, [`--max-old-space-size=${MEMORY_MB}`, '--import', 'tsx', script, name], {
        stdio: ['pipe', 'pipe', 'ignore'],
      });
      const parts: Buffer[] = [];
      let length = 0;
      const timer = setTimeout(() => child.kill('SIGKILL'), deadlineMs);
      child.stdout.on('data', (part: Buffer) => {
        length += part.length;
        parts.push(part);
        if (length > MAX_ANSWER_BYTES) child.kill('SIGKILL');
      });
      child.on('error', (error) => resolve(unreadable(name, error.message)));
      child.on('close', (code) => {
        clearTimeout(timer);
        if (code !== 0) return resolve(unreadable(name, 'reading it took too long or too much memory'));
        const all = Buffer.concat(parts);
        const end = all.indexOf(10);
        const answer = JSON.parse(all.subarray(0, end).toString('utf8')) as ReadFontAnswer;
        resolve(answer.ok ? ok({ ...answer.value, bytes: new Uint8Array(all.subarray(end + 1)) }) : answer);
      });
      // A child that ends before it has read everything closes the pipe.
      child.stdin.on('error', () => undefined);
      child.stdin.end(bytes);
    });
