import { STARTER_TOOLS } from '../../src/core/crib/starterTools';
import { createCut } from '../../src/core/cut/kinds/registry';
import { createBlank, createInscription, createJob } from '../../src/core/job/defaults';
import type { Job } from '../../src/core/job/schema';

import { stage } from './stage';

export const slatePlate: Job = {
  ...createJob('Maker’s plate in slate'),
  notes: 'Tidewater Instrument Works. Maker’s plate for the wall of the harbour office, riven slate ground flat.',
  material: 'slate',
  tools: [...createJob('').tools, STARTER_TOOLS.find((t) => t.id === 'flat1')!],
  blank: { ...createBlank('plate'), lengthMm: 160, widthMm: 90, thicknessMm: 12 },
  inscriptions: [
    {
      ...createInscription('maker', 'TIDEWATER', 'cinzel-bold', 80),
      name: 'Maker',
      heightMm: 15,
      letterSpacingMm: 0.8,
      at: { xMm: 80, turnDeg: 18 },
    },
    {
      ...createInscription('trade', 'INSTRUMENT WORKS', 'cinzel-bold', 80),
      name: 'Trade',
      heightMm: 8,
      letterSpacingMm: 0.6,
      at: { xMm: 80, turnDeg: -4 },
    },
    {
      ...createInscription('where', 'Gauges, glasses and lamps', 'great-vibes', 80),
      name: 'Goods',
      heightMm: 7,
      at: { xMm: 80, turnDeg: -26 },
    },
  ],
  cuts: [
    {
      ...createCut('v-carve', 'carve', 'v90'),
      name: 'Letters',
      maxDepthMm: 2.2,
      levels: { by: 'step', stepMm: 0.8, even: true, finishMm: 0.1 },
      feedMmPerMin: 700,
    },
  ],
  trials: [
    {
      id: 'steep',
      name: 'Steeper and deeper, 60°',
      cuts: [
        {
          ...createCut('v-carve', 'steep-carve', 'v60'),
          name: 'Letters, 60°',
          maxDepthMm: 3.5,
          levels: { by: 'step', stepMm: 0.8, even: true, finishMm: 0.1 },
          feedMmPerMin: 700,
        },
      ],
    },
    {
      id: 'fine',
      name: 'Flat at 1 mm, one level',
      cuts: [
        {
          ...createCut('v-carve', 'fine-carve', 'v90'),
          name: 'Letters, flat',
          clearing: [stage('flat1', 0.5, 500)],
          maxDepthMm: 1,
          levels: { by: 'count', count: 1 },
          feedMmPerMin: 700,
        },
      ],
    },
  ],
};
