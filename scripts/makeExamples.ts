// Writes the demo jobs in resources/jobs/ from the core's own defaults, so that they always fit the schema.
import { writeFileSync } from 'node:fs';
import { parseJob } from '../src/core/job/parse';
import type { Rings } from '../src/core/base/rings';
import { ringsToPathData } from '../src/core/base/svgPath';
import { createLetterer } from '../src/core/pipeline/lettering';
import { createSurface } from '../src/core/surface/registry';
import { loadEngines } from '../src/server/resources/engines';
import { createFileLibrary } from '../src/server/resources/fonts';
import { toPreview } from '../src/ui/bench/preview';
import type { LetteringView } from '../src/workers/planning.client';
import { berthPlate } from './examples/berthPlate';
import { compassCover, coverShape, coverStl } from './examples/compassCover';
import { lampHood } from './examples/lampHood';
import { netFloat } from './examples/netFloat';
import { rainGauge } from './examples/rainGauge';
import { slatePlate } from './examples/slatePlate';
import { tillerSleeve } from './examples/tillerSleeve';

writeFileSync(new URL('../resources/shapes/compass-cover.stl', import.meta.url), coverStl);
const shapes = { find: () => coverShape };
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
