// Laying lettering on every kind of blank, and reading free shapes, in one process. Prints JSON.
import { createBlank, createInscription, createJob } from '../../src/core/job/defaults';
import { createLay, type Blank, type Job, type Lay } from '../../src/core/job/schema';
import { fillOnSurface } from '../../src/core/lay/mesh';
import { createLetterer } from '../../src/core/pipeline/lettering';
import { healSoup } from '../../src/core/shape/heal';
import { createPatch } from '../../src/core/shape/patch';
import type { ShapeMesh } from '../../src/core/shape/shapeMesh';
import { readShape } from '../../src/core/shape/readShape';
import { readStl, writeStl } from '../../src/core/shape/stl';
import { createProfileNodes } from '../../src/core/surface/profileShapes';
import { createSurface, type Shapes } from '../../src/core/surface/registry';
import { loadEngines } from '../../src/server/resources/engines';
import { createFileLibrary } from '../../src/server/resources/fonts';

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;
const rows: { what: string; value: string; against: string }[] = [];
const library = createFileLibrary(await loadEngines(), null);

/** A domed plate of about so many triangles, 160 mm across, as a soup. */
function domeSoup(triangles: number): Float64Array {
  const n = Math.round(Math.sqrt(triangles / 4));
  const corners = new Float64Array(9 * 4 * n * n);
  const z = (x: number, y: number): number => Math.sqrt(Math.max(0, 300 * 300 - x * x - y * y)) - 290;
  let at = 0;
  const put = (...p: number[][]) =>
    p.forEach((q) => {
      corners[at++] = q[0]!;
      corners[at++] = q[1]!;
      corners[at++] = q[2]!;
    });
  const step = 160 / n;
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < n; k++) {
      const [x0, y0, x1, y1] = [-80 + i * step, -80 + k * step, -80 + (i + 1) * step, -80 + (k + 1) * step];
      put([x0, y0, z(x0, y0)], [x1, y0, z(x1, y0)], [x1, y1, z(x1, y1)], [x0, y0, z(x0, y0)], [x1, y1, z(x1, y1)], [x0, y1, z(x0, y1)]);
      put([x0, y0, -40], [x1, y1, -40], [x1, y0, -40], [x0, y0, -40], [x0, y1, -40], [x1, y1, -40]);
    }
  }
  return corners;
}
const freeBlank: Blank = {
  kind: 'free',
  source: 'dome',
  shape: { file: 'dome' },
  unitMm: 1,
  pick: [0, 0, 10],
  normal: [0, 0, 1],
  turnDeg: 0,
  creaseDeg: 30,
  mount: 'table',
  axisBelowMm: 0,
  zero: 'surface',
};
const meshOf = (triangles: number): ShapeMesh => {
  const made = healSoup({ corners: domeSoup(triangles) });
  if (!made.ok) throw new Error(made.error.kind);
  return made.value;
};

const TEXT = 'TIDEWATER INSTRUMENT WORKS HARBOUR GAUGE AND LAMP MAKERS NORTH QUAY ';
const text = (n: number): string =>
  Array.from({ length: 12 }, (_, k) => [...TEXT.repeat(6).replaceAll(' ', '')].slice(k * 7, k * 7 + n / 12).join('')).join('\n');
const round = { boreMm: 0, zero: 'axis' as const, seamDeg: 180, clearDatumMm: 0, clearFarMm: 0 };
const cases: [string, Blank, Partial<Lay>, number][] = [
  ['cylinder, wrap', { ...createBlank('cylinder'), diameterMm: 100, lengthMm: 120 }, {}, 50],
  ['cylinder, project', { ...createBlank('cylinder'), diameterMm: 200, lengthMm: 120 }, { kind: 'project' }, 50],
  ['cone, level', { ...createBlank('cone'), datumDiameterMm: 80, farDiameterMm: 140, lengthMm: 110 }, { kind: 'level' }, 50],
  ['cone, wrap', { ...createBlank('cone'), datumDiameterMm: 80, farDiameterMm: 140, lengthMm: 110 }, { kind: 'wrap' }, 50],
  ['barrel, level', { kind: 'turned', profile: createProfileNodes('barrel', 120, 120), ...round }, { kind: 'level' }, 50],
  [
    'barrel, level bent',
    { kind: 'turned', profile: createProfileNodes('barrel', 120, 120), ...round },
    { kind: 'level', letters: 'bent' },
    50,
  ],
  ['barrel, drape', { kind: 'turned', profile: createProfileNodes('barrel', 120, 120), ...round }, { kind: 'drape' }, 50],
  ['waist, level', { kind: 'turned', profile: createProfileNodes('waist', 140, 120), ...round }, { kind: 'level' }, 50],
  ['plate', { ...createBlank('plate'), lengthMm: 160, widthMm: 160 }, {}, 50],
  ['trough', { ...createBlank('arched'), side: 'concave', radiusMm: 120, chordMm: 150, lengthMm: 160 }, {}, 50],
];
const meshes = new Map([[200_000, meshOf(200_000)]]);

