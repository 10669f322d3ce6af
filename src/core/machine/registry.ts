import type { Blank, Machine } from '../job/schema';
import type { Kinematics } from './kinematics';
import { createRotaryKinematics } from './rotary';

/** The radius at which Z reads 0 for a blank, mm. */
export const getZeroRadiusMm = (blank: Blank): number => (blank.zero === 'surface' ? blank.diameterMm / 2 : 0);

/** The kinematics of a machine with a blank on it. A new layout is one new file and one line here. */
export const createKinematics = (machine: Machine, blank: Blank): Kinematics =>
  createRotaryKinematics(machine, getZeroRadiusMm(blank));
