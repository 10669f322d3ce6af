import { describe, expect, it, vi } from 'vitest';
import { carveJob } from '../../../tests/support';
import { checkEdit } from './checkEdit';
import { jobSchema, type Job, type TextInscription } from './schema';

const job: Job = {
  ...carveJob('A'),
  inscriptions: Array.from({ length: 40 }, (_, k) => ({ ...carveJob('A').inscriptions[0]!, id: `w${k}` })),
};
const change = (patch: object, i = 3): Job => ({
  ...job,
  inscriptions: job.inscriptions.map((own, k) => (k === i ? ({ ...own, ...patch } as TextInscription) : own)),
});

describe('checkEdit', () => {
  it('agrees with the whole schema on what is sound and what is not', () => {
    const edits: Job[] = [
      change({ at: { xMm: 12.5, turnDeg: 30 } }),
      change({ at: { xMm: Infinity, turnDeg: 30 } }),
      change({ heightMm: -1 }),
      change({ text: 'x'.repeat(9000) }),
      change({ id: 'w5' }),
      change({ nonsense: 1 }),
      change({ onGuide: { guideId: 'none', topGuideId: null } }),
      { ...job, inscriptions: job.inscriptions.slice(1) },
      { ...job, cuts: [{ ...job.cuts[0]!, toolId: 'gone' }] },
      { ...job, cuts: [{ ...job.cuts[0]!, targets: ['gone'] }] },
      { ...job, cuts: [{ ...job.cuts[0]!, feedMmPerMin: -1 }] },
      { ...job, blank: { ...job.blank, diameterMm: -1 } as Job['blank'] },
      { ...job, name: '' },
      job,
    ];
    for (const edit of edits) expect(checkEdit(job, edit).success).toBe(jobSchema.safeParse(edit).success);
  });

  it('does not go through the whole job for one that is moved', () => {
    const all = vi.spyOn(jobSchema, 'safeParse');
    checkEdit(job, change({ at: { xMm: 12.5, turnDeg: 30 } }));
    expect(all).not.toHaveBeenCalled();
    all.mockRestore();
  });
});
