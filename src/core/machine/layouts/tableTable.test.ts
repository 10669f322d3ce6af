import { describe, expect, it } from 'vitest';
import { createRandom } from '../../../../tests/support';
import { TABLE_MACHINE } from '../../job/defaults';
import type { LayoutOf, Machine } from '../../job/machineSchema';
import { describeTableTurn, describeTilt } from './edit';
import type { Held } from './layout';
import { getLayout } from './registry';

type Table = LayoutOf<'table-table'>;
const machineWith = (tilt: Partial<Table['tilt']>, turn: Partial<Table['turn']> = {}, turnAsideMm = 0): Machine => ({
  ...TABLE_MACHINE,
  layout: {
    ...TABLE_MACHINE.layout,
    turnAsideMm,
    tilt: { ...TABLE_MACHINE.layout.tilt, sense: 1, ...tilt },
    turn: { ...TABLE_MACHINE.layout.turn, sense: 1, ...turn },
  },
});
const LYING: Held = { mount: 'table', zeroMm: [3, -4, 5], turnDeg: 0, centreMm: [12, -7, -60] };
const STANDING: Held = { mount: 'rotary', zeroMm: [20, 0, 99], turnDeg: 0, centreMm: [8, 9, -60] };
const kinematicsOf = (machine: Machine, held: Held) => getLayout(machine.layout).kinematics(machine, machine.layout, held);
const unit = (x: number, y: number, z: number): Float64Array => Float64Array.from([x, y, z].map((v) => v / Math.hypot(x, y, z)));

describe('a table that tilts and turns', () => {
  it('forward undoes inverse to 1e-9 over random poses, on A and on B, with either sense, lying and standing', () => {
    const random = createRandom(71);
    const back = new Float64Array(3),
      backAxis = new Float64Array(3),
      out = new Float64Array(5);
    for (const letter of ['A', 'B'] as const) {
      for (const sense of [1, -1] as const) {
        for (const held of [LYING, STANDING]) {
          const kin = kinematicsOf(machineWith({ letter, sense, minDeg: -120, maxDeg: 120 }, { sense }, 7 * sense), held);
          for (let k = 0; k < 500; k++) {
            // No farther from the table's axis than the tilt goes.
            const [lean, round] = [(120 * Math.PI * random()) / 180, 2 * Math.PI * random()];
            const away = [Math.sin(lean) * Math.cos(round), Math.sin(lean) * Math.sin(round), Math.cos(lean)] as const;
            const axis = held === LYING ? Float64Array.from(away) : Float64Array.from([away[2], away[0], away[1]]);
            const tip = Float64Array.from([0, 0, 0].map(() => 100 * random() - 50));
            kin.inverse(tip, axis, [0, 0, 0, 200 * random() - 100, 2000 * random() - 1000], out);
            kin.forward(out, back, backAxis);
            for (let j = 0; j < 3; j++) {
              expect(Math.abs(back[j]! - tip[j]!)).toBeLessThan(1e-9);
              expect(Math.abs(backAxis[j]! - axis[j]!)).toBeLessThan(1e-9);
            }
          }
        }
      }
    }
  });

  it('lifts what stands on a turn’s axis beyond the tilt’s by the sine of the tilt', () => {
    const tip = new Float64Array(3),
      out = new Float64Array(5);
    for (const [letter, axis, sign] of [
      ['A', unit(0, -1, 1), 1],
      ['B', unit(1, 0, 1), -1],
    ] as const) {
      const [meet, aside] = [0, 10].map((e) => {
        const kin = kinematicsOf(machineWith({ letter, minDeg: -120, maxDeg: 120 }, {}, e), LYING);
        kin.inverse(tip, axis, [0, 0, 0, 0, 0], out);
        return out.slice();
      }) as [Float64Array, Float64Array];
      expect(aside.slice(3)).toEqual(meet.slice(3));
      expect(aside[2]! - meet[2]!).toBeCloseTo(sign * 10 * Math.sin((meet[3]! * Math.PI) / 180), 9);
    }
  });

  it('keeps the turn at the pole, and reads 0 at its zero with the table level', () => {
    const kin = kinematicsOf(machineWith({}), LYING);
    const out = new Float64Array(5);
    kin.inverse(Float64Array.from([3, -4, 5]), unit(0, 0, 1), [0, 0, 0, 0, 431.5], out);
    expect([...out]).toEqual([expect.anything(), expect.anything(), expect.closeTo(0, 9), expect.closeTo(0, 9), expect.closeTo(431.5, 9)]);
    kin.inverse(Float64Array.from([3, -4, 5]), unit(0, 0, 1), [0, 0, 0, 0, 0], out);
    for (const v of out) expect(v).toBeCloseTo(0, 9);
  });

  it('takes the nearer of both positions, so that a way over the pole tilts on and does not turn half round', () => {
    const kin = kinematicsOf(machineWith({ minDeg: -90, maxDeg: 90 }), LYING);
    let near: Float64Array = Float64Array.of(0, 0, 0, 30, 0);
    for (let deg = 30; deg >= -30; deg -= 2) {
      const out = new Float64Array(5);
      kin.inverse(new Float64Array(3), unit(0, Math.sin((deg * Math.PI) / 180), Math.cos((deg * Math.PI) / 180)), near, out);
      expect(out[3]).toBeCloseTo(deg, 9);
      expect(out[4]).toBeCloseTo(0, 9);
      near = out;
    }
    // Where it cannot tilt to that side, it turns.
    const one = kinematicsOf(machineWith({ minDeg: 0, maxDeg: 110 }), LYING);
    const out = new Float64Array(5);
    one.inverse(new Float64Array(3), unit(0, -1, 1), [0, 0, 0, -45, 0], out);
    expect(out[3]).toBeCloseTo(45, 9);
    expect(Math.abs(out[4]!)).toBeCloseTo(180, 9);
  });

  it.each([
    ['A', 110],
    ['A', 30],
    ['B', 110],
    ['B', 30],
  ] as const)('%s up to %d°: a round blank stands up, and its turn 0 comes under the tool at turn word 0', (letter, maxDeg) => {
    const kin = kinematicsOf(machineWith({ letter, maxDeg, minDeg: maxDeg - 140, sense: 1 }), STANDING);
    const up = maxDeg > 90 ? 90 : -90;
    const out = new Float64Array(5);
    // Radial at turn θ: the table stands on edge, the turn word is θ, and X and Y stay on its axis.
    for (const deg of [0, 25, -140]) {
      const [s, c] = [Math.sin((deg * Math.PI) / 180), Math.cos((deg * Math.PI) / 180)];
      kin.inverse(Float64Array.from([30, 20 * s, 20 * c]), Float64Array.from([0, s, c]), [0, 0, 0, up, deg], out);
      expect(out[3]).toBeCloseTo(up, 9);
      expect(out[4]).toBeCloseTo(deg, 9);
      expect(out[letter === 'A' ? 0 : 1]).toBeCloseTo(0, 9);
      // The axes meet 60 below the zero, at which they are 20 mm up the blank: the surface stands 20 over them.
      expect(out[2]).toBeCloseTo(-60 + 20, 9);
    }
  });

  it('says what goes up as it tilts, and which way it turns', () => {
    expect(describeTilt({ letter: 'A', sense: -1 })).toBe('the side towards you goes up');
    expect(describeTilt({ letter: 'B', sense: 1 })).toBe('the left side goes up');
    expect(describeTableTurn({ sense: -1 })).toBe('it turns with the clock');
  });
});
