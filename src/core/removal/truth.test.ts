import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob, lineJob, planJob, type Planned } from '../../../tests/support';
import type { BlankOf } from '../job/blankSchema';
import type { Job } from '../job/schema';
import { createSetup, listToolsByHand } from '../pipeline/setup';
import { runSteps } from '../base/steps';
import { readProgram } from '../program/interpreter';
import { DIALECTS } from '../program/registry';
import { toPartTexts } from '../proof/readBack';
import { traceLoad } from './load';
import { proveField, type FieldProof } from './proveField';

/** Proves a planned job by its field, from a text that may have been changed. */
function prove(planned: Planned, change: (text: string) => string = (t) => t, cellMm: number | null = null): FieldProof {
  const { setup, lettering, plan } = planned;
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const readings = toPartTexts(plan.program).map((text) => runSteps(readProgram(change(text), rules)));
  return runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, plan), cellMm));
}
const codes = (proof: FieldProof): string[] => proof.dangers.map((d) => d.finding.code);

describe('what a field says of the lettering', () => {
  let carved: Planned, lined: Planned;
  beforeAll(async () => {
    carved = await planJob(carveJob('HOB', { words: { heightMm: 6 }, tool: { includedDeg: 60, tipMm: 0 }, carve: { maxDepthMm: 3 } }));
    lined = await planJob(lineJob('TIDE'));
  });

  it('agrees with the proof along the outlines, to the error it states', () => {
    const { truth, dangers } = prove(carved);
    const { edge } = carved.proof;
    expect(truth.edge!.samples).toBeGreaterThan(300);
    expect(truth.edge!.maxOutsideUm - edge!.maxOutsideUm).toBeLessThan(2 * truth.errorUm);
    expect(truth.edge!.uncut95Um).toBeLessThan(1);
    expect(Math.abs(truth.edge!.maxUncutUm - edge!.maxUncutUm)).toBeLessThan(4 * truth.errorUm);
    expect(dangers).toEqual([]);
  });

  it('gives each letter its stroke width, drawn and cut', () => {
    const { letters, cellMm } = prove(carved).truth;
    expect(letters.map((l) => l.text).sort()).toEqual(['B', 'H', 'O']);
    for (const { drawnMm, cutMm } of letters) expect(Math.abs(drawnMm - cutMm)).toBeLessThan(cellMm / 2);
  });

  it('sees strokes that come out wider: the zero 0.05 mm too low makes those of a 60° V 0.058 mm wider', () => {
    const lower = (text: string) => text.replace(/Z(-?[\d.]+)/g, (_, z: string) => `Z${(Number(z) - 0.05).toFixed(4)}`);
    const { letters, edge } = prove(carved, lower, 0.02).truth;
    for (const { drawnMm, cutMm } of letters) expect(Math.abs(cutMm - drawnMm - 2 * 0.05 * Math.tan(Math.PI / 6))).toBeLessThan(0.001);
    expect(edge!.maxOutsideUm).toBeGreaterThan(27);
  });

  it('is not misled where strokes run together: each place counts to the outline that is nearest', async () => {
    const small = await planJob(carveJob('WMB', { words: { heightMm: 3 }, tool: { includedDeg: 60, tipMm: 0 }, carve: { maxDepthMm: 3 } }));
    const lower = (text: string) => text.replace(/Z(-?[\d.]+)/g, (_, z: string) => `Z${(Number(z) - 0.2).toFixed(4)}`);
    const { truth, dangers } = prove(small, lower, 0.06);
    const asLow = 200 * Math.tan(Math.PI / 6);
    expect(truth.edge!.maxOutsideUm).toBeGreaterThan(asLow - 2);
    expect(truth.edge!.maxOutsideUm).toBeLessThan(asLow + 60);
    expect(truth.edge!.leastOutsideUm).toBeLessThan(asLow + 5);
    expect(dangers.map((d) => d.finding.code)).toContain('too-deep');
  });

  it('finds one place that is cut outside, and says where', () => {
    const radiusMm = (carved.setup.job.blank as BlankOf<'cylinder'>).diameterMm / 2;
    let at = '';
    const jab = (text: string) => {
      const lines = text.split('\n');
      const k = lines.findIndex((l, i) => i > 40 && /^G0 Z/.test(l));
      at = /X(-?[\d.]+)/.exec(
        lines
          .slice(0, k)
          .reverse()
          .find((l) => /X/.test(l))!,
      )![1]!;
      const up = `G0 Z${radiusMm + 5}`;
      return [...lines.slice(0, k), 'G94', up, 'X20', `G1 Z${radiusMm - 0.3} F50`, up, `X${at}`, ...lines.slice(k)].join('\n');
    };
    const { truth, dangers } = prove(carved, jab);
    const danger = dangers.find((d) => d.finding.code === 'too-deep');
    expect(danger!.finding.where.xMm).toBeCloseTo(20, 0);
    expect(truth.edge!.leastOutsideUm).toBeGreaterThan(100);
    expect(truth.edge!.outsideMedianUm).toBeLessThan(30);
  });

  it('measures how deep lines are', () => {
    const { floor } = prove(lined).truth;
    expect(floor!.samples).toBeGreaterThan(10);
    expect(floor!.maxDeepUm).toBeLessThan(10);
    expect(floor!.maxShallowUm).toBeLessThan(25);
  });

  it('spreads what is taken over the time it takes: the spans sum up to the depths of all cells', () => {
    const { removal } = prove(carved);
    const { timesS, rate } = traceLoad(carved.setup, removal, 0.2);
    let traced = 0,
      depths = 0;
    for (let k = 0; k < timesS.length; k++) traced += (rate[k]! * (timesS[k]! - (timesS[k - 1] ?? 0))) / 60;
    for (const { depth } of removal.field.tiles) for (const d of depth) depths += d;
    const { cellX, cellY } = removal.field.grid;
    expect(traced / (depths * cellX * cellY)).toBeCloseTo(1, 3);
  });

  it('refuses cells that need more memory than there is, and says which fit', () => {
    expect(() => prove(carved, undefined, 1e-4)).toThrow(/finest that fit are 0\.00/);
  });
});

