import type { Tool } from '../job/schema';
import { createProfile, createVProfile, type Profile } from './profile';

/** A cutter that is wider all the way up by so much, mm: what an allowance on the wall makes of it. */
export const widen = (profile: Profile, byMm: number): Profile =>
  byMm === 0
    ? profile
    : {
        ...profile,
        flatMm: profile.flatMm + byMm,
        heightAt: (l) => profile.heightAt(l - byMm),
        halfWidthAt: (h) => (h > 0 ? profile.halfWidthAt(h) + byMm : 0),
      };

/** A cutter under walls that lean by half of an included angle: as far from the outline at a depth as keeps the walls whole. */
export const underLeaningWalls = (tool: Tool, includedDeg: number): Profile => createVProfile(includedDeg, 2 * getRadiusMm(tool));

/** Half-width of a cutter's cylindrical part, mm. */
export const getRadiusMm = (tool: Tool): number => tool.diameterMm / 2;

/** Half-width over which a cutter makes a floor with a cusp no higher than is given, mm. */
export const getFloorMm = (tool: Tool, cuspMm: number): number => Math.min(getRadiusMm(tool), createProfile(tool).halfWidthAt(cuspMm));
