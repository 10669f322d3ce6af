// The figures of the core, in one process, so that their ratios hold whatever else the machine does. Prints JSON.
import { STARTER_TOOLS } from '../../src/core/crib/starterTools';
import { createCut } from '../../src/core/cut/kinds/registry';
import { cleanDrawing } from '../../src/core/import/clean';
import { readSvg } from '../../src/core/import/svg';
import { createArtwork, createBlank, createInscription, createJob, createSeries } from '../../src/core/job/defaults';
import { createLay, type Job } from '../../src/core/job/schema';
import { createProfileNodes } from '../../src/core/surface/profileShapes';
import { createLetterer } from '../../src/core/pipeline/lettering';
import { createPlanner } from '../../src/core/pipeline/plan';
import { concatRings } from '../../src/core/base/rings';
import { createOutline } from '../../src/core/medial/outline';
import { computeReadBack } from '../../src/core/proof/readBack';
import { findConductFaults } from '../../src/core/proof/conduct';
import { createSetup } from '../../src/core/pipeline/setup';
import { DIALECTS } from '../../src/core/program/registry';
import { runSteps } from '../../src/core/base/steps';
import { createAir } from '../../src/core/lay/air';
import { orderStrokes } from '../../src/core/lay/order';
import { Tour } from '../../src/core/lay/tour';
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
  let out = '',
    count = 0;
  for (let i = 0; count < n; i++) {
    const ch = WORDS[i % WORDS.length]!;
    out += ch;
    if (ch !== ' ' && ++count % perLine === 0) out += '\n';
  }
  return out.trim();
};
const jobOf = (text: string, font: string): Job => ({
  ...createJob('bench'),
  blank: { ...createBlank('cylinder'), diameterMm: 80, lengthMm: 120 },
  inscriptions: [{ ...createInscription('w', text, font, 60), heightMm: 5, rotationDeg: 90 }],
  cuts: [{ ...createCut('v-carve', 'c', 'v60'), maxDepthMm: 2 }],
});

const engines = await loadEngines();
const library = createFileLibrary(engines, null);
const rows: { what: string; value: string; against: string }[] = [];

for (const [n, font, runs] of [
  [40, 'cinzel-bold', 5],
  [200, 'cinzel-bold', 3],
  [200, 'great-vibes', 3],
] as const) {
  const job = jobOf(letters(n, 25), font);
  const lettering = createLetterer(library).compute(job);
  const made = createOutline(concatRings(lettering.artworks.map((a) => a.regions)));
  if (!made.ok) throw new Error(made.error.kind);
  const o = made.value;
  const segments = new Int32Array(4 * o.segmentCount);
  for (let i = 0; i < o.segmentCount; i++)
    segments.set([o.grid[2 * i]!, o.grid[2 * i + 1]!, o.grid[2 * o.next[i]!]!, o.grid[2 * o.next[i]! + 1]!], 4 * i);
  engines.voronoi.build(segments);
  const bare = time(runs, () => engines.voronoi.build(segments));
  // From the lettering to a program that was read back.
  const plan = time(runs, () => {
    const setup = createSetup(job);
    const made = runSteps(createPlanner(engines.voronoi).plan(setup, lettering));
    runSteps(computeReadBack(setup, made));
    return made;
  });
  rows.push({
    what: `plan of ${n} letters, ${font} (${o.segmentCount} segments, ${plan.value.moves.count} blocks)`,
    value: `${plan.ms.toFixed(0)} ms`,
    against: `${(plan.ms / bare.ms).toFixed(2)} × the bare Voronoi diagram of the same outlines (${bare.ms.toFixed(0)} ms)`,
  });
  const set = time(runs, () => createLetterer(library).compute(job));
  rows.push({ what: `lettering of ${n} letters, ${font}, from cold glyphs`, value: `${set.ms.toFixed(1)} ms`, against: '' });
  if (n === 200 && font === 'great-vibes') {
    // As many levels as make a hundred thousand blocks.
    const levels = Math.ceil(100_000 / plan.value.moves.count);
    const deep: Job = { ...job, cuts: [{ ...job.cuts[0]!, levels: { by: 'count', count: Math.max(2, levels * 2) } }] };
    const setup = createSetup(deep);
    const big = runSteps(createPlanner(engines.voronoi).plan(setup, lettering));
    const { kinematics, runs: cutRuns } = setup;
    const input = { job: deep, kinematics, laid: big.laid, moves: big.moves, runs: cutRuns };
    for (const id of ['rs274', 'iso6983', 'short-lines'] as const) {
      const posted = time(3, () => runSteps(DIALECTS[id].write(input, 'none')));
      rows.push({
        what: `posting of ${big.moves.count} blocks, ${DIALECTS[id].name}`,
        value: `${posted.ms.toFixed(0)} ms`,
        against: `${((posted.ms / big.moves.count) * 1e5).toFixed(0)} ms per 100,000 blocks, limit 1000`,
      });
    }
    const back = time(3, () => runSteps(computeReadBack(setup, big)));
    const judged = time(3, () => findConductFaults(setup, big, back.value.readings));
    rows.push({
      what: `read-back of ${big.moves.count} blocks (tip within ${back.value.maxTipUm.toFixed(3)} µm)`,
      value: `${back.ms.toFixed(0)} ms`,
      against: `${((back.ms / big.moves.count) * 1e5).toFixed(0)} ms per 100,000 blocks, limit 1000; tools, spindle and heights judged in ${judged.ms.toFixed(0)} ms`,
    });
  }
}

