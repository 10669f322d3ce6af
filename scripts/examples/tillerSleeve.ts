import { STARTER_TOOLS } from '../../src/core/crib/starterTools';
import { createCut } from '../../src/core/cut/kinds/registry';
import { createBlank, createInscription, createJob } from '../../src/core/job/defaults';
import type { Job } from '../../src/core/job/schema';

import { stage } from './stage';

export const tillerSleeve: Job = {
  ...createJob('Tiller sleeve'),
  notes: 'Tidewater Instrument Works. Sleeve of a tiller in maple; the boat’s name stands in a band that is cleared all the way round.',
  material: 'maple',
  blank: { ...createBlank('cylinder'), diameterMm: 46, lengthMm: 70 },
  tools: ['flat2', 'flat1', 'v90'].map((id) => STARTER_TOOLS.find((t) => t.id === id)!),
  inscriptions: [
    {
      ...createInscription('boat', 'PETREL', 'zilla-slab-bold', 35),
      name: 'Boat',
      heightMm: 14,
      rotationDeg: 90,
      letterSpacingMm: 1.5,
      at: { xMm: 35, turnDeg: 0 },
    },
  ],
  cuts: [
    {
      ...createCut('raised', 'band', 'flat1'),
      name: 'Band',
      clearing: [stage('flat2', 0.6, 900)],
      depthMm: 0.6,
      field: 'band',
      marginMm: 2,
      levels: { by: 'count', count: 1 },
      feedMmPerMin: 700,
      plungeMmPerMin: 250,
    },
  ],
};
