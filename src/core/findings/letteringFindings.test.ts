import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob, getLibrary } from '../../../tests/support';
import { createBlank, createOnGuide, createSeries } from '../job/defaults';
import type { Guide, Job, SeriesInscription, TextInscription } from '../job/schema';
import { createLetterer, type Letterer } from '../pipeline/lettering';

let letterer: Letterer;
beforeAll(async () => {
  letterer = createLetterer(await getLibrary(), () => '2026-03-31');
});
const codes = (job: Job) => letterer.compute(job).findings.map((f) => f.code);
const words = (text: string, patch: Partial<TextInscription> = {}, diameterMm = 40): Job =>
  carveJob(text, { words: patch, blank: { diameterMm } });
const guide = (g: object): Guide => ({ id: 'g', name: '', ...g }) as Guide;
const series = (patch: Partial<SeriesInscription>): Job => ({
  ...words('x'),
  inscriptions: [{ ...createSeries('s', 'hershey-sans', 40), spanDeg: 90, ...patch }],
});
const withLabels = (patch: Partial<SeriesInscription['labels']>) => ({
  ...createSeries('s', 'hershey-sans', 40).labels,
  every: 5,
  ...patch,
});

describe('lettering round the blank', () => {
  it.each(['HARBOUR', 'TIDE', 'QUAY 7', 'NORTH', 'Wj', 'I'])(
    '"%s" that fills the whole turn without a gap does not run into itself',
    (text) => {
      for (const by of ['scale', 'spacing'] as const) {
        const job = words(text, { fit: { to: 'turn', gapMm: 0, by }, rotationDeg: 90, at: { xMm: 40, turnDeg: 0 } }, 30);
        expect(codes(job)).not.toContain('wider-than-turn');
      }
    },
  );

  it('that winds round a thin blank as a helix runs into itself only where it touches', () => {
    const helix = (rotationDeg: number, heightMm: number) => words('NORTH QUAY HARBOUR GAUGE', { rotationDeg, heightMm }, 8);
    expect(codes(helix(30, 3))).not.toContain('wider-than-turn');
    expect(codes(helix(60, 3))).not.toContain('wider-than-turn');
    expect(codes(helix(80, 6))).toContain('wider-than-turn');
  });

  it('on a spiral guide over two turns does not run into itself, and does where the turns are too close', () => {
    const spiral = (toX: number): Job => ({
      ...words('NORTH QUAY HARBOUR GAUGE AND LAMP MAKERS', { heightMm: 4, onGuide: createOnGuide('g'), rotationDeg: 0 }, 20),
      guides: [guide({ kind: 'line', from: { xMm: 60, yMm: -30 }, to: { xMm: toX, yMm: 110 } })],
    });
    expect(codes(spiral(20))).not.toContain('wider-than-turn');
    expect(codes(spiral(59))).toContain('wider-than-turn');
  });
});

describe('lettering on other lettering', () => {
  const two = (turnDeg: number, xMm = 40): Job => {
    const job = words('BUOY');
    return { ...job, inscriptions: [job.inscriptions[0]!, { ...(job.inscriptions[0] as TextInscription), id: 'b', at: { xMm, turnDeg } }] };
  };
  it('is said where the two lie, whichever turn their places are written in', () => {
    for (const turnDeg of [5, -5]) {
      expect(codes(two(turnDeg))).toContain('overlaps');
      expect(codes(two(turnDeg))).not.toContain('overlaps-at-seam');
    }
    // Said to stand a turn apart, nobody means them as one drawing: this spoils.
    for (const turnDeg of [355, 365, -355]) expect(codes(two(turnDeg))).toContain('overlaps-at-seam');
  });
  it('is judged by the ink, not by its box: a word in a frame is not on it', () => {
    const frame = [
      [20, -20, 60, -20, 60, 20, 20, 20],
      [22, 18, 58, 18, 58, -18, 22, -18],
    ];
    const job = words('BUOY');
    const drawing = { ...job.inscriptions[0]!, kind: 'artwork', id: 'f', source: 'frame', scaleRatio: 1 } as object;
    for (const k of ['font', 'fontSha256', 'heightMm']) delete (drawing as Record<string, unknown>)[k];
    const layers = [{ name: '0', on: true, rings: frame, chains: [] }];
    const framed = { ...job, inscriptions: [...job.inscriptions, { ...drawing, layers }] } as Job;
    expect(codes(framed)).not.toContain('overlaps');
    const small = { ...job, inscriptions: [...job.inscriptions, { ...drawing, scaleRatio: 0.4, layers }] } as Job;
    expect(codes(small)).toContain('overlaps');
  });
  it('is said of labels too close together', () => {
    expect(codes(series({ shape: 'along', spanMm: 5, to: 100, step: 1, labels: withLabels({ every: 1, turn: 'upright' }) }))).toContain(
      'parts-overlap',
    );
    expect(codes(series({ shape: 'along', spanMm: 60, labels: withLabels({}) }))).not.toContain('parts-overlap');
  });
});