describe('dangers, one planted at a time', () => {
  let carved: Planned;
  beforeAll(async () => {
    carved = await planJob(carveJob('HOB', { words: { heightMm: 6 }, tool: { includedDeg: 60, tipMm: 0.1 }, carve: { maxDepthMm: 1 } }));
  });
  const lines = (text: string) => text.split('\n');
  const shiftZ = (text: string, byMm: number) => text.replace(/Z(-?[\d.]+)/g, (_, z: string) => `Z${(Number(z) + byMm).toFixed(3)}`);
  const firstCut = (all: string[]) => all.findIndex((l) => /^G1/.test(l)) + 6;

  it('finds none in what Hobel writes', () => {
    expect(codes(prove(carved))).toEqual([]);
  });

  it.each([
    ['rapid-cuts', (t: string) => t.replace(/\nG0 Z2[\d.]+\n([XAY])/g, '\nG0 $1')],
    ['cuts-still', (t: string) => t.replace(/ ?M3/g, '')],
    ['cuts-through', (t: string) => t.replace(/Z(-?[\d.]+)/g, (_, z: string) => `Z${(Number(z) - 60).toFixed(3)}`)],
    [
      'dives-fast',
      (t: string) => {
        const all = lines(t);
        const at = firstCut(all);
        const z = Number(/Z(-?[\d.]+)/.exec(all.slice(at).find((l) => /Z/.test(l))!)![1]);
        all.splice(at, 0, `G94`, `G1 Z${(z - 0.5).toFixed(3)} F2000`, `G93`);
        return all.join('\n');
      },
    ],
    ['asks-too-fast', (t: string) => t.replace(/F([\d.]+)/g, (_, f: string) => `F${100 * Number(f)}`)],
    ['too-deep', (t: string) => shiftZ(t, -0.15)],
    ['left-inside', (t: string) => shiftZ(t, 0.3)],
    ['winds-up', (t: string) => t.replace('\nM5', '\nG0 A1500\nM5')],
  ] as const)('%s', (code, change) => {
    const proof = prove(carved, change);
    const danger = proof.dangers.find((d) => d.finding.code === code);
    expect(codes(proof)).toContain(code);
    const { line, xMm } = danger!.finding.where;
    expect(line ?? xMm).toBeGreaterThan(0);
  });

  it.each([
    [
      'cuts-without-tool',
      (job: Job): Job => ({ ...job, tools: job.tools.map((t) => ({ ...t, number: 9 })), machine: { ...job.machine, toolChanger: true } }),
    ],
    ['cuts-clear-end', (job: Job): Job => ({ ...job, blank: { ...(job.blank as BlankOf<'cylinder'>), clearDatumMm: 38 } })],
    ['shank-in-groove', (job: Job): Job => ({ ...job, tools: job.tools.map((t) => ({ ...t, fluteLengthMm: 0.3 })) })],
    ['body-hits', (job: Job): Job => ({ ...job, tools: job.tools.map((t) => ({ ...t, stickOutMm: 0.2, shankMm: 1 })) })],
    ['chuck-hits', (job: Job): Job => ({ ...job, blank: { ...(job.blank as BlankOf<'cylinder'>), clearDatumMm: 33 } })],
    [
      'too-much-at-once',
      (job: Job): Job => ({ ...job, cuts: job.cuts.map((c) => ({ ...c, levels: { by: 'step', stepMm: 0.1, even: false, finishMm: 0 } })) }),
    ],
  ] as const)('%s: the same text on a job that is set up otherwise', (code, change) => {
    const setup = createSetup(change(carved.setup.job));
    expect(codes(prove({ ...carved, setup }))).toContain(code);
  });

  it('cuts-air: the same cut once more', () => {
    const twice = (text: string) => {
      const body = text.slice(text.indexOf('\nG0 Z'), text.indexOf('\nM5'));
      return text.replace(body, `${body}\nG94${body}${body}`);
    };
    const proof = prove(carved, twice);
    expect(codes(proof)).toEqual(['cuts-air']);
  });
});
