import { getMount } from '../job/blankText';
import type { Blank, Job, Layout, Machine } from '../job/schema';
import { getZeroPlace, type ZeroPlace } from '../job/zero';
import { createMeridian } from '../surface/meridian';
import type { Kinematics } from './kinematics';
import { getRotary } from './layouts/edit';
import { getLayout } from './layouts/registry';
import type { Stance } from './stance';

/** Blank-frame height at which Z reads 0: on the axis or the table, or on the surface. */
export function getZeroMm(blank: Blank): number {
  switch (blank.kind) {
    case 'cylinder':
      return blank.zero === 'surface' ? blank.diameterMm / 2 : 0;
    case 'cone':
      return blank.zero === 'surface' ? Math.max(blank.datumDiameterMm, blank.farDiameterMm) / 2 : 0;
    case 'turned': {
      if (blank.zero === 'axis') return 0;
      const made = createMeridian(blank.profile);
      return made.ok ? made.value.maxRadiusMm : 0;
    }
    case 'plate':
      return blank.zero === 'surface' ? 0 : -blank.thicknessMm;
    case 'arched': {
      if (blank.mount === 'rotary') return blank.zero === 'axis' ? 0 : blank.radiusMm;
      if (blank.zero !== 'table') return 0;
      if (blank.side === 'concave') return -blank.thicknessMm;
      // It stands on the inner edges of its arch.
      const half = Math.asin(Math.min(1, blank.chordMm / 2 / blank.radiusMm));
      return Math.max(0, blank.radiusMm - blank.thicknessMm) * Math.cos(half) - blank.radiusMm;
    }
    case 'free':
      return blank.mount === 'rotary' && blank.zero === 'surface' ? blank.axisBelowMm : 0;
  }
}

/** The kinematics of a machine with a blank on it. */
export const createKinematics = ({ machine, blank, zero }: Pick<Job, 'machine' | 'blank' | 'zero'>): Kinematics => {
  const layout = getLayout(machine.layout);
  const kinematics = layout.kinematics(machine, machine.layout, getMount(blank), getZeroMm(blank));
  return moveZero(kinematics, machine.layout, getZeroPlace(blank, zero));
};

/** The same machine with its words 0 at another place. O(axes) more for each pose. */
function moveZero(kinematics: Kinematics, layout: Layout, { xMm, yMm, turnDeg }: ZeroPlace): Kinematics {
  if (xMm === 0 && yMm === 0 && turnDeg === 0) return kinematics;
  const { axes } = kinematics;
  const rotary = getRotary(layout);
  const isAlongX = getLayout(layout).along(layout) === 'X';
  const offsets = axes.map(({ letter }) => {
    if (letter === 'X') return isAlongX ? xMm : -yMm;
    if (letter === 'Y') return isAlongX ? yMm : xMm;
    return rotary && letter === rotary.letter ? rotary.sense * turnDeg : 0;
  });
  const shifted = new Float64Array(axes.length);
  return {
    axes,
    inverse(tip, axis, near, out) {
      for (let k = 0; k < shifted.length; k++) shifted[k] = near[k]! + offsets[k]!;
      kinematics.inverse(tip, axis, shifted, out);
      for (let k = 0; k < shifted.length; k++) out[k]! -= offsets[k]!;
    },
    forward(values, tip, axis) {
      for (let k = 0; k < shifted.length; k++) shifted[k] = values[k]! + offsets[k]!;
      kinematics.forward(shifted, tip, axis);
    },
  };
}

/** How a machine's tool can stand over a blank. */
export const getStance = (machine: Machine, blank: Blank): Stance => getLayout(machine.layout).stance(machine.layout, getMount(blank));
