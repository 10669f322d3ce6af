import { chooseCuttingData } from '../crib/speeds';
import { CUT_KINDS, createCut, type Cut, type CutKindId } from '../cut/kinds/registry';
import { createProfile } from '../cut/profile';
import type { Levels, Stage, Tool } from '../job/schema';
import { levelsFor, listCarvings, roundUp, type ChoiceContext } from './candidates';
import { lengthOver, type StrokeWidths } from './strokes';

/** A new cut with what it needs, and why it is as it is. */
export interface Sensible {
  cut: Cut;
  tools: Tool[];
  why: string;
}

/** A cutter goes into a stroke that is this much wider. */
const FIT_SHARE = 0.95;
/** A larger mill before is worth its change from this share of the strokes on. */
const WORTH_SHARE = 0.25;
/** Mills in a row: each so many times narrower than the one before, the last so many times wider than the cut's own; no more than these. */
const [STEP_DOWN, BEYOND_OWN, MOST_BEFORE] = [3, 1.8, 2];
/** Depth of a pocket or a raised field, as a share of the widest stroke, within bounds, mm: it is seen and does not weaken. */
const DEPTH_SHARE = 0.25;
const [LEAST_DEPTH_MM, MOST_DEPTH_MM] = [0.3, 3];
/** A parting or cut-out goes this much deeper than the wall, mm. */
const BEYOND_MM = 0.2;

/**
 * A new cut of a kind for lettering: cutters, depth, levels and speeds from the strokes, the material, the machine and the crib.
 * @param crib Cutters to choose from, those of the job first. @returns Null where no cutter can make such a cut.
 */
export function createSensible(
  kind: CutKindId,
  id: string,
  strokes: StrokeWidths,
  crib: readonly Tool[],
  context: ChoiceContext,
): Sensible | null {
  if (kind === 'v-carve' && strokes.totalMm > 0) {
    const [best] = listCarvings(id, strokes, crib, context);
    if (best) return { cut: best.cut, tools: best.tools, why: best.why };
  }
  const fits = crib.filter((t) => (CUT_KINDS[kind].cutters as readonly string[]).includes(t.kind));
  if (fits.length === 0) return null;
  if ((kind === 'pocket' || kind === 'raised') && strokes.totalMm > 0) return createClearing(kind, id, strokes, fits, context);
  return createWith(kind, id, chooseOwn(kind, strokes, fits), context);
}

/** A new cut with a cutter that does it alone. */
export function createWith(kind: CutKindId, id: string, tool: Tool, context: ChoiceContext): Sensible {
  const made = createCut(kind, id, tool.id) as Cut;
  const depth = depthOf(made, context);
  const { from, levels, feedMmPerMin, plungeMmPerMin, spindleRpm } = paceOf(tool, depth, context);
  return {
    cut: {
      ...made,
      ...{ feedMmPerMin, plungeMmPerMin, spindleRpm, levels: kind === 'drill' ? pecks(tool) : levels },
      ...('depthMm' in made ? { depthMm: depth } : {}),
    } as Cut,
    tools: [tool],
    why: `${tool.name}, ${depth} mm deep; ${from === 'crib' ? 'speeds of the crib' : `speeds by rule for ${context.material}`}`,
  };
}

/** The cutter of a cut that wants one alone. */
function chooseOwn(kind: CutKindId, strokes: StrokeWidths, fits: readonly Tool[]): Tool {
  if (kind === 'drill') return fits.find((t) => t.kind === 'drill') ?? fits[0]!;
  if (kind === 'cut-out') return fits.find((t) => t.kind === 'flat' && t.diameterMm >= 1.9 && t.diameterMm <= 3.2) ?? fits[0]!;
  if (kind === 'outline' && strokes.totalMm > 0) return fits.find((t) => t.kind === 'flat' && t.diameterMm <= 1) ?? fits[0]!;
  return fits[0]!;
}

/** Depth of a new cut: its kind's own, or through the wall. */
function depthOf(cut: Cut, { wallMm }: ChoiceContext): number {
  if (cut.kind === 'cut-out') return Number.isFinite(wallMm) ? roundUp(wallMm + BEYOND_MM) : cut.depthMm;
  const depth = 'depthMm' in cut ? cut.depthMm : 0.5;
  return Math.min(depth, Math.max(0.05, 0.5 * wallMm));
}

/** Pecks of about a diameter. */
const pecks = (tool: Tool): Levels => ({ by: 'step', stepMm: tool.diameterMm, even: true, finishMm: 0 });

function paceOf(tool: Tool, depth: number, context: ChoiceContext) {
  const { spindleRpm, feedMmPerMin, plungeMmPerMin, stepDownMm, stepOverShare, from } = chooseCuttingData(
    tool,
    context.material,
    context.machine,
  );
  return { spindleRpm, feedMmPerMin, plungeMmPerMin, levels: levelsFor(depth, stepDownMm), stepOverShare, from };
}

