// Writes the demo jobs in resources/jobs/ from the core's own defaults, so that they always fit the schema.
import { writeFileSync } from 'node:fs';
import { createCentreLine, createInscription, createJob, createVCarve } from '../src/core/job/defaults';
import type { Job } from '../src/core/job/schema';

const rainGauge: Job = {
  ...createJob('Rain gauge No. 7'),
  notes: 'Tidewater Instrument Works. Brass measuring cylinder, turned and lapped; name opposite the seam, part number below.',
  blank: { kind: 'cylinder', diameterMm: 42, lengthMm: 60, boreMm: 34, zero: 'axis', seamDeg: 180 },
  inscriptions: [
    { ...createInscription('name', 'KESTREL QUAY', 'zilla-slab-bold', 30), name: 'Name', heightMm: 6.5, rotationDeg: 90, at: { xMm: 38, turnDeg: 0 }, letterSpacingMm: 0.2 },
    { ...createInscription('part', 'TIW 4471-07', 'hershey-sans', 30), name: 'Part number', heightMm: 3.5, rotationDeg: 90, at: { xMm: 24, turnDeg: 0 } },
  ],
  cuts: [
    { ...createVCarve('carve', 'v60'), name: 'Name', targets: ['name'], maxDepthMm: 0.8, levels: { by: 'count', count: 2 }, feedMmPerMin: 600 },
    { ...createCentreLine('number', 'v60'), name: 'Part number', targets: ['part'], depthMm: 0.12, feedMmPerMin: 500 },
  ],
};

for (const [file, job] of [['rain-gauge', rainGauge]] as const) {
  writeFileSync(new URL(`../resources/jobs/${file}.json`, import.meta.url), `${JSON.stringify(job, null, 2)}\n`);
}
