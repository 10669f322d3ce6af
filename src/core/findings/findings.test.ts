import { describe, expect, it } from 'vitest';
import { carveJob, domeShapes, planJob, proveWith } from '../../../tests/support';
import { DEFAULT_MACHINE } from '../job/defaults';
import type { Job } from '../job/schema';
import type { ShapeMesh } from '../shape/shapeMesh';
import { provoked, provokedJob, sound } from '../../../tests/provoking';
import { FINDING_CODES, hasSpoiling, makeFinding, type Finding } from './finding';
import { findEdgeFaults, findReadBackFaults } from './proofFindings';

describe('findings', () => {
  it('a sound job has none', async () => expect((await planJob(sound)).findings).toEqual([]));

  it.each(FINDING_CODES.filter((c) => provoked[c] !== 'read-back'))('%s is provoked, and says where, why and what to do', async (code) => {
    const [job, words, change] = provoked[code] as [Job, RegExp, ((mesh: ShapeMesh) => ShapeMesh)?];
    const found = (await planJob(job, null, domeShapes(change))).findings.filter((f) => f.code === code);
    expect(found.length).toBeGreaterThan(0);
    expect(found[0]!.text).toMatch(words);
    expect(found[0]!.remedy.length).toBeGreaterThan(10);
    expect(found[0]!.where.station).toBeTruthy();
    expect(found[0]!.text).not.toMatch(/NaN|undefined|Infinity/);
  });

  it('a coarse machine is no defect: the limit on the deviation follows its last digit', async () => {
    const { proof, findings } = await planJob({ ...sound, machine: { ...DEFAULT_MACHINE, lengthDigits: 2, angleDigits: 2 } });
    expect(proof.readBack.maxTipUm).toBeGreaterThan(2);
    expect(findings.map((f) => f.code)).not.toContain('deviation');
  });

  it('only what a sound writer never does has no job that provokes it', () => {
    // All but one are provoked from readings: below, in conduct.test.ts and in removal/truth.test.ts. Outlines that cross: uniting has
    // removed every one tried.
    expect(FINDING_CODES.filter((c) => provoked[c] === 'read-back').sort()).toEqual([
      'asks-too-fast',
      'body-hits',
      'change-unsafe',
      'chuck-hits',
      'corners-wrong',
      'cuts-air',
      'cuts-clear-end',
      'cuts-still',
      'cuts-through',
      'cuts-without-tool',
      'deviation',
      'dives-fast',
      'edge-left',
      'edge-outside',
      'end-unsafe',
      'left-inside',
      'left-standing',
      'letters-missing',
      'mirrored-program',
      'outline-crosses',
      'part-loose',
      'program-fault',
      'rapid-cuts',
      'shank-in-groove',
      'spindle-wrong',
      'stands-cut',
      'tabs-missing',
      'too-deep',
      'too-low',
      'too-much-at-once',
      'winds-up',
      'wrong-length',
      'wrong-tool',
    ]);
    expect(makeFinding('outline-crosses', { station: 'cuts' }, { name: 'Name' })).toMatchObject({
      severity: 'spoils',
      text: expect.stringContaining('cross themselves') as string,
    });
  });

  it('what spoils stops; the rest does not', async () => {
    expect(hasSpoiling((await planJob(provokedJob('mirrored'))).findings)).toBe(true);
    expect(hasSpoiling((await planJob(provokedJob('flat-floor'))).findings)).toBe(false);
  });

  it('gives the overlap at the seam in degrees of the real overhang', async () => {
    const job = provokedJob('wider-than-turn');
    const { findings, lettering } = await planJob(job);
    const { minY, maxY } = lettering.artworks[0]!.box;
    const over = ((maxY - minY) / (Math.PI * 10) - 1) * 360;
    expect(findings.find((f) => f.code === 'wider-than-turn')!.text).toContain(`${over.toFixed(1)}°`);
  });
});

describe('findReadBackFaults', () => {
  const place = { part: 0, line: 7 };
  const figures = { maxTipUm: 0, lastDigitUm: 0.1, maxAxisUm: 0, maxTimeRatio: 0, faults: [], mirrored: false };
  const back = { ...figures, readings: [], worst: place, rapidInWork: null, arcs: 0 };
  const codes = (patch: object): Finding[] => findReadBackFaults(sound, { ...back, ...patch });
  it.each([
    ['deviation', { maxTipUm: 50 }],
    ['deviation', { maxTipUm: NaN }],
    ['mirrored-program', { mirrored: true }],
    ['program-fault', { faults: [{ part: 0, line: 3, text: 'X stands twice' }] }],
    ['line-too-long', { faults: [{ part: 0, line: 3, text: 'long', tooLong: { characters: 61, limit: 60 } }] }],
    ['rapid-in-work', { rapidInWork: { part: 0, line: 4 } }],
  ])('%s', (code, patch) => {
    const [found] = codes(patch);
    expect(found).toMatchObject({ code, severity: 'spoils' });
  });
  it('has none for a clean reading', () => expect(codes({})).toEqual([]));
});

describe('findEdgeFaults', () => {
  const codesOf = async (job: Job, deeperMm = 0): Promise<string[]> => {
    const { setup, plan, lettering, surface } = await planJob(job);
    const sheet = plan.laid.sheet.slice();
    for (let i = 2; i < sheet.length; i += 3) if (sheet[i]! > 0.05) sheet[i]! += deeperMm;
    const { edge } = proveWith(setup, lettering, { ...plan, laid: { ...plan.laid, sheet } });
    return findEdgeFaults(edge, surface).map((f) => `${f.severity} ${f.code}`);
  };
  it('a path that lies too deep spoils the piece', async () => expect(await codesOf(carveJob('I'), 0.05)).toEqual(['spoils edge-outside']));
  it('strokes that a blunt tip does not fit into are left, and said so', async () => {
    expect(await codesOf(carveJob('I', { words: { heightMm: 3 }, tool: { tipMm: 0.9 } }))).toEqual(['warns edge-left']);
  });
  it('has none where the edge meets the outline, nor where there is no edge', async () => {
    expect(await codesOf(carveJob('BUOY'))).toEqual([]);
    expect(findEdgeFaults(null, { mmPerRad: 20 })).toEqual([]);
  });
});
