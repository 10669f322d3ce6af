import { describe, expect, it } from 'vitest';
import { carveJob, lineJob, planJob, proveWith } from '../../../tests/support';

const proofOf = async (job: ReturnType<typeof carveJob>) => {
  const { plan, lettering, proof } = await planJob(job);
  return { plan, lettering, proof: proof.edge, unproved: proof.unproved };
};

describe('computeEdges', () => {
  it('is within a micrometre or two for a sharp V that may go as deep as it wants', async () => {
    const { proof } = await proofOf(carveJob('EL', { blank: { diameterMm: 16 } }));
    expect(proof!.samples).toBeGreaterThan(200);
    expect(proof!.maxOutsideUm).toBeLessThan(1.5);
    expect(proof!.uncut95Um).toBeLessThan(1);
  });

  it('sees what a blunt tip leaves in corners, and where', async () => {
    const { proof, lettering } = await proofOf(carveJob('EL', { tool: { tipMm: 0.4 } }));
    expect(proof!.maxUncutUm).toBeGreaterThan(30);
    const { box } = lettering.artworks[0]!;
    expect(proof!.uncutAt[0]).toBeGreaterThanOrEqual(box.minX - 0.01);
    expect(proof!.uncutAt[1]).toBeLessThanOrEqual(box.maxY + 0.01);
  });

  it('would see a path that is too deep, and one that is too shallow', async () => {
    const job = carveJob('I');
    const { setup, plan, lettering } = await planJob(job);
    const shifted = (by: number) => {
      const sheet = plan.laid.sheet.slice();
      for (let i = 2; i < sheet.length; i += 3) if (sheet[i]! > 0.05) sheet[i]! += by;
      return proveWith(setup, lettering, { ...plan, laid: { ...plan.laid, sheet } }).edge!;
    };
    expect(shifted(0.02).maxOutsideUm).toBeGreaterThan(15);
    expect(shifted(-0.02).uncut95Um).toBeGreaterThan(15);
  });

  it('says which cuts have no edge to prove, and why', async () => {
    const { proof, unproved } = await proofOf(lineJob('I'));
    expect(proof).toBeNull();
    expect(unproved).toEqual([{ id: 'line', name: 'Centre-line', why: expect.stringContaining('no outline') as string }]);
    expect((await proofOf(carveJob('I'))).unproved).toEqual([]);
  });
});