// Cuts: figures with limits of their own.
{
  const planFresh = (job: Job) => {
    const lettering = createLetterer(library).compute(job);
    return () => runSteps(createPlanner(engines.voronoi).plan(createSetup(job), lettering));
  };
  const bareOf = (job: Job): number => {
    const made = createOutline(
      concatRings(
        createLetterer(library)
          .compute(job)
          .artworks.map((a) => a.regions),
      ),
    );
    if (!made.ok) throw new Error(made.error.kind);
    const o = made.value;
    const ends = Array.from({ length: o.segmentCount }, (_, i) => [
      o.grid[2 * i]!,
      o.grid[2 * i + 1]!,
      o.grid[2 * o.next[i]!]!,
      o.grid[2 * o.next[i]! + 1]!,
    ]);
    const segments = Int32Array.from(ends.flat());
    return time(3, () => engines.voronoi.build(segments)).ms;
  };
  const barrel: Job = {
    ...jobOf(letters(200, 25), 'cinzel-bold'),
    blank: { ...createBlank('turned'), profile: createProfileNodes('barrel', 80, 120) },
    lay: { ...createLay(), kind: 'level' },
  };
  // In turn, since the machine's pace changes while one of them is timed.
  const pairs = [0, 1, 2].map(() => [time(1, planFresh(barrel)).ms, bareOf(barrel)] as const);
  const [onBarrel, bare] = pairs.sort((a, b) => a[0] / a[1] - b[0] / b[1])[1]!;
  rows.push({
    what: 'plan of 200 letters on a barrel, cinzel-bold',
    value: `${onBarrel.toFixed(0)} ms`,
    against: `${(onBarrel / bare).toFixed(2)} × the bare Voronoi diagram (${bare.toFixed(0)} ms), limit 6`,
  });
  const base = jobOf(letters(2000, 80), 'cinzel-bold');
  const many: Job = {
    ...base,
    blank: { ...createBlank('cylinder'), diameterMm: 160, lengthMm: 260 },
    inscriptions: [{ ...base.inscriptions[0]!, at: { xMm: 130, turnDeg: 0 } }],
  };
  globalThis.gc?.();
  const heap = process.memoryUsage().rss;
  const of2000 = time(1, () => {
    const made = planFresh(many)();
    runSteps(computeReadBack(createSetup(many), made));
    return made.moves.count;
  });
  rows.push({
    what: `2,000 letters on a cylinder, from the words to a program that was read back (${of2000.value} blocks)`,
    value: `${(of2000.ms / 1000).toFixed(2)} s`,
    against: `limit 8 s; ${((process.memoryUsage().rss - heap) / 1e6).toFixed(0)} MB more than before it, limit 400`,
  });
  const forty = jobOf(letters(40, 25), 'cinzel-bold');
  const lettering = createLetterer(library).compute(forty);
  const planner = createPlanner(engines.voronoi);
  runSteps(planner.plan(createSetup(forty), lettering));
  let depth = 0.5;
  const slot = time(7, () => {
    const cuts = forty.cuts.map((c) => ({ ...c, maxDepthMm: (depth += 0.01) }));
    return runSteps(planner.plan(createSetup({ ...forty, cuts }), lettering));
  });
  rows.push({
    what: 'one slot changed to new passes, 40 letters',
    value: `${slot.ms.toFixed(0)} ms`,
    against: 'the depth limit; limit 300 ms',
  });
  const mill = STARTER_TOOLS.find((t) => t.id === 'flat2')!;
  const twelve: Job = {
    ...jobOf('SALTMARSHWAY', 'zilla-slab-bold'),
    tools: [mill],
    cuts: [{ ...createCut('pocket', 'p', mill.id), depthMm: 0.5 }],
  };
  const large = { ...twelve, inscriptions: [{ ...twelve.inscriptions[0]!, heightMm: 16 }] } as Job;
  rows.push({
    what: 'pocket of a word of 12 letters, 2 mm cutter',
    value: `${time(5, planFresh(large)).ms.toFixed(0)} ms`,
    against: 'limit 300 ms',
  });
  const ring = (x: number, y: number): number[] =>
    Array.from({ length: 500 }, (_, k) => (2 * Math.PI * k) / 500).flatMap((t) => {
      const r = 4 + 0.8 * Math.sin(9 * t) + 0.1 * Math.sin(61 * t);
      return [x + r * Math.cos(t), y + r * Math.sin(t)];
    });
  const rings = Array.from({ length: 20 }, (_, i) => ring(12 * (i % 5) - 24, 12 * Math.floor(i / 5) - 18));
  const artwork: Job = { ...forty, inscriptions: [createArtwork('a', 'a', 60, [{ name: 'a', on: true, rings, chains: [] }])] };
  rows.push({
    what: 'artwork of 10,000 vertices V-carved',
    value: `${(time(3, planFresh(artwork)).ms / 1000).toFixed(2)} s`,
    against: 'limit 2 s',
  });
}

