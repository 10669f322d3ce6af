import type { Layout, Machine } from '../../job/machineSchema';
import type { Blank } from '../../job/blankSchema';
import type { Motion } from '../../job/schema';
import type { Zero } from '../../job/zero';
import type { Kinematics } from '../kinematics';
import type { Stance } from '../stance';
import type { ZeroWord } from '../zeroText';

/** How a blank is held: turned by the rotary, or lying still. */
export type Mount = 'rotary' | 'table';

/** What lies on a machine: a blank and how, with the zero of the words on it. */
export interface Held {
  mount: Mount;
  /** The machine's zero in the blank frame, mm, and the turn that faces the tool there, degrees. */
  zeroMm: readonly [x: number, y: number, z: number];
  turnDeg: number;
  /** Where the axes of a table that tilts meet, as words from that zero, mm; null where it was not measured. */
  centreMm: readonly [x: number, y: number, z: number] | null;
}

/** How far a job has the tool lean and tilt. */
export type Tilting = Pick<Motion, 'leadDeg' | 'mostTiltDeg'>;

/** One way in which a machine's axes can be built up. A new one is one file, one schema in `machineSchema.ts` and one registry line. */
export interface MachineLayout<L extends Layout> {
  name: string;
  /** How the tool can stand over a blank. */
  stance(layout: L, held: Held, tilting: Tilting): Stance;
  kinematics(machine: Machine, layout: L, held: Held): Kinematics;
  /** The linear axis along a blank. */
  along(layout: L, mount: Mount): 'X' | 'Y' | 'Z';
  /** The axis that turns a round blank; null where nothing does. */
  turning(layout: L): { letter: string; sense: 1 | -1 } | null;
  /** Where each of its words is 0. */
  zeroWords(layout: L, blank: Blank, zero: Zero): ZeroWord[];
  /** Lines that say at the machine what its axes must be, for program headers: plain ASCII. @param length Formats mm. */
  describe(layout: L, mount: Mount, length: (mm: number) => string): string[];
}
