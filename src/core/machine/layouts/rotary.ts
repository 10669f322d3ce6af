import type { Layout, LayoutOf, Machine } from '../../job/machineSchema';
import { wrapToTurn } from '../../base/angle';
import type { Blank } from '../../job/blankSchema';
import type { Zero } from '../../job/zero';
import type { ZeroWord } from '../zeroText';
import { linearAxis, toWords, turningAxis, type Axis, type Kinematics } from '../kinematics';
import type { Stance } from '../stance';
import { getMount } from '../../job/blankText';
import { describeAcross, describeAlong, describeTurnZero } from '../../job/zero';
import type { Held, MachineLayout, Mount, Tilting } from './layout';

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
  stance: (_, held) => stanceOf({ ...held, mount: 'table' }, null),
  kinematics: (machine, { wrappedAxis }, held) =>
    createRotaryKinematics(machine, { wrappedAxis, rotary: null }, null, { ...held, mount: 'table' }),
  along: alongOf,
  turning: () => null,
  zeroWords: listWords,
  describe: () => [],
};

/** Three linear axes, and a rotary along the blank. */
export const rotary: MachineLayout<LayoutOf<'rotary'>> = {
  name: 'rotary along the blank',
  stance: (_, held) => stanceOf(held, null),
  kinematics: (machine, layout, held) => createRotaryKinematics(machine, layout, null, held),
  along: alongOf,
  turning: ({ rotary: r }) => r,
  zeroWords: listWords,
  describe: describeRotary,
};

/** The same with a head that tilts the tool in the plane of the blank's axis and Z. */
export const rotaryTiltingHead: MachineLayout<LayoutOf<'rotary-tilting-head'>> = {
  name: 'rotary along the blank, tilting head',
  stance: ({ head }, held, tilting) => stanceOf(held, head, tilting),
  kinematics: (machine, layout, held) => createRotaryKinematics(machine, layout, layout.head, held),
  along: alongOf,
  turning: ({ rotary: r }) => r,
  zeroWords: listWords,
  describe: (layout, mount, length) => [
    ...describeRotary(layout, mount),
    `head tilts on ${layout.head.letter}, ${layout.head.pivotMm > 0 ? `tip ${length(layout.head.pivotMm)} mm below its axis` : 'the control keeps the tip'}`,
  ],
};

function alongOf({ wrappedAxis }: Pick<Layout, 'wrappedAxis'>): 'X' | 'Y' {
  return wrappedAxis === 'Y' ? 'X' : 'Y';
}

/** Where the words are 0: along, across where that was chosen, Z, and the rotary's. Plain ASCII. */
function listWords(layout: AnyLayout | LayoutOf<'table'>, blank: Blank, zero: Zero): ZeroWord[] {
  const along = alongOf(layout);
  const across = describeAcross(blank, zero);
  const turning = 'rotary' in layout && getMount(blank) === 'rotary' ? layout.rotary : null;
  return [
    { letter: along, where: `at ${describeAlong(blank, zero)}` },
    ...(across === null ? [] : [{ letter: along === 'X' ? 'Y' : 'X', where: `at ${across}` }]),
    { letter: 'Z', where: `on the ${blank.zero}` },
    ...(turning ? [{ letter: turning.letter, where: `at ${describeTurnZero(zero)}` }] : []),
  ];
}

/** A lead moves the range in which the normal may be, so that the tool is never asked to tilt farther than it can. */
function stanceOf({ mount }: Held, head: Head | null, { leadDeg, mostTiltDeg }: Tilting = { leadDeg: 0, mostTiltDeg: null }): Stance {
  const most = mostTiltDeg ?? 360;
  return {
    turns: mount === 'rotary',
    tiltRad: head ? [Math.max(head.minDeg, -most) / DEG, Math.min(head.maxDeg, most) / DEG] : null,
    leadRad: head ? leadDeg / DEG : 0,
    pivotMm: head?.pivotMm ?? 0,
    centre: null,
    asideMm: 0,
    toolPoint: false,
  };
}

function describeRotary({ rotary: r, wrappedAxis }: AnyRotary, mount: Mount): string[] {
  if (mount === 'table') return [];
  return [`rotary ${r.letter} takes the place of ${wrappedAxis}, sense ${r.sense > 0 ? '+' : '-'}`];
}

