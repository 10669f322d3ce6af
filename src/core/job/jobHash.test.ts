import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { carveJob } from '../../../tests/support';
import { hashJob, hashValue } from './jobHash';

describe('hashJob', () => {
  it('is the same whatever the order of keys, and another for every change', () => {
    const job = carveJob('BUOY');
    const turned = Object.fromEntries(Object.entries(job).reverse()) as typeof job;
    expect(hashJob(turned)).toBe(hashJob(job));
    expect(hashJob({ ...job, notes: 'x' })).not.toBe(hashJob(job));
    expect(hashJob({ ...job, tools: [...job.tools].reverse(), inscriptions: [] })).not.toBe(hashJob(job));
  });
  it('is the SHA-256 of the text with keys in order, by another implementation', () => {
    expect(hashValue({ b: [1, { d: 2, c: 'ä' }], a: null })).toBe(
      createHash('sha256').update('{"a":null,"b":[1,{"c":"ä","d":2}]}').digest('hex'),
    );
  });
});
