import { runSteps } from '../base/steps';
import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob, lineJob, planJob, proveWith, textOf, tiltingMachine, type Planned } from '../../../tests/support';
import { findConduct } from '../findings/proofFindings';
import { createBlank } from '../job/defaults';
import type { Job, Machine } from '../job/schema';
import { createProfileNodes } from '../surface/profileShapes';
import { MOVE } from '../lay/laidPaths';
import { rs274 } from '../program/rs274';
import { findConductFaults } from './conduct';
import { computeReadBack, toPartTexts } from './readBack';

/** Two words, each cut with a cutter of its own, the second at another speed. */
const twoTools = (toolChanger: boolean): Job => {
  const job = carveJob('IO');
  job.tools.push({ ...job.tools[0]!, id: 'second', name: 'second', number: 2 });
  job.inscriptions.push({ ...job.inscriptions[0]!, id: 'other', at: { xMm: 60, turnDeg: 30 } });
  job.cuts[0]!.targets = ['words'];
  job.cuts.push({ ...job.cuts[0]!, id: 'again', name: 'Again', toolId: 'second', spindleRpm: 12000, targets: ['other'] });
  return { ...job, machine: { ...job.machine, toolChanger, toolLengths: toolChanger ? 'table' : 'control' } };
};

describe('findConductFaults', () => {
  let changer: Planned, byHand: Planned;
  beforeAll(async () => {
    changer = await planJob(twoTools(true));
    byHand = await planJob(twoTools(false));
  });
  /** Codes and texts of the findings on a program that was tampered with. */
  const judge = (planned: Planned, tamper: (text: string) => string): string[] => {
    const text = tamper(textOf(planned.plan));
    expect(text).not.toBe(textOf(planned.plan));
    const { readings } = runSteps(computeReadBack(planned.setup, planned.plan, [text]));
    return findConduct(planned.setup.job, findConductFaults(planned.setup, planned.plan, readings)).map(
      (f) => `${f.severity} ${f.code}: ${f.text}`,
    );
  };

  it('has none for programs as they are written, with a changer and without', () => {
    for (const planned of [changer, byHand]) expect(planned.proof.findings).toEqual([]);
  });

  it('sees the wrong tool called', () => {
    expect(judge(changer, (t) => t.replace('T1 M6', 'T7 M6'))).toEqual([
      'spoils wrong-tool: "V-carve" would be cut with T7, and needs T1, cutter',
    ]);
    expect(judge(changer, (t) => t.replace('T2 M6', 'T1 M6'))[0]).toContain('"Again" would be cut with T1, and needs T2');
  });

  it('sees a change that is left out, with a changer and by hand', () => {
    expect(judge(changer, (t) => t.replace('T2 M6\n', ''))[0]).toContain('"Again" would be cut with T1');
    expect(judge(byHand, (t) => t.replace('\nM0\n', '\n'))[0]).toContain('"Again" would be cut with T1');
    expect(judge(changer, (t) => t.replace('T1 M6\n', ''))[0]).toContain('no tool called');
  });

  it('sees the length of another cutter called, or none', () => {
    expect(judge(changer, (t) => t.replace('G43 H2', 'G43 H1'))).toEqual([
      'spoils wrong-length: "Again" would be cut with the length of tool 1; its cutter is tool 2',
    ]);
    expect(judge(changer, (t) => t.replace('G43 H1\n', ''))[0]).toContain('without a length called');
  });

  it('sees corners left to the control, or rounded by more than was asked for', () => {
    expect(judge(changer, (t) => t.replace('G64 P0.005\n', ''))).toEqual([
      'spoils corners-wrong: The program lets the control round corners by as much as it likes, and 0.0050 mm were asked for',
    ]);
    expect(judge(changer, (t) => t.replace('G64 P0.005', 'G64 P0.5'))[0]).toContain('by 0.5000 mm');
    expect(judge(changer, (t) => t.replace('G64 P0.005', 'G64'))[0]).toContain('as it likes');
    expect(judge(changer, (t) => t.replace('G64 P0.005', 'G64 P0'))[0]).toContain('as it likes');
    // Once set, it must not be set otherwise later on.
    expect(judge(changer, (t) => t.replace('(cut 2', 'G64\n(cut 2'))[0]).toContain('as it likes');
  });

  it('has corners run out where the machine has no tolerance, or one too small to be written', async () => {
    for (const cornerToleranceMm of [0, 0.00004]) {
      const job = carveJob('I');
      const planned = await planJob({ ...job, machine: { ...job.machine, cornerToleranceMm } });
      expect(textOf(planned.plan)).toContain('\nG61\n');
      expect(planned.proof.findings).toEqual([]);
    }
  });

  it('sees the spindle turn backwards, stand still, or run at another speed', () => {
    expect(judge(changer, (t) => t.replace('S18000 M3', 'S18000 M4'))).toEqual([
      'spoils spindle-wrong: "V-carve" would be cut with the spindle turning backwards at 18000 rev/min, and needs 18000',
    ]);
    expect(judge(changer, (t) => t.replace('S12000 M3', 'S12000 M5'))[0]).toContain('standing still');
    expect(judge(changer, (t) => t.replace('S12000 M3', 'M3'))[0]).toContain('at 18000 rev/min, and needs 12000');
  });

  it('sees a cutter changed while the spindle turns, or too low', () => {
    for (const planned of [changer, byHand]) {
      expect(judge(planned, (t) => t.replace('M5\n', ''))).toEqual([
        'spoils change-unsafe: A cutter would be changed while the spindle turns',
      ]);
    }
    // The park before the change brought down from 25 mm over a radius of 20 to 5.
    const low = judge(byHand, (t) => t.replace(/G0 Z45\.\n(\(cut 2)/, 'G0 Z25.\n$1'));
    expect(low.join('\n')).toContain('with the tool 5.000 mm over the highest place of the blank, below the park height');
  });

  it('sees a program that ends with the spindle running, or with the tool down', () => {
    expect(judge(changer, (t) => t.replace(/M5\n(G49\n)?M2/, '$1M2'))).toEqual([
      'spoils end-unsafe: The program ends while the spindle turns',
    ]);
    expect(judge(changer, (t) => t.replace(/G0 Z45\.\n(G94\n)?M5\n(G49\n)?M2/, 'G0 Z22.\n$1M5\n$2M2'))[0]).toContain(
      '2.000 mm over the highest place of the blank',
    );
  });

  it('sees strokes crossed below hop height, and cuts crossed below park height', () => {
    // All that hops at 2 mm over a radius of 20 now hops at 1.
    expect(judge(changer, (t) => t.replaceAll('Z22.\n', 'Z21.\n'))[0]).toBe(
      'spoils too-low: Between strokes the tool stays 1.000 mm over the surface, and 2.000 mm were asked for',
    );
    const text = textOf(changer.plan);
    const second = text.indexOf('(cut 2');
    const tampered = text.slice(0, second) + text.slice(second).replace(/^(S12000 M3\n)G0 Z45\.$/m, '$1G0 Z30.');
    expect(judge(changer, () => tampered)[0]).toContain(
      'Between cuts the tool stays 10.000 mm over the highest place of the blank, and 25.000 mm were asked for',
    );
  });

  it('sees paths laid with the park between cuts at hop height (a plan that is wrong itself)', () => {
    const { setup, lettering, plan } = changer;
    const { laid, moves } = plan;
    const values = moves.values.slice(),
      sheet = moves.sheet.slice();
    const last = moves.count - 1;
    for (let i = 1; i < last; i++) {
      // Where the tool parks at 25 mm it now parks at 2.
      if (sheet[3 * i + 2]! > -20) continue;
      sheet[3 * i + 2] = -2;
      values[4 * i + 2]! -= 23;
    }
    const low = { ...moves, values, sheet };
    const program = runSteps(rs274.write({ job: setup.job, kinematics: setup.kinematics, laid, moves: low, runs: setup.runs }, 'none'));
    const { findings } = proveWith(setup, lettering, { program, laid, moves: low });
    expect(findings.map((f) => f.code)).toEqual(expect.arrayContaining(['too-low', 'change-unsafe']));
  });

  it('sees a rapid that is clear only where the control runs it straight', async () => {
    // Two words on a plate that rises by 30°: the hop between them written as one slanted block, as it once was.
    const job = carveJob('I', { words: { at: { xMm: 20, turnDeg: 0 } } });
    job.inscriptions.push({ ...job.inscriptions[0]!, id: 'other', at: { xMm: 90, turnDeg: 0 } });
    const plate = { ...createBlank('plate'), inclineDeg: 30, inclineTowards: 'x' as const };
    const planned = await planJob({ ...job, blank: plate } as Job);
    expect(planned.proof.findings).toEqual([]);
    const lines = textOf(planned.plan).split('\n');
    const at = lines.findIndex((l, k) => k > 12 && /^X/.test(l) && /^G0 Z/.test(lines[k - 1]!) && /^Z/.test(lines[k + 1]!));
    const [up, across, down] = [lines[at - 1]!, lines[at]!, lines[at + 1]!];
    // Up to the hop height over this place only, then to the other end in one block.
    const slanted = [`G0 Z${(Number(down.slice(1)) - 70 * Math.sin(Math.PI / 6)).toFixed(4)}`, `${across} ${down}`];
    expect([up, across]).toEqual([expect.stringMatching(/^G0 Z/), expect.stringMatching(/^X/)]);
    const tampered = [...lines.slice(0, at - 1), ...slanted, ...lines.slice(at + 2)].join('\n');
    expect(judge(planned, () => tampered).join('\n')).toContain('straight or with each axis at its own speed');
  });

  it('knows in a file what the files before it have cut, and with which cutter', async () => {
    const job = carveJob('BOW', { words: { heightMm: 14 }, carve: { maxDepthMm: 2, levels: { by: 'count', count: 2 } } });
    const planned = await planJob({ ...job, machine: { ...job.machine, mostLines: 1500 } });
    const texts = toPartTexts(planned.plan.program);
    expect(texts.length).toBeGreaterThan(1);
    // Regression: where the second level came in another file than the first, each rapid down to it was said to meet the blank.
    expect(planned.findings.filter((f) => f.severity === 'spoils')).toEqual([]);
    const judged = (all: readonly string[]): string[] => {
      const { readings } = runSteps(computeReadBack(planned.setup, planned.plan, all));
      return findConduct(planned.setup.job, findConductFaults(planned.setup, planned.plan, readings)).map((f) => f.code);
    };
    const lifted = (text: string): string =>
      text.replace(/^(?!G0).*Z.*$/gm, (line) => line.replace(/Z(-?[\d.]+)/, (_, v: string) => `Z${(Number(v) + 5).toFixed(4)}`));
    // The first level not cut: nothing of it is there to come down into.
    expect(judged(texts.map((t, k) => (k < texts.length / 2 ? lifted(t) : t)))).toContain('rapid-in-work');
  });

  it("sees a way across at feed that comes too low where the control keeps the tool's point", async () => {
    const machine: Machine = { ...tiltingMachine(), dialect: 'tool-point', feedMode: 'G94' };
    const planned = await planJob({ ...lineJob('TO'), machine });
    expect(planned.proof.findings).toEqual([]);
    const { laid, moves, program } = planned.plan;
    const block = Array.from({ length: moves.count }, (_, i) => i).find((i) => laid.kind[moves.move[i]!] === MOVE.across)!;
    expect(block).toBeGreaterThan(0);
    const hop = planned.setup.job.motion.hopHeightMm;
    const lower = (byMm: number): string[] =>
      judge(planned, (text) => {
        const lines = text.split('\n');
        const at = program.lineOfBlock[block]!;
        const z = moves.values[5 * block + 2]! - byMm;
        lines[at] = /Z[-\d.]+/.test(lines[at]!) ? lines[at]!.replace(/Z[-\d.]+/, `Z${z.toFixed(4)}`) : `${lines[at]!} Z${z.toFixed(4)}`;
        return lines.join('\n');
      });
    // What the axes bow between two blocks is let pass, more is not.
    expect(lower(0.15 * hop)).toEqual([]);
    expect(lower(0.5 * hop)[0]).toMatch(/Between strokes the tool stays [01]\.\d{3} mm over the surface, and 2\.000 mm were asked for/);
  });

  it('measures heights along a leaning tool, as they are set', async () => {
    const cone = { ...createBlank('cone'), datumDiameterMm: 20, farDiameterMm: 60, lengthMm: 40 };
    for (const machine of [carveJob('x').machine, tiltingMachine({ pivotMm: 120 })]) {
      const job: Job = { ...lineJob('TO'), blank: cone, machine };
      const { proof, plan } = await planJob(job);
      expect(plan.laid.kind).toContain(MOVE.hop);
      expect(proof.findings).toEqual([]);
    }
  });

  it('measures them in a hollow too, where the nearest place of the surface is not the one under the tool', async () => {
    const waist = { ...createBlank('turned'), profile: createProfileNodes('waist', 40, 50) };
    const job = carveJob('HR', { carve: { maxDepthMm: 0.5 }, words: { at: { xMm: 16, turnDeg: 0 } } });
    const { proof } = await planJob({ ...job, blank: waist, lay: { ...job.lay, kind: 'level' } });
    expect(proof.findings.map((f) => f.code)).not.toContain('too-low');
  });
});
