import { CUT_KINDS } from '../cut/kinds/registry';
import type { Tool } from '../job/schema';
import type { Candidate, ChoiceContext } from './candidates';
import { createClearing, createWith } from './sensible';
import { lengthOver, type StrokeWidths } from './strokes';

/** So many pockets and ways for lines are planned. */
const MOST_POCKETS = 2;
const MOST_LINES = 4;
/** A finer mill is worth a set of its own where it goes into this much more of the strokes. */
const FINER_SHARE = 0.01;

/** Pockets in place of a carve: with the mill that goes into nearly all strokes, and with a finer one that leaves less of the corners. */
export function listPockets(id: string, strokes: StrokeWidths, crib: readonly Tool[], context: ChoiceContext): Candidate[] {
  const out: Candidate[] = [];
  let mills = crib.filter((t) => t.kind === 'flat' && t.diameterMm < strokes.widestMm);
  while (out.length < MOST_POCKETS && mills.length > 0) {
    const { cut, tools, why } = createClearing('pocket', id, strokes, mills, context);
    const own = tools[tools.length - 1]!;
    out.push({ cut, tools, minutes: 0, why: `walls straight down; ${why}` });
    const finer = crib.filter((t) => t.kind === 'flat' && t.diameterMm < 0.8 * own.diameterMm);
    const gained = (t: Tool): number => (lengthOver(strokes, t.diameterMm) - lengthOver(strokes, own.diameterMm)) / strokes.totalMm;
    // A finer mill makes the corners smaller as well, where the strokes gain nothing.
    const next = finer.sort((a, b) => b.diameterMm - a.diameterMm).find((t) => gained(t) > FINER_SHARE) ?? finer[0];
    mills = next ? [next, ...mills.filter((t) => t.diameterMm > own.diameterMm)] : [];
  }
  return out;
}

/** Ways to engrave open lines along their middle: one with each cutter that makes a fine groove, finest first. */
export function listLineCuts(id: string, crib: readonly Tool[], context: ChoiceContext): Candidate[] {
  const kind = CUT_KINDS['centre-line'];
  return crib
    .filter((t) => (kind.cutters as readonly string[]).includes(t.kind))
    .sort((a, b) => a.tipMm - b.tipMm || a.diameterMm - b.diameterMm)
    .filter((t, k, all) => all.findIndex((o) => o.kind === t.kind) === k)
    .slice(0, MOST_LINES)
    .map((tool) => {
      const { cut, tools, why } = createWith('centre-line', id, tool, context);
      return { cut, tools, minutes: 0, why: `along the lines: ${why}` };
    });
}
