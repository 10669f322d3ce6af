// The figures of the core, in one process, so that their ratios hold whatever else the machine does. Prints JSON.
import { createInscription, createJob, createVCarve } from '../../src/core/job/defaults';
import type { Job } from '../../src/core/job/schema';
import { createLetterer } from '../../src/core/pipeline/lettering';
import { createPlanner } from '../../src/core/pipeline/plan';
import { concatRings } from '../../src/core/base/rings';
import { createOutline } from '../../src/core/medial/outline';
import { computeReadBack } from '../../src/core/proof/readBack';
import { createKinematics } from '../../src/core/machine/registry';
import { createSurface } from '../../src/core/surface/registry';
import { orderStrokes } from '../../src/core/lay/order';
import { loadEngines } from '../../src/server/resources/engines';
import { createFileLibrary } from '../../src/server/resources/fonts';

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;
const time = <T>(runs: number, work: () => T): { ms: number; value: T } => {
  const all: number[] = [];
  let value!: T;
  for (let k = 0; k < runs; k++) {
    const start = performance.now();
    value = work();
    all.push(performance.now() - start);
  }
  return { ms: median(all), value };
};
const WORDS = 'TIDEWATER INSTRUMENT WORKS HARBOUR GAUGE AND LAMP MAKERS NORTH QUAY ';
const letters = (n: number, perLine: number): string => {
  let out = '', count = 0;
  for (let i = 0; count < n; i++) {
    const ch = WORDS[i % WORDS.length]!;
    out += ch;
    if (ch !== ' ' && ++count % perLine === 0) out += '\n';
  }
  return out.trim();
};
const jobOf = (text: string, font: string): Job => ({
  ...createJob('bench'),
  blank: { kind: 'cylinder', diameterMm: 80, lengthMm: 120, boreMm: 0, zero: 'axis', seamDeg: 180 },
  inscriptions: [{ ...createInscription('w', text, font, 60), heightMm: 5, rotationDeg: 90 }],
  cuts: [{ ...createVCarve('c', 'v60'), maxDepthMm: 2 }],
});

const engines = await loadEngines();
const library = createFileLibrary(engines, null);
const rows: { what: string; value: string; against: string }[] = [];

for (const [n, font, runs] of [[40, 'cinzel-bold', 5], [200, 'cinzel-bold', 3], [200, 'great-vibes', 3]] as const) {
  const job = jobOf(letters(n, 25), font);
  const lettering = createLetterer(library).compute(job);
  const made = createOutline(concatRings(lettering.artworks.map((a) => a.regions)));
  if (!made.ok) throw new Error(made.error.kind);
  const o = made.value;
  const segments = new Int32Array(4 * o.segmentCount);
  for (let i = 0; i < o.segmentCount; i++) segments.set([o.grid[2 * i]!, o.grid[2 * i + 1]!, o.grid[2 * o.next[i]!]!, o.grid[2 * o.next[i]! + 1]!], 4 * i);
  engines.voronoi.build(segments);
  const bare = time(runs, () => engines.voronoi.build(segments));
  const plan = time(runs, () => createPlanner(engines.voronoi).compute(job, lettering, () => undefined));
  rows.push({
    what: `plan of ${n} letters, ${font} (${o.segmentCount} segments, ${plan.value.moves.count} blocks)`,
    value: `${plan.ms.toFixed(0)} ms`, against: `${(plan.ms / bare.ms).toFixed(2)} × the bare Voronoi diagram of the same outlines (${bare.ms.toFixed(0)} ms)`,
  });
  const set = time(runs, () => createLetterer(library).compute(job));
  rows.push({ what: `lettering of ${n} letters, ${font}, from cold glyphs`, value: `${set.ms.toFixed(1)} ms`, against: '' });
  if (n === 200 && font === 'great-vibes') {
    // As many levels as make a hundred thousand blocks.
    const levels = Math.ceil(100_000 / plan.value.moves.count);
    const deep: Job = { ...job, cuts: [{ ...job.cuts[0]!, levels: { by: 'count', count: Math.max(2, levels * 2) } }] };
    const big = createPlanner(engines.voronoi).compute(deep, lettering, () => undefined);
    const text = big.program.lines.join('\n');
    const back = time(3, () => computeReadBack(text, big.program, big.laid, big.moves, createSurface(deep.blank), createKinematics(deep.machine, deep.blank)));
    rows.push({
      what: `read-back of ${big.moves.count} blocks (tip within ${back.value.maxTipUm.toFixed(3)} µm)`,
      value: `${back.ms.toFixed(0)} ms`, against: `${((back.ms / big.moves.count) * 1e5).toFixed(0)} ms per 100,000 blocks`,
    });
  }
  const strokes = plan.value.laid;
  void strokes;
}

// Air travel against a long search: many restarts of the same moves from random orders.
{
  const rand = (() => { let a = 9; return () => ((a = (a * 16807) % 2147483647) / 2147483647); })();
  const list = Array.from({ length: 120 }, () => {
    const [x, y] = [rand() * 60, rand() * 60];
    return Float64Array.from([x, y, 1, x + 4 * (rand() - 0.5), y + 4 * (rand() - 0.5), 1]);
  });
  const travel = (s: Float64Array[]) => s.reduce<[number, number, number]>(([sum, x, y], p) => [sum + Math.hypot(p[0]! - x, p[1]! - y), p.at(-3)!, p.at(-2)!], [0, 0, 0])[0];
  const own = time(5, () => orderStrokes(list, true, [0, 0]));
  let best = travel(own.value);
  for (let k = 0; k < 300; k++) {
    const shuffled = [...list].sort(() => rand() - 0.5);
    best = Math.min(best, travel(orderStrokes(shuffled, true, [rand() * 60, rand() * 60])));
  }
  rows.push({ what: 'air travel over 120 strokes', value: `${travel(own.value).toFixed(1)} mm in ${own.ms.toFixed(1)} ms`, against: `${(travel(own.value) / best).toFixed(3)} × the best of 300 other starts` });
}
console.log(JSON.stringify(rows));
