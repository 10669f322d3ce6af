import { describe, expect, it } from 'vitest';
import { carveJob } from '../../../tests/support';
import { createArtwork, createInscription, createOnGuide, createSeries } from './defaults';
import { parseJob } from './parse';
import { getTitle } from './title';
import type { Guide, Inscription, Job } from './schema';

const line: Guide = { kind: 'line', id: 'g', name: '', from: { xMm: 0, yMm: 0 }, to: { xMm: 10, yMm: 0 } };
const words = createInscription('w', 'WORDS', 'cinzel-bold', 40);
const withInscription = (i: object, patch: Partial<Job> = {}): object => ({ ...carveJob('x'), inscriptions: [i], cuts: [], ...patch });
const problems = (job: object): string => {
  const parsed = parseJob(job);
  return parsed.ok ? '' : parsed.error.problems.map((p) => `${p.path}: ${p.text}`).join('\n');
};

describe('the schema of inscriptions', () => {
  it.each<[string, Inscription]>([
    ['words', words],
    ['a scale', createSeries('s', 'hershey-sans', 10)],
    ['artwork', createArtwork('a', 'x.svg', 10, [{ name: 'L', on: true, rings: [[0, 0, 1, 0, 1, 1]], chains: [] }])],
    ['words on a guide', { ...words, onGuide: createOnGuide('g'), fit: { to: 'guide', gapMm: 1, by: 'scale' } }],
    ['words in a box', { ...words, fit: { to: 'box', widthMm: 10, heightMm: 5, how: 'wrap' } }],
    [
      'repeated words',
      {
        ...words,
        repeat: { roundCount: 12, roundPitchDeg: 0, alongCount: 1, alongPitchMm: 0, words: { kind: 'numbers', start: 1, step: 1 } },
      },
    ],
  ])('takes %s', (_, i) => expect(problems(withInscription(i, { guides: [line] }))).toBe(''));

  it.each<[object, string]>([
    [{ ...words, heightMm: 0 }, '$.inscriptions[0].heightMm: must be between 0.2 and 500 mm'],
    [{ ...words, widthRatio: NaN }, '$.inscriptions[0].widthRatio: must be a number'],
    [{ ...words, slantDeg: 90 }, '$.inscriptions[0].slantDeg: must be between -45 and 45 degrees'],
    [{ ...words, fit: { to: 'length', lengthMm: -1, by: 'scale' } }, '$.inscriptions[0].fit.lengthMm'],
    [{ ...words, fit: { to: 'moon' } }, '$.inscriptions[0].fit.to'],
    [{ ...words, kind: 'picture' }, '$.inscriptions[0].kind'],
    [{ ...words, onGuide: createOnGuide('nowhere') }, '$.inscriptions[0].onGuide.guideId: no guide "nowhere" in this job'],
    [{ ...words, onGuide: { ...createOnGuide('g'), topGuideId: 'h' } }, '$.inscriptions[0].onGuide.topGuideId: no guide "h" in this job'],
    [
      { ...words, repeat: { roundCount: 1e6, roundPitchDeg: 0, alongCount: 1, alongPitchMm: 0, words: { kind: 'same' } } },
      '$.inscriptions[0].repeat.roundCount: must be between 1 and 720',
    ],
    [{ ...createSeries('s', 'f', 0), step: 0 }, '$.inscriptions[0].step: must be more than 0'],
    [{ ...createSeries('s', 'f', 0), from: Infinity }, '$.inscriptions[0].from'],
    [{ ...createSeries('s', 'f', 0), table: [{ value: 1, share: 2 }] }, '$.inscriptions[0].table[0].share'],
    [createArtwork('a', 'x', 0, [{ name: 'L', on: true, rings: [[0, NaN]], chains: [] }]), '$.inscriptions[0].layers[0].rings[0][1]'],
    [
      createArtwork('a', 'x', 0, [{ name: 'L', on: true, rings: [new Array<number>(2_000_002).fill(0)], chains: [] }]),
      '$.inscriptions[0].layers: must hold at most 1000000 points',
    ],
  ])('refuses what is out of range, with its path (%#)', (i, problem) =>
    expect(problems(withInscription(i, { guides: [line] }))).toContain(problem),
  );
});

describe('the schema of guides and variables', () => {
  it.each<[Partial<Job>, string]>([
    [{ guides: [line, line] }, '$.guides[1].id: guide "g" stands twice'],
    [{ guides: [{ ...line, to: { xMm: 1e9, yMm: 0 } }] }, '$.guides[0].to.xMm'],
    [
      { guides: [{ kind: 'arc', id: 'a', name: '', centre: { xMm: 0, yMm: 0 }, radiusMm: 0, startDeg: 0, sweepDeg: 720 }] },
      '$.guides[0].sweepDeg',
    ],
    [{ variables: { ...carveJob('x').variables, piece: 0 } }, '$.variables.piece: must be between 1 and 1000000'],
    [{ variables: { ...carveJob('x').variables, date: '31.3.2026' } }, '$.variables.date: must be a date like 2026-03-31, or empty'],
    [
      { variables: { ...carveJob('x').variables, serial: { start: 1.5, step: 1, width: 3 } } },
      '$.variables.serial.start: must be a whole number',
    ],
  ])('refuses what is out of range (%#)', (patch, problem) => expect(problems(withInscription(words, patch))).toContain(problem));
});

it('calls every kind by a name a person knows', () => {
  expect(
    [words, { ...words, text: '' }, { ...words, name: 'Front' }, createSeries('s', 'f', 0), createArtwork('a', 'ship.svg', 0, [])].map(
      (i) => getTitle(i as Inscription),
    ),
  ).toEqual(['WORDS', 'empty', 'Front', 'scale 0 to 10', 'ship.svg']);
});