/** A pocket or a raised field: the widest mill that goes into nearly all strokes, and a larger one before where that does most of it. */
export function createClearing(
  kind: 'pocket' | 'raised',
  id: string,
  strokes: StrokeWidths,
  fits: readonly Tool[],
  context: ChoiceContext,
): Sensible {
  const mills = fits.filter((t) => t.kind === 'flat').sort((a, b) => b.diameterMm - a.diameterMm);
  const narrow = FIT_SHARE * strokes.narrowMm;
  const own = mills.find((t) => t.diameterMm <= narrow) ?? mills[mills.length - 1] ?? fits[0]!;
  // Round letters that stand the room between them decides, about as wide as their strokes.
  const before = mills.find(
    (t) => t.diameterMm > 1.4 * own.diameterMm && lengthOver(strokes, t.diameterMm / FIT_SHARE) > WORTH_SHARE * strokes.totalMm,
  );
  const wanted = Math.min(MOST_DEPTH_MM, Math.max(LEAST_DEPTH_MM, DEPTH_SHARE * strokes.widestMm));
  const depth = roundUp(Math.min(wanted, own.fluteLengthMm, 0.5 * context.wallMm));
  const { from, stepOverShare, ...pace } = paceOf(own, depth, context);
  const largerOnes = before ? stepDown(before, own, mills) : [];
  const clearing = largerOnes.map((t) => toStage(t, depth, context));
  const cut = { ...createCut(kind, id, own.id), ...pace, clearing, depthMm: depth, stepOverShare } as Cut;
  const cleared = before ? ` after ${largerOnes.map((t) => t.name).join(' and ')}` : '';
  return {
    cut,
    tools: [...largerOnes, own],
    why: `a twentieth of the strokes is narrower than ${strokes.narrowMm.toFixed(2)} mm: ${own.name}${cleared}, ${depth} mm deep; ${from === 'crib' ? 'speeds of the crib' : `speeds by rule for ${context.material}`}`,
  };
}

/** Mills from a large one down, each about a third as wide as the one before: a fine mill is not to clear what a middle one can. */
function stepDown(largest: Tool, own: Tool, mills: readonly Tool[]): Tool[] {
  const out = [largest];
  for (;;) {
    const last = out[out.length - 1]!;
    const next = mills.find((t) => STEP_DOWN * t.diameterMm <= last.diameterMm && t.diameterMm >= BEYOND_OWN * own.diameterMm);
    if (!next || out.length === MOST_BEFORE) return out;
    out.push(next);
  }
}

function toStage(tool: Tool, depth: number, context: ChoiceContext): Stage {
  const { levels, feedMmPerMin, plungeMmPerMin, spindleRpm, stepOverShare } = paceOf(tool, depth, context);
  return { toolId: tool.id, levels, feedMmPerMin, plungeMmPerMin, spindleRpm, stepOverShare };
}

/** What of lettering a cutter can do: for a tool-fit picture. */
export interface Fit {
  tool: Tool;
  /** Widest stroke that it fills without a floor, for a cone; narrowest that it goes into, for an end mill or a flat tip, mm. */
  widestMm: number | null;
  narrowestMm: number;
  /** Depth in the widest stroke that it can fill, mm; null for an end mill. */
  depthMm: number | null;
  /** Share of the strokes' length that it can do, in [0, 1]. */
  share: number;
}

/** How cutters fit the strokes of lettering. */
export function listFits(strokes: StrokeWidths, crib: readonly Tool[]): Fit[] {
  return crib
    .filter((t) => ['v', 'ball-v', 'half-round', 'flat', 'bull', 'taper-ball'].includes(t.kind))
    .map((tool) => {
      const profile = createProfile(tool);
      const isCone = profile.cotBeta > 0;
      const narrowestMm = isCone ? (tool.kind === 'ball-v' || tool.kind === 'taper-ball' ? 0 : tool.tipMm) : tool.diameterMm;
      const reach = isCone ? Math.min(tool.fluteLengthMm, profile.heightAt(tool.diameterMm / 2)) : Infinity;
      const widestMm = isCone ? 2 * profile.halfWidthAt(reach) : null;
      const inside = lengthOver(strokes, narrowestMm) - (widestMm === null ? 0 : lengthOver(strokes, widestMm));
      const depthMm = isCone ? profile.heightAt(Math.min(strokes.widestMm, widestMm ?? Infinity) / 2) : null;
      return { tool, widestMm, narrowestMm, depthMm, share: strokes.totalMm > 0 ? inside / strokes.totalMm : 0 };
    });
}
