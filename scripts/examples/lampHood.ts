import { createCut } from '../../src/core/cut/kinds/registry';
import { createBlank, createInscription, createJob, createSeries, TILTING_MACHINE } from '../../src/core/job/defaults';
import { createLay, type Job } from '../../src/core/job/schema';

export const lampHood: Job = {
  ...createJob('Lamp hood, Saltmarsh Light'),
  notes:
    'Tidewater Instrument Works. Conical lamp hood in brass, spun and turned; name all the way round, level at 24 mm from the large rim, bearing marks under it; the head leans along the cone.',
  machine: TILTING_MACHINE,
  blank: { ...createBlank('cone'), datumDiameterMm: 44, farDiameterMm: 110, lengthMm: 58, boreMm: 0, given: 'diameters', clearFarMm: 4 },
  lay: { ...createLay(), kind: 'level' },
  inscriptions: [
    {
      ...createInscription('name', 'SALTMARSH LIGHT · HOLD THE CHANNEL · ', 'cinzel-bold', 40),
      name: 'Name',
      heightMm: 6,
      rotationDeg: 90,
      anchor: 'bottom',
      at: { xMm: 43, turnDeg: 0 },
      fit: { to: 'turn', gapMm: 1.5, by: 'spacing' },
    },
    {
      ...createSeries('bearings', 'hershey-sans', 56),
      name: 'Bearings',
      heightMm: 2.4,
      shape: 'round',
      from: 0,
      to: 355,
      step: 5,
      spanDeg: 355,
      at: { xMm: 56, turnDeg: -177.5 },
      marksTo: 'left',
      minor: { every: 1, lengthMm: 2, widthMm: 0 },
      middle: { every: 2, lengthMm: 3, widthMm: 0 },
      major: { every: 6, lengthMm: 4.5, widthMm: 0 },
      labels: {
        every: 6,
        decimals: 0,
        plus: false,
        prefix: '',
        suffix: '',
        list: [],
        skip: [],
        side: 'left',
        gapMm: 0.8,
        turn: 'tangential',
      },
    },
  ],
  cuts: [
    { ...createCut('v-carve', 'carve', 'v90'), name: 'Name', targets: ['name'], maxDepthMm: 0.7, feedMmPerMin: 500 },
    { ...createCut('centre-line', 'marks', 'v90'), name: 'Bearings', targets: ['bearings'], depthMm: 0.15, feedMmPerMin: 500 },
  ],
};
