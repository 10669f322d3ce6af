import { describe, expect, it } from 'vitest';
import { createInscription } from '../../core/job/defaults';
import { formatLength } from './format';
import { roundFor, roundToInches } from './roundFor';

describe('roundFor', () => {
  it('makes lengths round in inches, and leaves millimetres, places and bare numbers', () => {
    expect([6, 1.5, 0.3, -12, 0, 500].map((mm) => formatLength(roundToInches(mm), 'in'))).toEqual([
      '0.25',
      '0.06',
      '0.0125',
      '-0.5',
      '0',
      '20',
    ]);
    const made = createInscription('i', 'WORDS', 'cinzel-bold', 37);
    expect(roundFor('mm', made)).toBe(made);
    const inches = roundFor('in', made);
    expect(formatLength(inches.heightMm, 'in')).toBe('0.25');
    expect(inches.at).toEqual(made.at);
    expect(inches.lineSpacingRatio).toBe(made.lineSpacingRatio);
  });
});
