import { describe, expect, it } from 'vitest';
import { carveJob, createDomeBlank, planJob, readNc, textOf } from '../../../tests/support';
import { createBlank } from '../job/defaults';
import type { Job } from '../job/schema';
import { listZeroWords } from './zeroText';

describe('a zero at another place', () => {
  it('moves the words alone: the program is as true, every X and A is less by the same, and its head says where zero is', async () => {
    const job = carveJob('BOW', { words: { at: { xMm: 40, turnDeg: 25 } } });
    const moved: Job = { ...job, zero: { along: 'far', across: 'middle', turnDeg: 25, centreMm: null } };
    const [plain, other] = [await planJob(job), await planJob(moved)];
    expect(other.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    expect(other.proof.readBack.maxTipUm).toBeLessThan(1.2);
    expect(other.proof.readBack.mirrored).toBe(false);
    const [a, b] = [readNc(textOf(plain.plan)).motions, readNc(textOf(other.plan)).motions];
    expect(b).toHaveLength(a.length);
    for (const [k, m] of a.entries()) {
      if (k < 3) continue;
      expect(b[k]!.end[0]! - m.end[0]!).toBeCloseTo(-80, 3);
      expect(b[k]!.end[2]).toBeCloseTo(m.end[2]!, 3);
      expect(b[k]!.end[3]! - m.end[3]!).toBeCloseTo(-25, 3);
    }
    expect(textOf(other.plan)).toContain('(zero X at the far end, Z on the axis)');
    expect(textOf(other.plan)).toContain("(A is zero at the line 25 deg round from the sheet's turn 0)");
  });

  it('says where each word is 0, and nothing of what the blank has not got', () => {
    const job = carveJob('x');
    const zero = { along: 'middle', across: 'low', turnDeg: 90, centreMm: null } as const;
    const words = (blank: Job['blank']) => listZeroWords({ machine: job.machine, blank, zero }).map((w) => `${w.letter} ${w.where}`);
    expect(words(createBlank('plate'))).toEqual([
      'X at the middle of its length',
      'Y at the lower edge of the lettered face',
      'Z on the surface',
    ]);
    expect(words(createBlank('cone'))[2]).toMatch(/^A at the line 90 deg/);
    expect(words(createDomeBlank()).slice(0, 2)).toEqual(['X at the picked place', `Z on the ${createDomeBlank().zero}`]);
  });
});
