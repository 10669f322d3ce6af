import type { CutFault, CutPaths, LetteringPart } from '../cut/kinds/kind';
import { CUT_KINDS, getCutKind } from '../cut/kinds/registry';
import { computeArea } from '../base/boolean';
import { isEmptyRings } from '../base/rings';
import { findCutterFaults, findStrokeFaults } from '../findings/cutFindings';
import { makeFinding, type Finding, type FindingCode, type FindingData } from '../findings/finding';
import { getStages, getSunkMm } from '../job/schema';
import { getTitle } from '../job/title';
import type { InscriptionArtwork } from '../lettering/artwork';
import { toTurnDeg } from '../surface/surface';
import type { Lettering } from './lettering';
import type { Run, Setup } from './setup';

/** Less area than this is nothing left, mm²: what a narrower cutter would have to do. */
const NOTHING_LEFT_MM2 = 0.01;

/** Lettering that a run takes. */
export const chooseFor = (run: Run, { artworks }: Lettering): InscriptionArtwork[] => {
  const takes = run.kind.takes(run.cut);
  return artworks.filter((art) => targets(run, art) && partsOf(art).some((p) => takes.includes(p)));
};

/** Whether a run cuts an inscription. */
const targets = ({ cut }: Pick<Run, 'cut'>, art: InscriptionArtwork): boolean => cut.targets === 'all' || cut.targets.includes(art.id);

/** Parts of an inscription that hold something. */
const partsOf = (art: InscriptionArtwork): LetteringPart[] => [
  ...(isEmptyRings(art.regions) ? [] : (['areas'] as const)),
  ...(isEmptyRings(art.chains) ? [] : (['lines'] as const)),
];

/** What is wrong with a run's strokes: what its kind said, its cutter and the blank under it. */
export function findRunFaults(setup: Setup, run: Run, paths: CutPaths, chosen: readonly InscriptionArtwork[]): Finding[] {
  const out = paths.faults.map((fault) => toFinding(setup, run, fault));
  if (paths.strokes.length > 0)
    return [...out, ...findCutterFaults(run, paths.deepestMm - getSunkMm(run.cut)), ...findStrokeFaults(setup, run, paths, chosen)];
  if (out.length > 0) return out;
  const { name, id, kind, tool } = run;
  // A cutter that goes before may find nothing wide enough.
  if (!isOwnCutter(run)) return [];
  // A cutter that clears what those before it left may find nothing left; one that cuts nothing at all is something else.
  if (chosen.length > 0 && run.before.length > 0 && paths.unreached && computeArea(paths.unreached) < NOTHING_LEFT_MM2)
    return [makeFinding('nothing-left', { station: 'cuts', id, name }, { name, tool: tool.name })];
  if (chosen.length > 0) {
    const letterings = chosen.map((art) => getTitle(setup.job.inscriptions.find((i) => i.id === art.id)!));
    return [makeFinding('tip-too-wide', { station: 'cuts', id, name }, { name, tool: tool.name, letterings })];
  }
  return [makeFinding('nothing-to-cut', { station: 'cuts', id, name }, { name, kindName: `a ${kind.name} cut`, needs: kind.needs })];
}

/** A fault of a kind of cut, worded. */
function toFinding({ surface }: Setup, { id, name }: Run, { code, data, at }: CutFault): Finding {
  const place = at ? { xMm: at.xMm, turnDeg: toTurnDeg(surface, at.yMm) } : {};
  // The fault's own type ties its code to its figures; the name is what all of them lack.
  return makeFinding(code as FindingCode, { station: 'cuts', id, name, ...place }, { ...data, name } as FindingData[FindingCode] &
    object as never);
}

/** Lettering that no run takes, whole or in part. */
export function findLeftOut({ job, runs }: Setup, artworks: readonly InscriptionArtwork[]): Finding[] {
  return artworks.flatMap((art, i) => {
    const there = partsOf(art);
    const left = there.filter((part) => !runs.some((run) => targets(run, art) && run.kind.takes(run.cut).includes(part)));
    if (left.length === 0) return [];
    const name = getTitle(job.inscriptions[i]!);
    const part = left.length === there.length ? '' : left[0] === 'areas' ? 'the areas of ' : 'the strokes of ';
    return [makeFinding('not-cut', { station: 'cuts', id: art.id, name }, { name, part, ways: listWays(left) })];
  });
}

/** Whether a run is a cut's own cutter, not one that goes before. */
const isOwnCutter = ({ cut, stage }: Run): boolean => stage === getStages(cut).length;

/** Whether a run's cut takes away all that it takes; one that goes round shapes or into their middles may come beside another. */
const fills = ({ kind, cut, tool }: Run): boolean =>
  kind.takes(cut).includes('lines') || kind.field(cut, [], tool, { periodMm: null })?.fills === true;

/** Lettering whose areas, or whose lines, more than one cut fills. */
export function findCutTwice({ job, runs }: Setup, artworks: readonly InscriptionArtwork[]): Finding[] {
  return artworks.flatMap((art, i) => {
    const cuts = new Set(
      partsOf(art).flatMap((part) => {
        const takers = runs.filter((run) => isOwnCutter(run) && fills(run) && targets(run, art) && run.kind.takes(run.cut).includes(part));
        return takers.length > 1 ? takers.map((r) => r.name) : [];
      }),
    );
    if (cuts.size === 0) return [];
    const name = getTitle(job.inscriptions[i]!);
    return [makeFinding('cut-twice', { station: 'cuts', id: art.id, name }, { name, cuts: [...cuts] })];
  });
}

/** Names of the kinds of cut that take any of some parts of lettering. */
function listWays(parts: readonly LetteringPart[]): string[] {
  return Object.values(CUT_KINDS).flatMap((kind) => {
    const takes = getCutKind(kind.create('x', 'x')).takes(kind.create('x', 'x'));
    return takes.some((p) => parts.includes(p)) ? [`a ${kind.name} cut`] : [];
  });
}
