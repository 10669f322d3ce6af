import { runSteps } from '../base/steps';
import { describe, expect, it } from 'vitest';
import { carveJob, lineJob, machineWith, planJob, proveWith, readNc, textOf } from '../../../tests/support';
import { createTool } from '../crib/starterTools';
import { createCut } from '../cut/kinds/registry';
import { createBlank, DEFAULT_MACHINE } from '../job/defaults';
import type { Machine } from '../job/schema';
import { isFeedMove } from '../lay/laidPaths';
import { computeReadBack } from '../proof/readBack';
import { ForeignReader } from './foreign';
import { rs274 } from './rs274';
import { toPartName } from './dialect';
import { formatFeed, formatWord, toComment, toPlain } from './words';

const plannedWith = (machine: Partial<Machine>) => planJob(lineJob('OX', {}, { machine: { ...DEFAULT_MACHINE, ...machine } }));

/** A pocket of round letters on a plate, by a machine that takes arcs or not. */
const pocketWith = (machine: Partial<Machine>) => {
  const job = carveJob('SO', { words: { heightMm: 14, at: { xMm: 40, turnDeg: 0 }, rotationDeg: 0 } });
  const mill = createTool('mill', 1, 'Mill 1', 'flat', { diameterMm: 1, fluteLengthMm: 8 });
  const cuts = [{ ...createCut('pocket', 'c', 'mill'), depthMm: 0.4 }];
  return planJob({ ...job, blank: createBlank('plate'), tools: [mill], cuts, machine: { ...DEFAULT_MACHINE, ...machine } });
};

describe('arcs on a plate', () => {
  it.each(['G93', 'G94'] as const)('stand for many lines in %s, last as long, and read back within their tolerance', async (feedMode) => {
    const [arcs, lines] = [await pocketWith({ arcMm: 0.003, feedMode }), await pocketWith({ arcMm: 0, feedMode })];
    const text = textOf(arcs.plan);
    expect(text.match(/^(G9[34] )?(G[23] )?.*\bI-?[\d.]+ J-?[\d.]+ F/gm)!.length).toBeGreaterThan(20);
    expect(textOf(lines.plan)).not.toMatch(/G[23] /);
    const count = ({ plan }: typeof arcs) => plan.program.parts[0]!.lines.length;
    expect(count(arcs)).toBeLessThan(0.8 * count(lines));
    const { readBack } = arcs.proof;
    expect(readBack.faults).toEqual([]);
    // Within the arc's tolerance at its points, and beside them.
    expect(readBack.maxTipUm).toBeGreaterThan(0.5);
    expect(readBack.maxTipUm).toBeLessThan(3 + 0.75 + readBack.lastDigitUm);
    expect(readBack.maxTimeRatio).toBeLessThan(2e-4);
    expect(readBack.mirrored).toBe(false);
    expect(readBack.arcs).toBeGreaterThan(20);
    expect(arcs.findings.filter((f) => f.severity !== 'notes').map((f) => f.code)).toEqual(
      lines.findings.filter((f) => f.severity !== 'notes').map((f) => f.code),
    );
    const total = ({ plan }: typeof arcs) => readNc(textOf(plan)).motions.reduce((sum, m) => sum + m.timeMin, 0);
    expect(total(arcs) / total(lines)).toBeCloseTo(1, 3);
    // What is read by the reader of programs from elsewhere is the same way.
    const foreign = new ForeignReader(text.length);
    runSteps(foreign.read(text));
    const { motions, faults } = foreign.finish();
    expect(faults).toEqual([]);
    const own = readNc(text).motions;
    expect([...motions.end.subarray(6 * (motions.count - 1), 6 * motions.count)]).toEqual([...own.at(-1)!.end]);
  });

  it('that are written the wrong way round, or about another centre, are seen', async () => {
    const planned = await pocketWith({ arcMm: 0.003 });
    const text = textOf(planned.plan);
    const wrong = [text.replace(/^G2 /m, 'G3 ').replace(/^G3 (?!.*\n)/m, 'G3 '), text.replace(/^(G[23] .*I)(-?)([\d.]+)/m, '$1$2' + '0.9')];
    const readBackOf = (own: string) => runSteps(computeReadBack(planned.setup, planned.plan, [own]));
    for (const own of wrong) {
      const back = readBackOf(own);
      expect(back.maxTipUm > 20 || back.faults.length > 0).toBe(true);
    }
    expect(readBackOf(text).maxTipUm).toBeLessThan(4);
  });

  it('are none where the blank turns, or the control stops at every corner', async () => {
    expect(textOf((await plannedWith({ arcMm: 0.003 })).plan)).not.toMatch(/G[23] /);
    expect(textOf((await pocketWith({ arcMm: 0.003, cornerToleranceMm: 0 })).plan)).not.toMatch(/G[23] /);
  });
});

