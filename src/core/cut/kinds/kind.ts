import type { z } from 'zod';
import type { Rings } from '../../base/rings';
import type { Steps } from '../../base/steps';
import type { FindingData } from '../../findings/finding';
import type { CutCommon } from '../../job/cutSchema';
import type { Tool, ToolKind } from '../../job/toolSchema';
import type { Work } from '../../machine/stance';
import type { VoronoiEngine } from '../../medial/voronoi';
import type { CarveCache } from '../carveCache';
import type { Profile } from '../profile';

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
  work: Work;
  engine: VoronoiEngine;
  /** Pieces carved before, by what they depend on; `surfaceKey` is equal for equal surfaces and stances. */
  pieces: CarveCache;
  surfaceKey: string;
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
}

/**
 * Where the metal that a cut takes away lies against the outlines it was given, so that the edge can be proved; or why there
 * is no edge to prove.
 */
export type EdgeRule = { side: 'inside' | 'outside' } | { side: 'none'; why: string };

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
  /** Parts of the lettering it takes. */
  takes(cut: z.infer<S>): readonly LetteringPart[];
  /** What lettering it needs, as in "a V-carve needs …". */
  needs: string;
  /** The cutters it can be run with, and what one is called, as in "… needs one". */
  cutters: readonly ToolKind[];
  cutterName: string;
  edge(cut: z.infer<S>): EdgeRule;
  /** Plans its strokes; yields the share that is done, in [0, 1]. The cutter is one of `cutters`. */
  plan(cut: z.infer<S>, lettering: readonly CutLettering[], context: CutContext): Steps<number, CutPaths>;
}
