import type { Layout, LayoutOf, Machine } from '../../job/machineSchema';
import { wrapToTurn } from '../../base/angle';
import type { Axis, Kinematics } from '../kinematics';
import type { Stance } from '../stance';
import type { MachineLayout, Mount } from './layout';

const DEG = 180 / Math.PI;
/** A tool axis this near to the rotary's leaves the turn free. */
const ON_POLE = 1e-12;

type Head = LayoutOf<'rotary-tilting-head'>['head'];
type AnyRotary = Pick<LayoutOf<'rotary'>, 'wrappedAxis' | 'rotary'>;
/** A layout whose blank may lie still, with a rotary or without. */
type AnyLayout = Pick<Layout, 'wrappedAxis'> & { rotary: AnyRotary['rotary'] | null };

/** Three linear axes: what is clamped on the table lies still, and the tool stands upright over it. */
export const plainTable: MachineLayout<LayoutOf<'table'>> = {
  name: 'plain table',
  stance: () => stanceOf('table', null),
  kinematics: (machine, { wrappedAxis }, _, zeroMm) =>
    createRotaryKinematics(machine, { wrappedAxis, rotary: null }, null, 'table', zeroMm),
  along: alongOf,
  describe: () => [],
};

/** Three linear axes, and a rotary along the blank. */
export const rotary: MachineLayout<LayoutOf<'rotary'>> = {
  name: 'rotary along the blank',
  stance: (_, mount) => stanceOf(mount, null),
  kinematics: (machine, layout, mount, zeroMm) => createRotaryKinematics(machine, layout, null, mount, zeroMm),
  along: alongOf,
  describe: describeRotary,
};

/** The same with a head that tilts the tool in the plane of the blank's axis and Z. */
export const rotaryTiltingHead: MachineLayout<LayoutOf<'rotary-tilting-head'>> = {
  name: 'rotary along the blank, tilting head',
  stance: ({ head }, mount) => stanceOf(mount, head),
  kinematics: (machine, layout, mount, zeroMm) => createRotaryKinematics(machine, layout, layout.head, mount, zeroMm),
  along: alongOf,
  describe: (layout, mount, length) => [
    ...describeRotary(layout, mount),
    `head tilts on ${layout.head.letter}, ${layout.head.pivotMm > 0 ? `tip ${length(layout.head.pivotMm)} mm below its axis` : 'the control keeps the tip'}`,
  ],
};

function alongOf({ wrappedAxis }: Pick<Layout, 'wrappedAxis'>): 'X' | 'Y' {
  return wrappedAxis === 'Y' ? 'X' : 'Y';
}

function stanceOf(mount: Mount, head: Head | null): Stance {
  return { turns: mount === 'rotary', tiltRad: head ? [head.minDeg / DEG, head.maxDeg / DEG] : null, pivotMm: head?.pivotMm ?? 0 };
}

function describeRotary({ rotary: r, wrappedAxis }: AnyRotary, mount: Mount): string[] {
  if (mount === 'table') return [];
  return [`rotary ${r.letter} takes the place of ${wrappedAxis}, sense ${r.sense > 0 ? '+' : '-'}`];
}

function listAxes(machine: Machine, layout: AnyLayout, head: Head | null, turns: boolean): Axis[] {
  const linear = (letter: string): Axis => ({
    letter,
    kind: 'linear',
    min: -Infinity,
    max: Infinity,
    maxPerMin: machine.rapidMmPerMin,
    accelerationPerS2: machine.accelerationMmPerS2,
  });
  const turning = (axis: Omit<AnyRotary['rotary'], 'chuckMm' | 'tailstockMm'>, min: number, max: number): Axis => ({
    letter: axis.letter,
    kind: 'rotary',
    min,
    max,
    maxPerMin: axis.maxDegPerMin,
    accelerationPerS2: axis.accelerationDegPerS2,
  });
  const axes = ['X', 'Y', 'Z'].map(linear);
  if (turns) axes.push(turning(layout.rotary!, -Infinity, Infinity));
  if (head) {
    // The schema's limits are those of the lean; the word has the head's sense.
    const ends = [head.sense * head.minDeg, head.sense * head.maxDeg];
    axes.push(turning(head, Math.min(...ends), Math.max(...ends)));
  }
  return axes;
}

/**
 * Three linear axes, with a rotary along the blank where the blank turns, and a tilting head where there is one (geometry:
 * docs/architecture.md, "Machines"). The rotary word is sense · θ in degrees; the free linear axis runs along the blank; Z is
 * measured from `zeroMm`. A head without tip control moves its tilt axis: the linear words are those at which the tip would stand
 * with the tool upright.
 */
export function createRotaryKinematics(machine: Machine, layout: AnyLayout, head: Head | null, mount: Mount, zeroMm: number): Kinematics {
  const along = layout.wrappedAxis === 'Y' ? 0 : 1;
  const across = 1 - along;
  // A blank along machine Y has its own y along machine −X, since both frames are right-handed and share Z.
  const side = along === 0 ? 1 : -1;
  const turns = mount === 'rotary' && layout.rotary !== null;
  const sense = layout.rotary?.sense ?? 1;
  const turnAt = turns ? 3 : -1;
  const tiltAt = head ? (turns ? 4 : 3) : -1;
  const L = head?.pivotMm ?? 0;
  return {
    axes: listAxes(machine, layout, head, turns),
    inverse(tip, axis, near, out) {
      let turn = 0;
      if (turns) {
        const nearRad = (sense * near[turnAt]!) / DEG;
        const free = Math.hypot(axis[1]!, axis[2]!) < ON_POLE;
        turn = free ? nearRad : nearRad + wrapToTurn(Math.atan2(axis[1]!, axis[2]!) - nearRad);
      }
      const s = Math.sin(turn),
        c = Math.cos(turn);
      const tilt = head ? Math.atan2(axis[0]!, axis[1]! * s + axis[2]! * c) : 0;
      out[along] = tip[0]! + L * Math.sin(tilt);
      // A tip beside the axis: 0 for a radial tool on a round blank.
      out[across] = side * (tip[1]! * c - tip[2]! * s);
      out[2] = tip[1]! * s + tip[2]! * c - zeroMm + L * (Math.cos(tilt) - 1);
      if (turns) out[turnAt] = sense * turn * DEG;
      if (head) out[tiltAt] = head.sense * tilt * DEG;
    },
    forward(values, tip, axis) {
      const turn = turns ? (sense * values[turnAt]!) / DEG : 0;
      const tilt = head ? (head.sense * values[tiltAt]!) / DEG : 0;
      const z = values[2]! + zeroMm - L * (Math.cos(tilt) - 1);
      const y = side * values[across]!;
      const s = Math.sin(turn),
        c = Math.cos(turn);
      tip[0] = values[along]! - L * Math.sin(tilt);
      tip[1] = y * c + z * s;
      tip[2] = z * c - y * s;
      axis[0] = Math.sin(tilt);
      axis[1] = Math.cos(tilt) * s;
      axis[2] = Math.cos(tilt) * c;
    },
  };
}
