import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob, createDomeBlank, domeShapes, getLibrary } from '../../../tests/support';
import { splitPieces } from '../cut/pieces';
import { createOutline } from '../medial/outline';
import { createProfileNodes } from '../surface/profileShapes';
import { computeSignedArea, getRing } from '../base/rings';
import { createBlank, createOnGuide, createSeries } from '../job/defaults';
import { createLay, LAY_KINDS, type Blank, type Job, type Lay, type TextInscription } from '../job/schema';
import { createLetterer, type Library } from '../pipeline/lettering';
import { createSurface } from '../surface/registry';
import { toTurnDeg } from '../surface/surface';

let library: Library;
beforeAll(async () => {
  library = await getLibrary();
});
const cone: Blank = { ...createBlank('cone'), datumDiameterMm: 30, farDiameterMm: 90, lengthMm: 60 };
const jobOn = (blank: Blank, text: string, words: Partial<TextInscription> = {}, lay: Partial<Lay> = {}): Job => ({
  ...carveJob(text, { words: { at: { xMm: 40, turnDeg: 0 }, ...words } }),
  blank,
  lay: { ...createLay(), ...lay },
});
const set = (job: Job) => {
  const art = createLetterer(library, () => '', domeShapes()).compute(job).artworks[0]!;
  return { art, surface: createSurface(job.blank, domeShapes()) };
};
/** True area of a region on the surface, mm². */
const areaOf = ({ art, surface }: ReturnType<typeof set>): number => {
  const g = new Float64Array(3);
  let sum = 0;
  for (let k = 0; k + 1 < art.regions.starts.length; k++) {
    const ring = getRing(art.regions, k);
    // The area form hardly changes over a letter's outline; its mean over the points does for a tenth of a percent.
    let scale = 0;
    for (let i = 0; i < ring.length; i += 2) {
      surface.metricInto(ring[i]!, ring[i + 1]!, g);
      scale += Math.sqrt(g[0]! * g[2]! - g[1]! * g[1]!);
    }
    sum += computeSignedArea(ring) * (scale / (ring.length / 2));
  }
  return sum;
};

describe('lettering on a cone', () => {
  const flat = () => areaOf(set(jobOn(createBlank('cylinder'), 'O')));

  it('keeps the area of a letter whole on a level line, and grows a bent one above its line', () => {
    expect(areaOf(set(jobOn(cone, 'O', {}, { kind: 'level' }))) / flat()).toBeCloseTo(1, 2);
    expect(areaOf(set(jobOn(cone, 'O', {}, { kind: 'wrap' }))) / flat()).toBeCloseTo(1, 2);
    const bent = set(jobOn(cone, 'O', { anchor: 'top', rotationDeg: -90 }, { kind: 'level', letters: 'bent' }));
    expect(areaOf(bent) / flat()).toBeLessThan(0.97);
  });

  it('reports no stretch for whole letters, and for bent ones what they have', () => {
    expect(set(jobOn(cone, 'HOLD', {}, { kind: 'level' })).art.letters.every((l) => Math.abs(l.stretch - 1) < 1e-6)).toBe(true);
    const bent = set(jobOn(cone, 'HOLD', { anchor: 'bottom' }, { kind: 'level', letters: 'bent' }));
    const sinA = Math.sin(Math.atan(0.5)),
      r = 15 + 40 * sinA;
    const most = Math.max(...bent.art.letters.map((l) => Math.abs(l.stretch - 1)));
    expect(most).toBeCloseTo((6 * sinA) / r, 2);
  });

  it('stands equal letters on a level line as equal outlines, moved round', () => {
    const { art } = set(jobOn(cone, 'EE', {}, { kind: 'level' }));
    const [a, b] = [getRing(art.regions, 0), getRing(art.regions, 1)];
    expect(a.length).toBe(b.length);
    const shift = b[1]! - a[1]!;
    for (let i = 0; i < a.length; i += 2) {
      expect(b[i]! - a[i]!).toBe(0);
      expect(b[i + 1]! - a[i + 1]! - shift).toBeCloseTo(0, 9);
    }
  });

  it('closes a text all the way round on its own line, wherever it is measured from', () => {
    for (const anchor of ['bottom', 'centre', 'top'] as const) {
      for (const by of ['spacing', 'scale'] as const) {
        const { art, surface } = set(
          jobOn(cone, 'ROUND AND ROUND THE HOOD', { anchor, heightMm: 5, fit: { to: 'turn', gapMm: 3, by } }, { kind: 'level' }),
        );
        const gapDeg = 360 - toTurnDeg(surface, art.box.maxY - art.box.minY);
        const line = art.box.maxX;
        expect((gapDeg * Math.PI * surface.radiusAt(line, 0)) / 180).toBeGreaterThan(1.5);
        expect((gapDeg * Math.PI * surface.radiusAt(line, 0)) / 180).toBeLessThan(5);
      }
    }
  });

  it('keeps the angles of a scale round it exactly, on level and wrap', () => {
    for (const kind of ['level', 'wrap', 'drape'] as const) {
      const job = {
        ...jobOn(cone, 'x', {}, { kind }),
        inscriptions: [
          {
            ...createSeries('s', 'hershey-sans', 40),
            shape: 'round' as const,
            from: 0,
            to: 9,
            step: 1,
            spanDeg: 270,
            at: { xMm: 40, turnDeg: -100 },
            labels: { ...createSeries('s', 'x', 0).labels, every: 0 },
          },
        ],
      };
      const { art, surface } = set(job);
      for (let k = 0; k < 10; k++) {
        const mark = getRing(art.chains, k);
        expect(toTurnDeg(surface, mark[1]!)).toBeCloseTo(-100 + 30 * k, 3);
      }
    }
  });
});