{
  const series = {
    ...createSeries('s', 'hershey-sans', 10),
    shape: 'dial' as const,
    radiusMm: 120,
    from: 0,
    to: 3600,
    step: 1,
    minor: { every: 1, lengthMm: 1, widthMm: 0 },
    labels: { ...createSeries('s', 'hershey-sans', 10).labels, every: 100 },
  };
  const job: Job = { ...createJob('series'), inscriptions: [series] };
  const set = time(9, () => createLetterer(library).compute(job));
  rows.push({ what: 'series of 3,600 marks with 36 labels laid out', value: `${set.ms.toFixed(0)} ms`, against: 'limit 100 ms' });
}
{
  // As drawing programs write traced artwork: curves of a millimetre or two with three decimals, forty to an outline.
  let d = '';
  let curves = 0;
  for (let k = 0; d.length < 5_000_000; k++) {
    d += `<path d="M${(k % 100) * 45}.125 ${Math.floor(k / 100) * 45 + 20}.250`;
    for (let i = 0; i < 40; i++, curves++) {
      const [a, b] = [(i * Math.PI) / 20, ((i + 1) * Math.PI) / 20];
      const r = i % 2 ? 12.345 : 14.321;
      d += `c${(-r * 0.05 * Math.sin(a)).toFixed(3)},${(r * 0.05 * Math.cos(a)).toFixed(3)} ${(r * (Math.cos(b) - Math.cos(a)) + 0.3).toFixed(3)},${(r * (Math.sin(b) - Math.sin(a)) - 0.2).toFixed(3)} ${(r * (Math.cos(b) - Math.cos(a))).toFixed(3)},${(r * (Math.sin(b) - Math.sin(a))).toFixed(3)}`;
    }
    d += 'z"/>\n';
  }
  const svg = `<svg width="5000mm" height="4000mm" viewBox="0 0 5000 4000"><g id="all">${d}</g></svg>`;
  const read = time(3, () => {
    const drawing = readSvg(svg, 0.005);
    if (!drawing.ok) throw new Error(drawing.error.kind);
    return drawing.value;
  });
  const clean = time(1, () => cleanDrawing(read.value, { joinMm: 0.05, layers: null, closedAreAreas: false }));
  rows.push({
    what: `SVG of ${(svg.length / 1e6).toFixed(1)} MB with ${curves} curves read`,
    value: `${read.ms.toFixed(0)} ms`,
    against: `cleaning ${read.value.lines.reduce((n, l) => n + l.xy.length / 2, 0)} points ${clean.ms.toFixed(0)} ms; limit 3 s together`,
  });
}
// Air travel against a long search: many restarts of the same moves from random orders.
{
  const rand = (() => {
    let a = 9;
    return () => (a = (a * 16807) % 2147483647) / 2147483647;
  })();
  const list = Array.from({ length: 120 }, () => {
    const [x, y] = [rand() * 60, rand() * 60];
    return Float64Array.from([x, y, 1, x + 4 * (rand() - 0.5), y + 4 * (rand() - 0.5), 1]);
  });
  const machine = createSetup(createJob('air'));
  const air = createAir(machine.work, machine.kinematics, { ...createJob('air').motion }, 120);
  // The seconds from end to end, as the order itself counts them, less what no order saves: up, down and in.
  const measure = (s: Float64Array[]) => new Tour(s, [0, 0], air).computeSeconds() - bare;
  const dots = [0, 0.0001].map((x) => Float64Array.of(x, 0, 1, x, 0, 1));
  const bare = 119 * (new Tour(dots, [0, 0], air).computeSeconds() - new Tour(dots.slice(1), [0, 0], air).computeSeconds());
  const own = time(5, () => orderStrokes(list, true, [0, 0], air));
  let best = measure(own.value);
  for (let k = 0; k < 300; k++) {
    const shuffled = [...list].sort(() => rand() - 0.5);
    best = Math.min(best, measure(orderStrokes(shuffled, true, [rand() * 60, rand() * 60], air)));
  }
  rows.push({
    what: 'time across over 120 strokes',
    value: `${measure(own.value).toFixed(2)} s in ${own.ms.toFixed(1)} ms`,
    against: `${(measure(own.value) / best).toFixed(3)} × the best of 300 other starts`,
  });
}
console.log(JSON.stringify(rows));
