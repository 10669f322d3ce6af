import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob, createDomeBlank, domeShapes, getDomeMesh, planJob, textOf, type Planned } from '../../../tests/support';
import { createSetup } from '../pipeline/setup';
import { measureFigures } from '../probe/describe';
import { PROBE_DEFAULTS, writeProbeProgram } from '../probe/probeProgram';
import { readProbeResults } from '../probe/results';
import { packShape } from '../shape/readShape';
import { Feeder } from './feeder';
import { SimulatedMachine } from './simulatedMachine';
import { listFedLines } from './wire';

const TRUE_BLANK = { offMm: 0, towardsDeg: 0, taperMm: 0 };
const setupOf = ({ machine, blank, zero }: Planned['setup']['job']) => `setup ${JSON.stringify({ machine, blank, zero, gaugeMm: 40 })}`;

/** Feeds a program with a clock of its own. @param meddle Called at every tick, to give commands in between. */
function feed(machine: SimulatedMachine, text: string, meddle: (ms: number) => string[] = () => [], mostMs = 4e6) {
  let ms = 10;
  const feeder = new Feeder(listFedLines(text).lines, ms);
  const told: string[] = [];
  const give = (lines: readonly string[]): void => {
    for (const answer of lines) if (!feeder.hear(answer, ms)) told.push(answer);
  };
  while (ms < mostMs) {
    for (const line of feeder.take(ms)) give(machine.handle(line, ms));
    give(meddle(ms).flatMap((c) => machine.handle(c, ms)));
    ms += 20;
    give(machine.tick(ms));
    const { state } = machine.status;
    if (feeder.progress.state === 'refused' || state === 'alarm' || state === 'off') break;
    if (feeder.progress.state === 'fed' && state === 'idle' && machine.status.queued === 0) break;
  }
  return { progress: feeder.progress, told, ms };
}

function ready(planned: Planned, real = TRUE_BLANK): SimulatedMachine {
  const machine = new SimulatedMachine(real, 0);
  expect(machine.handle(setupOf(planned.setup.job), 0)).toEqual(['ok setup']);
  expect(machine.handle('home', 0)).toEqual(['ok home']);
  machine.tick(1000);
  expect(machine.status).toMatchObject({ state: 'idle', isHomed: true });
  return machine;
}

