import { describe, expect, it } from 'vitest';
import { formatCount, formatDeg, formatLength, formatTime } from './format';
import { parseQuantity } from './quantity';

const value = (text: string, ...rest: ['length' | 'angle' | 'feed' | 'number', string?]) => {
  const q = parseQuantity(text, ...rest);
  return q.ok ? q.value : q.text;
};

describe('parseQuantity', () => {
  it.each([
    ['12', 12],
    ['3/8 in', 9.525],
    ['2*6.35', 12.7],
    ['24 pt', (24 * 25.4) / 72],
    ['1 in + 2 mm', 27.4],
    ['1 in + 2', 27.4],
    ['2 + 1 in', 27.4],
    ['1 in - -2', 27.4],
    ['(1 + 2) in', 76.2],
    ['1 1/2 in', 38.1],
    ['2 3/8"', 60.325],
    ['1 1/2', 1.5],
    ['1e1 in + 1e-1', 254.1],
    ['1/2"', 12.7],
    ['0,5', 0.5],
    ['.5', 0.5],
    ['-3', -3],
    ['(1+2)*4', 12],
    ['1 cm', 10],
    ['2^3', 8],
    ['1e1', 10],
    [' 7 ', 7],
  ])('%s is %d mm', (text, mm) => expect(value(text, 'length')).toBeCloseTo(mm, 9));
  it('takes a bare number in the unit of the field', () => {
    expect(value('2', 'length', 'in')).toBeCloseTo(50.8, 9);
    expect(value('2 mm', 'length', 'in')).toBeCloseTo(2, 9);
    expect(value('1 mm + 1', 'length', 'in')).toBeCloseTo(26.4, 9);
    expect(value('10', 'feed', 'in/min')).toBeCloseTo(254, 9);
  });
  it('knows degrees, radians and turns', () => {
    expect(value('45°', 'angle')).toBe(45);
    expect(value('1/4 turn', 'angle')).toBeCloseTo(90, 9);
    expect(value('3.14159265358979 rad', 'angle')).toBeCloseTo(180, 9);
  });
  it.each([
    '',
    'NaN',
    'Infinity',
    '1/0',
    'abc',
    '2*',
    '()',
    'import("fs")',
    'x=3',
    '5 kg',
    '1;2',
    '9'.repeat(90),
    '__proto__',
    'e',
    '1 deg',
  ])('refuses %j in words', (text) => {
    expect(value(text, 'length')).toEqual(expect.any(String));
  });
  it('takes no unit for a bare number', () => expect(value('3 mm', 'number')).toContain('without a unit'));
});

describe('formats', () => {
  it('drops needless zeros and never shows minus zero', () => {
    expect([formatLength(42, 'mm'), formatLength(-0.00001, 'mm'), formatLength(9.525, 'in'), formatDeg(90), formatDeg(2.72837, 4)]).toEqual(
      ['42', '0', '0.375', '90°', '2.7284°'],
    );
  });
  it('tells time and counts', () =>
    expect([formatTime(59.4), formatTime(370), formatCount(1842), formatCount(12)]).toEqual(['59 s', '6 min 10 s', '1\u2009842', '12']));
});
