import { describe, expect, it } from 'vitest';
import { carveJob, codesOf, planJob, readNc, textOf } from '../../../tests/support';
import { createTool } from '../crib/starterTools';
import { createCut } from '../cut/kinds/registry';
import { machineSchema, type Job, type Machine } from '../job/schema';
import { findOwnBlockFaults } from './ownBlocks';
import { DIALECTS } from './registry';

const own = (ownBlocks: Partial<Machine['ownBlocks']>, patch: Partial<Machine> = {}): Machine => ({
  ...carveJob('x').machine,
  ...patch,
  ownBlocks: { start: '', change: null, end: '', ...ownBlocks },
});

/** Two cuts with a cutter each. */
function twoCutters(machine: Machine): Job {
  const job = carveJob('O', { words: { heightMm: 12 } });
  return {
    ...job,
    machine,
    tools: [...job.tools, createTool('fine', 7, 'Fine (Größe ½)', 'v', { includedDeg: 60, diameterMm: 6, fluteLengthMm: 5 })],
    cuts: [...job.cuts, { ...createCut('v-carve', 'again', 'fine'), maxDepthMm: 5, spindleRpm: 12000 }],
  };
}

describe('blocks of a machine of its own', () => {
  it('stand after the opening, in place of the change, and before the end, with their placeholders filled in', async () => {
    const machine = own({ start: 'G55 (of {job})', change: 'M5\nT{number} M6 ({tool}, {rpm})', end: 'G0 Z{park}' }, { toolChanger: true });
    const { plan, findings } = await planJob(twoCutters(machine));
    expect(findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    const lines = textOf(plan).split('\n');
    const opening = lines.findIndex((l) => l.startsWith('G64'));
    expect(lines[opening + 1]).toBe('G55 (of Test piece)');
    const changes = lines.filter((l) => l.includes('M6'));
    expect(changes).toEqual(['T1 M6 (cutter, 18000)', 'T7 M6 (Fine Groesse 1/2, 12000)']);
    const end = lines.indexOf('M2');
    const z = plan.moves.values[2]!;
    expect(lines[end - 1]).toBe(`G0 Z${z}.`.replace(/(\.\d+)\.$/, '$1'));
    // After a change everything is stated again, Z first.
    const after = lines.slice(lines.indexOf('T7 M6 (Fine Groesse 1/2, 12000)') + 1).find((l) => l.startsWith('G0'))!;
    expect(after).toMatch(/^G0 Z/);
  });

  it.each([
    // T is an address of ISO 6983-1; a comment is no part of it.
    ['rs274', /\n\(put in tool 7, Fine [^\n]*\)\nM0\nS12000 M3\nG0 Z/],
    ['iso6983', /\nN\d+ T7 M0\nN\d+ S12000 M3\nN\d+ G0 Z/],
    ['short-lines', /\nT7M0\nS12000M3\nG0Z/],
  ] as const)('are none: a change by hand in %s says which tool, and states Z first after it', async (dialect, words) => {
    const machine = own({}, { dialect, toolChanger: false });
    expect(textOf((await planJob(twoCutters(machine))).plan)).toMatch(words);
  });

  it('may take the change of cutter out altogether, for a machine that does it by itself', async () => {
    const { plan } = await planJob(twoCutters(own({ change: '' })));
    expect(textOf(plan)).not.toMatch(/M6|M0\b/);
    expect(textOf((await planJob(twoCutters(own({})))).plan)).toMatch(/\nM0\n/);
  });

  it('are refused where a placeholder is none, and said where a word is not known or leaves the control otherwise', () => {
    const refused = machineSchema.safeParse(own({ start: 'T{nummer}' }));
    expect(refused.error?.issues[0]?.message).toContain('{number}, {tool}, {rpm}, {job}, {park} alone');
    const { rules } = DIALECTS.rs274;
    const faults = findOwnBlockFaults(own({ start: 'G53 G0 Z0\nG20\nG21\nG59.1\nM30', change: 'G91\nG90', end: 'G91 G0 Z5' }), rules);
    expect(faults.map(({ block, line, word }) => [block, line, word])).toEqual([
      ['start', 4, 'G59.1'],
      ['start', 5, 'M30'],
    ]);
    // The end may leave the control as it likes; what cannot be read is said anywhere.
    expect(findOwnBlockFaults(own({ end: 'G0 #100' }), rules)).toMatchObject([{ block: 'end', line: 1, word: '#100' }]);
    expect(findOwnBlockFaults(own({ start: 'G20' }, { programUnit: 'in' }), rules)).toEqual([]);
    expect(findOwnBlockFaults(own({ start: 'G18 G90' }), rules)).toMatchObject([{ word: 'G18', why: 'what follows it counts on G17' }]);
  });

  it('may go to the top of the machine (G53) at the start, for a change and at the end, where the dialect has it', async () => {
    const top = 'G53 G0 Z0';
    const planned = await planJob(twoCutters(own({ start: top, change: `${top}\nM0`, end: top })));
    expect(planned.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    expect(textOf(planned.plan).match(/G53 G0 Z0/g)!.length).toBeGreaterThan(2);
    expect(findOwnBlockFaults(own({ start: top }), DIALECTS.iso6983.rules)).toMatchObject([{ word: 'G53' }]);
    // But for Z, and to anywhere else, it is not understood.
    expect(codesOf(await planJob(twoCutters(own({ start: 'G53 G0 X0' }))))).toContain('program-fault');
  });

  it('of a changer on a control that has none are one finding, and no defect of what was written', async () => {
    const job = twoCutters(own({}, { dialect: 'short-lines', toolChanger: true }));
    const spoiling = (await planJob(job)).findings.filter((f) => f.severity === 'spoils');
    expect(spoiling.map((f) => f.code)).toEqual(['dialect-cannot']);
    expect(spoiling[0]!.text).toContain('a change of cutter by a changer');
  });

  it('that move are judged with the program: one that comes down, or ends low, is found', async () => {
    const codes = async (blocks: Partial<Machine['ownBlocks']>) =>
      (await planJob({ ...carveJob('I'), machine: own(blocks) })).findings.filter((f) => f.severity === 'spoils').map((f) => f.code);
    expect(await codes({ start: 'G0 Z5' })).toEqual(['too-low']);
    expect(await codes({ end: 'G0 Z19' })).toEqual(['end-unsafe']);
    // To the side, at park height, the piece is handed over.
    expect(await codes({ end: 'G0 X0 Y50' })).toEqual([]);
  });

  it('coolant runs while a spindle cuts, and stops before a change and the end', async () => {
    const { plan } = await planJob(twoCutters(own({}, { coolant: 'flood', toolChanger: true })));
    const words = textOf(plan).match(/M8|M9|M6|M2\b|M3/g)!;
    expect(words).toEqual(['M6', 'M3', 'M8', 'M9', 'M6', 'M3', 'M8', 'M9', 'M2']);
    const { motions, stops } = readNc(textOf(plan));
    expect(motions.every((m) => m.coolant !== 0)).toBe(true);
    expect(stops.find((s) => s.kind === 'end')!.coolant).toBe(0);
    expect(DIALECTS['short-lines'].cannot({ machine: own({}, { coolant: 'mist' }), cuts: [] })).toEqual(['a mist at the cutter']);
  });
});