describe('the simulated machine', () => {
  let planned: Planned;
  let text = '';
  beforeAll(async () => {
    planned = await planJob(carveJob('BUOY', { carve: { maxDepthMm: 1 } }));
    text = textOf(planned.plan);
  });

  it('runs a program to its end, in about the time that was planned, and ends where the program does', () => {
    const machine = ready(planned);
    const { progress, ms } = feed(machine, text);
    expect(progress).toMatchObject({ state: 'fed', again: 0 });
    expect(machine.status).toMatchObject({ ended: true, state: 'idle', queued: 0 });
    const { moves } = planned.plan;
    const n = planned.setup.kinematics.axes.length;
    planned.setup.kinematics.axes.forEach((a, k) =>
      expect(machine.status.words[a.letter]).toBeCloseTo(moves.values[n * (moves.count - 1) + k]!, 3),
    );
    // It looks ahead a batch at a time, and comes to rest between two.
    expect(ms / 1000).toBeGreaterThan(0.9 * planned.plan.timeS);
    expect(ms / 1000).toBeLessThan(1.3 * planned.plan.timeS + 5);
  });

  it('stands while it is held, goes on, and stops', () => {
    const machine = ready(planned);
    let held = '';
    const { progress } = feed(machine, text, (ms) => {
      if (ms === 5010) return ['hold'];
      if (ms === 6010) held = JSON.stringify(machine.status.words);
      if (ms === 20010) {
        expect(JSON.stringify(machine.status.words)).toBe(held);
        return ['resume'];
      }
      return [];
    });
    expect(progress.state).toBe('fed');
    const other = ready(planned);
    feed(other, text, (ms) => (ms === 5010 ? ['stop'] : []), 8000);
    expect(other.status).toMatchObject({ queued: 0, spindleRpm: 0 });
  });

  it('loses no line for good: what was lost on its way is sent again, in its order', () => {
    const machine = ready(planned);
    machine.handle('fault line-lost on', 0);
    const { progress } = feed(machine, text);
    expect(progress.state).toBe('fed');
    expect(progress.again).toBeGreaterThan(0);
    expect(machine.status.ended).toBe(true);
  });

  it('answers late and still gets all of it', () => {
    const machine = ready(planned);
    machine.handle('fault slow-answer on', 0);
    expect(feed(machine, text).progress.state).toBe('fed');
  });

  it('refuses what goes beyond a limit, with the axis and by how much, and raises an alarm that has to be cleared', () => {
    const { job } = planned.setup;
    const near = { ...job.machine, travelMm: { X: 300, Y: 60, Z: 0 }, standsAt: { xMm: null, yMm: 30, noseMm: 70 } };
    const machine = ready({ ...planned, setup: { ...planned.setup, job: { ...job, machine: near } } });
    const { progress, told } = feed(machine, text);
    expect(progress.state).toBe('refused');
    expect(progress.refusal!.why).toBe('Z would go to 45.000, and can go no higher than 30.0');
    expect(told.some((t) => t.startsWith('alarm line'))).toBe(true);
    expect(machine.handle('line 1 G0 X1', 0)[0]).toMatch(/^no 1 alarm/);
    expect(machine.handle('reset', 0)).toEqual(['ok reset']);
    expect(machine.status.state).toBe('idle');
    const hit = ready(planned);
    hit.handle('fault limit-hit on', 0);
    expect(feed(hit, text).progress.refusal!.why).toBe('a limit switch is hit');
  });

  it('forgets all but where its axes stand when the power goes, and wants to be homed again', () => {
    const machine = ready(planned);
    feed(machine, text, (ms) => (ms === 9010 ? ['power off'] : []));
    const { state, line, words } = machine.status;
    expect(state).toBe('off');
    expect(line).toBeGreaterThan(20);
    expect(machine.handle('line 9 G0 X1', 0)).toEqual(['no 9 the power is off']);
    machine.handle('power on', 0);
    expect(machine.status).toMatchObject({ state: 'idle', isHomed: false, line, words, queued: 0 });
    expect(machine.handle('line 1 G0 Z5', 0)).toEqual(['no 1 home it first']);
  });

  it('refuses a line out of turn, one that it cannot read, and jogs that nobody could follow', () => {
    const machine = ready(planned);
    expect(machine.handle('line 3 G0 X1', 2000)).toEqual(['no 3 line 1 is waited for']);
    expect(machine.handle('line 1 G0 Q1', 2000)[0]).toMatch(/^no 1 the word Q/);
    machine.handle('reset', 2000);
    expect(machine.handle('jog W 3 F 100', 2000)[0]).toMatch(/^no jog say it as/);
    expect(machine.handle('jog C 3 F 100', 2000)[0]).toMatch(/^no jog there is no axis C/);
    expect(machine.handle('jog X 3 F 100', 2000)).toEqual(['ok jog']);
    machine.tick(4000);
    expect(machine.status.words.X).toBeCloseTo(3, 9);
    expect(machine.handle('dance', 4000)).toEqual(['no dance is not known']);
    expect(machine.handle('setup {', 4000)).toEqual(['no setup it is no JSON']);
  });

  it('has a work offset: set otherwise, its words read so where it stands, and what it probes lies elsewhere; and it stays as long as it is told', () => {
    const machine = ready(planned);
    const { words } = machine.status;
    expect(machine.handle('zero X 12.5', 2000)).toEqual(['ok zero']);
    expect(machine.status.words.X).toBe(12.5);
    expect(machine.status.own.X).toBe(words.X);
    expect(machine.handle('zero Q 1', 2000)[0]).toMatch(/^no zero/);
    // Z taken 0.4 mm too low: the probe trips where the word reads 0.4 more.
    const low = ready(planned);
    low.handle(`zero Z ${low.status.words.Z! + 0.4}`, 2000);
    const text = ['G21 G90 G94', 'G0 Z60', 'G0 X40 Y0 A0', 'Z22', 'G38.2 Z18 F60', 'G0 Z60', 'M2'].join('\n');
    const { told } = feed(low, text);
    expect(told.find((t) => t.startsWith('touch'))).toMatch(/^touch X40\.00000 Y0\.00000 Z20\.40000/);
    const lines = (stay: string) => ['G21 G90 G94', 'G0 Z60', 'G0 X40 Y0 A0', 'S1000 M3', 'G1 Z50 F600', stay, 'G0 Z60', 'M2'].join('\n');
    const [short, long] = ['', 'G4 P8'].map((stay) => feed(ready(planned), lines(stay)).ms) as [number, number];
    expect((long - short) / 1000).toBeCloseTo(8, 0);
  });

  it('ends a jog where its axis ends, whatever its words read there; from beyond that it goes back', () => {
    const { machine: own, ...job } = planned.setup.job;
    const machine = new SimulatedMachine(TRUE_BLANK, 0);
    const small = { ...own, travelMm: { ...own.travelMm, Z: 200 }, standsAt: { ...own.standsAt, noseMm: 150 } };
    expect(machine.handle(setupOf({ ...job, machine: small } as Planned['setup']['job']), 0)).toEqual(['ok setup']);
    machine.handle('home', 0);
    machine.tick(1000);
    const top = machine.status.words.Z!;
    expect(machine.handle('jog Z 1 F 600', 1000)[0]).toMatch(/^no jog Z would go to .* can go no higher than/);
    // Its zero set 50 mm higher: the words read otherwise, the axis ends where it did.
    expect(machine.handle(`zero Z ${top - 50}`, 1000)).toEqual(['ok zero']);
    expect(machine.handle('jog Z 1 F 600', 1000)[0]).toMatch(/^no jog Z/);
    expect(machine.handle('jog Z -10 F 600', 1000)).toEqual(['ok jog']);
    machine.tick(3000);
    expect(machine.status.words.Z).toBeCloseTo(top - 60, 9);
    expect(machine.status.own.Z).toBeCloseTo(top - 10, 9);
    machine.handle('home', 3000);
    machine.tick(5000);
    expect(machine.status.own.Z).toBeCloseTo(top, 9);
  });

  it('probes its own blank, which is not round, and what it logs gives that back; a probe that misses raises an alarm', () => {
    const real = { offMm: 0.12, towardsDeg: 75, taperMm: 0.04 };
    const setup = createSetup(planned.setup.job);
    const made = writeProbeProgram(setup, PROBE_DEFAULTS);
    if (!made.ok) throw new Error(made.error.kind);
    const machine = ready(planned, real);
    const { progress, told } = feed(machine, made.text);
    expect(progress.state).toBe('fed');
    const touches = told.filter((t) => t.startsWith('touch ')).map((t) => t.slice(6));
    expect(touches).toHaveLength(60);
    const read = readProbeResults(touches.join('\n'), setup, PROBE_DEFAULTS, 0);
    if (!read.ok) throw new Error(read.error.lines.join());
    const { eccentric, taperMm } = measureFigures(read.value, setup.surface);
    expect(eccentric!.mm).toBeCloseTo(real.offMm, 4);
    expect(eccentric!.turnDeg).toBeCloseTo(real.towardsDeg, 2);
    expect(taperMm).toBeCloseTo((real.taperMm * 74) / 80, 4);
    const blind = ready(planned, real);
    blind.handle('fault probe-misses on', 0);
    expect(feed(blind, made.text).told.join()).toMatch(/alarm line \d+: the probe did not trip/);
  });

  it('probes a free shape that it was sent, and refuses one that is none', () => {
    const job = { ...planned.setup.job, blank: createDomeBlank(), machine: { ...planned.setup.job.machine } };
    const setup = createSetup(job, domeShapes());
    const grid = { ...PROBE_DEFAULTS, along: 3, round: 3 };
    const made = writeProbeProgram(setup, grid);
    if (!made.ok) throw new Error(made.error.kind);
    const machine = new SimulatedMachine({ ...TRUE_BLANK, offMm: 0.2 }, 0);
    const { id } = job.blank.shape as { id: string };
    for (const none of [`shape ${id} AAAA`, `shape ${id} A`, `shape ${id} ?!`, 'shape', `shape ${id}`])
      expect(machine.handle(none, 0)[0]).toMatch(/^no shape it is none/);
    expect(machine.handle(`shape ${id} ${Buffer.from(packShape(getDomeMesh())).toString('base64')}`, 0)).toEqual(['ok shape']);
    expect(machine.handle(setupOf(job), 0)).toEqual(['ok setup']);
    machine.handle('home', 0);
    machine.tick(1000);
    const { told } = feed(machine, made.text);
    const touches = told.filter((t) => t.startsWith('touch ')).map((t) => t.slice(6));
    expect(touches).toHaveLength(made.places.length);
    const read = readProbeResults(touches.join('\n'), setup, grid, 0);
    if (!read.ok) throw new Error(read.error.lines.join());
    // It bows: its middle stands out by as much as was said.
    expect(read.value.mm[1]![1]).toBeCloseTo(0.2, 3);
    expect(Math.abs(read.value.mm[0]![0]!)).toBeLessThan(0.2);
  });
});
