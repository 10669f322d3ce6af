import type { Blank } from '../job/schema';
import { createCylinder } from './cylinder';
import type { Surface } from './surface';

/** One maker per kind of blank: a new kind is one new file and one line here. */
const makers: { [K in Blank['kind']]: (blank: Extract<Blank, { kind: K }>) => Surface } = {
  cylinder: (b) => createCylinder(b.diameterMm, b.lengthMm, b.boreMm, (b.seamDeg * Math.PI) / 180),
};

/** The surface of a checked blank. */
export const createSurface = (blank: Blank): Surface => makers[blank.kind](blank);
