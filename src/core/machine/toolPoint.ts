import type { Kinematics } from './kinematics';

/**
 * A machine whose control keeps the tool's point: X, Y and Z of the program are the tip on the blank, as the axes read it while all that
 * turns stands at 0, and turn with it; the turning words are the machine's own. Common practice of five-axis controls (G43.4), no source.
 */
export function toToolPoint(machine: Kinematics): Kinematics {
  const { axes } = machine;
  const turning = axes.flatMap((a, k) => (a.kind === 'rotary' ? [k] : []));
  const still = new Float64Array(axes.length),
    own = new Float64Array(axes.length),
    ignored = new Float64Array(3);
  const origin = new Float64Array(3),
    end = new Float64Array(3);
  machine.forward(still, origin, ignored);
  // The map from words to the blank with nothing turned is rigid; its columns are where a step of each word takes the tip.
  const columns = [0, 1, 2].map((k) => {
    const words = still.slice();
    words[k] = 1;
    machine.forward(words, end, ignored);
    return [0, 1, 2].map((j) => end[j]! - origin[j]!);
  }) as [number[], number[], number[]];
  return {
    axes,
    machine,
    inverse(tip, axis, near, out) {
      machine.inverse(tip, axis, near, own);
      const [dx, dy, dz] = [tip[0]! - origin[0]!, tip[1]! - origin[1]!, tip[2]! - origin[2]!];
      for (let k = 0; k < 3; k++) out[k] = columns[k]![0]! * dx + columns[k]![1]! * dy + columns[k]![2]! * dz;
      for (const k of turning) out[k] = own[k]!;
    },
    forward(values, tip, axis) {
      own.fill(0);
      for (const k of turning) own[k] = values[k]!;
      machine.forward(own, tip, axis);
      for (let j = 0; j < 3; j++)
        tip[j] = origin[j]! + columns[0][j]! * values[0]! + columns[1][j]! * values[1]! + columns[2][j]! * values[2]!;
    },
  };
}
