import { STARTER_TOOLS } from '../../src/core/crib/starterTools';
import { createCut } from '../../src/core/cut/kinds/registry';
import { createArtwork, createBlank, createInscription, createJob } from '../../src/core/job/defaults';
import type { Job } from '../../src/core/job/schema';

import { stage } from './stage';

/** A closed path of straight sides and quarter rounds, counter-clockwise about the origin, and circles, as rings. */
const roundedBox = (width: number, height: number, r: number): number[] =>
  [
    [1, 1],
    [-1, 1],
    [-1, -1],
    [1, -1],
  ].flatMap(([sx, sy], q) =>
    Array.from({ length: 33 }, (_, k) => {
      const t = ((q + k / 32) * Math.PI) / 2;
      return [sx! * (width / 2 - r) + r * Math.cos(t), sy! * (height / 2 - r) + r * Math.sin(t)];
    }).flat(),
  );
const circle = (x: number, y: number, r: number): number[] =>
  Array.from({ length: 64 }, (_, k) => [x + r * Math.cos((k * Math.PI) / 32), y + r * Math.sin((k * Math.PI) / 32)]).flat();

export const berthPlate: Job = {
  ...createJob('Berth plate, North Quay'),
  notes:
    'Tidewater Instrument Works. Plate for a berth in brass sheet of 2 mm on a board: name sunk by two end mills, number carved, screw holes drilled, and the plate cut out on tabs.',
  blank: { ...createBlank('plate'), lengthMm: 150, widthMm: 66, thicknessMm: 2 },
  tools: ['flat2', 'flat1', 'v90', 'drill2'].map((id) => STARTER_TOOLS.find((t) => t.id === id)!),
  inscriptions: [
    {
      ...createInscription('name', 'NORTH QUAY', 'zilla-slab-bold', 75),
      name: 'Name',
      heightMm: 10.5,
      letterSpacingMm: 0.8,
      at: { xMm: 75, turnDeg: 8 },
    },
    { ...createInscription('berth', 'BERTH No. 4', 'cinzel-bold', 75), name: 'Berth', heightMm: 7, at: { xMm: 75, turnDeg: -13 } },
    {
      ...createArtwork('holes', 'holes', 75, [
        { name: 'holes', on: true, chains: [], rings: [-59, 59].flatMap((x) => [-19, 19].map((y) => circle(x, y, 1))) },
      ]),
      name: 'Screw holes',
    },
    {
      ...createArtwork('edge', 'edge', 75, [{ name: 'edge', on: true, chains: [], rings: [roundedBox(130, 50, 7)] }]),
      name: 'Edge',
    },
  ],
  cuts: [
    {
      ...createCut('pocket', 'sink', 'flat1'),
      name: 'Name',
      targets: ['name'],
      clearing: [stage('flat2', 0.4, 450)],
      depthMm: 0.4,
      levels: { by: 'step', stepMm: 0.2, even: true, finishMm: 0 },
      feedMmPerMin: 350,
      plungeMmPerMin: 120,
    },
    { ...createCut('v-carve', 'carve', 'v90'), name: 'Berth', targets: ['berth'], maxDepthMm: 0.9, feedMmPerMin: 450 },
    {
      ...createCut('drill', 'holes', 'drill2'),
      name: 'Screw holes',
      targets: ['holes'],
      depthMm: 2.7,
      through: true,
      levels: { by: 'step', stepMm: 0.7, even: true, finishMm: 0 },
      feedMmPerMin: 120,
      spindleRpm: 5000,
    },
    {
      ...createCut('cut-out', 'free', 'flat2'),
      name: 'Edge',
      targets: ['edge'],
      depthMm: 2.1,
      levels: { by: 'step', stepMm: 0.6, even: true, finishMm: 0 },
      feedMmPerMin: 400,
      tabs: { count: 4, spacingMm: null, lengthMm: 4, thicknessMm: 0.5, ramped: true, at: [] },
    },
  ],
  motion: { ...createJob('').motion, byCutter: true },
};
