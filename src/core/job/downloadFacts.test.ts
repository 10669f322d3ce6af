import { describe, expect, it } from 'vitest';
import { carveJob, machineWith } from '../../../tests/support';
import { describeChanges, getDownloadFacts } from './downloadFacts';

describe('what has changed since a program left', () => {
  const job = carveJob('x');
  const facts = getDownloadFacts(job);

  it('is nothing where machine and fonts are as they were, whatever the words', () => {
    expect(describeChanges(facts, getDownloadFacts({ ...job, inscriptions: carveJob('OTHER').inscriptions }))).toEqual([]);
    expect(Object.keys(facts.fonts)).toEqual(['dejavu-sans-bold']);
  });

  it('is named: a part of the machine, another machine, a font that is other, new or gone', () => {
    expect(describeChanges(facts, { ...facts, machine: machineWith({ sense: -1 }) })).toEqual(['how it is built']);
    expect(describeChanges(facts, { ...facts, machine: { ...job.machine, feedMode: 'G94', arcMm: 0 } })).toEqual([
      'its feed words',
      'its arcs',
    ]);
    expect(describeChanges(facts, { ...facts, machine: { ...job.machine, id: 'other', feedMode: 'G94' } })).toEqual(['the machine']);
    const fonts = { 'dejavu-sans-bold': 'changed', cinzel: 'x' };
    expect(describeChanges(facts, { ...facts, fonts })).toEqual(['the font dejavu-sans-bold itself', 'the font cinzel, which is new']);
    expect(describeChanges(facts, { ...facts, fonts: {} })).toEqual(['the font dejavu-sans-bold, which is gone']);
  });
});
