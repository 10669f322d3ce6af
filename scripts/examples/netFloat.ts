import { createCut } from '../../src/core/cut/kinds/registry';
import { createBlank, createInscription, createJob } from '../../src/core/job/defaults';
import { createLay, type Job } from '../../src/core/job/schema';
import { createProfileNodes } from '../../src/core/surface/profileShapes';

export const netFloat: Job = {
  ...createJob('Net float, Fathom & Reed'),
  notes: 'Tidewater Instrument Works. Bronze net float, turned as a barrel; owner’s name on the belly, licence number over it.',
  material: 'bronze',
  blank: { ...createBlank('turned'), profile: createProfileNodes('barrel', 58, 84), clearDatumMm: 8, clearFarMm: 8 },
  lay: { ...createLay(), kind: 'level' },
  inscriptions: [
    {
      ...createInscription('owner', 'FATHOM & REED', 'zilla-slab-bold', 44),
      name: 'Owner',
      heightMm: 8,
      rotationDeg: 90,
      letterSpacingMm: 0.4,
      at: { xMm: 46, turnDeg: 0 },
    },
    {
      ...createInscription('licence', 'HT 2086 · DEPTH 30', 'hershey-sans', 24),
      name: 'Licence',
      heightMm: 4,
      rotationDeg: 90,
      at: { xMm: 26, turnDeg: 0 },
    },
  ],
  cuts: [
    {
      ...createCut('v-carve', 'carve', 'v90'),
      name: 'Owner',
      targets: ['owner'],
      maxDepthMm: 0.9,
      levels: { by: 'count', count: 2 },
      feedMmPerMin: 500,
    },
    { ...createCut('centre-line', 'number', 'v60'), name: 'Licence', targets: ['licence'], depthMm: 0.2, feedMmPerMin: 400 },
  ],
};