describe('lettering switched between lays', () => {
  it.each(LAY_KINDS.map((k) => [k]))('%s keeps every letter, and its place', (kind) => {
    for (const blank of [createBlank('cylinder'), cone, createBlank('turned'), createBlank('plate'), createBlank('arched')]) {
      const { art } = set(jobOn(blank, 'KEPT', { heightMm: 3, at: { xMm: 35, turnDeg: 5 } }, { kind }));
      expect(art.letters.map((l) => l.char).join('')).toBe('KEPT');
      expect(Math.abs((art.box.minX + art.box.maxX) / 2 - 35)).toBeLessThan(1);
      expect(art.faults).toEqual([]);
    }
  });

  it('names the letters that miss, and cuts the others', () => {
    const { art } = set(jobOn({ ...createBlank('cylinder'), diameterMm: 16 }, 'WIDE WORDING', { heightMm: 3 }, { kind: 'project' }));
    const miss = art.faults.find((f) => f.kind === 'letters-miss');
    expect(miss?.kind === 'letters-miss' && miss.letters.length).toBeGreaterThan(2);
    expect(art.letters.length).toBeGreaterThan(1);
    expect(art.letters.length).toBeLessThan(11);
  });

  it('reports a draped letter on a dome as short as the closed form has it, mesh or not', () => {
    // sin σ / σ at distance σR from the anchor (Snyder, 1987, from memory); the dome has R = 40.
    const { art } = set(
      jobOn(
        createDomeBlank(),
        'I',
        { heightMm: 2, rotationDeg: 0, anchor: 'left', letterSpacingMm: 0, at: { xMm: 0, turnDeg: 0 }, text: 'I           I' },
        { kind: 'drape' },
      ),
    );
    const far = art.letters[art.letters.length - 1]!;
    const sigma = Math.asin(Math.min(1, far.box.maxX / 40));
    expect(sigma).toBeGreaterThan(0.3);
    expect(far.stretch).toBeCloseTo(Math.sin(sigma) / sigma, 2);
  });

  it('lays letters of a guide on a free shape about their own places, at true distances', () => {
    const base = jobOn(
      createDomeBlank(),
      'AROUND',
      { heightMm: 3, rotationDeg: 0, onGuide: createOnGuide('g'), fit: { to: 'guide', gapMm: 0, by: 'spacing' } },
      { kind: 'drape' },
    );
    const job: Job = {
      ...base,
      guides: [{ kind: 'arc', id: 'g', name: '', centre: { xMm: 0, yMm: 0 }, radiusMm: 15, startDeg: 180, sweepDeg: -180 }],
    };
    const { art } = set(job);
    expect(art.letters).toHaveLength(6);
    art.letters.forEach((l) => expect(Math.abs(l.stretch - 1)).toBeLessThan(0.01));
    for (const l of art.letters) expect(Math.hypot((l.box.minX + l.box.maxX) / 2, (l.box.minY + l.box.maxY) / 2)).toBeGreaterThan(15);
  });
});

describe('equal letters on one line of a profile', () => {
  const barrel: Blank = { ...createBlank('turned'), profile: createProfileNodes('barrel', 80, 120) };
  const words = { at: { xMm: 40, turnDeg: 0 }, rotationDeg: 90, heightMm: 5, font: { id: 'cinzel-bold' } };
  it.each(['HHHHHHH', 'AVAWATAYA'])(
    '%s: they come out equal to the last digit, however they are kerned, so that each is carved once',
    (text) => {
      const { art } = set(jobOn(barrel, text, words, { kind: 'level' }));
      const outline = createOutline(art.regions);
      if (!outline.ok) throw new Error('crosses itself');
      const keys = splitPieces(outline.value, 'round').map((p) => p.key);
      expect(keys).toHaveLength(text.length);
      expect(new Set(keys).size).toBe(new Set(text).size);
    },
  );
});
