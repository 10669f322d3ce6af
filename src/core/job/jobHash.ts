import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import type { Job } from './schema';

/** A value with the keys of every object in order, so that equal values make equal text. */
function sortKeys(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sortKeys);
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1));
  return Object.fromEntries(entries.map(([key, own]) => [key, sortKeys(own)]));
}

/** SHA-256 of a value, whatever the order of its keys, as 64 hexadecimal digits. */
export const hashValue = (value: unknown): string => bytesToHex(sha256(utf8ToBytes(JSON.stringify(sortKeys(value)))));

/** What tells a job from every other, as programs and set-up sheets name it. */
export const hashJob = (job: Job): string => hashValue(job);

/** Digits of it that people compare. */
export const HASH_SHOWN = 8;
