import { describe, expect, it } from 'vitest';
import { carveJob } from '../../../../../tests/support';
import { describeLevels, describeTargets, moveItem, toggleTarget } from './describeCut';
import { withTool } from './withTool';

const words = carveJob('KESTREL').inscriptions[0]!;
const two = [words, { ...words, id: 'other', name: 'Number' }];

describe('describeTargets', () => {
  it('names all, none, or each by its title', () => {
    expect(describeTargets('all', two)).toBe('all lettering');
    expect(describeTargets([], two)).toBe('nothing');
    expect(describeTargets(['other', 'words', 'gone'], two)).toBe('Number, KESTREL, gone');
  });
});

describe('describeLevels', () => {
  it('counts them, or says their step in the job’s unit', () => {
    expect(describeLevels({ by: 'count', count: 1 }, 'mm')).toBe('one level');
    expect(describeLevels({ by: 'count', count: 3 }, 'mm')).toBe('3 levels');
    expect(describeLevels({ by: 'step', stepMm: 0.25, even: true, finishMm: 0 }, 'mm')).toBe('even levels of 0.25 mm');
    expect(describeLevels({ by: 'step', stepMm: 2.54, even: false, finishMm: 0 }, 'in')).toBe('fixed levels of 0.1 in');
  });
});

describe('toggleTarget', () => {
  it('starts from all of them where all were meant, and never names one twice', () => {
    expect(toggleTarget('all', 'words', false, two)).toEqual(['other']);
    expect(toggleTarget(['words'], 'other', true, two)).toEqual(['words', 'other']);
    expect(toggleTarget(['words'], 'words', true, two)).toEqual(['words']);
    expect(toggleTarget(['words'], 'words', false, two)).toEqual([]);
  });
});

describe('moveItem', () => {
  it('moves one, and leaves the list it was given', () => {
    const list = ['a', 'b', 'c'];
    expect(moveItem(list, 0, 1)).toEqual(['b', 'a', 'c']);
    expect(moveItem(list, 2, -1)).toEqual(['a', 'c', 'b']);
    expect(list).toEqual(['a', 'b', 'c']);
  });
});

describe('withTool', () => {
  it('takes a cutter in once', () => {
    const job = carveJob('I');
    const tool = { ...job.tools[0]!, id: 'new' };
    expect(withTool(job, tool).tools.map((t) => t.id)).toEqual(['cutter', 'new']);
    expect(withTool(job, job.tools[0]!)).toBe(job);
  });
});
