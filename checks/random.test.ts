import { describe, expect, it } from 'vitest';
import { createBlank } from '../src/core/job/defaults';
import { parseJob } from '../src/core/job/parse';
import type { Blank, BlankOf, Job, Lay } from '../src/core/job/schema';
import { createProfileNodes, PROFILE_SHAPES } from '../src/core/surface/profileShapes';
import { toPathLines } from '../src/core/export/report';
import { carveJob, createDomeBlank, createRandom, domeShapes, planJob, tiltingMachine } from '../tests/support';
import { createSweep } from './sweep';

/**
 * Jobs drawn at random over blanks, lays, stances, cutters, typefaces and sizes: whatever comes, either it is planned to the edge, or
 * a finding says why not. Every third is swept by brute force as well (common practice, no source). More, or others, by
 * HOBEL_SEEDS=300-500.
 */
const [FROM, TO] = (process.env.HOBEL_SEEDS ?? '1-24').split('-').map(Number) as [number, number];
/** Drawn always: each was red for a reason of its own. */
const ONCE_RED = process.env.HOBEL_SEEDS ? [] : [228, 366, 379, 402, 423, 466];
/** A head that tilts far enough for every blank here. */
const TILTING = tiltingMachine({ minDeg: -100, maxDeg: 100 });

interface Drawn {
  name: string;
  job: Job;
  includedDeg: number;
  tipMm: number;
}

function draw(seed: number): Drawn {
  const random = createRandom(seed * 7919);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!;
  const round = { boreMm: 0, zero: 'axis' as const, seamDeg: 180, clearDatumMm: 0, clearFarMm: 0 };
  const diameterMm = between(14, 90),
    lengthMm = between(25, 90);
  const kind = pick(['cylinder', 'cone', 'turned', 'turned', 'arched', 'plate', 'free'] as const);
  let xMm = lengthMm * between(0.3, 0.7),
    alongMm = lengthMm,
    turns = true;
  const blankOf = (): Blank => {
    switch (kind) {
      case 'cylinder':
        return { ...createBlank('cylinder'), diameterMm, lengthMm, boreMm: pick([0, 0, 0.6 * diameterMm]) };
      case 'cone': {
        const farDiameterMm = Math.max(6, diameterMm + 2 * lengthMm * Math.tan((between(-50, 50) * Math.PI) / 180));
        alongMm = Math.hypot(lengthMm, (farDiameterMm - diameterMm) / 2);
        xMm = alongMm * between(0.35, 0.65);
        return { ...createBlank('cone'), datumDiameterMm: diameterMm, farDiameterMm, lengthMm };
      }
      case 'turned':
        return { kind: 'turned', profile: createProfileNodes(pick(PROFILE_SHAPES), diameterMm, lengthMm), ...round };
      case 'arched': {
        turns = false;
        const side = pick(['convex', 'concave'] as const),
          radiusMm = between(25, 120),
          mount = side === 'convex' ? pick(['table', 'rotary'] as const) : 'table';
        return {
          ...createBlank('arched'),
          side,
          radiusMm,
          chordMm: Math.min(1.4 * radiusMm, 80),
          lengthMm,
          thicknessMm: 8,
          mount,
          zero: mount === 'rotary' ? 'axis' : 'surface',
        } as BlankOf<'arched'>;
      }
      case 'plate':
        turns = false;
        xMm = 40;
        return {
          ...createBlank('plate'),
          lengthMm: 80,
          widthMm: 60,
          inclineDeg: between(-40, 40),
          inclineTowards: pick(['x', 'y'] as const),
        };
      case 'free':
        turns = false;
        xMm = between(-8, 8);
        return createDomeBlank();
    }
  };
  const blank = blankOf();
  const lay: Partial<Lay> = {
    kind: pick(['wrap', 'level', 'project', 'drape']),
    letters: pick(['rigid', 'bent']),
    from: pick(['normal', 'direction']),
  };
  const tilt = random() < 0.4;
  const includedDeg = pick([30, 60, 90, 90, 120]),
    tipMm = pick([0, 0, 0.1, 0.2]),
    maxDepthMm = pick([0.3, 0.6, 5, 5]);
  const words = {
    heightMm: between(2, Math.min(9, alongMm / 4)),
    letterSpacingMm: 0.2,
    at: { xMm, turnDeg: turns ? between(-20, 20) : between(-6, 6) },
    rotationDeg: pick([0, 90, 90, between(0, 360)]),
  };
  const font = pick(['dejavu-sans-bold', 'cinzel-bold', 'great-vibes', 'zilla-slab-bold']),
    text = pick(['HRSQ', 'Aa&8', 'W3j?', 'gRÅx', 'MQ§']);
  const base = carveJob(text, { font, words, tool: { includedDeg, tipMm }, carve: { maxDepthMm } });
  return {
    name: `${seed}: ${kind}, ${lay.kind}, ${text} in ${font} at ${words.heightMm.toFixed(1)} mm, V of ${includedDeg}° with ${tipMm} mm${tilt ? ', tilted' : ''}`,
    job: { ...base, blank, lay: { ...base.lay, ...lay }, machine: tilt ? TILTING : base.machine },
    includedDeg,
    tipMm,
  };
}

describe('jobs drawn at random', () => {
  it.each([...Array.from({ length: TO - FROM + 1 }, (_, k) => FROM + k), ...ONCE_RED])(
    'job %d',
    async (seed) => {
      const { name, job, includedDeg, tipMm } = draw(seed);
      const parsed = parseJob(JSON.parse(JSON.stringify(job)));
      expect(parsed.ok, name).toBe(true);
      const { setup, plan, proof, findings, lettering, surface } = await planJob(job, null, domeShapes());
      const told = new Set(findings.map((f) => f.code));
      const spoilt = findings.some((f) => f.severity === 'spoils') || told.has('over-edge');
      const { edge } = proof;
      if (!edge) return expect(spoilt || told.has('nothing-to-cut'), `${name}: nothing is cut, and nothing says why`).toBe(true);
      console.info(
        `${name}: outside ${edge.maxOutsideUm.toFixed(2)} µm, left ${edge.maxUncutUm.toFixed(1)}, read back ${proof.readBack.maxTipUm.toFixed(2)}; ${[...told].join()}`,
      );
      if (spoilt) return;
      expect(edge.maxOutsideUm, name).toBeLessThan(2.2);
      expect(proof.readBack.maxTipUm, name).toBeLessThan(2);
      // A blunt tip leaves what it does not fit into; how much is told.
      if (tipMm === 0) expect(edge.maxUncutUm, name).toBeLessThan(30);
      if (seed % 3 !== 0 || plan.laid.count > 12_000) return;
      const swept = createSweep([...toPathLines(setup, plan)], includedDeg / 2, tipMm).measureEdge(
        lettering.artworks[0]!.regions,
        surface,
        0.4,
      );
      expect(swept.outside, name).toBeLessThan(0.0025);
      expect(swept.outside - edge.maxOutsideUm / 1000, name).toBeLessThan(0.0015);
    },
    120_000,
  );
});
