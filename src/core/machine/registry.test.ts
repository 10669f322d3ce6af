import { createZero } from '../job/zero';
import { describe, expect, it } from 'vitest';
import { createDomeBlank, machineWith, tiltingMachine } from '../../../tests/support';
import { createBlank, DEFAULT_MACHINE } from '../job/defaults';
import type { Blank, Machine } from '../job/schema';
import { createKinematics, getZeroMm } from './registry';

describe('createKinematics', () => {
  const letters = (machine: Machine, blank: Blank) =>
    createKinematics({ machine, blank, zero: createZero() })
      .axes.map((a) => a.letter)
      .join('');
  it('has only the axes that move', () => {
    expect(letters(DEFAULT_MACHINE, createBlank('plate'))).toBe('XYZ');
    expect(letters(tiltingMachine(), createBlank('plate'))).toBe('XYZB');
    expect(letters(tiltingMachine(), createBlank('cone'))).toBe('XYZAB');
  });
  it('describes each axis with its kind, range, speed and acceleration', () => {
    const { axes } = createKinematics({
      machine: tiltingMachine({ sense: -1, minDeg: -20, maxDeg: 95 }),
      blank: createBlank('cone'),
      zero: createZero(),
    });
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

  it.each(['Y', 'X'] as const)(
    'puts the words 0 at the place that is said, wrapped %s: only their zero moves, and forward undoes inverse',
    (wrapped) => {
      for (const sense of [1, -1] as const) {
        const machine = machineWith({ sense }, wrapped);
        const alongAt = wrapped === 'Y' ? 0 : 1;
        const turned = { ...createBlank('cylinder'), diameterMm: 40, lengthMm: 80 } as Blank;
        const atFar = createKinematics({ machine, blank: turned, zero: { along: 'far', across: 'high', turnDeg: 30, centreMm: null } });
        const out = new Float64Array(4),
          tip = new Float64Array(3),
          axis = new Float64Array(3);
        // The line 30° round, at the far end, on the surface: all words 0 but Z, and nothing across on a blank that turns.
        const a = Math.PI / 6;
        atFar.inverse(
          Float64Array.of(80, 20 * Math.sin(a), 20 * Math.cos(a)),
          Float64Array.of(0, Math.sin(a), Math.cos(a)),
          [0, 0, 0, 0],
          out,
        );
        expect([...out].map((v) => Math.round(v * 1e9) / 1e9 || 0)).toEqual([0, 0, 20, 0]);
        atFar.forward(out, tip, axis);
        expect([tip[0], tip[1]! / tip[2]!]).toEqual([expect.closeTo(80, 9), expect.closeTo(Math.tan(a), 9)]);
        // The upper corner of the far edge of a plate.
        const plate = { ...createBlank('plate'), lengthMm: 100, widthMm: 60 } as Blank;
        const corner = createKinematics({ machine, blank: plate, zero: { along: 'far', across: 'high', turnDeg: 30, centreMm: null } });
        const flat = new Float64Array(3);
        corner.inverse(Float64Array.of(100, 30, 0), Float64Array.of(0, 0, 1), flat, flat);
        expect([...flat].map((v) => Math.round(v * 1e9) / 1e9 || 0)).toEqual([0, 0, 0]);
        corner.inverse(Float64Array.of(90, 30, 0), Float64Array.of(0, 0, 1), [0, 0, 0], flat);
        expect(flat[alongAt]).toBeCloseTo(-10, 9);
        corner.inverse(Float64Array.of(100, 20, 0), Float64Array.of(0, 0, 1), [0, 0, 0], flat);
        // Across is away on a blank along X, and to the left on one along Y.
        expect(flat[1 - alongAt]).toBeCloseTo(alongAt === 0 ? -10 : 10, 9);
      }
    },
  );
});
