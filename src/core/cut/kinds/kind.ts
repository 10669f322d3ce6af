import type { Surface } from '../../surface/surface';
import type { z } from 'zod';
import type { Rings } from '../../base/rings';
import type { Entry, IsFree } from '../area/entry';
import type { Steps } from '../../base/steps';
import type { FindingData } from '../../findings/finding';
import type { CutCommon } from '../../job/cutSchema';
import type { Tool, ToolKind } from '../../job/toolSchema';
import type { Work } from '../../machine/stance';
import type { VoronoiEngine } from '../../medial/voronoi';
import type { PieceCache } from '../pieceCache';
import type { Profile } from '../profile';
import type { CutMeaning } from '../../intent/meaning';

/** Parts of an inscription: closed areas (outline fonts, filled artwork) and open lines (stroke fonts, line artwork). */
export type LetteringPart = 'areas' | 'lines';

/** The lettering a cut works on, one entry an inscription, sheet mm. */
export interface CutLettering {
  areas: Rings;
  lines: Rings;
}

/** What a kind of cut plans with besides itself and the lettering. */
export interface CutContext {
  tool: Tool;
  profile: Profile;
  /** The cut's own cutter, if this is another one that goes before it; else the same. */
  own: Tool;
  /** Cutters of the cut that went before this one, and how far apart their passes lie over their diameters, its own last. */
  before: readonly Tool[];
  stepOverShares: readonly (number | null)[];
  work: Work;
  engine: VoronoiEngine;
  /** Pieces carved before, by what they depend on; `surfaceKey` is equal for equal surfaces and stances. */
  pieces: PieceCache;
  /** Middles of pieces, which do not depend on a depth limit. */
  axes: PieceCache;
  surfaceKey: string;
}

/** What a kind of cut knows besides itself and the lettering when it says what it means. */
export interface MeaningContext {
  /** The cut's own cutter, and those that go before it. */
  tool: Tool;
  before: readonly Tool[];
  work: Work;
}

/** What stands in the way of a cut, as data: the code of a finding with its figures but for the cut's name, and a sheet place. */
export type CutFault = {
  [C in keyof FindingData]: { code: C; data: Omit<FindingData[C], 'name'>; at?: { xMm: number; yMm: number } };
}[keyof FindingData];

/** Strokes at their full depth (x, y, depth triples), before they are cut into levels. */
export interface CutPaths {
  strokes: Float64Array[];
  deepestMm: number;
  faults: CutFault[];
  /** Run once more at full depth after all levels. */
  finishing?: Float64Array[];
  /** How strokes come down to each level; by a plunge where it is not said. */
  entry?: Entry;
  /** Where the cutter's middle may be at the full depth, for a way down beside the strokes. */
  isFree?: IsFree;
  /** Where the cutter may stay down between strokes, since all is cleared; it lifts where it is not said. */
  ready?: Rings;
  /** Whether strokes may not be run from their other ends, whatever the cut allows. */
  directed?: boolean;
  /** Whether each stroke is a place, cut on all levels before the next: a hole. */
  holes?: boolean;
  /** Closed ways on which a person may move things: where each begins, and where tabs stand along it as shares of its length. */
  ways?: { points: Float64Array; tabs: readonly number[] }[];
  /** Area on the sheet that was to be cut and that no cutter so far reached. */
  unreached?: Rings;
}

/**
 * Where the metal that a cut takes away lies against the outlines it was given, so that the edge can be proved; or why there
 * is no edge to prove.
 */
export type EdgeRule = { side: 'inside' | 'outside' } | { side: 'none'; why: string };

/** What a depth field is held against for a cut, on the sheet: outlines that are to be met, region on the left, and where metal may go. */
export interface FieldRule {
  edges: Rings;
  allowed: Rings;
  /** Whether all that is allowed is to be cut: then letters have widths, and what is not cut is named. */
  fills: boolean;
}

/**
 * One kind of cut: everything that Hobel knows of it but its form on the screen. A new kind is one file with a `CutKind` and
 * one line in `registry.ts`; on the screen one file and one line in its registry. Nothing else knows a kind by name.
 */
export interface CutKind<S extends z.ZodType<CutCommon & { kind: string }>> {
  /** The stored form; its `kind` is the key in the registry. */
  schema: S;
  /** As buttons and lists name it. */
  name: string;
  /** What it does, to go on after its name: "fills outline letters". */
  about: string;
  /** A new cut of this kind. */
  create(id: string, toolId: string): z.infer<S>;
  /** Parts of the lettering it takes; none for a cut that needs no lettering. */
  takes(cut: z.infer<S>): readonly LetteringPart[];
  /** What lettering it needs, as in "a V-carve needs …". */
  needs: string;
  /** The cutters it can be run with, and what one is called, as in "… needs one". */
  cutters: readonly ToolKind[];
  cutterName: string;
  /** Whether what it goes round is free of the rest afterwards, or held by tabs alone: it comes last. */
  frees?: boolean;
  /** Whether of an area it uses the outline or the middle alone, so that other lettering may lie in it. */
  outlineOnly?: boolean;
  edge(cut: z.infer<S>): EdgeRule;
  /** What the depth field is held against; null where the cut has no outline. @param tool The cut's own. */
  field(cut: z.infer<S>, lettering: readonly CutLettering[], tool: Tool, surface: Pick<Surface, 'periodMm'>): FieldRule | null;
  /**
   * What the cut means, from its settings, the lettering and the surface alone: what the finished piece is held against. Nothing of `plan`
   * may be used: its mistakes would not be seen. A cut that cannot mean anything (no lettering, a cutter that is none of its own) has
   * no forms.
   */
  means(cut: z.infer<S>, lettering: readonly CutLettering[], context: MeaningContext): CutMeaning;
  /** Whether it is meant to go through the wall. */
  isThrough?(cut: z.infer<S>): boolean;
  /** Plans its strokes; yields the share that is done, in [0, 1]. The cutter is one of `cutters`. */
  plan(cut: z.infer<S>, lettering: readonly CutLettering[], context: CutContext): Steps<number, CutPaths>;
}
