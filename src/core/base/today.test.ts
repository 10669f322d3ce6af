import { describe, expect, it } from 'vitest';
import { toLocalDay } from './today';

describe('toLocalDay', () => {
  it('is the day of the place, also just after and just before midnight', () => {
    expect(toLocalDay(new Date(2026, 2, 31, 0, 30))).toBe('2026-03-31');
    expect(toLocalDay(new Date(2026, 2, 31, 23, 30))).toBe('2026-03-31');
    expect(toLocalDay(new Date(2026, 0, 1, 12))).toBe('2026-01-01');
  });
});
