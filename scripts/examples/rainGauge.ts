import { createCut } from '../../src/core/cut/kinds/registry';
import { createBlank, createInscription, createJob, createOnGuide, createSeries } from '../../src/core/job/defaults';
import type { Job } from '../../src/core/job/schema';

export const rainGauge: Job = {
  ...createJob('Rain gauge No. 7'),
  notes:
    'Tidewater Instrument Works. Brass measuring cylinder, turned and lapped; name opposite the seam, part number below, millimetre scale at its right, maker’s mark at the back.',
  blank: { ...createBlank('cylinder'), diameterMm: 42, lengthMm: 60, boreMm: 34 },
  guides: [
    // Clockwise, so that words stand outside; begun at the bottom, so that their middle is on top as the mark is read.
    { kind: 'arc', id: 'mark-top', name: 'Mark, outside', centre: { xMm: 30, yMm: 50 }, radiusMm: 7, startDeg: 0, sweepDeg: -360 },
  ],
  inscriptions: [
    {
      ...createInscription('name', 'KESTREL QUAY', 'zilla-slab-bold', 30),
      name: 'Name',
      heightMm: 5,
      rotationDeg: 90,
      at: { xMm: 40, turnDeg: 0 },
      letterSpacingMm: 0.2,
    },
    {
      ...createInscription('part', 'TIW 4471-{serial}', 'hershey-sans', 30),
      name: 'Part number',
      heightMm: 3,
      rotationDeg: 90,
      at: { xMm: 30, turnDeg: 0 },
    },
    {
      ...createSeries('scale', 'hershey-sans', 6),
      name: 'Millimetre scale',
      heightMm: 1.8,
      from: 0,
      to: 40,
      step: 1,
      spanMm: 40,
      at: { xMm: 10, turnDeg: -100 },
      marksTo: 'left',
      minor: { every: 1, lengthMm: 2, widthMm: 0 },
      middle: { every: 5, lengthMm: 3, widthMm: 0 },
      major: { every: 10, lengthMm: 4, widthMm: 0 },
      labels: {
        every: 10,
        decimals: 0,
        plus: false,
        prefix: '',
        suffix: '',
        list: [],
        skip: [],
        side: 'left',
        gapMm: 0.8,
        turn: 'upright',
      },
    },
    {
      ...createInscription('mark', 'TIDEWATER INSTRUMENT WORKS · ', 'hershey-sans', 30),
      name: 'Maker’s mark',
      heightMm: 1.8,
      onGuide: { ...createOnGuide('mark-top') },
      fit: { to: 'guide', gapMm: 0.6, by: 'spacing' },
    },
    {
      ...createInscription('mark-year', '{date}', 'hershey-sans', 30),
      name: 'Mark, year',
      heightMm: 2.5,
      rotationDeg: 90,
      at: { xMm: 30, turnDeg: (50 / 21) * (180 / Math.PI) },
    },
  ],
  variables: { piece: 1, serial: { start: 7, step: 1, width: 2 }, date: '', dateFormat: '2026', columns: [], rows: [] },
  cuts: [
    {
      ...createCut('v-carve', 'carve', 'v60'),
      name: 'Name',
      targets: ['name'],
      maxDepthMm: 0.8,
      levels: { by: 'count', count: 2 },
      feedMmPerMin: 600,
    },
    {
      ...createCut('centre-line', 'number', 'v60'),
      name: 'Lines',
      targets: ['part', 'scale', 'mark', 'mark-year'],
      depthMm: 0.12,
      feedMmPerMin: 500,
    },
  ],
};

/** The words of the hood run round the cone at one distance from its rim; its tops point to the small end, as the hood hangs. */
