import type { Layout, Machine } from '../../job/machineSchema';
import type { Kinematics } from '../kinematics';
import type { Stance } from '../stance';

/** How a blank is held: turned by the rotary, or lying still. */
export type Mount = 'rotary' | 'table';

/** One way in which a machine's axes can be built up. A new one is one file, one schema in `machineSchema.ts` and one registry line. */
export interface MachineLayout<L extends Layout> {
  name: string;
  /** How the tool can stand over a blank. */
  stance(layout: L, mount: Mount): Stance;
  /** @param zeroMm Blank-frame height at which Z reads 0. */
  kinematics(machine: Machine, layout: L, mount: Mount, zeroMm: number): Kinematics;
  /** The linear axis along the blank. */
  along(layout: L): 'X' | 'Y';
  /** Lines that say at the machine what its axes must be, for program headers: plain ASCII. @param length Formats mm. */
  describe(layout: L, mount: Mount, length: (mm: number) => string): string[];
}
