import { describe, expect, it } from 'vitest';
import { createBlank, createJob, TILTING_MACHINE } from '../job/defaults';
import type { Job } from '../job/schema';
import { computeTimes, getAxisLimits } from '../machine/time';
import { createSetup } from '../pipeline/setup';
import { computeRestToRestS, createAir } from './air';

const airOf = (job: Job) => {
  const { work, kinematics } = createSetup(job);
  return createAir(work, kinematics, job.motion, 120);
};
const place = (job: Job, x: number, y: number) => {
  const air = airOf(job);
  const out = new Float64Array(air.axes.length + 1);
  air.placeInto(x, y, out);
  return [...out];
};
const onBlank = (blank: Job['blank'], machine = createJob('x').machine): Job => ({ ...createJob('x'), blank, machine });

describe('createAir', () => {
  it('takes as long across as the time model says of one rapid from rest to rest', () => {
    const { kinematics } = createSetup(createJob('x'));
    const axis = kinematics.axes[0]!;
    for (const way of [0.3, 12, 400]) {
      const times = computeTimes([0, 0, 0, 0, way, 0, 0, 0], [0, 0], getAxisLimits(kinematics.axes, 0.005, 20));
      expect(computeRestToRestS({ perS: axis.maxPerMin / 60, perS2: axis.accelerationPerS2 }, way)).toBeCloseTo(times[1]!, 9);
    }
  });

  it('knows that a blank that closes on itself may turn on, and an arched one on the same rotary may not', () => {
    const turns = (job: Job) => airOf(job).axes.map((a) => a.turn);
    expect(turns(onBlank(createBlank('cylinder')))).toEqual([0, 0, 360]);
    const arched = createBlank('arched');
    expect(turns(onBlank({ ...arched, mount: 'rotary' } as Job['blank']))).toEqual([0, 0, 0]);
    expect(turns(onBlank(createBlank('plate')))).toEqual([0, 0]);
  });

  it('says where the axes stand, and how high the surface is', () => {
    const cylinder = { ...createBlank('cylinder'), diameterMm: 40 } as Job['blank'];
    const [x, , turn, level] = place(onBlank(cylinder), 12, 20 * (Math.PI / 6));
    expect(x).toBeCloseTo(12, 9);
    expect(Math.abs(turn!)).toBeCloseTo(30, 9);
    expect(level).toBeCloseTo(20, 9);
    const cone = onBlank({ ...createBlank('cone'), datumDiameterMm: 60, farDiameterMm: 20 } as Job['blank'], TILTING_MACHINE);
    const low = place(cone, 2, 0),
      high = place(cone, 12, 0);
    expect(low.at(-1)! - high.at(-1)!).toBeGreaterThan(1);
    expect(low).toHaveLength(5);
  });
});