function listAxes(machine: Machine, layout: AnyLayout, head: Head | null, turns: boolean): Axis[] {
  const axes = ['X', 'Y', 'Z'].map((letter) => linearAxis(machine, letter));
  if (turns) axes.push(turningAxis(layout.rotary!, layout.rotary!.range));
  // The schema's limits are those of the lean; the word has the head's sense.
  if (head) axes.push(turningAxis(head, toWords(head)));
  return axes;
}

/**
 * Three linear axes, with a rotary along the blank where the blank turns, and a tilting head where there is one (geometry:
 * docs/architecture.md, "Machines"). The rotary word is sense · θ in degrees; the free linear axis runs along the blank; Z is
 * measured from the zero's height. A head without tip control moves its tilt axis: the linear words are those at which the tip would stand
 * with the tool upright.
 */
export function createRotaryKinematics(
  machine: Machine,
  layout: AnyLayout,
  head: Head | null,
  { mount, zeroMm: [x0, y0, zeroMm], turnDeg }: Held,
): Kinematics {
  const along = layout.wrappedAxis === 'Y' ? 0 : 1;
  const across = 1 - along;
  // A blank along machine Y has its own y along machine −X, since both frames are right-handed and share Z.
  const side = along === 0 ? 1 : -1;
  const turns = mount === 'rotary' && layout.rotary !== null;
  const sense = layout.rotary?.sense ?? 1;
  const turnAt = turns ? 3 : -1;
  const tiltAt = head ? (turns ? 4 : 3) : -1;
  const L = head?.pivotMm ?? 0;
  const zeroTurn = turns ? sense * turnDeg : 0;
  return {
    axes: listAxes(machine, layout, head, turns),
    inverse(tip, axis, near, out) {
      let turn = 0;
      if (turns) {
        const nearRad = (sense * (near[turnAt]! + zeroTurn)) / DEG;
        const free = Math.hypot(axis[1]!, axis[2]!) < ON_POLE;
        turn = free ? nearRad : nearRad + wrapToTurn(Math.atan2(axis[1]!, axis[2]!) - nearRad);
        // Half a turn round, and leaning over its own upright, a head reaches the same: where it came from there, it goes on so.
        if (head && !free) {
          const other = nearRad + wrapToTurn(turn + Math.PI - nearRad);
          const nearTilt = (head.sense * near[tiltAt]!) / DEG;
          const lean = Math.atan2(axis[0]!, Math.hypot(axis[1]!, axis[2]!));
          const over = wrapToTurn(Math.PI - lean);
          const reaches = over >= head.minDeg / DEG && over <= head.maxDeg / DEG;
          const far = Math.abs(turn - nearRad) + Math.abs(lean - nearTilt);
          if (reaches && Math.abs(other - nearRad) + Math.abs(over - nearTilt) < far) turn = other;
        }
      }
      const s = Math.sin(turn),
        c = Math.cos(turn);
      const tilt = head ? Math.atan2(axis[0]!, axis[1]! * s + axis[2]! * c) : 0;
      out[along] = tip[0]! - x0 + L * Math.sin(tilt);
      // A tip beside the axis: 0 for a radial tool on a round blank.
      out[across] = side * (tip[1]! * c - tip[2]! * s - y0);
      out[2] = tip[1]! * s + tip[2]! * c - zeroMm + L * (Math.cos(tilt) - 1);
      if (turns) out[turnAt] = sense * turn * DEG - zeroTurn;
      if (head) out[tiltAt] = head.sense * tilt * DEG;
    },
    forward(values, tip, axis) {
      const turn = turns ? (sense * (values[turnAt]! + zeroTurn)) / DEG : 0;
      const tilt = head ? (head.sense * values[tiltAt]!) / DEG : 0;
      const z = values[2]! + zeroMm - L * (Math.cos(tilt) - 1);
      const y = side * values[across]! + y0;
      const s = Math.sin(turn),
        c = Math.cos(turn);
      tip[0] = values[along]! + x0 - L * Math.sin(tilt);
      tip[1] = y * c + z * s;
      tip[2] = z * c - y * s;
      axis[0] = Math.sin(tilt);
      axis[1] = Math.cos(tilt) * s;
      axis[2] = Math.cos(tilt) * c;
    },
  };
}
