import { describe, expect, it } from 'vitest';
import { machineWith, tiltingMachine } from '../../../tests/support';
import { describeTurn, withLayoutKind } from './layouts/edit';
import { createMachineScene, SHOWN } from './picture';

describe('the picture of a machine', () => {
  it.each([
    ['Y', 1],
    ['Y', -1],
    ['X', 1],
    ['X', -1],
  ] as const)('wrapped %s, sense %d: the top of the blank goes where the form says', (wrapped, sense) => {
    const { turn } = createMachineScene(machineWith({ sense }, wrapped), {});
    const [first, last] = [turn![0]!, turn![turn!.length - 1]!];
    const [dx, dy] = [last[0] - first[0], last[1] - first[1]];
    const word = wrapped === 'Y' ? (dy < 0 ? 'towards you' : 'away from you') : dx > 0 ? 'to the right' : 'to the left';
    expect(word).toBe(describeTurn(wrapped, sense));
    expect(last[2]).toBeLessThan(first[2]);
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
    const table = withLayoutKind(tilting, 'table', { rotary: tilting.layout.rotary, head: tilting.layout.head });
    const plain = createMachineScene(table, { X: 5, Y: 6, Z: 7 });
    expect(plain.turn).toBeNull();
    expect(plain.tool[0]).toEqual([5, 6, 7]);
    expect(Math.max(...plain.faces.flatMap((f) => f.points.map((p) => p[2])))).toBe(0);
    expect(SHOWN.plateMm[2]).toBeGreaterThan(0);
  });
});
