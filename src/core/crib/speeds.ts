import { roundTo } from '../base/round';
import { createProfile } from '../cut/profile';
import type { CuttingData, Machine, Material, Tool } from '../job/schema';

/**
 * Surface speed for carbide, m/min, chip a tooth as a share of the diameter at work, and depth a level as a share of it, for light
 * cuts. Middle of what handbooks and cutter makers give; from memory, no single source.
 */
const RULES: Record<Material, { surfaceMPerMin: number; chipShare: number; stepShare: number; leastChipMm: number }> = {
  brass: { surfaceMPerMin: 150, chipShare: 0.01, stepShare: 0.5, leastChipMm: 0.004 },
  bronze: { surfaceMPerMin: 100, chipShare: 0.009, stepShare: 0.4, leastChipMm: 0.004 },
  steel: { surfaceMPerMin: 70, chipShare: 0.006, stepShare: 0.25, leastChipMm: 0.003 },
  aluminium: { surfaceMPerMin: 250, chipShare: 0.012, stepShare: 0.5, leastChipMm: 0.005 },
  slate: { surfaceMPerMin: 60, chipShare: 0.012, stepShare: 0.3, leastChipMm: 0.005 },
  maple: { surfaceMPerMin: 400, chipShare: 0.02, stepShare: 0.5, leastChipMm: 0.02 },
  acrylic: { surfaceMPerMin: 250, chipShare: 0.02, stepShare: 0.6, leastChipMm: 0.015 },
};

/** No cutter is asked for a diameter at work less than this, mm: a sharp tip would never turn fast enough. */
const LEAST_WORKING_MM = 0.3;

/**
 * Diameter at which a cutter works: of a ball at depth d, D = 2·√(2·b·d − d²) (any machining handbook); of a cone the width at that
 * depth; at least a little. @param depthMm > 0.
 */
export function getWorkingDiameterMm(tool: Tool, depthMm: number): number {
  const width = 2 * createProfile(tool).halfWidthAt(depthMm);
  return Math.max(LEAST_WORKING_MM, Math.min(tool.diameterMm, width));
}

/** Surface speed, m/min: v = π·D·n / 1000. */
export const toSurfaceMPerMin = (diameterMm: number, rpm: number): number => (Math.PI * diameterMm * rpm) / 1000;
/** Turns, rev/min, for a surface speed: n = 1000·v / (π·D). */
export const toRpm = (diameterMm: number, surfaceMPerMin: number): number => (1000 * surfaceMPerMin) / (Math.PI * diameterMm);
/** Chip a tooth, mm: f_z = F / (n·z). */
export const toChipMm = (feedMmPerMin: number, rpm: number, flutes: number): number => feedMmPerMin / (rpm * flutes);
/** Feed, mm/min: F = f_z·n·z. */
export const toFeedMmPerMin = (chipMm: number, rpm: number, flutes: number): number => chipMm * rpm * flutes;

/** A figure rounded down to two digits that a person would type. */
export function roundDown(value: number): number {
  if (!(value > 0)) return value;
  const unit = 10 ** (Math.floor(Math.log10(value)) - 1);
  return roundTo(Math.floor(value / unit + 1e-9) * unit, 6);
}

/** Speeds for a cutter in a material: its own where the crib has them, else by the rules, within what the machine can do. */
export function chooseCuttingData(
  tool: Tool,
  material: Material,
  machine: Pick<Machine, 'maxSpindleRpm' | 'maxFeedMmPerMin'>,
): Omit<CuttingData, 'material'> & { from: 'crib' | 'rules' } {
  const most = machine.maxSpindleRpm;
  const own = tool.cuttingData.find((d) => d.material === material);
  if (own) {
    // A spindle that turns slower takes the feed down with it: the chip stays.
    const share = Math.min(1, most / own.spindleRpm);
    const { spindleRpm, feedMmPerMin, plungeMmPerMin, stepDownMm, stepOverShare } = own;
    return {
      spindleRpm: Math.min(most, spindleRpm),
      feedMmPerMin: Math.min(machine.maxFeedMmPerMin, share < 1 ? roundDown(share * feedMmPerMin) : feedMmPerMin),
      plungeMmPerMin: share < 1 ? roundDown(share * plungeMmPerMin) : plungeMmPerMin,
      stepDownMm,
      stepOverShare,
      from: 'crib',
    };
  }
  const rule = RULES[material];
  // A cone works at half of what its flutes reach, an end mill at its own width.
  const working = getWorkingDiameterMm(tool, Math.min(tool.fluteLengthMm, tool.diameterMm) / 2);
  const spindleRpm = roundDown(Math.min(most, toRpm(working, rule.surfaceMPerMin)));
  const chip = Math.max(rule.leastChipMm, rule.chipShare * working);
  const feed = Math.min(machine.maxFeedMmPerMin, toFeedMmPerMin(chip, spindleRpm, tool.flutes));
  return {
    spindleRpm,
    feedMmPerMin: roundDown(feed),
    plungeMmPerMin: roundDown(feed / 3),
    stepDownMm: Math.max(0.05, roundDown(rule.stepShare * working)),
    stepOverShare: tool.kind === 'flat' || tool.kind === 'bull' ? 0.45 : 0.1,
    from: 'rules',
  };
}
