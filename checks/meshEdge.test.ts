import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { createDomeBlank, domeShapes, carveJob, planJob } from '../tests/support';
import { toPathLines } from '../src/core/export/report';
import { parseJob } from '../src/core/job/parse';
import type { Job } from '../src/core/job/schema';
import { readShape } from '../src/core/shape/readShape';
import type { Shapes } from '../src/core/surface/registry';
import { createSweep } from './sweep';

/**
 * On meshes what is cut outside was once reported 4.5 times too small: the places between samples were not looked at.
 * Swept by brute force; common practice, no source.
 */
async function compare(job: Job, shapes: Shapes, includedDeg: number): Promise<{ swept: number; reported: number }> {
  const { setup, plan, lettering, proof, surface } = await planJob(job, null, shapes);
  const sweep = createSweep([...toPathLines(setup, plan)], includedDeg / 2, 0);
  let swept = 0;
  for (const { regions } of lettering.artworks) {
    if (regions.xy.length > 0) swept = Math.max(swept, 1000 * sweep.measureEdge(regions, surface, 0.1).outside);
  }
  return { swept, reported: proof.edge!.maxOutsideUm };
}

it('the compass cover with a sharp tip: swept and reported agree, and both are below 2 µm', async () => {
  const parsed = parseJob(JSON.parse(readFileSync('resources/jobs/compass-cover.json', 'utf8')));
  const cover = await readShape(new Uint8Array(readFileSync('resources/shapes/compass-cover.stl')), 'cover.stl', () =>
    Promise.reject(new Error('no STEP')),
  );
  if (!parsed.ok || !cover.ok) throw new Error('not read');
  const job = { ...parsed.value, tools: parsed.value.tools.map((t) => ({ ...t, tipMm: 0 })) };
  const { includedDeg } = job.tools.find((t) => t.id === job.cuts[0]!.toolId)!;
  const { swept, reported } = await compare(job, { find: () => cover.value }, includedDeg);
  console.info(`compass cover: swept ${swept.toFixed(2)}, reported ${reported.toFixed(2)} µm outside`);
  expect(swept).toBeLessThan(2);
  expect(Math.abs(swept - reported)).toBeLessThan(0.5);
}, 120_000);

it.each([
  [6, 2, 0, 90, 5],
  [7.4, 1, 1, 90, 0.6],
  [5, -4, 3, 60, 5],
])(
  'a dome of facets, letters of %d mm: the same',
  async (heightMm, xMm, turnDeg, includedDeg, maxDepthMm) => {
    const base = carveJob('RSQ', {
      words: { heightMm, letterSpacingMm: 0.2, rotationDeg: 0, at: { xMm, turnDeg } },
      tool: { includedDeg, tipMm: 0 },
      carve: { maxDepthMm },
    });
    const job: Job = { ...base, blank: createDomeBlank(), lay: { ...base.lay, kind: 'drape' } };
    const { swept, reported } = await compare(job, domeShapes(), includedDeg);
    expect(swept).toBeLessThan(2);
    expect(Math.abs(swept - reported)).toBeLessThan(0.5);
  },
  120_000,
);
