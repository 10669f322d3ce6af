import { describe, expect, it } from 'vitest';
import { carveJob, planJob } from '../../../tests/support';
import { migrateJob } from './migrate';
import { parseJob } from './parse';
import { JOB_VERSION } from './schema';

/** A document as version 1 wrote it. */
const old = {
  format: 'hobel-job',
  version: 1,
  name: 'Old piece',
  notes: '',
  units: 'mm',
  material: 'brass',
  blank: { kind: 'cylinder', diameterMm: 40, lengthMm: 80, boreMm: 0, zero: 'axis', seamDeg: 180 },
  machine: carveJob('x').machine,
  tools: carveJob('x').tools,
  inscriptions: [
    {
      id: 'words',
      name: '',
      text: 'OLD',
      font: { id: 'cinzel-bold' },
      heightMm: 6,
      heightOf: 'capitals',
      letterSpacingMm: 0,
      lineSpacingRatio: 1.3,
      justify: 'centre',
      kerning: true,
      ligatures: true,
      anchor: 'centre',
      at: { xMm: 40, turnDeg: 0 },
      rotationDeg: 90,
      mirrored: false,
    },
  ],
  cuts: carveJob('x').cuts,
  motion: carveJob('x').motion,
};

describe('migrateJob', () => {
  it('brings a document of version 1 up, words and all, and it plans', async () => {
    const parsed = parseJob(old);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.error.problems));
    expect(parsed.value.version).toBe(JOB_VERSION);
    expect(parsed.value.inscriptions[0]).toMatchObject({ kind: 'text', text: 'OLD', fit: { to: 'none' }, onGuide: null, hidden: false });
    expect((await planJob(parsed.value)).plan.laid.count).toBeGreaterThan(50);
  });

  it('does not touch its input, nor a document of this version, nor what is no document', () => {
    const copy = structuredClone(old);
    migrateJob(old);
    expect(old).toEqual(copy);
    const now = carveJob('NOW');
    expect(migrateJob(now)).toBe(now);
    for (const odd of [null, 3, 'x', [], { version: 'one' }, { version: 0 }, { version: 99 }]) expect(migrateJob(odd)).toBe(odd);
  });

  it('mends nothing that was wrong in the old document', () => {
    const parsed = parseJob({ ...old, inscriptions: [{ ...old.inscriptions[0], heightMm: -1 }, 7] });
    expect(!parsed.ok && parsed.error.problems.map((p) => p.path)).toEqual(
      expect.arrayContaining(['$.inscriptions[0].heightMm', '$.inscriptions[1]']),
    );
    expect(parseJob({ ...old, inscriptions: 'none' }).ok).toBe(false);
  });
});
