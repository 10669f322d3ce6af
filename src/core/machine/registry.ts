import { getMount } from '../job/blankText';
import type { Blank, Job, Machine } from '../job/schema';
import { getZeroPlace } from '../job/zero';
import { createMeridian } from '../surface/meridian';
import type { Kinematics } from './kinematics';
import type { Held, Tilting } from './layouts/layout';
import { getLayout } from './layouts/registry';
import type { Stance } from './stance';
import { toToolPoint } from './toolPoint';

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

type OnMachine = Pick<Job, 'machine' | 'blank' | 'zero'>;

/** A blank as it lies on its machine. */
export function getHeld({ blank, zero }: Pick<Job, 'blank' | 'zero'>): Held {
  const mount = getMount(blank);
  const { xMm, yMm, turnDeg } = getZeroPlace(blank, zero);
  const { centreMm: c } = zero;
  return { mount, zeroMm: [xMm, yMm, getZeroMm(blank)], turnDeg, centreMm: c && [c.xMm, c.yMm, c.zMm] };
}

/** The kinematics of a machine with a blank on it: the words are its axes', or, where its control keeps the tool's point, the tip's. */
export function createKinematics(job: OnMachine): Kinematics {
  const { machine } = job;
  const own = getLayout(machine.layout).kinematics(machine, machine.layout, getHeld(job));
  return keepsToolPoint(machine) ? toToolPoint(own) : own;
}

/** Whether a machine's programs say where the tip is on the blank, and its control sees to the axes. */
export const keepsToolPoint = ({ dialect }: Pick<Machine, 'dialect'>): boolean => dialect === 'tool-point';

/** How a machine's tool can stand over a blank. */
export function getStance(job: OnMachine & { motion: Tilting }): Stance {
  const { machine, motion } = job;
  const stance = getLayout(machine.layout).stance(machine.layout, getHeld(job), motion);
  return keepsToolPoint(machine) ? { ...stance, pivotMm: 0, toolPoint: true } : stance;
}
