import { describe, expect, it } from 'vitest';
import { carveJob, createRandom, getEngines, getLibrary, lineJob, planJob, planWith, textOf, wordsOf } from '../../../tests/support';
import { createLetterer } from './lettering';
import { createPlanner } from './plan';
import { MOVE } from '../lay/laidPaths';
import type { Job } from '../job/schema';
import { createSetup } from './setup';

describe('createPlanner', () => {
  it('plans the same from what it kept as from scratch, over fifteen random edits', async () => {
    const engines = await getEngines();
    const letterer = createLetterer(await getLibrary());
    const planner = createPlanner(engines.voronoi);
    const random = createRandom(4);
    let job: Job = {
      ...carveJob('TIDE'),
      inscriptions: [...carveJob('TIDE').inscriptions, { ...lineJob('NO 3').inscriptions[0]!, id: 'number', at: { xMm: 20, turnDeg: 0 } }],
    };
    job = { ...job, tools: [...job.tools, ...lineJob('x').tools], cuts: [...job.cuts, ...lineJob('x').cuts] };
    const edits: ((j: Job) => Job)[] = [
      (j) => ({ ...j, inscriptions: j.inscriptions.map((i, k) => (k ? i : { ...i, text: `TIDE ${Math.floor(random() * 99)}` })) }),
      (j) => ({ ...j, blank: { ...j.blank, diameterMm: 30 + Math.floor(random() * 20) } }),
      (j) => ({ ...j, cuts: j.cuts.map((c) => (c.kind === 'v-carve' ? { ...c, maxDepthMm: 0.3 + random() } : c)) }),
      (j) => ({ ...j, cuts: j.cuts.map((c) => ({ ...c, levels: { by: 'count' as const, count: 1 + Math.floor(random() * 3) } })) }),
      (j) => ({ ...j, inscriptions: j.inscriptions.map((i) => ({ ...i, at: { ...i.at, turnDeg: random() * 90 } })) }),
      (j) => ({ ...j, cuts: [...j.cuts].reverse() }),
    ];
    for (let n = 0; n < 15; n++) {
      job = edits[Math.floor(random() * edits.length)]!(job);
      const lettering = letterer.compute(job);
      const kept = planWith(planner, createSetup(job), lettering);
      const { plan } = await planJob(job);
      expect(textOf(kept)).toEqual(textOf(plan));
      expect(kept.findings).toEqual(plan.findings);
    }
  }, 60_000);

  it('does not plan again what did not change, cut by cut', async () => {
    const engines = await getEngines();
    const letterer = createLetterer(await getLibrary());
    const planner = createPlanner(engines.voronoi);
    const base = carveJob('TIDE');
    const other = { ...base.inscriptions[0]!, id: 'other', text: 'NO', at: { xMm: 20, turnDeg: 0 } };
    const [own] = base.cuts as [Job['cuts'][number]];
    const job: Job = {
      ...base,
      inscriptions: [...base.inscriptions, other],
      cuts: [
        { ...own, targets: ['words'] },
        { ...own, id: 'second', targets: ['other'] },
      ],
    };
    const counts = (j: Job) => planWith(planner, createSetup(j), letterer.compute(j)).cuts.map((c) => c.pieces);
    expect(counts(job)).toEqual([
      { kept: 0, made: 4 },
      { kept: 0, made: 2 },
    ]);
    expect(counts(job)).toEqual([
      { kept: 4, made: 0 },
      { kept: 2, made: 0 },
    ]);
    // One slot of the second changed: the first is not planned again. A changed letter is planned alone.
    const shallow: Job = { ...job, cuts: [job.cuts[0]!, { ...job.cuts[1]!, maxDepthMm: 0.2 } as Job['cuts'][number]] };
    expect(counts(shallow)).toEqual([
      { kept: 4, made: 0 },
      { kept: 0, made: 2 },
    ]);
    const worded: Job = { ...job, inscriptions: [{ ...base.inscriptions[0]!, text: 'TIDY' } as Job['inscriptions'][number], other] };
    expect(counts(worded)[0]).toEqual({ kept: 3, made: 1 });
  });

  it('carves what the lettering says now, not what the job said before (regression: a date that passed midnight)', async () => {
    const engines = await getEngines();
    let today = '2026-03-31';
    const letterer = createLetterer(await getLibrary(), () => today);
    const planner = createPlanner(engines.voronoi);
    const job = carveJob('{date}');
    const programOf = () => textOf(planWith(planner, createSetup(job), letterer.compute(job)));
    const before = programOf();
    expect(programOf()).toEqual(before);
    today = '2026-04-01';
    expect(programOf()).not.toEqual(before);
  });

  it('neither shows nor cuts what is hidden, and says nothing of it', async () => {
    const { plan, findings, lettering } = await planJob({ ...carveJob('SEEN', { words: { hidden: true } }), cuts: [] });
    expect(lettering.artworks[0]!.regions.xy).toHaveLength(0);
    expect(plan.laid.count).toBe(0);
    expect(findings).toEqual([]);
  });

  it('may be left between two steps: what was carved by then stays carved', async () => {
    const { voronoi } = await getEngines();
    let diagrams = 0;
    const planner = createPlanner({ build: (segments) => (diagrams++, voronoi.build(segments)) });
    const job = carveJob('STOP HERE');
    const setup = createSetup(job);
    const lettering = createLetterer(await getLibrary()).compute(job);
    const steps = planner.plan(setup, lettering);
    for (let k = 0; k < 4; k++) steps.next();
    expect(diagrams).toBe(4);
    const plan = planWith(planner, setup, lettering);
    // S T O P H E R: seven different letters, E twice; four were there.
    expect(diagrams).toBe(7);
    expect(textOf(plan)).toBe(textOf((await planJob(job)).plan));
  });

  it('cuts exactly to the depths of its levels', async () => {
    const job = lineJob('LEVELS', { depthMm: 0.6, levels: { by: 'step', stepMm: 0.25, even: false, finishMm: 0.05 } });
    const { plan } = await planJob(job);
    expect(plan.cuts[0]!.levelsMm.map((d) => +d.toFixed(9))).toEqual([0.25, 0.5, 0.55, 0.6]);
    const depths = new Set<number>();
    for (let i = 0; i < plan.laid.count; i++) if (plan.laid.kind[i] === MOVE.cut) depths.add(+plan.laid.sheet[3 * i + 2]!.toFixed(9));
    expect([...depths].sort()).toEqual([0.25, 0.5, 0.55, 0.6]);
  });

  it('leaves out cuts that are switched off, and takes a job without lettering or cuts', async () => {
    const off = carveJob('OFF', { carve: { enabled: false } });
    expect((await planJob(off)).plan.laid.count).toBe(0);
    for (const job of [carveJob(''), { ...carveJob('x'), cuts: [] }, { ...carveJob('x'), inscriptions: [], cuts: [] }]) {
      const { plan } = await planJob(job);
      expect(plan.timeS).toBe(0);
      expect(plan.program.parts[0]!.lines.at(-2)).toBe('M2');
    }
  });

  it.each(['👩‍👩‍👧', 'שלום עולם', 'e\u0301\u0327a\u030a', '\u202eRTL', '\u0000\u0007', 'ﷺ', 'ß'.repeat(80), '\n'.repeat(50), 'A\ud800B'])(
    'takes %j: planned, or named as missing',
    async (text) => {
      const { plan, findings, proof } = await planJob(carveJob(text, { font: 'dejavu-sans' }));
      expect(plan.laid.count > 0 || findings.length > 0).toBe(true);
      expect(proof.readBack.maxTipUm).toBeLessThan(2);
    },
    60_000,
  );
});