describe('which way up', () => {
  it('goes by the labels of a scale: none without them, none for a span that runs back, and one that is really upside down', () => {
    expect(codes(series({ shape: 'round', spanDeg: -90, labels: withLabels({ turn: 'upright' }) }))).not.toContain('upside-down');
    expect(codes(series({ shape: 'round', spanDeg: -90, labels: withLabels({ every: 0 }) }))).not.toContain('upside-down');
    expect(codes(series({ shape: 'along', rotationDeg: 180, labels: withLabels({}) }))).toContain('upside-down');
    expect(
      codes(series({ shape: 'dial', radiusMm: 12, rotationDeg: 180, spanDeg: 180, labels: withLabels({ turn: 'upright' }) })),
    ).not.toContain('upside-down');
  });
  it('goes by the letters on a straight guide, and not on one that turns', () => {
    const on = (g: object): Job => ({ ...words('BUOY', { onGuide: createOnGuide('g'), rotationDeg: 0 }), guides: [guide(g)] });
    expect(codes(on({ kind: 'line', from: { xMm: 60, yMm: 0 }, to: { xMm: 20, yMm: 0 } }))).toContain('upside-down');
    expect(codes(on({ kind: 'line', from: { xMm: 20, yMm: 0 }, to: { xMm: 60, yMm: 0 } }))).not.toContain('upside-down');
    expect(codes(on({ kind: 'arc', centre: { xMm: 40, yMm: 0 }, radiusMm: 20, startDeg: 0, sweepDeg: 360 }))).not.toContain('upside-down');
  });
});

describe('mirrors', () => {
  const line = (id: string, xs: [number, number], yMm: number): Guide =>
    guide({ kind: 'line', id, from: { xMm: xs[0], yMm }, to: { xMm: xs[1], yMm } });
  const between = (top: Guide, patch: object, inscription: Partial<TextInscription> = {}): Job => ({
    ...words('BUOY', { onGuide: { ...createOnGuide('g'), topGuideId: 'top', ...patch }, rotationDeg: 0, ...inscription }),
    guides: [line('g', [10, 70], 0), top],
  });
  it('wording between two guides reads right, reversed or not, whichever way they run and whichever is the upper one', () => {
    for (const reversed of [false, true])
      for (const y of [8, -8])
        for (const xs of [
          [10, 70],
          [70, 10],
        ] as [number, number][]) {
          const job = between(line('top', xs, y), { reversed });
          expect(codes(job)).not.toContain('mirrored');
          expect(letterer.compute(job).artworks[0]!.mirrored).toBe(false);
        }
  });
  it('a mirror that is asked for is found by the letters themselves', () => {
    const job = between(line('top', [10, 70], 8), {}, { mirrored: true });
    expect(letterer.compute(job).findings.find((f) => f.code === 'mirrored')!.remedy).toContain('stamp');
  });
});

describe('fits', () => {
  it('on a cone goes round by the turn less the gap, though its line sags', () => {
    const cone = { ...createBlank('cone'), datumDiameterMm: 80, farDiameterMm: 60, lengthMm: 80 } as Job['blank'];
    const job = {
      ...words('NORTH QUAY HARBOUR', { fit: { to: 'turn', gapMm: 6, by: 'scale' }, rotationDeg: 90, at: { xMm: 40, turnDeg: 0 } }),
      blank: cone,
    };
    const { artworks } = letterer.compute(job);
    const f = artworks[0]!.frame;
    // The frame's ends at the baseline: sheet y by the mean radius of 35 mm.
    const deg = (Math.abs(f[3]! - f[1]!) / 35) * (180 / Math.PI);
    expect(deg).toBeGreaterThan(360 - (6 / 30) * 57.3 - 1);
    expect(deg).toBeLessThan(360 - (6 / 40) * 57.3 + 1);
  });
  it('to the turn along a cone, where the line does not go round, come to its length and to an end', () => {
    const cone = { ...createBlank('cone'), datumDiameterMm: 80, farDiameterMm: 60, lengthMm: 80 } as Job['blank'];
    for (const rotationDeg of [0, 20]) {
      const job = {
        ...words('QUAY', { fit: { to: 'turn', gapMm: 6, by: 'scale' }, rotationDeg, at: { xMm: 40, turnDeg: 0 } }),
        blank: cone,
      };
      const { box } = letterer.compute(job).artworks[0]!;
      expect(box.maxX - box.minX).toBeGreaterThan(150);
      // It was sought without end: a line along the blank goes round by nothing.
      expect(box.maxX - box.minX).toBeLessThan(500);
    }
  });
  it('that do not come off are said: one letter by spacing, a gap larger than the girth', () => {
    expect(codes(words('B', { fit: { to: 'length', lengthMm: 30, by: 'spacing' } }))).toContain('fit-missed');
    expect(codes(words('BUOY', { fit: { to: 'turn', gapMm: 500, by: 'scale' } }))).toContain('fit-missed');
    expect(codes(words('BUOY', { fit: { to: 'length', lengthMm: 60, by: 'spacing' } }))).not.toContain('fit-missed');
  });
  it('spaced letters do not join', () => {
    const clusters = (patch: Partial<TextInscription>) => letterer.compute(words('ffi', patch)).artworks[0]!.letters.length;
    const font = { font: { id: 'dejavu-sans-bold' } };
    expect(clusters({ ...font, letterSpacingMm: 3 })).toBe(3);
    expect(clusters({ ...font, fit: { to: 'length', lengthMm: 60, by: 'spacing' } })).toBe(3);
  });
});

describe('words in labels', () => {
  it('are resolved, and named where they stand for nothing', () => {
    const job = series({ shape: 'along', spanMm: 60, labels: withLabels({ prefix: '{serial}-' }) });
    const chars = (j: Job) =>
      letterer
        .compute(j)
        .artworks[0]!.letters.map((l) => l.char)
        .join('');
    expect(chars(job)).toMatch(/^001-0/);
    expect(chars({ ...job, variables: { ...job.variables, piece: 2 } })).toMatch(/^002-0/);
    expect(codes(series({ labels: withLabels({ prefix: '{nothing}' }) }))).toContain('unknown-word');
  });
});
