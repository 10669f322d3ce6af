import { createCut } from '../../src/core/cut/kinds/registry';
import { createHash } from 'node:crypto';
import { createInscription, createJob, createOnGuide, DEFAULT_MOTION, TABLE_MACHINE } from '../../src/core/job/defaults';
import { createZero } from '../../src/core/job/zero';
import { createLay, type Job } from '../../src/core/job/schema';
import { packShape, readShape } from '../../src/core/shape/readShape';
import { writeStl } from '../../src/core/shape/stl';

const sha256Of = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

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

export const coverStl = makeCover();
const read = await readShape(coverStl, 'compass-cover.stl', () => Promise.reject(new Error('no STEP here')));
if (!read.ok) throw new Error(read.error.kind);
export const coverShape = read.value;

export const compassCover: Job = {
  ...createJob('Compass cover'),
  notes:
    'Tidewater Instrument Works. Domed cover of a boat compass, from its STL; lettered round the crown on a table that tilts and turns, the tool along the normal all over.',
  machine: TABLE_MACHINE,
  zero: { ...createZero(), centreMm: { xMm: 0, yMm: 0, zMm: -45 } },
  motion: { ...DEFAULT_MOTION, ...TABLE_MACHINE.heights },
  blank: {
    kind: 'free',
    source: 'compass-cover.stl',
    shape: { id: sha256Of(packShape(coverShape)) },
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
