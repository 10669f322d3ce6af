// Writes the demo jobs in resources/jobs/ from the core's own defaults, so that they always fit the schema.
import { STARTER_TOOLS } from '../src/core/crib/starterTools';
import { createCut } from '../src/core/cut/kinds/registry';
import { writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import {
  createArtwork,
  createBlank,
  createInscription,
  createJob,
  createOnGuide,
  createSeries,
  DEFAULT_MOTION,
  TABLE_MACHINE,
  TILTING_MACHINE,
} from '../src/core/job/defaults';
import { parseJob } from '../src/core/job/parse';
import { createZero } from '../src/core/job/zero';
import { createLay, type Job, type Stage } from '../src/core/job/schema';
import { packShape, readShape } from '../src/core/shape/readShape';
import { writeStl } from '../src/core/shape/stl';
import type { Rings } from '../src/core/base/rings';
import { ringsToPathData } from '../src/core/base/svgPath';
import { createLetterer } from '../src/core/pipeline/lettering';
import { createProfileNodes } from '../src/core/surface/meridian';
import { createSurface } from '../src/core/surface/registry';
import { loadEngines } from '../src/server/resources/engines';
import { createFileLibrary } from '../src/server/resources/fonts';
import { toPreview } from '../src/ui/bench/preview';
import type { LetteringView } from '../src/workers/planning.client';

const sha256Of = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** A mill that goes before a cut's own. */
const stage = (toolId: string, stepMm: number, feedMmPerMin: number): Stage => ({
  ...{ toolId, levels: { by: 'step', stepMm, even: true, finishMm: 0 }, feedMmPerMin },
  ...{ plungeMmPerMin: 120, spindleRpm: 18000, stepOverShare: 0.45 },
});

const rainGauge: Job = {
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
const lampHood: Job = {
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

const netFloat: Job = {
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

const slatePlate: Job = {
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

const berthPlate: Job = {
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

const tillerSleeve: Job = {
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

/** A domed cover, turned about z: a ball's cap of 60 mm radius on a rim, hollow underneath. Made here, as STL. */
function makeCover(): Uint8Array {
  const outer: [number, number][] = [],
    inner: [number, number][] = [];
  const R = 60,
    rim = 40,
    rings = 60;
  const top = 12,
    foot = top - (R - Math.sqrt(R * R - rim * rim));
  for (let i = 0; i <= rings; i++) {
    const r = (rim * i) / rings;
    outer.push([r, top - (R - Math.sqrt(R * R - r * r))]);
    inner.push([Math.min(r, rim - 3), top - 3 - (R - Math.sqrt(R * R - Math.min(r, rim - 3) ** 2))]);
  }
  const section = [
    ...outer,
    [rim, foot - 4] as [number, number],
    [rim - 3, foot - 4] as [number, number],
    ...inner.filter(([r], i) => i === 0 || r > inner[i - 1]![0]).reverse(),
  ];
  const sectors = 180;
  const positions: number[] = [],
    triangles: number[] = [];
  section.forEach(([r, z]) => {
    for (let k = 0; k < sectors; k++)
      positions.push(r * Math.cos((2 * Math.PI * k) / sectors), r * Math.sin((2 * Math.PI * k) / sectors), z);
  });
  for (let i = 0; i + 1 < section.length; i++) {
    for (let k = 0; k < sectors; k++) {
      const a = i * sectors + k,
        b = i * sectors + ((k + 1) % sectors),
        c = a + sectors,
        d = b + sectors;
      if (section[i]![0] > 0) triangles.push(a, c, b);
      if (section[i + 1]![0] > 0) triangles.push(b, c, d);
    }
  }
  return writeStl(positions, triangles, 'compass cover - Hobel demo');
}

const coverStl = makeCover();
writeFileSync(new URL('../resources/shapes/compass-cover.stl', import.meta.url), coverStl);
const coverRead = await readShape(coverStl, 'compass-cover.stl', () => Promise.reject(new Error('no STEP here')));
if (!coverRead.ok) throw new Error(coverRead.error.kind);
const { report } = coverRead.value;
console.info(`compass cover: ${report.triangles} triangles, ${report.openEdges} open edges, ${report.parts} part(s)`);

const compassCover: Job = {
  ...createJob('Compass cover'),
  notes:
    'Tidewater Instrument Works. Domed cover of a boat compass, from its STL; lettered round the crown on a table that tilts and turns, the tool along the normal all over.',
  machine: TABLE_MACHINE,
  zero: { ...createZero(), centreMm: { xMm: 0, yMm: 0, zMm: -45 } },
  motion: { ...DEFAULT_MOTION, ...TABLE_MACHINE.heights },
  blank: {
    kind: 'free',
    source: 'compass-cover.stl',
    shape: { id: sha256Of(packShape(coverRead.value)) },
    unitMm: 1,
    pick: [0, 0, 12],
    normal: [0, 0, 1],
    turnDeg: 0,
    creaseDeg: 20,
    mount: 'table',
    axisBelowMm: 40,
    zero: 'surface',
  },
  lay: { ...createLay(), kind: 'drape', stretchLimitPercent: 4 },
  guides: [{ kind: 'arc', id: 'ring', name: 'Ring of the name', centre: { xMm: 0, yMm: 0 }, radiusMm: 30, startDeg: -90, sweepDeg: -360 }],
  inscriptions: [
    { ...createInscription('name', 'STEER SMALL', 'cinzel-bold', 0), name: 'Motto', heightMm: 5.5, at: { xMm: 0, turnDeg: 3 } },
    { ...createInscription('number', 'No. 118', 'hershey-sans', 0), name: 'Number', heightMm: 4, at: { xMm: 0, turnDeg: -8 } },
    {
      ...createInscription('ring', 'TIDEWATER INSTRUMENT WORKS', 'dejavu-serif-bold', 0),
      name: 'Maker',
      heightMm: 4.2,
      onGuide: createOnGuide('ring'),
      fit: { to: 'guide', gapMm: 60, by: 'spacing' },
    },
  ],
  cuts: [
    { ...createCut('v-carve', 'carve', 'v90'), name: 'Letters', targets: ['name', 'ring'], maxDepthMm: 0.6, feedMmPerMin: 500 },
    { ...createCut('centre-line', 'line', 'v90'), name: 'Number', targets: ['number'], depthMm: 0.15, feedMmPerMin: 400 },
  ],
};

const shapes = { find: () => (coverRead.ok ? coverRead.value : null) };
const library = createFileLibrary(await loadEngines(), null);
/** Outlines as the views hold them: x y pairs in sheet mm. */
const toData = (rings: Rings, closed: boolean): string => ringsToPathData(rings, { closed, decimals: 3 });

for (const [file, job] of [
  ['rain-gauge', rainGauge],
  ['lamp-hood', lampHood],
  ['net-float', netFloat],
  ['slate-plate', slatePlate],
  ['compass-cover', compassCover],
  ['berth-plate', berthPlate],
  ['tiller-sleeve', tillerSleeve],
] as const) {
  const parsed = parseJob(JSON.parse(JSON.stringify(job)));
  if (!parsed.ok) throw new Error(`${file}: ${parsed.error.problems.map((p) => `${p.path} ${p.text}`).join('; ')}`);
  writeFileSync(new URL(`../resources/jobs/${file}.json`, import.meta.url), `${JSON.stringify(job, null, 2)}\n`);
  // Its picture for the Shelf, made once, so that the demo shows it before it is opened.
  const { artworks } = createLetterer(library, () => '2026-11-25', shapes).compute(job);
  const views = artworks.map((a) => ({ ...a, areaData: toData(a.regions, true), strokeData: toData(a.chains, false) }));
  const picture = toPreview(job, { inscriptions: views } as unknown as LetteringView, createSurface(job.blank, shapes));
  writeFileSync(new URL(`../resources/jobs/${file}.svg`, import.meta.url), `${picture}\n`);
}
