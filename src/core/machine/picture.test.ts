import { describe, expect, it } from 'vitest';
import { machineWith, tiltingMachine } from '../../../tests/support';
import { FRESH_AXES } from '../job/defaults';
import { describeTilt, describeTurn, getTable, withLayoutKind, withTable } from './layouts/edit';
import { createMachineScene, SHOWN } from './picture';

describe('the picture of a machine', () => {
  it.each([
    ['Y', 1],
    ['Y', -1],
    ['X', 1],
    ['X', -1],
  ] as const)('wrapped %s, sense %d: the top of the blank goes where the form says', (wrapped, sense) => {
    const turn = createMachineScene(machineWith({ sense }, wrapped), {}).turns[0]!.points;
    const [first, last] = [turn[0]!, turn[turn.length - 1]!];
    const [dx, dy] = [last[0] - first[0], last[1] - first[1]];
    const word = wrapped === 'Y' ? (dy < 0 ? 'towards you' : 'away from you') : dx > 0 ? 'to the right' : 'to the left';
    expect(word).toBe(describeTurn(wrapped, sense));
    expect(last[2]).toBeLessThan(first[2]);
  });

  it.each([
    ['A', 1],
    ['A', -1],
    ['B', 1],
    ['B', -1],
  ] as const)('table tilts on %s, sense %d: the side goes up that the form says, and the table turns as it says', (letter, sense) => {
    const made = withLayoutKind(tiltingMachine(), 'table-table', FRESH_AXES);
    const table = getTable(made.layout)!;
    const machine = withTable(made, { tilt: { ...table.tilt, letter, sense }, turn: { ...table.turn, sense } });
    // The highest rim of the table at +20° is the side that goes up.
    const rims = createMachineScene(machine, { [letter]: 20 })
      .faces.filter((f) => f.of === 'table')
      .flatMap((f) => f.points);
    const top = rims.reduce((best, p) => (p[2] > best[2] ? p : best));
    const up = Math.abs(top[1]) > Math.abs(top[0]) ? (top[1] > 0 ? 'away from' : 'towards') : top[0] > 0 ? 'right' : 'left';
    expect(describeTilt({ letter, sense })).toContain(up);
    const turned = createMachineScene(machine, {}).turns[0]!.points;
    const [a, b] = [turned[0]!, turned[1]!];
    expect(Math.sign(a[0] * b[1] - a[1] * b[0])).toBe(sense);
    expect(b[2]).toBeCloseTo(a[2], 9);
  });

  it('shows the letter on top unmirrored on either axis, and turns it with the rotary', () => {
    for (const wrapped of ['Y', 'X'] as const) {
      const machine = machineWith({}, wrapped);
      const { letter } = createMachineScene(machine, {});
      // From the foot of the stem to its head, and along the arm: to its right as it is read, seen from above.
      const [stem, arm] = [letter[0]!, letter.find((s) => Math.hypot(s.to[0] - s.from[0], s.to[1] - s.from[1]) > 0 && s !== letter[0])!];
      expect(stem.normal[2]).toBeGreaterThan(0.9);
      const up = [letter[1]!.to[0] - letter[0]!.from[0], letter[1]!.to[1] - letter[0]!.from[1]];
      const end = letter[letter.length - 1]!.to;
      const right = [end[0] - arm.from[0], end[1] - arm.from[1]];
      expect(up[0]! * right[1]! - up[1]! * right[0]!).toBeLessThan(0);
      const turned = createMachineScene(machine, { A: 90 });
      expect(Math.abs(turned.letter[0]!.normal[2])).toBeLessThan(0.5);
    }
  });

  it('puts the tool where the words say, leans it with the head, and has nothing turn on a plain table', () => {
    const tilting = tiltingMachine();
    const scene = createMachineScene(tilting, { X: 30, Z: 40, B: 30 });
    const [tip, up] = scene.tool;
    expect(tip).toEqual([30, 0, 40].map((v) => expect.closeTo(v, 9) as number));
    expect((up[0] - tip[0]) / (up[2] - tip[2])).toBeCloseTo(Math.tan(Math.PI / 6), 9);
    const table = withLayoutKind(tilting, 'table', FRESH_AXES);
    const plain = createMachineScene(table, { X: 5, Y: 6, Z: 7 });
    expect(plain.turns).toEqual([]);
    expect(plain.tool[0]).toEqual([5, 6, 7]);
    expect(Math.max(...plain.faces.flatMap((f) => f.points.map((p) => p[2])))).toBe(0);
    expect(SHOWN.plateMm[2]).toBeGreaterThan(0);
  });
});
