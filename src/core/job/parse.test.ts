import { describe, expect, it } from 'vitest';
import { carveJob } from '../../../tests/support';
import { createJob } from './defaults';
import { parseJob, parseJobText, toJobJsonSchema, toJsonPath } from './parse';
import { JOB_VERSION, MAX_TEXT_LENGTH } from './schema';

const problemsOf = (value: unknown) => {
  const parsed = parseJob(value);
  return parsed.ok ? [] : parsed.error.problems.map((p) => `${p.path}: ${p.text}`);
};
const withBlank = (patch: object) => ({ ...createJob('x'), blank: { ...createJob('x').blank, ...patch } });

describe('parseJob', () => {
  it('takes a new job, and gives back what JSON keeps', () => {
    const job = carveJob('WORDS');
    expect(parseJobText(JSON.stringify(job))).toEqual({ ok: true, value: job });
  });

  it.each([
    [withBlank({ diameterMm: 0 }), '$.blank.diameterMm: must be between 0.5 and 2000 mm'],
    [withBlank({ diameterMm: -5 }), '$.blank.diameterMm: must be between'],
    [withBlank({ diameterMm: 1e9 }), '$.blank.diameterMm: must be between'],
    [withBlank({ diameterMm: NaN }), '$.blank.diameterMm: must be a number'],
    [withBlank({ diameterMm: Infinity }), '$.blank.diameterMm: must be a number'],
    [withBlank({ lengthMm: '60' }), '$.blank.lengthMm: must be a number'],
    [withBlank({ boreMm: 40 }), '$.blank.boreMm: must be smaller than the diameter'],
    [withBlank({ kind: 'cube' }), '$.blank.kind'],
    [{ ...createJob('x'), name: '' }, '$.name: must have a name'],
    [{ ...createJob('x'), extra: 1 }, '$: Unrecognized key'],
    [carveJob('x'.repeat(MAX_TEXT_LENGTH + 1)), `$.inscriptions[0].text: must be at most ${MAX_TEXT_LENGTH} characters`],
    [carveJob('x'.repeat(100_000)), '$.inscriptions[0].text'],
    [carveJob('x', { carve: { toolId: 'none' } }), '$.cuts[0].toolId: no tool "none" in this job'],
    [carveJob('x', { carve: { targets: ['gone'] } }), '$.cuts[0].targets[0]: no inscription "gone" in this job'],
    [
      { ...carveJob('x'), inscriptions: [carveJob('x').inscriptions[0], carveJob('x').inscriptions[0]] },
      '$.inscriptions[1].id: inscription "words" stands twice',
    ],
  ])('says what is wrong and where (%#)', (value, problem) => expect(problemsOf(value).join('\n')).toContain(problem));

  it('refuses a newer version with the two versions named, before looking at anything else', () => {
    const parsed = parseJob({ version: JOB_VERSION + 1, something: 'new' });
    expect(parsed.ok).toBe(false);
    expect(problemsOf({ version: JOB_VERSION + 1 })[0]).toContain(
      `version ${JOB_VERSION + 1}, and this Hobel reads up to version ${JOB_VERSION}`,
    );
  });

  it.each(['', '{', 'null', '[]', '"job"', '12', '{"version":1}', '\u0000'])('refuses %j without throwing', (text) =>
    expect(parseJobText(text).ok).toBe(false),
  );

  it('names every problem, not only the first', () => {
    const found = problemsOf({ ...withBlank({ diameterMm: 0, lengthMm: 0 }), name: '' }).join('\n');
    for (const path of ['$.name:', '$.blank.diameterMm:', '$.blank.lengthMm:']) expect(found).toContain(path);
  });
});

it('derives a JSON Schema that knows the limits and refuses unknown keys', () => {
  const schema = toJobJsonSchema() as { $schema: string; additionalProperties: boolean; required: string[] };
  expect(schema.$schema).toContain('2020-12');
  expect(schema.additionalProperties).toBe(false);
  expect(schema.required).toEqual(expect.arrayContaining(['format', 'version', 'blank', 'cuts']));
});

it('writes JSON paths', () => expect(toJsonPath(['cuts', 0, 'levels', 'stepMm'])).toBe('$.cuts[0].levels.stepMm'));
