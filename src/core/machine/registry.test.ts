import { describe, expect, it } from 'vitest';
import { createDomeBlank, tiltingMachine } from '../../../tests/support';
import { createBlank, DEFAULT_MACHINE } from '../job/defaults';
import type { Blank, Machine } from '../job/schema';
import { createKinematics, getZeroMm } from './registry';

describe('createKinematics', () => {
  const letters = (machine: Machine, blank: Blank) =>
    createKinematics(machine, blank)
      .axes.map((a) => a.letter)
      .join('');
  it('has only the axes that move', () => {
    expect(letters(DEFAULT_MACHINE, createBlank('plate'))).toBe('XYZ');
    expect(letters(tiltingMachine(), createBlank('plate'))).toBe('XYZB');
    expect(letters(tiltingMachine(), createBlank('cone'))).toBe('XYZAB');
  });
  it('describes each axis with its kind, range, speed and acceleration', () => {
    const { axes } = createKinematics(tiltingMachine({ sense: -1, minDeg: -20, maxDeg: 95 }), createBlank('cone'));
    expect(axes[0]).toEqual({ letter: 'X', kind: 'linear', min: -Infinity, max: Infinity, maxPerMin: 5000, accelerationPerS2: 400 });
    expect(axes[3]).toMatchObject({ letter: 'A', kind: 'rotary', maxPerMin: 7200, accelerationPerS2: 1500 });
    // A lean of −20° to 95° in words of the opposite sense.
    expect(axes[4]).toEqual({ letter: 'B', kind: 'rotary', min: -95, max: 20, maxPerMin: 3600, accelerationPerS2: 900 });
  });
});

describe('getZeroMm', () => {
  it('is on the axis, the largest diameter, the face or the table', () => {
    expect(getZeroMm({ ...createBlank('cone'), zero: 'surface' })).toBe(30);
    expect(getZeroMm({ ...createBlank('turned'), zero: 'surface' })).toBeCloseTo(25, 6);
    expect(getZeroMm({ ...createBlank('plate'), zero: 'table' })).toBe(-5);
    expect(getZeroMm({ ...createBlank('arched'), side: 'concave', zero: 'table' })).toBe(-4);
    expect(getZeroMm({ ...createBlank('arched'), zero: 'table' })).toBeCloseTo(56 * Math.cos(Math.asin(0.5)) - 60, 9);
    expect(getZeroMm({ ...createDomeBlank(), mount: 'rotary', axisBelowMm: 33 })).toBe(33);
    expect(getZeroMm({ ...createDomeBlank(), mount: 'rotary', axisBelowMm: 33, zero: 'axis' })).toBe(0);
  });
});