function measure(name: string, blank: Blank, lay: Partial<Lay>, limit: number, shapes: Shapes): void {
  const free = blank.kind === 'free';
  const base: Job = {
    ...createJob('bench'),
    blank,
    lay: { ...createLay(), ...lay },
    inscriptions: [
      {
        ...createInscription('w', text(300), 'cinzel-bold', 55),
        heightMm: 3.2,
        rotationDeg: free || blank.kind === 'plate' || blank.kind === 'arched' ? 0 : 90,
        at: { xMm: free ? 0 : blank.kind === 'plate' || blank.kind === 'arched' ? 80 : 55, turnDeg: 0 },
      },
    ],
  };
  const letterer = createLetterer(library, () => '', shapes);
  const surface = createSurface(blank, shapes);
  const first = base.inscriptions[0]!;
  if (first.kind !== 'text') throw new Error('words');
  let glyphs = 0;
  const lap = (job: Job): [number, number] => {
    const start = performance.now();
    const art = letterer.compute(job).artworks[0]!;
    const laid = performance.now();
    fillOnSurface(art.regions, surface, 0.02, 0.012);
    glyphs = art.letters.length;
    return [laid - start, performance.now() - laid];
  };
  const show = (laps: [number, number][]): string =>
    `${median(laps.map((l) => l[0])).toFixed(0)} + ${median(laps.map((l) => l[1])).toFixed(0)}`;
  // As a worker is after a few keystrokes.
  for (let k = 0; k < 6; k++) lap({ ...base, inscriptions: [{ ...first, at: { xMm: first.at.xMm - 0.1 * k, turnDeg: -k } }] });
  lap(base);
  const typed = Array.from({ length: 9 }, (_, k) =>
    lap({ ...base, inscriptions: [{ ...first, text: `${first.text.slice(0, -1)}${'ABCDEFGHI'[k]}` }] }),
  );
  const dragged = Array.from({ length: 9 }, (_, k) =>
    lap({ ...base, inscriptions: [{ ...first, at: { xMm: first.at.xMm + 0.37 * (k + 1), turnDeg: 1.3 * (k + 1) } }] }),
  );
  rows.push({
    what: `${glyphs} glyphs laid again: ${name}`,
    value: `${show(typed)} / ${show(dragged)} ms`,
    against: `laid + cut up for drawing, typing / dragging; limit ${limit} ms`,
  });
}
for (const [name, blank, lay, limit] of cases) measure(name, blank, lay, limit, { find: () => null });
for (const [count, mesh] of meshes) {
  const shapes: Shapes = { find: () => mesh };
  for (const kind of ['drape', 'project'] as const)
    measure(`free shape of ${count / 1000}k triangles, ${kind}`, freeBlank, { kind }, 150, shapes);
}

{
  const soup = domeSoup(1_000_000);
  let start = performance.now();
  const made = healSoup({ corners: soup });
  if (!made.ok) throw new Error(made.error.kind);
  const healed = performance.now() - start;
  start = performance.now();
  createPatch(freeBlank as Extract<Blank, { kind: 'free' }>, made.value);
  const indexed = performance.now() - start;
  rows.push({
    what: `index of ${made.value.report.triangles} triangles`,
    value: `${(indexed / 1000).toFixed(2)} s`,
    against: `healing ${(healed / 1000).toFixed(2)} s; limit 4 s`,
  });
  const bytes = writeStl(
    soup,
    Uint32Array.from({ length: soup.length / 3 }, (_, i) => i),
    'bench',
  );
  start = performance.now();
  await readShape(bytes, 'bench.stl', () => Promise.reject(new Error('none')));
  rows.push({
    what: `binary STL of ${(bytes.length / 1e6).toFixed(0)} MB read and healed`,
    value: `${((performance.now() - start) / 1000).toFixed(2)} s`,
    against: 'limit 6 s',
  });
  let ascii = 'solid bench\n';
  const parts: string[] = [ascii];
  for (let i = 0; ascii.length < 50e6 && i < soup.length; i += 9) {
    parts.push(
      `facet normal 0 0 1\nouter loop\nvertex ${soup[i]!.toFixed(6)} ${soup[i + 1]!.toFixed(6)} ${soup[i + 2]!.toFixed(6)}\nvertex ${soup[i + 3]!.toFixed(6)} ${soup[i + 4]!.toFixed(6)} ${soup[i + 5]!.toFixed(6)}\nvertex ${soup[i + 6]!.toFixed(6)} ${soup[i + 7]!.toFixed(6)} ${soup[i + 8]!.toFixed(6)}\nendloop\nendfacet\n`,
    );
    if (parts.length === 4096) {
      ascii += parts.splice(0).join('');
      if (ascii.length > 50e6) break;
    }
  }
  const textBytes = new TextEncoder().encode(ascii);
  start = performance.now();
  readStl(textBytes);
  rows.push({
    what: `text STL of ${(textBytes.length / 1e6).toFixed(0)} MB read`,
    value: `${((performance.now() - start) / 1000).toFixed(2)} s`,
    against: 'limit 6 s',
  });
}
console.log(JSON.stringify(rows));