describe('lettering with every font of the house', () => {
  it.each(['dejavu-sans-bold', 'dejavu-serif-bold', 'montserrat-bold', 'cinzel-bold', 'zilla-slab-bold', 'great-vibes'])(
    '%s carves whole and reads back',
    async (font) => {
      const { plan, findings } = await planJob(carveJob('Quay & 8 %', { font, blank: { diameterMm: 60 } }));
      expect(findings.filter((f) => f.severity === 'spoils')).toEqual([]);
      expect(plan.laid.count).toBeGreaterThan(100);
    },
    60_000,
  );
  it.each(['hershey-sans', 'hershey-script', 'ems-readability', 'ems-tech'])('%s engraves', async (font) => {
    const job = lineJob('Quay & 8 é');
    wordsOf(job).font = { id: font };
    const { plan, findings } = await planJob(job);
    // A stroke a letter at the least.
    expect(plan.cuts[0]!.strokes).toBeGreaterThanOrEqual(7);
    expect(findings).toEqual([]);
  });

  it('counts changes and run-up on top of its moves, and says what it takes if every corner is run out', async () => {
    const one = carveJob('SO');
    const second = { ...one.tools[0]!, id: 'second', number: 2 };
    const two: Job = {
      ...one,
      tools: [...one.tools, second],
      inscriptions: [
        ...one.inscriptions,
        { ...one.inscriptions[0]!, id: 'b', at: { xMm: 60, turnDeg: 60 } } as Job['inscriptions'][number],
      ],
      cuts: [
        { ...one.cuts[0]!, targets: ['words'] },
        { ...one.cuts[0]!, id: 'c2', toolId: 'second', targets: ['b'] },
      ],
    };
    const timesOf = async (job: Job, patch: Partial<Job['machine']> = {}) => {
      const { plan } = await planJob({ ...job, machine: { ...job.machine, toolChangeS: 50, spindleRunUpS: 4, ...patch } });
      return plan;
    };
    expect((await timesOf(one)).standingS).toBe(4);
    expect((await timesOf(one, { toolChanger: true, toolLengths: 'table' })).standingS).toBe(54);
    expect((await timesOf(two)).standingS).toBe(58);
    expect((await timesOf(two, { toolChanger: true, toolLengths: 'table' })).standingS).toBe(108);
    const plan = await timesOf(one);
    expect(plan.timeS).toBe(plan.timesS.at(-1));
    expect(plan.stopTimeS).toBeGreaterThan(1.05 * plan.timeS);
    expect((await timesOf(one, { cornerToleranceMm: 0 })).timeS).toBe(plan.stopTimeS);
  });
});