describe('rs274', () => {
  it('writes F on every cutting block in G93, and the block lasts length over feed', async () => {
    const { plan } = await plannedWith({ feedMode: 'G93' });
    const { program, moves, laid } = plan;
    const { motions } = readNc(textOf(plan));
    const byLine = new Map(motions.map((m) => [m.line, m]));
    let checked = 0;
    for (let i = 1; i < moves.count; i++) {
      const m = byLine.get(program.lineOfBlock[i]!);
      if (!m || !isFeedMove(laid.kind[moves.move[i]!]!) || program.lineOfBlock[i] === program.lineOfBlock[i - 1]) continue;
      expect(program.parts[0]!.lines[m.line]).toMatch(/F[\d.]+$/);
      expect(m.timeMin / moves.feedTimeMin[i]! - 1).toBeCloseTo(0, 5);
      checked++;
    }
    expect(checked).toBeGreaterThan(20);
  });

  it('compensates the feed in G94 so that blocks last the same', async () => {
    const g93 = await plannedWith({ feedMode: 'G93' });
    const g94 = await plannedWith({ feedMode: 'G94' });
    const total = ({ plan }: typeof g93) => readNc(textOf(plan)).motions.reduce((sum, m) => sum + m.timeMin, 0);
    expect(total(g94)).toBeCloseTo(total(g93), 6);
    expect(g94.proof.readBack.maxTimeRatio).toBeLessThan(1e-5);
    expect(textOf(g94.plan)).not.toContain('G93');
  });

  it('brings Z up alone before anything else moves, and never feeds in the first motion', async () => {
    const { motions } = readNc(textOf((await plannedWith({})).plan));
    expect(motions[0]!.rapid).toBe(true);
    expect([...motions[0]!.end].map((v, k) => (k === 2 ? v > 0 : v === 0))).toEqual([true, true, true, true, true, true]);
  });

  it.each([
    ['A', 'Y', 'X'],
    ['B', 'X', 'Y'],
    ['A', 'X', 'Y'],
    ['C', 'Y', 'X'],
  ] as const)('turns %s, wraps %s, runs along %s', async (letter, wrappedAxis, along) => {
    const { plan, proof } = await plannedWith(machineWith({ letter }, wrappedAxis));
    const { motions, faults } = readNc(textOf(plan));
    expect(faults).toEqual([]);
    const k = 'XYZABC'.indexOf(along),
      r = 'XYZABC'.indexOf(letter),
      w = 'XYZABC'.indexOf(wrappedAxis);
    expect(new Set(motions.map((m) => m.end[k])).size).toBeGreaterThan(5);
    expect(new Set(motions.map((m) => m.end[r])).size).toBeGreaterThan(5);
    expect(new Set(motions.map((m) => m.end[w]))).toEqual(new Set([0]));
    expect(proof.readBack.maxTipUm).toBeLessThan(2);
  });

  it('changes tools with T M6 only where there is a changer, else stops', async () => {
    const job = carveJob('A');
    job.tools.push({ ...job.tools[0]!, id: 'second', number: 2 });
    job.cuts.push({ ...job.cuts[0]!, id: 'again', toolId: 'second' });
    const text = async (toolChanger: boolean) => textOf((await planJob({ ...job, machine: { ...job.machine, toolChanger } })).plan);
    const hand = await text(false);
    expect(hand).not.toContain('M6');
    expect(hand).toContain('M0');
    const changer = await text(true);
    expect(readNc(changer).stops.map((s) => `${s.kind} ${s.tool}`)).toEqual(['change 1', 'change 2', 'end 2']);
    expect(changer).not.toContain('M0');
  });

  it('writes one file for each cutter where asked to: each starts from nothing, ends by itself, and is proved', async () => {
    const job = carveJob('A');
    job.tools.push({ ...job.tools[0]!, id: 'second', number: 2 });
    job.cuts.push({ ...job.cuts[0]!, id: 'again', toolId: 'second' });
    const { setup, lettering, plan } = await planJob(job);
    const { kinematics, runs } = setup;
    const program = runSteps(rs274.write({ job, kinematics, laid: plan.laid, moves: plan.moves, runs }, 'tool'));
    expect(program.parts.map((part) => part.suffix)).toEqual(['1-T1', '2-T2']);
    for (const part of program.parts) {
      const { motions, stops, faults } = readNc(part.lines.join('\n'));
      expect(faults).toEqual([]);
      expect(stops.map((s) => s.kind)).toEqual(['end']);
      expect([...motions[0]!.end].map((v, k) => (k === 2 ? v > 40 : v === 0))).toEqual([true, true, true, true, true, true]);
    }
    const proof = proveWith(setup, lettering, { ...plan, program });
    expect(proof.findings).toEqual([]);
    expect(proof.readBack.maxTipUm).toBeLessThan(2);
  });

  it('goes out as a file for each cutter in the spindle where the machine wants it so, one that comes again in a file of its own', async () => {
    const job = carveJob('A');
    job.machine = { ...job.machine, files: 'per-cutter' };
    job.tools.push({ ...job.tools[0]!, id: 'second', number: 2 });
    job.cuts.push({ ...job.cuts[0]!, id: 'other', toolId: 'second' }, { ...job.cuts[0]!, id: 'again' });
    const { plan, proof } = await planJob(job);
    expect(plan.findings.find((f) => f.code === 'tool-by-hand')!.text).toContain('each change begins a file of its own');
    expect(plan.program.parts.map((p) => toPartName(p, 'a'))).toEqual(['a-1-T1.nc', 'a-2-T2.nc', 'a-3-T1.nc']);
    expect(proof.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
  });

  it('leaves the control as it is usually found: units a minute, spindle off, program ended', async () => {
    const { plan } = await plannedWith({ feedMode: 'G93' });
    expect(plan.program.parts.map((p) => p.suffix)).toEqual(['']);
    expect(plan.program.parts[0]!.lines.slice(-4)).toEqual(['G94', 'M5', 'M2', '%']);
    expect(textOf((await plannedWith({ feedMode: 'G94' })).plan)).toMatch(/Z45\.\nM5\nM2\n%$/);
  });

  it('leaves a change with a control in a known state: units a minute, then Z before anything else', async () => {
    const job = carveJob('A');
    job.tools.push({ ...job.tools[0]!, id: 'second', name: 'finer', number: 2 });
    job.cuts.push({ ...job.cuts[0]!, id: 'again', toolId: 'second' });
    const after = async (machine: Partial<Machine>) => {
      const lines = textOf((await planJob({ ...job, machine: { ...job.machine, ...machine } })).plan).split('\n');
      const at = lines.findIndex((l) => l.startsWith('(cut 2'));
      return lines.slice(at - 1, at + 8);
    };
    expect(await after({ toolChanger: false })).toEqual([
      'G0 Z45.',
      '(cut 2: V-carve)',
      'G94',
      'M5',
      '(put in tool 2, finer, and set Z zero again)',
      'M0',
      'S18000 M3',
      'G0 Z45.',
      expect.stringMatching(/^G0 X[\d.-]+ Y0\. A[\d.-]+$/) as string,
    ]);
    // Regression: lengths from the control's table were called by a changer alone, and every program without one was refused.
    expect((await after({ toolChanger: false, toolLengths: 'table' })).slice(1, 8)).toEqual([
      '(cut 2: V-carve)',
      'G94',
      'M5',
      '(put in tool 2, finer)',
      'M0',
      'G43 H2',
      'S18000 M3',
    ]);
    expect((await after({ toolChanger: true, toolLengths: 'table' })).slice(1, 7)).toEqual([
      '(cut 2: V-carve)',
      'G94',
      'M5',
      'T2 M6',
      'G43 H2',
      'S18000 M3',
    ]);
  });

  it('changes between two cutters of one number all the same (regression: cut 2 ran with cutter 1)', async () => {
    const job = carveJob('A');
    job.tools.push({ ...job.tools[0]!, id: 'second' });
    job.cuts.push({ ...job.cuts[0]!, id: 'again', toolId: 'second' });
    const { plan, findings } = await planJob(job);
    expect(textOf(plan).match(/^M0$/gm)).toHaveLength(1);
    expect(findings.map((f) => f.code)).toContain('tool-number-twice');
  });

  it('keeps comments plain, whatever the job is called', async () => {
    const { plan } = await planJob(lineJob('I', {}, { name: 'Ørsted (no. 2) ⚓\n; M30 %' }));
    expect(readNc(textOf(plan)).faults).toEqual([]);
    plan.program.parts[0]!.lines.forEach((l) => expect(l).toMatch(/^[\x20-\x7e]*$/));
  });
});

describe('formatWord', () => {
  it.each([
    [1.5, 4, '1.5'],
    [2, 3, '2.'],
    [-0.00001, 4, '0.'],
    [0.12344999, 4, '0.1234'],
    [-3.1, 2, '-3.1'],
  ])('%d with %d digits is %s', (v, d, text) => expect(formatWord(v, d)).toBe(text));
});

describe('formatFeed', () => {
  it.each([
    [14253626.4, '14253626.'],
    [53921.351, '53921.35'],
    [0.0012345678, '0.001234568'],
    [1e-9, '0.000000001'],
  ])('keeps seven digits that count: %d is %s', (v, text) => expect(formatFeed(v)).toBe(text));
});

describe('toPlain and toComment', () => {
  it.each([
    ['½" Größe Ø6', '1/2" Groesse dia 6'],
    ['Ø 12,5 × 3 mm', 'dia 12,5 x 3 mm'],
    ['Ørsted & Łódź, 45° ±2 µm', 'Orsted & Lodz, 45 deg +/-2 um'],
    ['naïve “quoted” – 1½ in', 'naive "quoted" - 1 1/2 in'],
    ['鐘 bell', '? bell'],
  ])('%s becomes %s', (text, plain) => expect(toPlain(text)).toBe(plain));
  it('never begins with a word of the person’s, which a control might act on', () => {
    expect(toComment('Hobel:', 'MSG, look out')).toBe('(Hobel: MSG, look out)');
    expect(toComment('cut 1:', 'LOGOPEN, x) M30 (')).toBe('(cut 1: LOGOPEN, x M30 )');
    expect(toComment('a', 'x'.repeat(300)).length).toBe(102);
  });
});

describe('every comment of a program', () => {
  it('begins with a word of ours', async () => {
    const job = lineJob('I', { name: 'MSG, cut' }, { name: 'LOGOPEN, file' });
    job.tools[0]!.name = 'PRINT, x';
    for (const line of textOf((await planJob(job)).plan)
      .split('\n')
      .filter((l) => l.startsWith('('))) {
      expect(line).toMatch(/^\((Hobel:|blank |zero |A is |rotary |T\d+ |cut \d+: |tool \d+ in |put in |waits |read back: not yet)/);
    }
  });
});
